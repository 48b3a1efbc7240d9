/** The desk: everything that waits for somebody, in order of consequence, each with what settles it. */
import "reflect-metadata";
import { IsOptional, Matches } from "class-validator";
import type { Edit } from "../core/access/model/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";
import { IsInstant } from "./checks.ts";
import { declare, json, NoQuery, nothing } from "./declare.ts";
import type { Named } from "./people.ts";

/** In the order in which they stand. */
export const DESK_HEADINGS = ["outside", "pledges", "waiting", "ending", "old", "machinery"] as const;
export type DeskHeading = (typeof DESK_HEADINGS)[number];

/** So many rows of one kind stand on the desk at once: the rest come up as these are settled. */
export const ROWS_OF_KIND = 20;
/** What became outside is new for so many days; what ends is told so many days before. */
export const NEW_FOR_DAYS = 30;
export const ENDING_WITHIN_DAYS = 14;
/** A draft nobody wrote on for so many days is forgotten. */
export const FORGOTTEN_AFTER_DAYS = 90;
/** What the bin will lose is told so many days before. */
export const BIN_WARNS_DAYS = 7;

/** What a key on a row does. */
export type DeskHow =
  | { do: "go"; address: string }
  /** The sheet of an act on a page. */
  | { do: "life"; act: LifeActName; place: string }
  /** Into the tray, with its ripple. */
  | { do: "stage"; about: Named; edits: Edit[]; words: string }
  | { do: "confirm" | "hand" | "setReviewAside"; row: { place: string; flags: string[]; due: boolean } }
  /** The best change for each place where a pledge does not hold, into the tray. */
  | { do: "mend"; pledge: string }
  | { do: "meant"; place: string }
  | { do: "setFindingsAside"; place: string; signs: string[] }
  | { do: "letIn" | "decline"; request: string }
  | { do: "approve" | "sendBack"; place: string; version: string }
  | { do: "endGuest"; guest: string }
  | { do: "goOn"; job: string }
  | { do: "read"; notice: number };

export interface DeskAct {
  key: string;
  name: string;
  how: DeskHow;
}

export interface DeskRow {
  /** What it is called for setting it aside; the same each time. */
  key: string;
  heading: DeskHeading;
  words: string;
  /** The page it is about, where there is one. */
  place: Named | null;
  since: string | null;
  /** What happens if nothing is done. */
  otherwise: string;
  /** Just enough to decide. */
  lines: string[];
  acts: DeskAct[];
}

/** Of one kind there are more than stand on the desk. */
export interface DeskMore {
  heading: DeskHeading;
  count: number;
  words: string;
  address: string;
}

export interface DeskSettled {
  seq: number;
  words: string;
  at: string;
  by: string;
  mine: boolean;
  takenBack: boolean;
}

export interface Desk {
  rows: DeskRow[];
  more: DeskMore[];
  /** How many wait in all, those that do not stand on the desk with them. */
  count: number;
  /** How many are set aside. */
  aside: number;
  /** Some of it is still being worked out: ask again. */
  pending: boolean;
  /** What was settled within a day, the newest first. */
  settled: DeskSettled[];
  /** What comes next by itself. */
  next: { words: string; at: string } | null;
}

export const readDesk = declare({
  method: "GET",
  path: "/api/desk",
  who: "member",
  says: "Everything that waits for the asker, in order of consequence, and what was settled within a day.",
  query: NoQuery,
  answer: json<Desk>("Desk"),
});

export interface DeskCount {
  count: number;
}

export const countDesk = declare({
  method: "GET",
  path: "/api/desk/count",
  who: "member",
  says: "How many things wait for the asker, by what is known of it by now.",
  query: NoQuery,
  answer: json<DeskCount>("DeskCount"),
});

export class DeskAsideBody {
  @Matches(/^[a-zA-Z]{1,20}:[\w:.-]{1,120}$/) row!: string;
  /** Until when; null: it is on the desk again. */
  @IsOptional() @IsInstant() until!: string | null;
}

export const setDeskAside = declare({
  method: "POST",
  path: "/api/desk/aside",
  who: "member",
  says: "Sets a row of one's own desk aside until an instant, or brings it back.",
  body: DeskAsideBody,
  answer: nothing,
});

export const readNotice = declare({
  method: "POST",
  path: "/api/notices/{id}/read",
  who: "member",
  says: "Takes a notice that was read off one's desk.",
  answer: nothing,
});
