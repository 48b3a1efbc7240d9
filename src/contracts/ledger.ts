/** The ledger: read, verified, taken back from. */

import type { Edit, Seq } from "../core/access/model/index.ts";
import type { Made, Preview } from "./change.ts";
import { ENTRY_NUMBER } from "./checks.ts";
import { declare, json, NoQuery } from "./declare.ts";
import { ActingBody } from "./rules.ts";
import "reflect-metadata";
import { IsOptional, IsString, Matches, MaxLength } from "class-validator";
import type { RippleView } from "./change.ts";

export class LedgerQuery {
  @IsOptional() @IsString() @MaxLength(64) who?: string;
  @IsOptional() @IsString() @MaxLength(64) place?: string;
  @IsOptional() @IsString() @MaxLength(30) act?: string;
  @IsOptional() @Matches(ENTRY_NUMBER, { message: "$property must be the number of an entry" }) before?: string;
}

export interface LedgerLine {
  seq: Seq;
  at: string;
  who: string;
  act: string;
  what: { place: string | null; title: string; text: string }[];
  note: string;
  ripple: RippleView | null;
  steppingIn: boolean;
  takesBack: Seq | null;
  takenBackBy: number | null;
  /** Whether there is something to take back that was not yet. */
  canTakeBack: boolean;
  hash: string;
}

export interface LedgerPage {
  lines: LedgerLine[];
  /** Number to continue before, or null at the end. */
  next: number | null;
  total: number;
  makers: { id: string; name: string }[];
  siteKeeper: boolean;
}

/** Whether the ledger's chain holds together, and every entry that does not fit. */
export interface LedgerCheck {
  sound: boolean;
  entries: number;
  breaks: { seq: Seq; what: "content" | "link" | "words" | "missing" | "order" }[];
  /** There are more breaks than are named. */
  more: boolean;
}

/** What taking an entry back would do, and by which edits. */
export type TakeBackPreview = Preview & { edits: Edit[] };

export const readLedger = declare({
  method: "GET",
  path: "/api/ledger",
  who: "member",
  says: "Entries of the ledger, the newest first, as far as the asker may see them.",
  query: LedgerQuery,
  answer: json<LedgerPage>("LedgerPage"),
});

export const checkLedger = declare({
  method: "GET",
  path: "/api/ledger/check",
  who: "member",
  says: "Whether the chain holds together; names every break.",
  query: NoQuery,
  answer: json<LedgerCheck>("LedgerCheck"),
});

export const previewTakeBack = declare({
  method: "GET",
  path: "/api/ledger/{seq}",
  who: "member",
  says: "What taking an entry back would do today.",
  query: NoQuery,
  answer: json<TakeBackPreview>("TakeBackPreview"),
});

export const takeBack = declare({
  method: "POST",
  path: "/api/ledger/{seq}",
  who: "member",
  says: "Takes an entry back, as a new change.",
  body: ActingBody,
  answer: json<Made>("Made"),
});
