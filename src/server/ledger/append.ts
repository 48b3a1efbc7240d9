/** Appending to the ledger: the next number, an instant that never goes back, words beside, and the hash that chains entries. */
import { desc, eq } from "drizzle-orm";
import { BEFORE_ALL, type Edit, type Instant, type Seq } from "../../core/access/model/index.ts";
import type { Ripple } from "../../core/access/ripple/index.ts";
import { bringsWhole, type LedgerAct, touchesOf } from "../../core/ledger/index.ts";
import type { LifeAct } from "../../core/lifecycle/index.ts";
import type { Tx } from "../db/client.ts";
import { ledger, ledgerWords } from "../db/schema/index.ts";
import { FIELDS_NOW, hashOf } from "./chain.ts";
import { hashOfWord, salted, type Words, withoutWords } from "./words.ts";

export interface NewEntry {
  maker: string | null;
  act: LedgerAct;
  places: string[];
  /** Acts with their choices, of which the edits were planned. */
  acts?: readonly LifeAct[];
  /** The job it is a part of. */
  job?: string;
  /** What the change does to the access document; none where it does nothing to it. */
  edits?: readonly Edit[];
  /** What the act needs to be told and taken back besides its edits; ids and numbers only. */
  detail?: Record<string, string | number | boolean>;
  ripple?: Ripple | null;
  note?: string;
  reason?: string;
  /** Whether what is kept of rules and titles is renewed by it; only where the act does not say so by itself. */
  touchesAccess?: boolean;
  steppingIn?: boolean;
  takesBack?: Seq;
}

type Row = typeof ledger.$inferSelect;

/** Writes one entry with its words, chained to the one before. */
export async function writeEntry(tx: Tx, entry: Omit<Row, "hash" | "words" | "fields">, said: Words): Promise<Row> {
  const { edits, words: named } = withoutWords(entry.edits);
  const words = salted({ ...named, ...said });
  const hashes = Object.fromEntries(words.map((word) => [word.path, hashOfWord(word)]));
  const [written] = await tx
    .insert(ledger)
    .values({ ...entry, edits, words: hashes, fields: FIELDS_NOW, hash: "" })
    .returning();
  // Over what the database gives back: whatever it made of the values on their way in.
  const hash = hashOf(written as Row) as string;
  await tx.update(ledger).set({ hash }).where(eq(ledger.seq, entry.seq));
  if (words.length > 0) await tx.insert(ledgerWords).values(words.map((word) => ({ ...word, seq: entry.seq })));
  return { ...(written as Row), hash };
}

/** Appends one entry. Must run inside `inChange`, whose lock makes the number the next one. */
export async function appendEntry(tx: Tx, entry: NewEntry, now: Instant): Promise<Row> {
  const [last] = await tx.select({ seq: ledger.seq, at: ledger.at, hash: ledger.hash }).from(ledger).orderBy(desc(ledger.seq)).limit(1);
  const {
    edits = [],
    acts = [],
    job = null,
    detail = {},
    ripple = null,
    note = "",
    reason = "",
    steppingIn = false,
    takesBack = null,
    ...rest
  } = entry;
  const touches = edits.length > 0 || touchesOf(entry.act, "titles") || bringsWhole(entry.act);
  const row = {
    ...rest,
    touchesAccess: entry.touchesAccess ?? touches,
    seq: ((last?.seq ?? BEFORE_ALL) + 1) as Seq,
    at: new Date(Math.max(now, last?.at.getTime() ?? 0)),
    edits: [...edits],
    acts: [...acts],
    job,
    detail,
    ripple,
    steppingIn,
    takesBack,
    previousHash: last?.hash ?? "",
  };
  return writeEntry(tx, row, { note, reason });
}
