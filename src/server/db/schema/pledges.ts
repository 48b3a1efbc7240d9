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
