/** What is read, by whom and how often; what is not; what was searched for and not found. */
import "reflect-metadata";
import { IsIn, IsString, MaxLength } from "class-validator";
import { MayBeAbsent } from "./checks.ts";
import { declare, file, json } from "./declare.ts";
import type { Named } from "./people.ts";

/** So many weeks are told. */
export const READS_WEEKS = ["13", "26", "60"] as const;
export type ReadsWeeks = (typeof READS_WEEKS)[number];
/** So many rows a list has. */
export const READS_ROWS = 20;
/** What nobody confirmed or published for so many days, and is read all the same, is stale. */
export const STALE_AFTER_DAYS = 180;
/** Words that fewer people looked for are not shown: they might say who that was. */
export const FEWEST_PEOPLE = 5;

export class ReadsQuery {
  /** A space, or a page and what is below it; absent: everything the asker may know of. */
  @MayBeAbsent() @IsString() @MaxLength(64) about?: string;
  /** A page without what is below it. */
  @MayBeAbsent() @IsIn(["yes"]) alone?: "yes";
  @MayBeAbsent() @IsIn([...READS_WEEKS]) weeks?: ReadsWeeks;
}

export interface Views {
  outsiders: number;
  guests: number;
  members: number;
}

export interface ReadsWeek extends Views {
  /** Its Monday. */
  week: string;
  /** How many different people who were signed in; null: not kept for that week. */
  people: number | null;
}

export interface ReadsRow {
  id: string;
  title: string;
  space: string;
  views: number;
  /** Since when it is so: published, or last confirmed. */
  since: string | null;
}

export interface ReadsList {
  rows: ReadsRow[];
  count: number;
}

export interface MissedWords extends Views {
  words: string;
  people: number;
}

export interface Reads {
  /** What it is about; null: all of the site that the asker may know of. */
  about: Named | null;
  /** The oldest first. */
  weeks: ReadsWeek[];
  total: Views & { people: number | null };
  most: ReadsList;
  never: ReadsList;
  stale: ReadsList;
  /** For site keepers, of the whole site; null for others. */
  missed: MissedWords[] | null;
  /** For so many days it is kept that somebody read; 0: never. */
  keptDays: number;
}

export const readReads = declare({
  method: "GET",
  path: "/api/reads",
  who: "member",
  says: "Views by week and kind of reader, and what is most, never and still read, where the asker may know how often.",
  query: ReadsQuery,
  answer: json<Reads>("Reads"),
});

export class ReadsExportQuery extends ReadsQuery {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

export const exportReads = declare({
  method: "GET",
  path: "/api/reads/export",
  who: "member",
  says: "Views of every page by week and kind of reader, as a file.",
  query: ReadsExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});
