/** What is outside: every page the public reads, since when, through what, and whether that is meant. */
import "reflect-metadata";
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsBoolean, IsIn, IsString, Matches, MaxLength } from "class-validator";
import { type PlaceKind, type Seq, VIEWPOINT } from "../core/access/model/index.ts";
import { IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, file, json, nothing } from "./declare.ts";
import type { Named } from "./people.ts";

export class OutsideFilter {
  /** Those alone that nobody said are meant to be outside, or those alone that somebody did. */
  @MayBeAbsent() @IsIn(["new", "meant"]) show?: "new" | "meant";
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
}

export class OutsideQuery extends OutsideFilter {
  @MayBeAbsent() @IsString() @MaxLength(400) after?: string;
}

export class OutsideExportQuery extends OutsideFilter {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

/** So many pages are said to be meant at once. */
export const MOST_MEANT = 100;

export class MeantBody {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_MEANT)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  places!: string[];
  /** False: not any more. */
  @IsBoolean() meant!: boolean;
}

/** One page the public reads. */
export interface ExposedPage {
  id: string;
  title: string;
  kind: "page" | "bulletin";
  /** Titles of what it stands in, the space first; "…" for what the asker cannot see. */
  path: string[];
  /** When the public came to read it, by which entry of the ledger, whose, and what that was: "Moved". Null: since before all that is kept. */
  since: { at: string; seq: Seq; who: string; act: string } | null;
  /** What opens it, as sentences, the nearest first. */
  through: { sentence: string; place: string }[];
  /** How often outsiders read it in 30 days. */
  reads: number;
  /** How many of its links lead the public nowhere. */
  nowhere: number;
  meant: { by: string; at: string } | null;
}

export interface ExposedList {
  rows: ExposedPage[];
  next: string | null;
  /** One line a space, whatever the filter: how many pages of it the public reads, and how many of them nobody said are meant. */
  spaces: (Named & { open: number; unsettled: number })[];
  /** How many fit. */
  total: number;
}

export const readOutside = declare({
  method: "GET",
  path: "/api/outside/public",
  who: "member",
  says: "Pages the public reads, among those whose rules the asker may see: the newest outside first, a hundred at a time.",
  query: OutsideQuery,
  answer: json<ExposedList>("ExposedList"),
});

export const exportOutside = declare({
  method: "GET",
  path: "/api/outside/public/export",
  who: "member",
  says: "All of them that fit, as a file.",
  query: OutsideExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});

export const meanOutside = declare({
  method: "POST",
  path: "/api/outside/meant",
  who: "member",
  says: "Says that pages are meant to be outside, or not any more.",
  body: MeantBody,
  answer: nothing,
});

/**
 * Whose eyes are compared: `public`, any guest or member, somebody, a pass, a group; or an imagined member or guest in
 * groups, as `member+pilots+quay`.
 */
export const COMPARED = VIEWPOINT;

const NO_EYES = "$property must say whose eyes: public, guests, members, person:id, group:id, pass:id, or member+group+group";

export class CompareViewpointsQuery {
  @Matches(COMPARED, { message: NO_EYES }) a!: string;
  @Matches(COMPARED, { message: NO_EYES }) b!: string;
  /** As of this instant; for site keepers. */
  @MayBeAbsent() @IsInstant() at?: string;
}

export class CompareWhyQuery extends CompareViewpointsQuery {
  @IsString() @MaxLength(64) place!: string;
}

export class CompareExportQuery extends CompareViewpointsQuery {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

/** A row of the tree: a place where they differ, or one above such. */
export interface DifferingRow {
  id: string;
  /** Null for a place that one cannot see. */
  title: string | null;
  kind: PlaceKind;
  depth: number;
  /** What each has here, as a set of abilities; null where they do not differ. */
  sets: [number, number] | null;
}

export interface ViewpointsCompared {
  /** How each is called: "The public", "Any member in Pilots". */
  names: [string, string];
  rows: DifferingRow[];
  /** At how many places they differ, and how many rows there was no room for. */
  differ: number;
  unshown: number;
}

export interface CompareWhy {
  /** What one can do and the other cannot, and the steps to each answer. */
  sides: { answer: string; steps: string[] }[];
}

export const compareViewpoints = declare({
  method: "GET",
  path: "/api/outside/compare",
  who: "member",
  says: "Where two viewpoints differ, as a tree of the differences alone, among places whose rules the asker may see.",
  query: CompareViewpointsQuery,
  answer: json<ViewpointsCompared>("ViewpointsCompared"),
});

export const compareWhy = declare({
  method: "GET",
  path: "/api/outside/compare/why",
  who: "member",
  says: "Why two viewpoints differ at a place.",
  query: CompareWhyQuery,
  answer: json<CompareWhy>("CompareWhy"),
});

export const exportCompared = declare({
  method: "GET",
  path: "/api/outside/compare/export",
  who: "member",
  says: "Where two viewpoints differ, as a file.",
  query: CompareExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});
