/** Registers: every place with rules of its own, every fence, what every group is granted, every stepping in. */
import "reflect-metadata";
import { IsIn, IsString, MaxLength } from "class-validator";
import type { PlaceKind, Seq } from "../core/access/model/index.ts";
import { IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, file, json } from "./declare.ts";
import type { Named } from "./people.ts";
import type { WhoMoved } from "./slip.ts";

export const REGISTERS = ["rules", "fences", "groups", "steps"] as const;
export type Register = (typeof REGISTERS)[number];
/** In order of place; the newest rule first; who lets in most outsiders, or keeps out most people, first. */
export const REGISTER_SORTS = ["where", "when", "in", "out"] as const;
export type RegisterSort = (typeof REGISTER_SORTS)[number];
/** Whom a rule names. */
export const NAMED_BY_RULES = ["public", "accounts", "members", "group", "person"] as const;
export type NamedByRules = (typeof NAMED_BY_RULES)[number];

export class RegisterFilter {
  @IsIn(REGISTERS) of!: Register;
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
  /** What the title, or the name of a group or person in a rule, holds. */
  @MayBeAbsent() @IsString() @MaxLength(100) words?: string;
  @MayBeAbsent() @IsIn(NAMED_BY_RULES) names?: NamedByRules;
  @MayBeAbsent() @IsIn(REGISTER_SORTS) sort?: RegisterSort;
  /** As of this instant, behind or ahead; absent: now. */
  @MayBeAbsent() @IsInstant() at?: string;
}

export class RegisterQuery extends RegisterFilter {
  @MayBeAbsent() @IsString() @MaxLength(400) after?: string;
}

export class RegisterExportQuery extends RegisterFilter {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

/** A rule with the entry of the ledger that made it. */
export interface RegisteredRule {
  text: string;
  entry: { seq: Seq; at: string; who: string; act: string; note: string } | null;
}

export interface RegisterRow {
  /** Tells it apart from the other rows. */
  key: string;
  place: Named & { kind: PlaceKind };
  path: string[];
  /** Of the register of groups: which; of steppings in: who. */
  who: string | null;
  rules: RegisteredRule[];
  /** Who reads here and not above, and who reads above and not here; of a space, who reads it at all. */
  letsIn: WhoMoved | null;
  keepsOut: WhoMoved | null;
  /** Until when a stepping in lasted. */
  until: string | null;
}

export interface RegisterPage {
  rows: RegisterRow[];
  next: string | null;
  total: number;
  spaces: Named[];
}

export const readRegister = declare({
  method: "GET",
  path: "/api/registers",
  who: "member",
  says: "One of the registers, as far as the asker may see rules, a hundred rows at a time; now, or as of another instant.",
  query: RegisterQuery,
  answer: json<RegisterPage>("RegisterPage"),
});

export const exportRegister = declare({
  method: "GET",
  path: "/api/registers/export",
  who: "member",
  says: "All of it that fits, as a file.",
  query: RegisterExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});
