/** Access asked for by somebody who was refused, and decided on by whoever may admit there. */
import "reflect-metadata";
import { IsString, MaxLength, ValidateIf } from "class-validator";
import { LIMITS } from "../core/words.ts";
import type { Preview } from "./change.ts";
import { HasWords, IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, json, nothing } from "./declare.ts";
import type { Named } from "./people.ts";
import { ActingBody } from "./rules.ts";

/** Every request lapses after so many days, decided or not. */
export const ASKED_DAYS = 30;
/** So many of one person stand at once. */
export const MOST_ASKED = 20;

export class AskBody {
  /** The address that was refused, as in "/read/space/page-id". */
  @IsString() @MaxLength(1_000) address!: string;
  @IsString() @HasWords() @MaxLength(LIMITS.note) reason!: string;
}

/** What whoever asks is told: the same whatever is there, and whatever is decided. */
export interface AskedReceipt {
  /** When the request lapses. */
  lapses: string;
}

export class AskedQuery {
  /** For one place alone. */
  @MayBeAbsent() @IsString() @MaxLength(64) place?: string;
}

/** A request as those see it who may admit there. */
export interface AskedRow {
  id: string;
  who: Named & { kind: "member" | "guest" };
  place: Named;
  path: string[];
  reason: string;
  at: string;
  lapses: string;
  /** Who brought a guest in. */
  broughtInBy: string | null;
  /** How it was declined; null while it is open. */
  declined: { by: string; at: string; word: string } | null;
}

export interface AskedList {
  rows: AskedRow[];
  /** How many more there was no room for. */
  more: number;
}

export class LetInLookBody {
  /** Until when; null: without end. */
  @ValidateIf((it: LetInLookBody) => it.until !== null) @IsInstant() until!: string | null;
}

export class LetInBody extends ActingBody {
  @ValidateIf((it: LetInBody) => it.until !== null) @IsInstant() until!: string | null;
}

/** The best change that lets them in, and what it would do. */
export interface LetInPlan {
  sentences: string[];
  /** Null where nothing lets them in. */
  preview: Preview | null;
  /** Why nothing does, or why nothing is needed. */
  why: string;
  /** The end cannot be set: they come in by a fence that lets them through. */
  endless: boolean;
}

export class DeclineBody {
  /** A word on why, for those who may admit; whoever asked is not told. */
  @IsString() @MaxLength(LIMITS.note) word!: string;
}

export const askForAccess = declare({
  method: "POST",
  path: "/api/asked",
  who: "signedIn",
  says: "Asks to read what an address names. Answered alike whatever is there.",
  body: AskBody,
  answer: json<AskedReceipt>("AskedReceipt"),
});

export const readAsked = declare({
  method: "GET",
  path: "/api/asked",
  who: "member",
  says: "What was asked for and stands, at places where the asker may admit.",
  query: AskedQuery,
  answer: json<AskedList>("AskedList"),
});

export const lookAtLettingIn = declare({
  method: "POST",
  path: "/api/asked/{id}/look",
  who: "member",
  says: "The best change that lets somebody in who asked, and its ripple; changes nothing.",
  body: LetInLookBody,
  answer: json<LetInPlan>("LetInPlan"),
});

export const letIn = declare({
  method: "POST",
  path: "/api/asked/{id}/let-in",
  who: "member",
  says: "Lets somebody in who asked, as it was looked at.",
  body: LetInBody,
  answer: nothing,
});

export const decline = declare({
  method: "POST",
  path: "/api/asked/{id}/decline",
  who: "member",
  says: "Declines what was asked for, with a word that only those who may admit see.",
  body: DeclineBody,
  answer: nothing,
});
