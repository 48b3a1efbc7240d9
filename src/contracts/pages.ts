/** All pages in one table: filtered, sorted, counted, page by page. */
import "reflect-metadata";
import { IsIn, IsString, Matches, MaxLength } from "class-validator";
import type { PageState } from "../core/access/model/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";
import { IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, file, json } from "./declare.ts";

/** Parts of the view, by state. */
export const PARTS = {
  drafts: "draft",
  scheduled: "scheduled",
  live: "live",
  archive: "archived",
  bin: "binned",
} as const satisfies Record<string, PageState>;
export type Part = keyof typeof PARTS;

/** What pages can be sorted by. */
export const PAGE_SORTS = [
  "title",
  "state",
  "owner",
  "changed",
  "by",
  "published",
  "views",
  "outside",
  "tags",
  "readiness",
  "links",
  "versions",
  "left",
  "review",
] as const;
export type PageSort = (typeof PAGE_SORTS)[number];

/** Which pages. */
export class PagesFilter {
  @MayBeAbsent() @IsIn(Object.keys(PARTS)) part?: Part;
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
  /** A page and what is below it. */
  @MayBeAbsent() @IsString() @MaxLength(64) branch?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) owner?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) tag?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) readiness?: string;
  @MayBeAbsent() @IsInstant() before?: string;
  @MayBeAbsent() @IsInstant() since?: string;
  /** Read by outsiders: the public, guests, either, or nobody of them. */
  @MayBeAbsent() @IsIn(["public", "guests", "any", "none"]) outside?: "public" | "guests" | "any" | "none";
  @MayBeAbsent() @IsString() @MaxLength(100) words?: string;
  /** What waits since it could not be done at its time. */
  @MayBeAbsent() @IsIn(["yes"]) held?: "yes";
  /** What waits for approval: all of it, or what the asker may approve. */
  @MayBeAbsent() @IsIn(["waiting", "mine"]) approval?: "waiting" | "mine";
  /** Due to be looked at again, or flagged. */
  @MayBeAbsent() @IsIn(["due", "flagged"]) review?: "due" | "flagged";
}

export class PagesQuery extends PagesFilter {
  @MayBeAbsent() @IsIn([...PAGE_SORTS]) sort?: PageSort;
  @MayBeAbsent() @IsIn(["up", "down"]) order?: "up" | "down";
  /** Where the page before ended, as its answer said. */
  @MayBeAbsent() @Matches(/^[\w-]{1,800}$/) after?: string;
}

export interface PageRow {
  id: string;
  title: string;
  kind: "page" | "bulletin";
  state: PageState;
  /** Titles of what it stands in, the space first; "…" for what the asker cannot see. */
  path: string[];
  space: string;
  owner: string;
  changed: string;
  by: string;
  published: string | null;
  views: number | null;
  /** Who outside reads it; null where the asker may not know others. */
  outside: { public: boolean; guests: number } | null;
  tags: string[];
  readiness: string | null;
  links: number | null;
  versions: number | null;
  left: { at: string; by: string; erasable: string | null } | null;
  /** What goes live or is archived by itself, and why it did not. */
  due: { what: "live" | "archive"; at: string; problem: string | null } | null;
  /** The version that waits for approval, or was sent back; null for none, and for who may not know. */
  approval: { version: string; by: string; at: string; sentBack: boolean } | null;
  /** When it is to be looked at again; null: never by itself. */
  review: string | null;
  /** How many flags of it are open, as far as the asker may know; 0 in what is exported. */
  flags: number;
  acts: LifeActName[];
  mayRead: boolean;
}

export interface PageList {
  rows: PageRow[];
  next: string | null;
}

/** A space in the archive or the bin, with all that is in it. */
export interface GoneSpace {
  id: string;
  title: string;
  left: PageRow["left"];
  acts: LifeActName[];
}

export interface PageCounts {
  /** How many fit the filter, the part aside, in each part; and of these how many came there in the last seven days. */
  parts: { part: Part; count: number; week: number }[];
  /** How many fit all of it. */
  total: number;
  /** What the filter names, as the asker may know it. */
  said: { space: string; branch: string; owner: string };
  /** Where the archive or the bin is asked for: the first spaces there, the latest first, and how many more there are. */
  spaces: GoneSpace[];
  moreSpaces: number;
  /** How many pages wait for the asker to approve them, whatever is filtered. */
  toApprove: number;
  /** How many drafts stand on the asker's own workbench. */
  onBench: number;
}

export const readPages = declare({
  method: "GET",
  path: "/api/pages",
  who: "member",
  says: "Pages and bulletins the asker may see, filtered and sorted, a hundred at a time.",
  query: PagesQuery,
  answer: json<PageList>("PageList"),
});

export class PagesExportQuery extends PagesFilter {
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
}

export const exportPages = declare({
  method: "GET",
  path: "/api/pages/export",
  who: "member",
  says: "All pages that fit a filter, as a file.",
  query: PagesExportQuery,
  answer: file("text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
});

export const countPages = declare({
  method: "GET",
  path: "/api/pages/counts",
  who: "member",
  says: "How many pages fit a filter, by part.",
  query: PagesFilter,
  answer: json<PageCounts>("PageCounts"),
});
