/** Taking back (lifecycle.md): the inverse of an entry, made as a new change against today's state, under the rights of who takes back. */

import { eq } from "drizzle-orm";
import type { Preview } from "../../../contracts/change.ts";
import type { ActingBody } from "../../../contracts/rules.ts";
import { type Edit, invertEdits, type Seq } from "../../../core/access/model/index.ts";
import { canBeTakenBack } from "../../../core/ledger/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";
import { withWords } from "../../ledger/words.ts";
import { badRequest, changedMeanwhile, notThere } from "../../trouble.ts";
import { maySeeEntry } from "../ledger/told.ts";
import { makeChange } from "./apply.ts";
import { planChange, type WayBack } from "./plan.ts";
import { previewOf } from "./preview.ts";

/** The edits that take an entry back; none where it is not taken back but done anew. */
export const inverseOf = ({ act, edits }: { act: string; edits: readonly Edit[] }): Edit[] =>
  canBeTakenBack(act) ? invertEdits(edits) : [];

/** The way back of an entry, and whether it was an act on places that who takes back may all know of: what else it took along unseen then comes back unseen. */
interface Back {
  edits: Edit[];
  wayBack: WayBack;
}

/** An entry that can be taken back. Whoever may not see it in the ledger hears that there is none. */
async function entryToTakeBack(tx: Tx, asker: string, seq: Seq): Promise<Back> {
  const [row] = await tx.select().from(ledger).where(eq(ledger.seq, seq));
  const access = await readAccess(tx);
  if (!row || !maySeeEntry(access, subjectFor(access, asker), row)) throw notThere();
  const [entry] = await withWords(tx, [row]);
  const edits = entry ? inverseOf(entry) : [];
  if (edits.length === 0)
    throw badRequest("This entry cannot be taken back from here: it saved words, set a time to go live, or ended one. Do that anew.");
  const [taken] = await tx.select({ seq: ledger.seq }).from(ledger).where(eq(ledger.takesBack, seq));
  if (taken) throw changedMeanwhile(`This was taken back already, by entry ${taken.seq}.`);
  const chosen = row.acts.flatMap(({ places }) => places);
  const known = chosen.length > 0 && chosen.every((id) => knowsPlace(access, subjectFor(access, asker), id));
  return { edits, wayBack: { unseen: known, moves: known && row.acts.every(({ act }) => act !== "move"), leaving: row.act === "leave" } };
}

/** The edits of an entry, for knowing how far taking it back reaches; who may see what of it is asked where it is done. */
async function editsOf(seq: Seq): Promise<readonly Edit[]> {
  const [row] = await database().select({ edits: ledger.edits }).from(ledger).where(eq(ledger.seq, seq));
  return row?.edits ?? [];
}

/** What taking back a ledger entry would do today. */
export const previewTakeBack = async (maker: string, seq: Seq): Promise<Preview & { edits: Edit[] }> =>
  whereItFits(
    "previewTakeBackHere",
    [maker, seq],
    { edits: await editsOf(seq), first: () => inSnapshot((tx) => entryToTakeBack(tx, maker, seq)) },
    () => previewTakeBackHere(maker, seq),
  );

export async function previewTakeBackHere(maker: string, seq: Seq): Promise<Preview & { edits: Edit[] }> {
  return inSnapshot(async (tx) => {
    const back = await entryToTakeBack(tx, maker, seq);
    return { ...previewOf(await planChange(tx, { maker, ...back })), edits: back.edits };
  });
}

/** Takes a ledger entry back: the inverse, against today's state, under the rights of who takes back. */
export const takeBack = async (maker: string, seq: Seq, order: ActingBody): Promise<{ seq: Seq }> =>
  whereItFits(
    "takeBackHere",
    [maker, seq, order],
    { edits: await editsOf(seq), first: () => inSnapshot((tx) => entryToTakeBack(tx, maker, seq)) },
    () => takeBackHere(maker, seq, order),
  );

export const takeBackHere = (maker: string, seq: Seq, order: ActingBody): Promise<{ seq: Seq }> =>
  inChange((tx) => takeBackIn(tx, maker, seq, order));

/** The same inside a change; a job has looked at nothing. */
export async function takeBackIn(
  tx: Tx,
  maker: string,
  seq: Seq,
  order: Omit<ActingBody, "seen"> & { seen?: string; job?: string },
): Promise<{ seq: Seq }> {
  const back = await entryToTakeBack(tx, maker, seq);
  return { seq: (await makeChange(tx, { ...order, maker, ...back, act: "takeBack", takesBack: seq })).seq };
}
