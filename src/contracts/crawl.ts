/** What a crawler finds: the site walked over HTTP as the public, beside what the rules say. */
import "reflect-metadata";
import { IsIn, IsString, MaxLength } from "class-validator";
import type { PlaceKind } from "../core/access/model/index.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Ordered } from "./jobs.ts";
import type { Named } from "./people.ts";

/** So many addresses at most are asked for in one crawl. */
export const MOST_CRAWLED = 20_000;

/**
 * How a place stands between rules and crawl: found though nobody said that it is meant; found and meant; found, and asking not to
 * be listed; open, but nothing leads there; linked from what is open, but closed; not as the rules of today say.
 */
export const CRAWL_KINDS = ["unmeant", "meant", "unindexed", "unlinked", "closed", "differs"] as const;
export type CrawlKind = (typeof CRAWL_KINDS)[number];

export class CrawlQuery {
  @MayBeAbsent() @IsIn(CRAWL_KINDS) show?: CrawlKind;
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
}

/** A row of the tree. */
export interface CrawledPlace {
  id: string;
  title: string;
  kind: PlaceKind;
  depth: number;
  /** How it stands; null for a place above others that is itself not among what is shown. */
  as: CrawlKind | null;
  /** Whether the public reads it by the rules of now, and whether the crawl was answered with it. */
  open: boolean;
  found: boolean;
  /** Where the first link to it stands; null: in the sitemap alone, or nowhere. */
  from: { id: string; title: string; address: string } | null;
}

/** An address that is no place that was found: an error, something kept back, something outside. */
export interface CrawledOther {
  address: string;
  from: string | null;
  said: string;
}

export interface CrawlView {
  /** The newest crawl; null: there was none. */
  crawl: {
    job: string;
    by: string;
    state: "waiting" | "running" | "stopped" | "done";
    problem: string | null;
    startedAt: string;
    endedAt: string | null;
    /** How many addresses were asked for, of how many that are known. */
    asked: number;
    known: number;
    /** It ended at its bound: what lies further was not asked for. */
    cut: boolean;
  } | null;
  counts: Record<CrawlKind, number>;
  spaces: (Named & { count: number })[];
  rows: CrawledPlace[];
  unshown: number;
  others: CrawledOther[];
  othersUnshown: number;
}

export const readCrawl = declare({
  method: "GET",
  path: "/api/outside/crawl",
  who: "member",
  says: "What the newest crawl found, beside what the rules say; for site keepers.",
  query: CrawlQuery,
  answer: json<CrawlView>("CrawlView"),
});

export const startCrawl = declare({
  method: "POST",
  path: "/api/outside/crawl",
  who: "member",
  says: "Walks the site as the public, as a job; for site keepers, one at a time.",
  answer: json<Ordered>("Ordered"),
});
