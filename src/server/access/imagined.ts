/** Imagined people in groups: each in an index of their own, kept for as long as the rules it was made of. */
import { type Imagined, imagine } from "../../core/access/imagine/index.ts";
import type { AccessIndex, CompiledSubject } from "../../core/access/index/index.ts";

export interface InIndex {
  index: AccessIndex;
  subject: CompiledSubject;
}

const kept = new WeakMap<AccessIndex, Map<string, InIndex>>();
const MOST_KEPT = 6;

/** An imagined person and the index they are in; null where one of the groups is not there. */
export function imaginedIn(index: AccessIndex, it: Imagined): InIndex | null {
  const known = kept.get(index) ?? new Map<string, InIndex>();
  kept.set(index, known);
  const key = [it.kind, ...it.groups].join("+");
  const before = known.get(key);
  if (before) return before;
  if (it.groups.some((id) => !index.document.groups.some((group) => group.id === id))) return null;
  const made = imagine(index, [it]);
  const [subject] = made?.subjects ?? [];
  if (!made || !subject) return null;
  const fresh = { index: made.index, subject };
  known.set(key, fresh);
  const [oldest] = known.keys();
  if (known.size > MOST_KEPT && oldest !== undefined) known.delete(oldest);
  return fresh;
}
