/**
 * Asking for access (access-model.md, 6a): whoever was refused may ask. What is hidden and what is not there are answered alike, in
 * the same time: each is a row; only that of a real place reaches somebody, and that after the answer.
 */
import { and, desc, eq, gt, lt } from "drizzle-orm";
import { ASKED_DAYS, type AskBody, type AskedReceipt, MOST_ASKED } from "../../../contracts/asked.ts";
import { decide } from "../../../core/access/decide/index.ts";
import { type CompiledPlace, isActive, placeOf } from "../../../core/access/index/index.ts";
import { ADMIT } from "../../../core/access/model/index.ts";
import { idInAddress } from "../../../core/content/index.ts";
import { type Access, isKeeper, mayRead, need, readAccess, subjectFor } from "../../access/current.ts";
import { database, inSnapshot, type Tx, takeTurnOf } from "../../db/client.ts";
import { asked, invitations, spaceAddresses, spaces } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { noteTrouble } from "../../log.ts";
import { addNotice } from "../../notices/notices.ts";
import { badRequest } from "../../trouble.ts";
import { mailOf } from "../notices/kinds.ts";

const DAY = 86_400_000;
/** So many of those who may admit are told of a request. */
const MOST_TOLD = 5;

/** What was asked for before this has lapsed. */
export const lapsedBefore = (now = Date.now()): Date => new Date(now - ASKED_DAYS * DAY);
export const lapseOf = (at: Date): string => new Date(at.getTime() + ASKED_DAYS * DAY).toISOString();

const ADDRESS = /^(?:\/eyes\/[^/]+)?\/read\/([^/?#]{1,100})(?:\/([^/?#]{1,200}))?\/?(?:[?#].*)?$/;

/** The id an address names, of whatever sort; of a space, looked up by its name. Null for an address that is none of a page. */
async function idAt(tx: Tx, address: string): Promise<string | null> {
  const [, slug, page] = ADDRESS.exec(address) ?? [];
  if (slug === undefined) return null;
  if (page !== undefined) return idInAddress(page).slice(0, 64);
  const [now] = await tx.select({ id: spaces.placeId }).from(spaces).where(eq(spaces.slug, slug));
  const [before] = await tx.select({ id: spaceAddresses.placeId }).from(spaceAddresses).where(eq(spaceAddresses.slug, slug));
  // A space that is not there is asked for by its name: no id has such a sign in it.
  return now?.id ?? before?.id ?? `/${slug}`;
}

/** Asks to read what an address names. */
export async function askForAccess(asker: string, { address, reason }: AskBody): Promise<AskedReceipt> {
  const it = await database().transaction(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "askForAccess");
    const placeId = await idAt(tx, address);
    if (placeId === null) throw badRequest("Only a page or a space can be asked for: give its address, which begins with /read/.");
    // Whoever asks twice at once is counted once.
    await takeTurnOf(tx, `asked ${asker}`);
    const mine = await tx
      .select()
      .from(asked)
      .where(and(eq(asked.personId, asker), gt(asked.at, lapsedBefore())));
    const before = mine.find((row) => row.placeId === placeId);
    if (!before && mine.length >= MOST_ASKED)
      throw badRequest(`${MOST_ASKED} of your requests stand already. Each lapses after ${ASKED_DAYS} days; then ask for more.`);
    const at = new Date();
    const place = placeOf(access.index, placeId);
    // What was granted and is closed again can be asked for anew; what was declined stays so until it lapses.
    const anew = !before || (before.state === "granted" && (!place || !mayRead(access, me, place)));
    const row = { address, reason: reason.trim() };
    if (before && !anew) {
      await tx
        .update(asked)
        .set(before.state === "open" ? row : { address })
        .where(eq(asked.id, before.id));
      return { at: before.at, placeId, told: false };
    }
    const fresh = { ...row, at, state: "open" as const, by: null, decidedAt: null, word: "" };
    await tx
      .insert(asked)
      .values({ id: newId(), personId: asker, placeId, ...fresh })
      .onConflictDoUpdate({ target: [asked.personId, asked.placeId], set: fresh });
    return { at, placeId, told: true };
  });
  // After the answer: that somebody is told takes no time that whoever asks could measure.
  if (it.told)
    setTimeout(() => void tellDeciders(asker, it.placeId).catch((error) => noteTrouble("Nobody was told of a request", error)), 50);
  return { lapses: lapseOf(it.at) };
}

/** Who may decide, the nearest first: whoever brought a guest in, the owner, those who keep no more than this; site keepers last. */
async function decidersOf(tx: Tx, access: Access, place: CompiledPlace, asker: string): Promise<string[]> {
  const { index, at } = access;
  const may = index.subjects.filter(
    (it) => it.class === "members" && isActive(it, at) && decide(index, it.number, place.number, at) & ADMIT,
  );
  const [host] = await tx.select({ by: invitations.by }).from(invitations).where(eq(invitations.personId, asker));
  const weight = (id: string | undefined) => (id === host?.by ? 0 : id === place.place.owner ? 1 : 2);
  const near = may.filter((it) => !isKeeper(access, it) || weight(it.person?.id) < 2);
  return (near.length > 0 ? near : may)
    .map((it) => it.person?.id ?? "")
    .sort((a, b) => weight(a) - weight(b) || (a < b ? -1 : 1))
    .slice(0, MOST_TOLD);
}

/** Writes a line to those who may decide on a request; of a place that is not there to nobody. */
export async function tellDeciders(asker: string, placeId: string): Promise<void> {
  const ids = await database().transaction(async (tx) => {
    const access = await readAccess(tx);
    const place = placeOf(access.index, placeId);
    const me = subjectFor(access, asker);
    // Whoever reads it has nothing to ask for.
    if (!place || place.place.kind === "site" || mayRead(access, me, place)) return [];
    const made: number[] = [];
    for (const personId of await decidersOf(tx, access, place, asker))
      made.push(await addNotice(tx, { kind: "accessAsked", personId, about: { by: asker, place: placeId }, at: new Date() }));
    return made;
  });
  if (ids.length > 0) await mailOf(ids);
}

/** What somebody asked for, as they are told: each alike, whatever is there and whatever was decided. */
export const readOwnAsked = (asker: string): Promise<{ address: string; at: string; lapses: string }[]> =>
  inSnapshot(async (tx) => {
    const rows = await tx
      .select()
      .from(asked)
      .where(and(eq(asked.personId, asker), gt(asked.at, lapsedBefore())))
      .orderBy(desc(asked.at));
    return rows.map(({ address, at }) => ({ address, at: at.toISOString(), lapses: lapseOf(at) }));
  });

/** Forgets what has lapsed. */
export const forgetAsked = async (now = Date.now()): Promise<void> =>
  void (await database()
    .delete(asked)
    .where(lt(asked.at, lapsedBefore(now))));
