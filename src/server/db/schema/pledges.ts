/** When pledges broke and mended. */
import { boolean, index, integer, pgTable, text } from "drizzle-orm/pg-core";
import { instant, seqColumn } from "./columns.ts";

/** Each turn of a pledge, the first when it was made; by which entry of the ledger, or (null) by the clock alone. */
export const pledgeTurns = pgTable(
  "pledge_turns",
  {
    nth: integer("nth").primaryKey().generatedAlwaysAsIdentity(),
    pledgeId: text("pledge_id").notNull(),
    at: instant("at").notNull(),
    seq: seqColumn("seq"),
    broken: boolean("broken").notNull(),
  },
  (t) => [index("pledge_turns_of").on(t.pledgeId, t.nth)],
);

/** Calendars of the forecast, one for each person: the secret in its address is kept as a hash. Goes when they are suspended. */
export const feeds = pgTable("feeds", {
  personId: text("person_id").primaryKey(),
  hash: text("hash").notNull().unique(),
  titles: boolean("titles").notNull(),
  madeAt: instant("made_at").notNull(),
  usedAt: instant("used_at"),
});
