/** Who stepped in where, and until when. */
import { index, pgTable, text } from "drizzle-orm/pg-core";
import { instant, seqColumn } from "./columns.ts";

/** Overseers who opened a page that was closed to them, and until when. Not part of the access document. */
export const stepIns = pgTable(
  "step_ins",
  {
    seq: seqColumn("seq").primaryKey(),
    personId: text("person_id").notNull(),
    placeId: text("place_id").notNull(),
    until: instant("until").notNull(),
  },
  (t) => [index("step_ins_person").on(t.personId, t.until)],
);
