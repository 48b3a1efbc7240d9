/** Routines, their runs, and what was told by them. Which pages a run took, and what became of each, is kept with its job. */
import { boolean, index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex } from "drizzle-orm/pg-core";
import type { Routine } from "../../../core/routines/index.ts";
import { instant } from "./columns.ts";

export const routines = pgTable(
  "routines",
  {
    id: text("id").primaryKey(),
    name: text("name").notNull(),
    /** The space it is confined to; null: the whole site. */
    spaceId: text("space_id"),
    which: jsonb("which").$type<Routine["which"]>().notNull(),
    action: jsonb("action").$type<Routine["action"]>().notNull(),
    cron: text("cron").notNull(),
    zone: text("zone").notNull(),
    most: integer("most").notNull(),
    /** As whom it runs, and who set it so. */
    asId: text("as_id").notNull(),
    setBy: text("set_by").notNull(),
    setAt: instant("set_at").notNull(),
    isOn: boolean("is_on").notNull().default(false),
    /** When it runs next; null: it is switched off. */
    nextAt: instant("next_at"),
    /** Taken away: its runs stay. */
    gone: boolean("gone").notNull().default(false),
    /** Grows with each time it is set otherwise: two who change it at once do not undo one another. */
    rev: integer("rev").notNull().default(1),
  },
  (t) => [index("routines_next").on(t.nextAt), index("routines_as").on(t.asId)],
);

export const routineRuns = pgTable(
  "routine_runs",
  {
    id: text("id").primaryKey(),
    routineId: text("routine_id").notNull(),
    /** The time of its schedule it was for; by hand, when it was asked for. No time twice, however many servers there are. */
    slot: instant("slot").notNull(),
    startedAt: instant("started_at").notNull(),
    /** Who ran it by hand; null: it was its time. */
    by: text("by"),
    /** The name of the asking, by hand: the same asked twice runs once. */
    once: text("once"),
    /** Its job; null: it did not run. */
    jobId: text("job_id"),
    /** Why it did not run. */
    problem: text("problem"),
    /** How many fitted, and how many of those it left for another time, since it takes so many at most. */
    fits: integer("fits").notNull().default(0),
    beyond: integer("beyond").notNull().default(0),
    /** The routine as it was then. */
    which: jsonb("which").$type<Routine["which"]>().notNull(),
    action: jsonb("action").$type<Routine["action"]>().notNull(),
  },
  (t) => [uniqueIndex("routine_runs_slot").on(t.routineId, t.slot), index("routine_runs_job").on(t.jobId)],
);

/** When a routine last sent a notice about a page or a guest. */
export const routineTold = pgTable(
  "routine_told",
  { routineId: text("routine_id").notNull(), about: text("about").notNull(), at: instant("at").notNull() },
  (t) => [primaryKey({ columns: [t.routineId, t.about] }), index("routine_told_about").on(t.about)],
);
