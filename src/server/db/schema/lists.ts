/** What lists and searches go by. */
import { type SQL, sql } from "drizzle-orm";
import { type AnyPgColumn, customType, index, integer, jsonb, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import { instant, seqColumn } from "./columns.ts";

const words = customType<{ data: string }>({ dataType: () => "tsvector" });

/** Classes of places that give everybody the same, own drafts and passes aside; numbers are never given twice. */
export const accessClasses = pgTable("access_classes", {
  id: integer("id").primaryKey().generatedAlwaysAsIdentity(),
  /** As `listingKey` writes it. */
  key: text("key").notNull().unique(),
});

/** A column that a table of pages is sorted by, ties by id; what has none comes after all that has one, or before it the other way round. */
const sorted = (name: string, column: AnyPgColumn | SQL, { placeId, state }: { placeId: AnyPgColumn; state: AnyPgColumn }) =>
  // The state stands in it so that a row of another part is passed over without being read.
  index(name).on(sql`${column} desc nulls last`, sql`${placeId} desc`, state).where(sql`kind in ('page', 'bulletin')`);

/**
 * What lists and searches go by: one row for each place as it is now, kept in the transaction that changes the place.
 * Everything in it follows from other tables.
 */
export const listing = pgTable(
  "listing",
  {
    placeId: text("place_id").primaryKey(),
    classId: integer("class_id").notNull(),
    spaceId: text("space_id"),
    kind: text("kind").$type<"site" | "space" | "page" | "bulletin">().notNull(),
    state: text("state").$type<"live" | "draft" | "scheduled" | "archived" | "binned">().notNull(),
    title: text("title").notNull(),
    /** Words of the live version; of a page that is not published, of its newest one. */
    body: text("body").notNull().default(""),
    changedAt: instant("changed_at").notNull(),
    /** Who wrote those words. */
    changedBy: text("changed_by"),
    ownerId: text("owner_id"),
    tags: text("tags").array().notNull().default([]),
    readiness: text("readiness"),
    publishedAt: instant("published_at"),
    /** When a live page is to be looked at again; null: it has no review period. */
    dueAt: instant("due_at"),
    /** When it came into the archive or the bin, and who put it there. */
    leftAt: instant("left_at"),
    leftBy: text("left_by"),
    /** Views in the last 30 days, brought up to date hourly. */
    views30: integer("views30").notNull().default(0),
    /** How many live pages link to it. */
    linksIn: integer("links_in").notNull().default(0),
    versions: integer("versions").notNull().default(0),
    titleWords: words("title_words").generatedAlwaysAs(sql`to_tsvector('simple', title)`),
    words: words("words").generatedAlwaysAs(
      sql`setweight(to_tsvector('simple', title), 'A') || setweight(to_tsvector('simple', body), 'B')`,
    ),
  },
  (t) => [
    index("listing_space").on(t.spaceId),
    index("listing_changed").on(t.changedAt),
    index("listing_bulletins").on(t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_bulletins_in").on(t.spaceId, t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_words").using("gin", t.words),
    index("listing_title_words").using("gin", t.titleWords),
    index("listing_tags").using("gin", t.tags),
    sorted("listing_by_title", sql`(${t.title} collate "und-x-icu")`, t),
    index("listing_by_state").on(sql`${t.state} desc nulls last`, sql`${t.placeId} desc`).where(sql`kind in ('page', 'bulletin')`),
    sorted("listing_by_change", t.changedAt, t),
    sorted("listing_by_publication", t.publishedAt, t),
    sorted("listing_by_views", t.views30, t),
    sorted("listing_by_links", t.linksIn, t),
    sorted("listing_by_versions", t.versions, t),
    sorted("listing_by_leaving", t.leftAt, t),
    sorted("listing_by_due", t.dueAt, t),
    sorted("listing_by_tags", t.tags, t),
    sorted("listing_by_readiness", t.readiness, t),
    // One after the other, in an order of their own: who owns or wrote, who outside reads.
    index("listing_owner").on(t.ownerId, t.placeId).where(sql`kind in ('page', 'bulletin')`),
    index("listing_author").on(t.changedBy, t.placeId).where(sql`kind in ('page', 'bulletin')`),
    index("listing_class").on(t.classId, t.placeId),
    // Counts by part look at nothing else.
    index("listing_parts").on(t.state, t.classId, t.spaceId, t.leftAt, t.publishedAt, t.changedAt).where(sql`kind in ('page', 'bulletin')`),
  ],
);

/** Filters that were given a name: of one person, or of a space for all who read it. */
export const savedFilters = pgTable("saved_filters", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  personId: text("person_id"),
  spaceId: text("space_id"),
  /** The address of the view, after the question mark. */
  address: text("address").notNull(),
  madeAt: instant("made_at").notNull(),
});

/** Long work: what was ordered, by whom, how far it is (lifecycle.md, "Many at once"). */
export const jobs = pgTable(
  "jobs",
  {
    id: text("id").primaryKey(),
    kind: text("kind").notNull(),
    by: text("by").notNull(),
    /** What was ordered, as the kind knows it; ids and choices only. */
    order: jsonb("order").$type<Record<string, unknown>>().notNull(),
    state: text("state").$type<"waiting" | "running" | "stopped" | "done">().notNull(),
    /** Why it stopped, where nobody stopped it by hand. */
    problem: text("problem"),
    /** Whether its starter, or a site keeper, wants it to stop. */
    stopAsked: text("stop_asked"),
    startedAt: instant("started_at").notNull(),
    endedAt: instant("ended_at"),
  },
  (t) => [index("jobs_by").on(t.by, t.startedAt)],
);

/** What a job is done to, one by one, in order. */
export const jobItems = pgTable(
  "job_items",
  {
    jobId: text("job_id").notNull(),
    nth: integer("nth").notNull(),
    placeId: text("place_id").notNull(),
    state: text("state").$type<"waiting" | "done" | "skipped">().notNull(),
    /** Why it was skipped. */
    message: text("message"),
    /** The entry of the ledger it was done in. */
    seq: seqColumn("seq"),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.nth] })],
);
