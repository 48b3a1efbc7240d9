/** Imagined people: whoever is in no group, or in just these, so that one sees what their kind or their groups get and nothing else. */
import { type AccessIndex, type CompiledSubject, subjectOf } from "../index/index.ts";
import type { Edit } from "../model/index.ts";
import { update } from "../update/index.ts";

export interface Imagined {
  kind: "member" | "guest";
  /** Ids of groups. */
  groups: readonly string[];
}

/**
 * An index in which these imagined people are, and each as a subject, in their order; null where a group is not there.
 * They exist in it alone: no document holds them.
 */
export function imagine(index: AccessIndex, people: readonly Imagined[]): { index: AccessIndex; subjects: CompiledSubject[] } | null {
  const idOf = (nth: number) => `imagined-${nth}`;
  const edits = people.flatMap(({ kind, groups }, nth): Edit[] => [
    { kind: "person", person: idOf(nth), put: { id: idOf(nth), kind, status: "active" } },
    ...[...new Set(groups)].map((group): Edit => ({ kind: "member", group, put: { person: idOf(nth) } })),
  ]);
  if (edits.length === 0) return { index, subjects: [] };
  const made = update(index, edits);
  if (!made.ok) return null;
  const subjects = people.flatMap((_, nth) => subjectOf(made.index, { person: idOf(nth) }) ?? []);
  return { index: made.index, subjects };
}
