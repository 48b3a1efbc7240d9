/** Words that are typed and in no version: kept for a person, a page and a tab, until a version has them. */
import { and, desc, eq, lte, or, sql } from "drizzle-orm";
import type { KeptWords, Spent } from "../../../contracts/writing.ts";
import { readAccess } from "../../access/current.ts";
import { database, type Tx, takeTurnOf } from "../../db/client.ts";
import { buffers } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";
import { noteTyped } from "../pen/pen.ts";
import { checkedBody, writable } from "./writable.ts";

/** From how many tabs one person's words are kept on one page. */
const MOST_TABS = 30;

const ofWriter = (writer: string, placeId: string) => and(eq(buffers.placeId, placeId), eq(buffers.personId, writer));

/** What a writer has typed on a page and not saved, the newest first. */
export async function keptWords(tx: Tx, writer: string, placeId: string): Promise<KeptWords[]> {
  const rows = await tx.select().from(buffers).where(ofWriter(writer, placeId)).orderBy(desc(buffers.at));
  return rows.map(({ title, body, base, tab, rev }) => ({ title, body, base, tab, rev }));
}

/** Forgets kept words that are in a version now, or were thrown away; those typed since stay. */
export async function forgetWords(tx: Tx, writer: string, placeId: string, spent: readonly Spent[]): Promise<void> {
  if (spent.length === 0) return;
  const these = or(...spent.map(({ tab, rev }) => and(eq(buffers.tab, tab), lte(buffers.rev, rev))));
  await tx.delete(buffers).where(and(ofWriter(writer, placeId), these));
}

/** Refuses whoever may not write the thing of this id. */
export type MayWrite = (tx: Tx, writer: string, id: string) => Promise<unknown>;

const writesPage: MayWrite = async (tx, writer, placeId) => writable(await readAccess(tx), writer, placeId);

/** Keeps what is typed, outside the versions. Words that come late, after newer ones of the same tab, change nothing. */
export async function keepBuffer(
  writer: string,
  placeId: string,
  words: KeptWords & { spent: readonly Spent[] },
  mayWrite = writesPage,
): Promise<{ at: string }> {
  const body = checkedBody(words.body);
  // Not a change to the knowledge base: it waits for nobody's lock and has no ledger entry.
  return database().transaction(async (tx) => {
    await mayWrite(tx, writer, placeId);
    await forgetWords(tx, writer, placeId, words.spent);
    await noteTyped(tx, writer, placeId);
    const { title, base, tab, rev } = words;
    await takeTurnOf(tx, `tabs ${writer} ${placeId}`);
    const others = await tx.select({ tab: buffers.tab }).from(buffers).where(ofWriter(writer, placeId));
    if (others.length >= MOST_TABS && !others.some((it) => it.tab === tab))
      throw badRequest(`You have unsaved words from ${MOST_TABS} tabs on this page. Take them up or throw them away first.`);
    const row = { placeId, personId: writer, title, body, base, tab, rev, at: new Date() };
    await tx
      .insert(buffers)
      .values(row)
      .onConflictDoUpdate({
        target: [buffers.placeId, buffers.personId, buffers.tab],
        set: row,
        setWhere: sql`${buffers.rev} <= ${rev}`,
      });
    return { at: row.at.toISOString() };
  });
}

/** Throws kept words away. */
export async function dropBuffers(
  writer: string,
  placeId: string,
  spent: readonly Spent[],
  mayWrite = writesPage,
): Promise<Record<string, never>> {
  return database().transaction(async (tx) => {
    await mayWrite(tx, writer, placeId);
    await forgetWords(tx, writer, placeId, spent);
    return {};
  });
}
