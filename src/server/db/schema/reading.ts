/** How often pages are read, and when by which guest. */
import { date, index, integer, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

export const viewCounts = pgTable(
  "view_counts",
  {
    placeId: text("place_id").notNull(),
    day: date("day", { mode: "string" }).notNull(),
    reader: text("reader").$type<"outsider" | "guest" | "member">().notNull(),
    views: integer("views").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.day, t.reader] })],
);

/** When a guest last read a page, to the hour; for as long as the house rules say. */
export const pageUses = pgTable(
  "page_uses",
  { personId: text("person_id").notNull(), placeId: text("place_id").notNull(), at: instant("at").notNull() },
  (t) => [primaryKey({ columns: [t.personId, t.placeId] }), index("page_uses_place").on(t.placeId), index("page_uses_at").on(t.at)],
);

/** Since when something is noted at all: before that, that nobody did it says nothing. */
export const notedSince = pgTable("noted_since", { what: text("what").$type<"uses">().primaryKey(), at: instant("at").notNull() });

/**
 * That somebody signed in read a page in a week: by a mark that is the same for one person within the week and says nothing
 * of who that is, so that people can be counted and not followed.
 */
export const readerMarks = pgTable(
  "reader_marks",
  { placeId: text("place_id").notNull(), week: date("week", { mode: "string" }).notNull(), mark: text("mark").notNull() },
  (t) => [primaryKey({ columns: [t.placeId, t.week, t.mark] }), index("reader_marks_week").on(t.week)],
);

/** What was searched for and not found, by day and kind of reader; the mark tells people apart for these words alone, and is empty for the public. */
export const searchMisses = pgTable(
  "search_misses",
  {
    words: text("words").notNull(),
    day: date("day", { mode: "string" }).notNull(),
    reader: text("reader").$type<"outsider" | "guest" | "member">().notNull(),
    mark: text("mark").notNull(),
    times: integer("times").notNull().default(1),
  },
  (t) => [primaryKey({ columns: [t.words, t.day, t.reader, t.mark] }), index("search_misses_day").on(t.day)],
);
