/** Flags on pages (lifecycle.md, "Review"), open and ended. */
import { index, pgTable, text } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

export const flags = pgTable(
  "flags",
  {
    id: text("id").primaryKey(),
    placeId: text("place_id").notNull(),
    kind: text("kind").$type<"outOfDate" | "doubtful" | "incomplete" | "sensitive" | "noOwner">().notNull(),
    /** Who raised it; null: somebody who was not signed in. */
    by: text("by"),
    at: instant("at").notNull(),
    /** By when it wants an answer. */
    due: instant("due").notNull(),
    /** Who is to answer it; null: the owner of the page. */
    to: text("to"),
    note: text("note").notNull(),
    /** The words of the page it is about; null: it is about no words of it. */
    quote: text("quote"),
    /** Null: it is open. */
    outcome: text("outcome").$type<"confirmed" | "revised" | "setAside">(),
    endedBy: text("ended_by"),
    endedAt: instant("ended_at"),
    reason: text("reason").notNull().default(""),
  },
  (t) => [index("flags_place").on(t.placeId), index("flags_by").on(t.by, t.at), index("flags_to").on(t.to)],
);
