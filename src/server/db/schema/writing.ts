/** What spaces and pages are beside places; their versions; words that are in none yet. */
import { bigint, boolean, index, integer, jsonb, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import type { SpaceContents } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { current, instant, seqColumn, sortKey, stillValid, validity } from "./columns.ts";

/** What a space is beside a place: its address, what it is for, the page people land on. */
export const spaces = pgTable("spaces", {
  placeId: text("place_id").primaryKey(),
  slug: text("slug").notNull().unique(),
  purpose: text("purpose").notNull(),
  landingId: text("landing_id"),
  /** The words it names readiness by, in order. */
  readiness: text("readiness").array().notNull().default([]),
  /** Whether its pages stand in an order by hand, or by name. */
  arranged: text("arranged").$type<"hand" | "name">().notNull().default("hand"),
  /** What was arranged in its contents; null: nothing was. */
  contents: jsonb("contents").$type<SpaceContents>(),
  /** Whether older live versions of its pages can be read. */
  history: boolean("history").notNull().default(false),
  /** Whether search engines are welcome to list what the public reads of it. */
  indexed: boolean("indexed").notNull().default(true),
  /** Whether what is published there is approved first. */
  approval: boolean("approval").notNull().default(false),
  /** Days after which its pages are to be looked at again; null: never. */
  reviewDays: integer("review_days"),
  /** Whether readers who are no members may flag its pages. */
  flags: boolean("flags").notNull().default(false),
  position: integer("position").notNull(),
});

/** Addresses that spaces had before: they lead to the space, unless another has taken one. */
export const spaceAddresses = pgTable("space_addresses", {
  slug: text("slug").primaryKey(),
  placeId: text("place_id").notNull(),
});

/** What a page or bulletin is beside a place. */
export const pages = pgTable("pages", {
  placeId: text("place_id").primaryKey(),
  startedAt: instant("started_at").notNull(),
  /** Number of the live version; null while it never was live. Kept when the page is taken down. */
  liveMajor: integer("live_major"),
  /** How far it is, in one of the words of its space. */
  readiness: text("readiness"),
  publishedAt: instant("published_at"),
  changedAt: instant("changed_at").notNull(),
  /** Days after which it is to be looked at again; null: as its space has it. */
  reviewDays: integer("review_days"),
  confirmedAt: instant("confirmed_at"),
  confirmedBy: text("confirmed_by"),
  /** Until then its review is set aside. */
  asideUntil: instant("aside_until"),
});

/**
 * Where each page stands among its siblings (lifecycle.md, "Order"), with the time it stood there; kept while it is in the
 * archive or the bin. Bulletins have none: they go by date.
 */
export const slots = pgTable("slots", { ...validity(), placeId: text("place_id").notNull(), slot: sortKey("slot").notNull() }, (t) => [
  current("slots_now").on(t.placeId).where(stillValid),
]);

/** Every version for good: `major.0` are live versions, the rest working versions. */
export const versions = pgTable(
  "versions",
  {
    placeId: text("place_id").notNull(),
    major: integer("major").notNull(),
    minor: integer("minor").notNull(),
    seq: seqColumn("seq").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    authorId: text("author_id"),
    at: instant("at").notNull(),
    note: text("note").notNull().default(""),
    /** The version these words were before an older one went live at its time: "0.4". */
    carriedFrom: text("carried_from"),
    /** Who approved it, where its space asks for that (lifecycle.md, "Approval"); a live version keeps that of its words. */
    approvedBy: text("approved_by"),
    /** The space it was approved for. */
    approvedIn: text("approved_in"),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.major, t.minor] })],
);

/**
 * Which live version of a page a space that asks for approval shows: approved for it, published there with a reason, or live there
 * before it began to ask.
 */
export const licences = pgTable(
  "licences",
  { placeId: text("place_id").notNull(), major: integer("major").notNull(), spaceId: text("space_id").notNull() },
  (t) => [primaryKey({ columns: [t.placeId, t.major, t.spaceId] })],
);

/** The version of a page that waits for approval, or was answered last; a publication ends it. */
export const submissions = pgTable("submissions", {
  placeId: text("place_id").primaryKey(),
  major: integer("major").notNull(),
  minor: integer("minor").notNull(),
  by: text("by").notNull(),
  at: instant("at").notNull(),
  note: text("note").notNull(),
  /** Null: it waits. */
  answer: text("answer").$type<"approved" | "sentBack">(),
  answeredBy: text("answered_by"),
  answeredAt: instant("answered_at"),
  answerNote: text("answer_note").notNull().default(""),
});

/**
 * Which page links to which, and from which block: of the live version, and of the newest one where that is newer. What
 * it says stands in the versions as well; it is kept so that what links to a page is a look-up.
 */
export const links = pgTable(
  "links",
  {
    placeId: text("place_id").notNull(),
    live: boolean("live").notNull(),
    targetId: text("target_id").notNull(),
    /** The id of the block; empty for one without. */
    block: text("block").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.live, t.targetId, t.block] }), index("links_target").on(t.targetId)],
);

/** One autosave buffer for each writer and page: nothing typed is lost. */
export const buffers = pgTable(
  "buffers",
  {
    placeId: text("place_id").notNull(),
    personId: text("person_id").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    /** Version it was written on, as "2.1". */
    base: text("base").notNull(),
    /** The tab it is typed in, and the number of its last change there. */
    tab: text("tab").notNull().default("before"),
    rev: bigint("rev", { mode: "number" }).notNull().default(0),
    at: instant("at").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.personId, t.tab] })],
);

/** What happens to a page by itself at an instant (lifecycle.md, "Schedules"): at most one going live and one archiving. */
export const schedules = pgTable(
  "schedules",
  {
    placeId: text("place_id").notNull(),
    what: text("what").$type<"live" | "archive">().notNull(),
    /** The version that goes live; null for archiving. */
    major: integer("major"),
    minor: integer("minor"),
    at: instant("at").notNull(),
    /** Zone in which the instant was chosen. */
    zone: text("zone").notNull(),
    by: text("by").notNull(),
    helpersKept: boolean("helpers_kept").notNull(),
    /** Which helpers are kept, where not all or none: principals, as "person:mei". */
    kept: text("kept").array(),
    /** Of archiving: what becomes of the pages below. */
    below: text("below").$type<"along" | "handUp">(),
    /** Why it was refused when its instant had come; it is not tried again by itself. */
    problem: text("problem"),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.what] }), index("schedules_at").on(t.at)],
);

/** Who has the pen of a page: who edits it now (lifecycle.md, "Writing"). Not a change to the knowledge base: it is in no ledger. */
export const pens = pgTable(
  "pens",
  {
    placeId: text("place_id").primaryKey(),
    personId: text("person_id").notNull(),
    since: instant("since").notNull(),
    /** When a window with the page open was last heard of. */
    seenAt: instant("seen_at").notNull(),
    /** When something was last typed. */
    typedAt: instant("typed_at").notNull(),
    /** Who asks for it. */
    askedBy: text("asked_by"),
  },
  (t) => [index("pens_person").on(t.personId)],
);
