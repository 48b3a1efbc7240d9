/** People and groups brought in from a table of one's own, and taken out as one. */
import "reflect-metadata";
import { Type } from "class-transformer";
import { IsIn, IsInt, IsObject, IsString, Max, MaxLength, Min, ValidateNested } from "class-validator";
import type { Made, Preview } from "./change.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, file, json } from "./declare.ts";
import { ActingBody } from "./rules.ts";

export const PEOPLE_FIELDS = ["name", "address", "kind", "until", "groups"] as const;
export type PeopleField = (typeof PEOPLE_FIELDS)[number];

/** Characters and rows of a table at most. */
export const LARGEST_TABLE = 3_500_000;
export const MOST_ROWS = 20_000;

/** Which column holds what, by number; what is left out is found by its name. */
export class ColumnsBody {
  @MayBeAbsent() @IsInt() @Min(0) @Max(200) name?: number;
  @MayBeAbsent() @IsInt() @Min(0) @Max(200) address?: number;
  @MayBeAbsent() @IsInt() @Min(0) @Max(200) kind?: number;
  @MayBeAbsent() @IsInt() @Min(0) @Max(200) until?: number;
  @MayBeAbsent() @IsInt() @Min(0) @Max(200) groups?: number;
}

export class LookAtTableBody {
  /** The table as text: CSV, commas or semicolons or tabs between the cells. */
  @IsString() @MaxLength(LARGEST_TABLE) table!: string;
  @IsObject() @ValidateNested() @Type(() => ColumnsBody) columns!: ColumnsBody;
}

export class BringTableBody extends ActingBody {
  @IsString() @MaxLength(LARGEST_TABLE) table!: string;
  @IsObject() @ValidateNested() @Type(() => ColumnsBody) columns!: ColumnsBody;
}

export type Outcome = "added" | "changed" | "same" | "refused";

export interface TableRow {
  /** The line of the table, the head being 1. */
  line: number;
  outcome: Outcome;
  name: string;
  address: string;
  /** What would be done, or why nothing. */
  says: string;
}

export interface TableLook {
  /** The names of the columns, and which was taken for what. */
  head: string[];
  columns: Partial<Record<PeopleField, number>>;
  counts: Record<Outcome, number>;
  /** Names of groups that would be made. */
  groups: string[];
  /** Those refused first, then changed, then added: the first few hundred. */
  rows: TableRow[];
  /** What it would do; null where there is nothing to do. */
  preview: Preview | null;
}

export const lookAtTable = declare({
  method: "POST",
  path: "/api/people/table/look",
  who: "member",
  says: "Row by row what bringing in a table of people would do, and what it would do to access; changes nothing.",
  body: LookAtTableBody,
  answer: json<TableLook>("TableLook"),
});

export const bringTable = declare({
  method: "POST",
  path: "/api/people/table",
  who: "member",
  says: "Brings in a table of people and their groups as one change; rows that are refused are left out.",
  body: BringTableBody,
  answer: json<Made>("Made"),
});

export class PeopleExportQuery {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

export const exportPeople = declare({
  method: "GET",
  path: "/api/people/export",
  who: "member",
  says: "All people with their groups, as a table that can be brought in again; for site keepers.",
  query: PeopleExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});
