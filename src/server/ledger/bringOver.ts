/**
 * A ledger from before words stood beside the chain: its chain is verified first, then every entry is chained anew with
 * its words beside, and an entry says what the old chain ended with. All of it in one transaction, or nothing.
 */

import { sql } from "drizzle-orm";
import type { Edit, Seq } from "../../core/access/model/index.ts";
import type { KeptRipple } from "../../core/access/ripple/index.ts";
import { presentInstant } from "../clock.ts";
import type { Tx } from "../db/client.ts";
import { sha256 } from "../secrets.ts";
import { appendEntry, writeEntry } from "./append.ts";
import { canonical } from "./chain.ts";

/** An entry as it was kept then; names of columns, as the database has them. */
interface Before extends Record<string, unknown> {
  seq: string;
  at: Date | string;
  maker: string | null;
  act: string;
  places: string[];
  edits: Edit[];
  detail: Record<string, string | number | boolean>;
  ripple: KeptRipple | null;
  note: string;
  touches_access: boolean;
  stepping_in: boolean;
  takes_back: string | null;
  previous_hash: string;
  hash: string;
}

const PAGE = 500;
/** Set by whoever knows that the old chain is broken and has no sound copy of it. */
const ACCEPTED = "TESORO_ACCEPT_BROKEN_LEDGER";

const fieldsOf = (row: Before) => ({
  seq: Number(row.seq) as Seq,
  at: new Date(row.at),
  maker: row.maker,
  act: row.act,
  places: row.places,
  edits: row.edits,
  detail: row.detail,
  ripple: row.ripple,
  note: row.note,
  touchesAccess: row.touches_access,
  steppingIn: row.stepping_in,
  takesBack: row.takes_back === null ? null : (Number(row.takes_back) as Seq),
  previousHash: row.previous_hash,
});

async function* rowsBefore(tx: Tx): AsyncIterableIterator<Before> {
  for (let from = 0; ; ) {
    const rows = await tx.execute<Before>(sql`select * from ledger_before where seq > ${from} order by seq limit ${PAGE}`);
    yield* rows;
    if (rows.length < PAGE) return;
    from = Number(rows.at(-1)?.seq);
  }
}

/** Numbers of old entries that do not fit, and the hash of the last. */
async function verifyBefore(tx: Tx): Promise<{ broken: Seq[]; head: string; entries: number }> {
  const broken: Seq[] = [];
  let previous = "";
  let entries = 0;
  for await (const row of rowsBefore(tx)) {
    const fits = row.previous_hash === previous && sha256(JSON.stringify(canonical(fieldsOf(row)))) === row.hash;
    if (!fits) broken.push(Number(row.seq) as Seq);
    previous = row.hash;
    entries++;
  }
  return { broken, head: previous, entries };
}

/** Brings an old ledger over, if there is one. Throws where its chain is broken and nobody said to go on all the same. */
export async function bringLedgerOver(tx: Tx): Promise<void> {
  const [known] = await tx.execute<{ table: string | null }>(sql`select to_regclass('ledger_before')::text as table`);
  if (!known?.table) return;
  const { broken, head, entries } = await verifyBefore(tx);
  if (broken.length > 0 && !process.env[ACCEPTED])
    throw new Error(
      `The ledger does not hold together at entry ${broken.slice(0, 20).join(", ")}: somebody changed it outside Tesoro. Nothing was brought over. Restore a backup in which it does, or set ${ACCEPTED}=yes: then the ledger itself will say so for good.`,
    );
  let previousHash = "";
  for await (const row of rowsBefore(tx)) {
    const { note, ...fields } = fieldsOf(row);
    previousHash = (await writeEntry(tx, { ...fields, acts: [], job: null, previousHash }, { note })).hash;
  }
  if (entries > 0) {
    const detail = { head, entries, ...(broken.length > 0 ? { broken: broken.join(" ").slice(0, 2_000) } : {}) };
    await appendEntry(tx, { maker: null, act: "bringOver", places: [], detail }, presentInstant());
  }
  await tx.execute(sql`drop table ledger_before`);
}
