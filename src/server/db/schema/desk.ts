/** What somebody set aside on their desk, until when. */
import { index, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

export const deskAside = pgTable(
  "desk_aside",
  {
    personId: text("person_id").notNull(),
    /** The row, as the desk calls it: "due:page-id". */
    row: text("row").notNull(),
    until: instant("until").notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.row] }), index("desk_aside_until").on(t.until)],
);
