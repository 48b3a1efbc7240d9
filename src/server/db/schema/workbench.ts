/**
 * The workbench: private drafts in no space, outside the access document and all that is made of it. Nothing but
 * `services/workbench/` reads these tables.
 */
import { index, integer, jsonb, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import type { PageBody } from "../../../core/content/index.ts";
import { instant } from "./columns.ts";

export const benchDrafts = pgTable(
  "bench_drafts",
  {
    id: text("id").primaryKey(),
    /** What it is called where it is handed over: of no use for opening it. */
    handle: text("handle").notNull().unique(),
    ownerId: text("owner_id").notNull(),
    title: text("title").notNull(),
    /** Number of its newest version. */
    rev: integer("rev").notNull(),
    startedAt: instant("started_at").notNull(),
    savedAt: instant("saved_at").notNull(),
    /** When its owner threw it away; it is kept for as long as the bin keeps pages. */
    thrownAt: instant("thrown_at"),
    /** The id of the page it is to become: nobody's to know before. */
    becomes: text("becomes").notNull(),
    /** When it became that page; null: it stands on the workbench. */
    placedAt: instant("placed_at"),
  },
  (t) => [index("bench_drafts_owner").on(t.ownerId)],
);

/** Every version of a private draft; they go with it where it is placed. */
export const benchVersions = pgTable(
  "bench_versions",
  {
    draftId: text("draft_id").notNull(),
    rev: integer("rev").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    authorId: text("author_id").notNull(),
    at: instant("at").notNull(),
    note: text("note").notNull().default(""),
  },
  (t) => [primaryKey({ columns: [t.draftId, t.rev] })],
);

/** People let into a private draft by name. */
export const benchHelpers = pgTable(
  "bench_helpers",
  {
    draftId: text("draft_id").notNull(),
    personId: text("person_id").notNull(),
    abilities: integer("abilities").notNull(),
    since: instant("since").notNull(),
  },
  (t) => [primaryKey({ columns: [t.draftId, t.personId] }), index("bench_helpers_person").on(t.personId)],
);
