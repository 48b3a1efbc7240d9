/** Passes: secret links that let whoever holds one read a page, and what is below it. */
import "reflect-metadata";
import { IsBoolean, IsOptional, IsString, MaxLength } from "class-validator";
import { LIMITS } from "../core/words.ts";
import type { Made, Preview } from "./change.ts";
import { HasWords, IsInstant, IsLine, MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Named } from "./people.ts";
import { ActingBody } from "./rules.ts";

export class PassesQuery {
  /** Only passes at this place, or at one in this space. */
  @MayBeAbsent() @IsString() @MaxLength(64) place?: string;
}

export interface PassRow {
  id: string;
  place: Named;
  space: string;
  below: boolean;
  until: string | null;
  /** What it is for; null for one that came in with a document and has no link. */
  name: string | null;
  by: string;
  at: string | null;
  uses: number;
  usedAt: string | null;
  state: "works" | "withdrawn" | "over" | "closed";
}

export interface PassList {
  passes: PassRow[];
  /** How many older ones there are. */
  more: number;
}

export const readPasses = declare({
  method: "GET",
  path: "/api/passes",
  who: "member",
  says: "Passes where one may know the rules, the newest first.",
  query: PassesQuery,
  answer: json<PassList>("PassList"),
});

export class PassBody {
  @IsString() @MaxLength(64) place!: string;
  @IsBoolean() below!: boolean;
  @IsOptional() @IsInstant() until!: string | null;
}

export class MakePassBody extends ActingBody {
  @IsString() @MaxLength(64) place!: string;
  @IsBoolean() below!: boolean;
  @IsOptional() @IsInstant() until!: string | null;
  /** What it is for. */
  @IsLine(LIMITS.name) @HasWords() name!: string;
}

export const lookAtPass = declare({
  method: "POST",
  path: "/api/passes/look",
  who: "member",
  says: "What whoever holds such a pass could read; changes nothing.",
  body: PassBody,
  answer: json<Preview>("Preview"),
});

/** A pass that was made; its link is shown this once. */
export interface MadePass extends Made {
  id: string;
  link: string;
}

export const makePass = declare({
  method: "POST",
  path: "/api/passes",
  who: "member",
  says: "Makes a pass; its link is in the answer and nowhere else.",
  body: MakePassBody,
  answer: json<MadePass>("MadePass"),
});

export const withdrawPass = declare({
  method: "POST",
  path: "/api/passes/{id}/withdraw",
  who: "member",
  says: "Withdraws a pass: from now on whoever holds it sees nothing.",
  answer: json<Made>("Made"),
});
