/** Review: what waits to be looked at again, flags, and how both are settled. */
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from "class-validator";
import { FLAG_KINDS, FLAG_OUTCOMES, type FlagKind, type FlagOutcome } from "../core/access/model/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";

/** So many pages are flagged or settled in one step; more are left for the next. */
export const MOST_AT_ONCE_IN_REVIEW = 100;
/** So many flags somebody raises in an hour. */
export const MOST_FLAGS_AN_HOUR = 20;
export const ROWS_OF_QUEUE = 50;
/** So long a passage is quoted at most. */
export const MOST_QUOTED = 300;

/** A flag, as far as its reader may know of it. */
export interface FlagLine {
  id: string;
  kind: FlagKind;
  /** Empty: somebody who is not to be known, or was not signed in. */
  by: string;
  at: string;
  due: string;
  /** Who is to answer it. */
  to: string;
  note: string;
  /** The words of the page it is about, for those who read it; empty: none. */
  quote: string;
  outcome: FlagOutcome | null;
  endedBy: string;
  endedAt: string | null;
  reason: string;
  /** Whether the asker may answer it. */
  maySettle: boolean;
}

export interface QueueRow {
  id: string;
  title: string;
  space: string;
  kind: "page" | "bulletin";
  /** When its review is due, where it is by now. */
  due: string | null;
  /** Since when it waits. */
  since: string;
  flags: FlagLine[];
  /** Views of the last 30 days; null: not for the asker to know. */
  views: number | null;
  /** Who outside reads it; null: not for the asker to know. */
  outside: "public" | "guests" | "nobody" | null;
  owner: string;
  mayConfirm: boolean;
  /** It went live after its oldest open flag was raised: it may have been revised. */
  revisedSince: boolean;
  acts: LifeActName[];
}

/** What was settled today by the asker, the newest first. */
export interface SettledLine {
  seq: number;
  words: string;
  at: string;
  takenBack: boolean;
}

export interface ReviewQueue {
  rows: QueueRow[];
  /** How many wait in all. */
  count: number;
  settled: SettledLine[];
}

export class QueueQuery {
  /** Those alone that the asker is to answer. */
  @MayBeAbsent() @IsIn(["mine"]) whose?: "mine";
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
  /** How many stand before: those were seen already. */
  @MayBeAbsent() @Type(() => Number) @IsInt() @Min(0) @Max(1_000_000) from?: number;
}

export const readQueue = declare({
  method: "GET",
  path: "/api/review",
  who: "member",
  says: "Pages that wait to be looked at again, in the order in which they matter, and what the asker settled today.",
  query: QueueQuery,
  answer: json<ReviewQueue>("ReviewQueue"),
});

/** How the review of a page stands. */
export interface PageReview {
  title: string;
  address: string;
  /** Its live text for the asker; null: there is none, or it is not for them. */
  html: string | null;
  publishedAt: string | null;
  confirmedAt: string | null;
  confirmedBy: string;
  asideUntil: string | null;
  due: string | null;
  /** Days of its own period, and of its space's. */
  period: number | null;
  ofSpace: number | null;
  flags: FlagLine[];
  mayConfirm: boolean;
  mayFlag: boolean;
  maySetPeriod: boolean;
}

export const readPageReview = declare({
  method: "GET",
  path: "/api/pages/{id}/review",
  who: "signedIn",
  says: "When a page was confirmed, when it is due, and its flags, as far as the asker may know of them.",
  answer: json<PageReview>("PageReview"),
});

export class RaiseFlagBody {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_AT_ONCE_IN_REVIEW)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  places!: string[];
  @IsIn(FLAG_KINDS) kind!: FlagKind;
  @IsString() @HasWords() @MaxLength(LIMITS.note) note!: string;
  /** The words of the page it is about. */
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(MOST_QUOTED) quote?: string;
  /** By when it wants an answer; absent: what its kind asks for. */
  @MayBeAbsent() @IsInstant() due?: string;
  /** Who is to answer; absent: the owner of each page. */
  @MayBeAbsent() @IsString() @MaxLength(64) to?: string;
}

/** What was done, and what of it could not be. */
export interface ReviewDone {
  seq: number | null;
  done: number;
  skipped: { id: string; title: string; why: string }[];
}

export const raiseFlag = declare({
  method: "POST",
  path: "/api/flags",
  who: "signedIn",
  says: "Says of pages that something is wrong with them.",
  body: RaiseFlagBody,
  answer: json<ReviewDone>("ReviewDone"),
});

/** A page of the queue, with the flags that were seen on it. */
export class SettleRowBody {
  @IsString() @MaxLength(64) place!: string;
  @IsArray() @ArrayMaxSize(50) @ArrayUnique() @IsString({ each: true }) @MaxLength(64, { each: true }) flags!: string[];
  /** Whether its review was due when it was seen. */
  @IsBoolean() due!: boolean;
}

class RowsBody {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_AT_ONCE_IN_REVIEW)
  @ValidateNested({ each: true })
  @Type(() => SettleRowBody)
  rows!: SettleRowBody[];
}

export class SettleBody extends RowsBody {
  @IsIn(FLAG_OUTCOMES) outcome!: FlagOutcome;
  /** Setting aside needs one. */
  @IsString() @MaxLength(LIMITS.note) reason!: string;
  /** Until when a due review is set aside; absent: for another period. */
  @MayBeAbsent() @IsInstant() until?: string;
}

export const settleReview = declare({
  method: "POST",
  path: "/api/review/settle",
  who: "member",
  says: "Settles pages of the queue: confirmed as they are, revised, or set aside with a reason.",
  body: SettleBody,
  answer: json<ReviewDone>("ReviewDone"),
});

export class HandFlagsBody extends RowsBody {
  @IsString() @MaxLength(64) to!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @MayBeAbsent() @IsInstant() due?: string;
}

export const handFlags = declare({
  method: "POST",
  path: "/api/review/hand",
  who: "member",
  says: "Hands pages of the queue to somebody else to answer.",
  body: HandFlagsBody,
  answer: json<ReviewDone>("ReviewDone"),
});
