/** What a routine is (lifecycle.md, "Routines"): which pages, what is done to them, when, at most how many, as whom. */
import type { FlagKind, PageState } from "../access/model/index.ts";
import type { Schedule } from "./schedule.ts";

/** Most days back or ahead a filter may ask for; most pages one run may take, and tell of; most spaces it may name. */
export const ROUTINE_LIMITS = { days: 3650, most: 5000, mostTold: 200, spaces: 50 } as const;

/**
 * Which pages: all of what is said must fit. Days are counted from the moment of the run. Ids that are none, or that the person
 * it runs as may not know of, fit nothing.
 */
export interface RoutineFilter {
  state: PageState;
  spaces?: readonly string[];
  /** A page and what is below it. */
  branch?: string;
  owner?: string;
  tag?: string;
  readiness?: string;
  /** Read by outsiders: the public, guests, either, or nobody of them. */
  outside?: "public" | "guests" | "any" | "none";
  flagged?: "yes" | "no";
  /** Not changed, not confirmed or published, not read for so many days. */
  unchanged?: number;
  unconfirmed?: number;
  unread?: number;
  /** Changed, confirmed or published, read within so many days. */
  changed?: number;
  confirmed?: number;
  read?: number;
  /** Its review is due within so many days, or was already. */
  due?: number;
}

/** How a filter's counts of days are called. */
export const DAY_FIELDS = ["unchanged", "unconfirmed", "unread", "changed", "confirmed", "read", "due"] as const;
export type DayField = (typeof DAY_FIELDS)[number];

/** Guests who read nothing for so many days: about people, not about pages. */
export interface GuestFilter {
  unusedGuests: number;
}

export type RoutineAction =
  | { what: "flag"; kind: FlagKind; note: string }
  | { what: "clearFlag"; kind: FlagKind }
  | { what: "addTag"; tag: string }
  | { what: "removeTag"; tag: string }
  /** A notice to the owner of each page, or to everybody in a group, of what they may read. */
  | { what: "tellOwner"; note: string }
  | { what: "tellGroup"; group: string; note: string }
  | { what: "archive" }
  | { what: "bin" }
  /** What the bin has kept for as long as the house rules say. */
  | { what: "erase" }
  /** A notice to whoever brought in each guest. */
  | { what: "tellHosts"; note: string };
export type ActionName = RoutineAction["what"];

export const ACTION_NAMES = [
  "flag",
  "clearFlag",
  "addTag",
  "removeTag",
  "tellOwner",
  "tellGroup",
  "archive",
  "bin",
  "erase",
  "tellHosts",
] as const satisfies readonly ActionName[];

/** What cannot be taken back once it was done. */
export const isFinal = ({ what }: Pick<RoutineAction, "what">): boolean => what === "erase" || isTelling({ what });
/** What only sends a notice. */
export const isTelling = ({ what }: Pick<RoutineAction, "what">): boolean =>
  what === "tellOwner" || what === "tellGroup" || what === "tellHosts";

export interface Routine {
  which: RoutineFilter | GuestFilter;
  action: RoutineAction;
  schedule: Schedule;
  /** So many pages at most in one run. */
  most: number;
}

export const isAboutGuests = (which: Routine["which"]): which is GuestFilter => "unusedGuests" in which;
