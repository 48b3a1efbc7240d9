/**
 * Edits: the smallest changes to an access document. The tray holds them, the ledger keeps them; `applying.ts` makes them,
 * `inverting.ts` undoes them. An edit names what it replaces by value, so that a change made meanwhile by somebody else is noticed.
 */

import { maskOf } from "./abilities.ts";
import {
  type AccessDocument,
  type Ceilings,
  type Fence,
  type Grant,
  type Group,
  type GroupMember,
  type Pass,
  type Person,
  type Pledge,
  principalKey,
  type Stance,
} from "./document.ts";
import type { HouseRules } from "./house.ts";
import type { PageFlag, ReviewMark } from "./review.ts";
import type { StateMark } from "./states.ts";

/** What stands in the document before (absent: nothing yet) and after (absent: nothing any more). */
export interface Swap<T> {
  remove?: T;
  put?: T;
}

/** What is said of a space beside its rules. */
export interface SpaceSettings {
  name: string;
  /** The part of its addresses that names it: small letters, digits and hyphens. */
  address: string;
  purpose: string;
  /** Whether its readers can open older live versions of its pages, too; absent: no. */
  history?: boolean;
  /** Whether search engines are welcome to list what the public reads of it; absent: yes. */
  indexed?: boolean;
  /** Whether a version has to be approved before it is published or scheduled; absent: no. */
  approval?: boolean;
  /** Days after which its pages are to be looked at again, where they have no period of their own; absent: never. */
  review?: number;
  /** Whether readers who are no members may flag its pages; absent: no. */
  flags?: boolean;
}

/** What stands in the contents of a space, in order: a heading, a page of the space, or an address elsewhere under words of its own. */
export type ContentsEntry = { heading: string } | { page: string } | { link: string; words: string };

/** The contents of a space as arranged; `rest`: pages at the top that are in no entry stand below them. */
export interface SpaceContents {
  entries: ContentsEntry[];
  rest: boolean;
}

export type PlaceEdit =
  | ({ kind: "grant"; place: string } & Swap<Grant>)
  | ({ kind: "fence"; place: string } & Swap<Fence>)
  | { kind: "stance"; place: string; from: Stance; to: Stance }
  | { kind: "state"; place: string; from: StateMark; to: StateMark }
  | { kind: "owner"; place: string; from: string | null; to: string | null }
  | { kind: "tags"; place: string; from: string[]; to: string[] }
  | { kind: "move"; place: string; from: string; to: string }
  /** Where a page stands among its siblings, as keys that sort (lifecycle.md, "Order"); the document does not hold it. */
  | { kind: "order"; place: string; from: string; to: string }
  /** The page people land on in a space, of the space; null: none. The document does not hold it. */
  | { kind: "landing"; place: string; from: string | null; to: string | null }
  /** How far a page is, in a word of its space; the document does not hold it. */
  | { kind: "readiness"; place: string; from: string | null; to: string | null }
  /** Days after which a page is to be looked at again; null: as its space has it. The document does not hold it. */
  | { kind: "reviewPeriod"; place: string; from: number | null; to: number | null }
  /** When a page was confirmed, until when its review is set aside; the document does not hold it. */
  | { kind: "reviewed"; place: string; from: ReviewMark; to: ReviewMark }
  /** A flag on a page, by its id; the document does not hold it. */
  | ({ kind: "flag"; place: string; flag: string } & Swap<PageFlag>)
  /** The words a space names readiness by, in order; the document does not hold them. */
  | { kind: "readinessWords"; place: string; from: string[]; to: string[] }
  /** Whether the pages of a space stand by hand or by name; the document does not hold it. */
  | { kind: "arranged"; place: string; from: "hand" | "name"; to: "hand" | "name" }
  /** What a space is called, its address and what it is for; the document holds its title alone, and not by this. */
  | ({ kind: "settings"; place: string } & Swap<SpaceSettings>)
  /** What readers find in the contents of a space; the document does not hold it. */
  | ({ kind: "contents"; place: string } & Swap<SpaceContents>)
  /** Out of the bin for good (lifecycle.md, "Erasing"): the document does not hold it any more. */
  | { kind: "erase"; place: string }
  /** Of the site (where neither side is null) or of a space. */
  | { kind: "ceilings"; place: string; from: Ceilings | null; to: Ceilings | null };

/** A page or bulletin starts as a draft of its owner; a space starts live, and nobody owns it. */
export type StartEdit = { kind: "start"; place: string; parent: string } & ({ as: "page" | "bulletin"; owner: string } | { as: "space" });

/** Somebody who fills a group without keeping the site; guests too, where that is said. */
export interface Manager {
  person: string;
  guests: boolean;
}

export type GroupEdit =
  | ({ kind: "group"; group: string } & Swap<Omit<Group, "members">>)
  | ({ kind: "member"; group: string } & Swap<GroupMember>);

/** Who manages the members of a group; the document does not hold it. */
export interface ManagersEdit {
  kind: "managers";
  group: string;
  from: Manager[];
  to: Manager[];
}

/** Things that are told apart by an id of their own. People and passes stay in the document once they are in it. */
export type ThingEdit =
  | ({ kind: "person"; person: string } & Swap<Person>)
  | ({ kind: "pass"; pass: string } & Swap<Pass>)
  | ({ kind: "pledge"; pledge: string } & Swap<Pledge>);

/** Rules of the house that are no rules of access; the document does not hold them. Only what is said of changes. */
export interface HouseEdit {
  kind: "house";
  from: Partial<HouseRules>;
  to: Partial<HouseRules>;
}

/** What is somebody's without being a rule: what they made, brought in, set a time for, manage, or are to answer. */
export const HELD = ["passes", "invitations", "tokens", "schedules", "managed", "submissions", "drafts", "flags", "routines"] as const;
export type Held = (typeof HELD)[number];

/** Things that somebody else answers for from now on, by their ids; the document does not hold whose they are. */
export interface HandOverEdit {
  kind: "handOver";
  what: Held;
  from: string;
  to: string;
  ids: string[];
}

export type Edit = PlaceEdit | StartEdit | GroupEdit | ManagersEdit | ThingEdit | HouseEdit | HandOverEdit;

/** An edit that no longer fits the document it is applied to. */
export interface EditConflict {
  edit: Edit;
  /** It never could be made, whoever changed what meanwhile: no act leads there (lifecycle.md, "States and acts"). */
  unlawful?: true;
  /** What was changed meanwhile, for a person to read. */
  message: string;
}

export type Applied = { ok: true; document: AccessDocument } | { ok: false; conflicts: EditConflict[] };

/** Id of the place an edit is about, or null where it is about people, groups or pledges. */
export function placeOfEdit(edit: Edit): string | null {
  if ("place" in edit) return edit.place;
  return edit.kind === "pass" ? ((edit.put ?? edit.remove)?.place ?? null) : null;
}

export const grantKey = (grant: Grant): string =>
  `${principalKey(grant.to)}|${maskOf(grant.abilities)}|${grant.until ?? ""}|${grant.draft === true}`;

export const fenceKey = (fence: Fence): string => `${fence.kind}|${fence.admits.map(principalKey).sort().join(",")}`;

/** A list without repeats: a rule that stands somewhere twice is one rule. */
export const distinct = <T>(list: readonly T[], key: (item: T) => string): T[] => [
  ...new Map(list.map((item) => [key(item), item])).values(),
];

/** Whether two values say the same, whatever order their fields are in. */
export const sameValue = (a: unknown, b: unknown): boolean => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** Fields in one order, those without a value left out: what came back from a database compares equal. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== "object" || value === null) return value;
  const fields = Object.entries(value).filter(([, it]) => it !== undefined && it !== null);
  return Object.fromEntries(fields.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, it]) => [key, sorted(it)]));
}

/** Edits of what the document does not hold: they are checked, and nothing of an index comes of them. */
const BESIDE: ReadonlySet<Edit["kind"]> = new Set([
  "order",
  "landing",
  "readiness",
  "readinessWords",
  "arranged",
  "settings",
  "contents",
  "reviewPeriod",
  "reviewed",
  "flag",
  "house",
  "handOver",
  "managers",
]);
export const isBeside = (edit: Edit): boolean => BESIDE.has(edit.kind);

const NO_RULES: ReadonlySet<Edit["kind"]> = new Set([...BESIDE, "state", "start", "tags", "erase", "pledge"]);

/** Whether an edit changes who has access by rules, and not only the life of a page or what is said about it. */
export const isRuleEdit = (edit: Edit): boolean => !NO_RULES.has(edit.kind);
