/** When pledges broke and mended: kept from the ripple of every change in its transaction, and from the clock. */
import { asc, sql } from "drizzle-orm";
import { endsAround } from "../../../core/access/index/index.ts";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import { brokenPledges, type Ripple } from "../../../core/access/ripple/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { accessNow, newestSeq, readAccess } from "../../access/current.ts";
import { inChange, inSnapshot, onLeavingDatabase, type Tx } from "../../db/client.ts";
import { ledger, pledgeTurns } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";

interface Turn {
  pledge: string;
  broken: boolean;
}

/** What a change turned: what it broke or mended, and what it made that holds. */
function turnsOf(edits: readonly Edit[], { break: broken, mend }: Ripple["pledges"]): Turn[] {
  const breaks = new Set(broken.map(({ pledge }) => pledge));
  const made = edits.flatMap((edit) => (edit.kind === "pledge" && edit.put && !breaks.has(edit.pledge) ? [edit.pledge] : []));
  return [
    ...[...breaks].map((pledge) => ({ pledge, broken: true })),
    ...[...new Set([...mend, ...made])].map((pledge) => ({ pledge, broken: false })),
  ];
}

/** How pledges stood when they turned last. */
async function lastTurns(tx: Tx, ids: readonly string[]): Promise<Map<string, boolean>> {
  const rows = await tx.execute<{ id: string; broken: boolean }>(sql`
    select distinct on (pledge_id) pledge_id as id, broken from pledge_turns
    where pledge_id = any(${textArray(ids)}) order by pledge_id, nth desc`);
  return new Map(rows.map(({ id, broken }) => [id, broken]));
}

/** Writes turns that are turns: of one broken already, one more violation is none. */
async function writeTurns(tx: Tx, turns: readonly Turn[], entry: { seq: Seq | null; at: Date }): Promise<void> {
  if (turns.length === 0) return;
  const last = await lastTurns(
    tx,
    turns.map(({ pledge }) => pledge),
  );
  const news = turns.filter(({ pledge, broken }) => last.get(pledge) !== broken);
  if (news.length > 0) await tx.insert(pledgeTurns).values(news.map(({ pledge, broken }) => ({ pledgeId: pledge, broken, ...entry })));
}

export const keepTurns = (tx: Tx, edits: readonly Edit[], ripple: Ripple, { seq, at }: { seq: Seq; at: Date }): Promise<void> =>
  writeTurns(tx, turnsOf(edits, ripple.pledges), { seq, at });

/** Works all of it out anew from the ledger, but for what the clock did: for a site from before it was kept. */
export async function rebuildTurns(tx: Tx): Promise<void> {
  const rows = await tx
    .select({
      seq: ledger.seq,
      at: ledger.at,
      pledges: sql<Ripple["pledges"]>`${ledger.ripple}->'pledges'`,
      edits: sql<Edit[]>`jsonb_path_query_array(${ledger.edits}, '$[*] ? (@.kind == "pledge")')`,
    })
    .from(ledger)
    .where(
      sql`${ledger.ripple} is not null and (${ledger.ripple}->'pledges'->'break' <> '[]' or ${ledger.ripple}->'pledges'->'mend' <> '[]'
        or ${ledger.edits} @? '$[*] ? (@.kind == "pledge")')`,
    )
    .orderBy(asc(ledger.seq));
  await tx.delete(pledgeTurns);
  for (const { seq, at, pledges, edits } of rows) await writeTurns(tx, turnsOf(edits, pledges), { seq, at });
}

/** Up to when this process looked at what ends brought about. */
let lookedUpTo: number | undefined;
onLeavingDatabase(() => {
  lookedUpTo = undefined;
});

interface Looked {
  /** The rules that were looked at, and up to when. */
  seq: Seq;
  at: number;
  /** The last end before that, or that instant where nothing ended yet. */
  passed: number;
  turns: Turn[];
}

/** How every pledge stands by the rules of this moment. */
export const pledgesNowHere = (): Promise<Looked> =>
  inSnapshot(async (tx) => {
    const { seq, index, at } = await readAccess(tx);
    const { from } = endsAround(index, at);
    const broken = new Set(brokenPledges(index, at).map(({ pledge }) => pledge));
    const turns = index.document.pledges.map(({ id }) => ({ pledge: id, broken: broken.has(id) }));
    return { seq, at, passed: Number.isFinite(from) ? from : at, turns };
  });

const pledgesNow = ofWholeSite("pledgesNowHere", async () => {}, pledgesNowHere);

/**
 * Looks at pledges again where an end has passed since: what broke or mended by itself is kept with the instant of that end.
 * It is worked out before anybody has to wait for it; where the rules changed meanwhile, the next look sees to it.
 */
export async function turnByClock(): Promise<void> {
  const { index, at } = await accessNow();
  const { from } = endsAround(index, at);
  if (index.document.pledges.length === 0 || (lookedUpTo !== undefined && from <= lookedUpTo)) return;
  const looked = await pledgesNow();
  await inChange(async (tx) => {
    if ((await newestSeq(tx)) !== looked.seq) return;
    await writeTurns(tx, looked.turns, { seq: null, at: new Date(looked.passed) });
    lookedUpTo = looked.at;
  });
}
