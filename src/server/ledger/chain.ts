/**
 * The hash chain: each entry holds the hash of the one before, and its own over a versioned list of its fields, as the
 * database gives them back. A new column changes no old hash; a new list gets a number of its own.
 */

import { asc, gt, inArray, max, min } from "drizzle-orm";
import type { Seq } from "../../core/access/model/index.ts";
import type { Tx } from "../db/client.ts";
import { ledger, ledgerWords } from "../db/schema/index.ts";
import { sha256 } from "../secrets.ts";
import { hashOfWord } from "./words.ts";

type Row = typeof ledger.$inferSelect;

/** The lists of fields that hashes are made over, by number. A list that was ever used never changes. */
const FIELDS: Record<number, readonly (keyof Row)[]> = {
  2: [
    "seq",
    "at",
    "maker",
    "act",
    "places",
    "edits",
    "detail",
    "ripple",
    "words",
    "touchesAccess",
    "steppingIn",
    "takesBack",
    "previousHash",
    "fields",
  ],
  3: [
    "seq",
    "at",
    "maker",
    "act",
    "acts",
    "job",
    "places",
    "edits",
    "detail",
    "ripple",
    "words",
    "touchesAccess",
    "steppingIn",
    "takesBack",
    "previousHash",
    "fields",
  ],
};
/** The list for new entries. */
export const FIELDS_NOW = 3;

/** Keys in one order, so that what comes back from the database hashes the same. */
export function canonical(value: unknown): unknown {
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value)) return value.map(canonical);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, it]) => it !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, it]) => [key, canonical(it)]),
  );
}

/** The hash of an entry as it stands in the database, or null where its list of fields is not known. */
export function hashOf(row: Omit<Row, "hash">): string | null {
  const fields = FIELDS[row.fields];
  if (!fields) return null;
  return sha256(JSON.stringify(canonical(Object.fromEntries(fields.map((field) => [field, row[field as keyof typeof row]])))));
}

/** Something that does not fit: an entry itself, how it hangs on the one before, its words, or that it is missing. */
export interface Break {
  seq: Seq;
  what: "content" | "link" | "words" | "missing" | "order";
}

export interface Verified {
  entries: number;
  breaks: Break[];
  /** There were more breaks than are named. */
  more: boolean;
}

const PAGE = 500;
const MOST_NAMED = 1_000;

/** Words that do not have the hash their entry holds, or that no entry knows of. Erased ones are simply not there. */
async function brokenWords(tx: Tx, rows: readonly Row[]): Promise<Set<number>> {
  const entries = new Map(rows.map((row) => [row.seq, row]));
  const words = await tx
    .select()
    .from(ledgerWords)
    .where(inArray(ledgerWords.seq, [...entries.keys()]));
  return new Set(words.filter((word) => entries.get(word.seq)?.words[word.path] !== hashOfWord(word)).map(({ seq }) => seq));
}

/** Walks the whole chain page by page and names every entry that does not fit. */
export async function verifyLedger(tx: Tx): Promise<Verified> {
  const breaks: Break[] = [];
  let previous: Pick<Row, "seq" | "hash" | "at"> | null = null;
  let entries = 0;
  const [range] = await tx.select({ first: min(ledger.seq), last: max(ledger.seq) }).from(ledger);
  for (let from = ((range?.first ?? 1) - 1) as Seq; ; ) {
    const rows = await tx.select().from(ledger).where(gt(ledger.seq, from)).orderBy(asc(ledger.seq)).limit(PAGE);
    if (rows.length === 0) break;
    const words = await brokenWords(tx, rows);
    for (const row of rows) {
      const expected = ((previous?.seq ?? 0) + 1) as Seq;
      for (let seq = expected; seq < row.seq && breaks.length < MOST_NAMED; seq++) breaks.push({ seq: seq as Seq, what: "missing" });
      // A missing entry is named as such: the one after it cannot hang on it any more.
      if (row.seq === expected && row.previousHash !== (previous?.hash ?? "")) breaks.push({ seq: row.seq, what: "link" });
      if (hashOf(row) !== row.hash) breaks.push({ seq: row.seq, what: "content" });
      if (previous && row.at < previous.at) breaks.push({ seq: row.seq, what: "order" });
      if (words.has(row.seq)) breaks.push({ seq: row.seq, what: "words" });
      previous = row;
      entries++;
    }
    from = previous?.seq ?? from;
  }
  return { entries, breaks: breaks.slice(0, MOST_NAMED), more: breaks.length > MOST_NAMED };
}
