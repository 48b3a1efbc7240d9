/** What is outside: since when the public reads what it reads, and what of that is meant. */
import { boolean, index, integer, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import type { FindingKind } from "../../../core/findings/index.ts";
import { instant, seqColumn } from "./columns.ts";

/**
 * Places the public reads, and the entry of the ledger that opened each. Kept from the ripple of every change. A place that
 * closed by the clock (an `until` that passed) still stands here: whether the public reads it is for the rules to say.
 */
export const exposures = pgTable(
  "exposures",
  { placeId: text("place_id").primaryKey(), seq: seqColumn("seq").notNull(), at: instant("at").notNull() },
  (t) => [index("exposures_at").on(t.at, t.placeId)],
);

/** Places somebody said are meant to be outside; goes when the public can no longer read one, or anything on its path moves. */
export const meantOutside = pgTable("meant_outside", {
  placeId: text("place_id").primaryKey(),
  by: text("by").notNull(),
  at: instant("at").notNull(),
});

/** What a crawl came upon: each address once, with what it answered. Rows of a crawl that is not the newest go with the next one. */
export const crawled = pgTable(
  "crawled",
  {
    jobId: text("job_id").notNull(),
    /** Path and query. */
    address: text("address").notNull(),
    /** The page that led to it first; null: it stands in the sitemap alone, or is the front door. */
    from: text("from_address"),
    /** How many answers led on to it, one after the other. */
    hops: integer("hops").notNull().default(0),
    /** What it answered; null: not asked yet, or no answer came. */
    status: integer("status"),
    /** Whether it asks not to be listed. */
    noindex: boolean("noindex").notNull().default(false),
    /** The place that the address names, if it is that of a page or space. */
    placeId: text("place_id"),
    /** Why there is nothing to be said of it: robots.txt keeps it back, it was too slow, it leads elsewhere. */
    problem: text("problem"),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.address] }), index("crawled_places").on(t.jobId, t.placeId)],
);

/** What looks sensitive in live texts: where it stands, never the words. Of every live page, whoever reads it. */
export const findings = pgTable(
  "findings",
  {
    placeId: text("place_id").notNull(),
    /** Number of the passage in the live text, from 0; where in it, in UTF-16 units. */
    passage: integer("passage").notNull(),
    start: integer("start").notNull(),
    end: integer("end").notNull(),
    kind: text("kind").$type<FindingKind>().notNull(),
    /** The same for the same words on the same page, of any version; tells nothing of them. */
    sign: text("sign").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.passage, t.start] })],
);

/** Findings somebody set aside, with why; for as long as the same words stand on the page. */
export const findingsAside = pgTable(
  "findings_aside",
  {
    placeId: text("place_id").notNull(),
    sign: text("sign").notNull(),
    by: text("by").notNull(),
    at: instant("at").notNull(),
    reason: text("reason").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.sign] })],
);
