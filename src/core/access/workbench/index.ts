/**
 * Who may do what with a private draft on a workbench (access-model.md, section 6a, "Workbench"). It stands in no space and is
 * no place of the document: nothing else decides on it.
 */
import { type AccessIndex, type CompiledSubject, isActive } from "../index/index.ts";
import {
  ABILITIES,
  type AbilitySet,
  close,
  DISCUSS,
  GUEST_LIMIT,
  type Instant,
  maskOf,
  NOTHING,
  OWN_DRAFT,
  READ,
  REVISE,
} from "../model/index.ts";

/** A private draft: whose it is, and who was let in by name with what. */
export interface BenchDraft {
  owner: string;
  helpers: readonly { person: string; abilities: AbilitySet }[];
}

/** What somebody let in by name gets at most. */
export const HELPER_LIMIT: AbilitySet = READ | DISCUSS | REVISE;

export type HelperLevel = "read" | "comment" | "write";

/** What helpers are let in as, each holding the one before. */
export const HELPER_LEVELS = [
  { level: "read", abilities: READ },
  { level: "comment", abilities: READ | DISCUSS },
  { level: "write", abilities: READ | DISCUSS | REVISE },
] as const satisfies readonly { level: HelperLevel; abilities: AbilitySet }[];

/**
 * What a subject can do with a private draft at an instant (milliseconds since the epoch), as a closed set: its owner, a
 * member, {read, discuss, revise, retire}; helpers what they were given, guests no more than the site's ceiling for guests;
 * nobody else anything.
 */
export function benchSet({ document }: AccessIndex, { owner, helpers }: BenchDraft, subject: CompiledSubject, at: Instant): AbilitySet {
  const { person } = subject;
  if (person === null || !isActive(subject, at)) return NOTHING;
  if (person.id === owner) return subject.class === "members" ? OWN_DRAFT : NOTHING;
  const given = helpers.find((it) => it.person === person.id)?.abilities ?? NOTHING;
  const set = close(given) & HELPER_LIMIT;
  return subject.class === "guests" ? set & maskOf(document.ceilings.guests ?? ABILITIES) & GUEST_LIMIT : set;
}
