/** Appending to the ledger: the next number, an instant that never goes back, and the hash that chains entries. */
import { createHash } from "node:crypto";
import { asc, desc } from "drizzle-orm";
import type { Edit } from "../../core/access/edits.ts";
import type { Ripple } from "../../core/access/ripple.ts";
import type { Tx } from "../db/client.ts";
import { ledger } from "../db/schema.ts";

export interface NewEntry {
  maker: string | null;
  act: string;
  places: string[];
  edits: Edit[];
  detail?: Record<string, string | number | boolean>;
  ripple: Ripple | null;
  note: string;
  touchesAccess: boolean;
  steppingIn?: boolean;
  takesBack?: number;
}

type Row = typeof ledger.$inferSelect;

const sha256 = (text: string): string => createHash("sha256").update(text).digest("hex");

/** Keys in one order, so that what comes back from the database hashes the same. */
function canonical(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(canonical);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, it]) => it !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, it]) => [key, canonical(it)]),
  );
}

/** The hash of an entry: over everything in it, the hash of the one before included. */
const hashOf = ({ at, ...rest }: Omit<Row, "hash">): string => sha256(JSON.stringify(canonical({ ...rest, at: at.toISOString() })));

/** Appends one entry. Must run inside `inChange`, whose lock makes the number the next one. */
export async function appendEntry(tx: Tx, entry: NewEntry, now: number): Promise<Row> {
  const last = (await tx.select({ seq: ledger.seq, at: ledger.at, hash: ledger.hash }).from(ledger).orderBy(desc(ledger.seq)).limit(1))[0];
  const row: Omit<Row, "hash"> = {
    seq: (last?.seq ?? 0) + 1,
    at: new Date(Math.max(now, last?.at.getTime() ?? 0)),
    maker: entry.maker,
    act: entry.act,
    places: entry.places,
    edits: entry.edits,
    detail: entry.detail ?? {},
    ripple: entry.ripple,
    note: entry.note,
    touchesAccess: entry.touchesAccess,
    steppingIn: entry.steppingIn ?? false,
    takesBack: entry.takesBack ?? null,
    previousHash: last?.hash ?? "",
  };
  const whole = { ...row, hash: hashOf(row) };
  await tx.insert(ledger).values(whole);
  return whole;
}

/** Walks the whole chain; the number of the first entry that does not fit, or null if all do. */
export async function verifyLedger(tx: Tx): Promise<number | null> {
  let previous = "";
  for (const { hash, ...row } of await tx.select().from(ledger).orderBy(asc(ledger.seq))) {
    if (row.previousHash !== previous || hashOf(row) !== hash) return row.seq;
    previous = hash;
  }
  return null;
}
