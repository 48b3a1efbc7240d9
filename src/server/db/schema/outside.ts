/** What is outside: since when the public reads what it reads, and what of that is meant. */
import { index, pgTable, text } from "drizzle-orm/pg-core";
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
