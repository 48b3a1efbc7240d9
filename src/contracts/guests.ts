/** Guests as seen from Outside: who is let in, through what, until when, and what of it they use. */
import "reflect-metadata";
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsIn, IsOptional, IsString, Matches, MaxLength } from "class-validator";
import type { Edit, Level } from "../core/access/model/index.ts";
import { IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Levels, Named, PersonState } from "./people.ts";

/** Those who can come in; of them those who used nothing for so long; those who cannot come in any more. */
export const GUEST_SHOWS = ["in", "unused", "out"] as const;
export type GuestShow = (typeof GUEST_SHOWS)[number];
export const GUEST_SORTS = ["use", "until", "name"] as const;
export type GuestSort = (typeof GUEST_SORTS)[number];

/** What was not used for so many days counts as unused. */
export const UNUSED_DAYS = 90;

export class GuestsQuery {
  @MayBeAbsent() @IsIn([...GUEST_SHOWS]) show?: GuestShow;
  @MayBeAbsent() @IsIn([...GUEST_SORTS]) sort?: GuestSort;
  @MayBeAbsent() @IsString() @MaxLength(100) words?: string;
  @MayBeAbsent() @Matches(/^[\w-]{1,800}$/) after?: string;
}

export interface GuestRow extends Named {
  /** How they stand, since when they are here, until when, when they last signed in and who brought them in: for site keepers and whoever did. */
  state: PersonState | null;
  from: string | null;
  until: string | null;
  signedIn: string | null;
  by: string | null;
  /** On how many pages that the public does not read they have which level, where the asker may see rules. */
  levels: Levels;
  /** The first few groups that name them, and in how many they are; at how many places rules name them. */
  groups: string[];
  inGroups: number;
  named: number;
  /** When they last read any of these pages. */
  usedAt: string | null;
  unused: boolean;
  /** Whether the asker may end their time, or make it shorter. */
  mayEnd: boolean;
}

export interface GuestList {
  rows: GuestRow[];
  next: string | null;
  total: number;
  counts: Record<GuestShow, number>;
  /** For how many days uses are kept, and since when they are known. */
  uses: { days: number; since: string };
}

export const readGuests = declare({
  method: "GET",
  path: "/api/outside/guests",
  who: "member",
  says: "Guests, with what they can read where the asker may see rules, and what of it they use; a hundred at a time.",
  query: GuestsQuery,
  answer: json<GuestList>("GuestList"),
});

/** One rule that lets a guest in. */
export interface GuestWay {
  /** "Guests of *Dredgers* are Reader", as a sentence, and where that stands. */
  sentence: string;
  place: Named;
  until: string | null;
  /** How many pages it opens to them, when they last read one of them, and whether that is too long ago. */
  pages: number;
  usedAt: string | null;
  unused: boolean;
}

export interface GuestPage extends Named {
  path: string[];
  level: Level;
  usedAt: string | null;
}

export interface GuestDetail {
  ways: GuestWay[];
  /** Those read last first, then the others; the first of them, and how many more. */
  pages: GuestPage[];
  more: number;
}

export const readGuest = declare({
  method: "GET",
  path: "/api/outside/guests/{id}",
  who: "member",
  says: "Through which rules a guest reads what the public does not, page by page, where the asker may see rules.",
  answer: json<GuestDetail>("GuestDetail"),
});

export const MOST_GUESTS_AT_ONCE = 100;

export class GuestPlanBody {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_GUESTS_AT_ONCE)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  guests!: string[];
  /** `end`: at this moment; `shorten`: at an instant; `withdraw`: the rules that opened nothing they used. */
  @IsIn(["end", "shorten", "withdraw"]) act!: "end" | "shorten" | "withdraw";
  @IsOptional() @IsInstant() until!: string | null;
}

/** What an act comes to for one guest, as edits for the tray; without any, why not. */
export interface GuestPlan {
  guest: Named;
  edits: Edit[];
  sentences: string[];
  why: string;
}

export type GuestPlans = GuestPlan[];

export const planGuests = declare({
  method: "POST",
  path: "/api/outside/guests/plan",
  who: "member",
  says: "The edits that end guests, make their time shorter or withdraw what they do not use; nothing is changed.",
  body: GuestPlanBody,
  answer: json<GuestPlans>("GuestPlans"),
});
