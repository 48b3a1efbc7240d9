/** The ledger: every change, each linked to the one before by a hash. */
import { sql } from "drizzle-orm";
import { boolean, index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex } from "drizzle-orm/pg-core";
import type { Edit } from "../../../core/access/model/index.ts";
import type { KeptRipple } from "../../../core/access/ripple/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { instant, seqColumn } from "./columns.ts";

export const ledger = pgTable(
  "ledger",
  {
    seq: seqColumn("seq").primaryKey(),
    at: instant("at").notNull(),
    /** Person who made the change; null for Tesoro itself. */
    maker: text("maker"),
    act: text("act").notNull(),
    /** Places it is about, for filtering. */
    places: text("places").array().notNull(),
    /** As they were made, but for names and reasons in them: those stand beside the chain. */
    edits: jsonb("edits").$type<Edit[]>().notNull(),
    /** Acts with their choices, where the edits were planned from such. */
    acts: jsonb("acts").$type<LifeAct[]>().notNull().default([]),
    /** The job it is a part of. */
    job: text("job"),
    /** What the act needs to be told and taken back besides its edits; ids and numbers only. */
    detail: jsonb("detail").$type<Record<string, string | number | boolean>>().notNull(),
    ripple: jsonb("ripple").$type<KeptRipple | null>(),
    /** Salted hashes of the words that belong to the entry, by the path they stand at (`ledger/words.ts`). */
    words: jsonb("words").$type<Record<string, string>>().notNull(),
    /** Which list of fields the hash is made over (`ledger/chain.ts`). */
    fields: integer("fields").notNull(),
    touchesAccess: boolean("touches_access").notNull(),
    steppingIn: boolean("stepping_in").notNull().default(false),
    takesBack: seqColumn("takes_back"),
    previousHash: text("previous_hash").notNull(),
    hash: text("hash").notNull(),
  },
  (t) => [
    index("ledger_access").on(t.seq).where(sql`touches_access`),
    index("ledger_at").on(t.at),
    index("ledger_job").on(t.job).where(sql`job is not null`),
    index("ledger_places").using("gin", t.places),
    uniqueIndex("ledger_taken_back_once").on(t.takesBack).where(sql`takes_back is not null`),
  ],
);

/** Notes, reasons, names: beside the chain, so that erasing them leaves it whole. */
export const ledgerWords = pgTable(
  "ledger_words",
  { seq: seqColumn("seq").notNull(), path: text("path").notNull(), text: text("text").notNull(), salt: text("salt").notNull() },
  (t) => [primaryKey({ columns: [t.seq, t.path] })],
);
