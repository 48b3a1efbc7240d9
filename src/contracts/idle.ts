/** Idle rules: those that do nothing, or not what they seem to, in one list. */
import "reflect-metadata";
import { IsIn } from "class-validator";
import type { Edit } from "../core/access/model/index.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, file, json } from "./declare.ts";
import type { Named } from "./people.ts";

/** The kinds, in the order in which they are worth looking at: what deceives before what is merely needless. */
export const IDLE_KINDS = [
  "deadEnds",
  "landingOnly",
  "admitsWithoutGrant",
  "cancelled",
  "suspended",
  "nobodyInGroup",
  "freshWithoutGrants",
  "stopsNobody",
  "covered",
  "ended",
] as const;
export type IdleKind = (typeof IDLE_KINDS)[number];

export class IdleQuery {
  @MayBeAbsent() @IsIn([...IDLE_KINDS]) kind?: IdleKind;
}

export class IdleExportQuery extends IdleQuery {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

export interface IdleRow {
  kind: IdleKind;
  place: Named;
  /** Titles of what it stands in; "…" for what the asker cannot see. */
  path: string[];
  sentence: string;
  /** What mends it, where one change does without giving anybody anything. */
  mend: { edit: Edit; sentence: string } | null;
}

export interface IdleList {
  /** The first few hundred that fit. */
  rows: IdleRow[];
  /** How many there are of each kind, whatever the filter. */
  counts: { kind: IdleKind; count: number }[];
  more: number;
}

export const readIdle = declare({
  method: "GET",
  path: "/api/idle",
  who: "member",
  says: "Rules that do nothing, or not what they seem to, at places whose rules the asker may see.",
  query: IdleQuery,
  answer: json<IdleList>("IdleList"),
});

export const exportIdle = declare({
  method: "GET",
  path: "/api/idle/export",
  who: "member",
  says: "All of them that fit, as a file.",
  query: IdleExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});
