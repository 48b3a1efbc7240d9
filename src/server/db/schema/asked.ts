/** Access that was asked for. */
import { index, pgTable, text, uniqueIndex } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

/**
 * What somebody asked to read, whatever is there: a request for what is not there is a row like any other. One for each person
 * and place; goes when it lapses.
 */
export const asked = pgTable(
  "asked",
  {
    id: text("id").primaryKey(),
    personId: text("person_id").notNull(),
    /** The address as it was refused, and the place it names, if there is one. */
    address: text("address").notNull(),
    placeId: text("place_id").notNull(),
    reason: text("reason").notNull(),
    at: instant("at").notNull(),
    state: text("state").$type<"open" | "declined" | "granted">().notNull().default("open"),
    /** Who decided, when, and a word that stays with those who may. */
    by: text("by"),
    decidedAt: instant("decided_at"),
    word: text("word").notNull().default(""),
  },
  (t) => [uniqueIndex("asked_once").on(t.personId, t.placeId), index("asked_places").on(t.placeId), index("asked_at").on(t.at)],
);
