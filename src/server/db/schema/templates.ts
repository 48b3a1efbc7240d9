/** Templates: pages, and small trees of pages, that pages are begun from. */
import { boolean, index, integer, jsonb, pgTable, text } from "drizzle-orm/pg-core";
import type { PageBody } from "../../../core/content/index.ts";
import { instant } from "./columns.ts";

export const templates = pgTable(
  "templates",
  {
    id: text("id").primaryKey(),
    /** Null: of the site, for every space. */
    spaceId: text("space_id"),
    name: text("name").notNull(),
    /** What it is for, in a sentence. */
    about: text("about").notNull(),
    /** Taken away: it is offered nowhere, and can be put back. */
    gone: boolean("gone").notNull().default(false),
    madeAt: instant("made_at").notNull(),
  },
  (t) => [index("templates_space").on(t.spaceId)],
);

/** The pages of a template; the one under none is its first. */
export const templatePages = pgTable(
  "template_pages",
  {
    id: text("id").primaryKey(),
    templateId: text("template_id").notNull(),
    /** The page of the template it stands under. */
    under: text("under"),
    /** Its place among those beside it. */
    nth: integer("nth").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    /** Grows with each time it is saved. */
    rev: integer("rev").notNull().default(1),
    savedAt: instant("saved_at").notNull(),
    savedBy: text("saved_by").notNull(),
  },
  (t) => [index("template_pages_of").on(t.templateId)],
);
