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
