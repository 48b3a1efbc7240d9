/** How often pages are read. */
import { date, integer, pgTable, primaryKey, text } from "drizzle-orm/pg-core";

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
