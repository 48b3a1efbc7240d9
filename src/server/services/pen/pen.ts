/**
 * The pen (lifecycle.md, "Writing"): one person edits, others see who, may ask for it or take it (access-model.md, 6a). It takes
 * nobody's words: what somebody typed stays in their buffer, and a save over a newer version is refused with both.
 */
import { and, eq } from "drizzle-orm";
import type { Pen, PenAct } from "../../../contracts/pen.ts";
import type { CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import { subjectOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, need, readAccess } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { database, type Tx } from "../../db/client.ts";
import { pens } from "../../db/schema/index.ts";
import { tellOf } from "../../live/listening.ts";
import { changedMeanwhile } from "../../trouble.ts";
import { newestVersion, versionName } from "../writing/versions.ts";
import { writable } from "../writing/writable.ts";

/** Not heard of for so long, whoever had it is gone, and it lies there. */
const GONE_AFTER = 60_000;
const MINUTE = 60_000;

type Held = typeof pens.$inferSelect;

interface Here {
  tx: Tx;
  access: Access;
  me: CompiledSubject;
  place: CompiledPlace;
  asker: string;
  held: Held | null;
  now: Date;
}

/** Who has it: not whoever is gone, nor whoever may write the page no more. */
async function heldNow(tx: Tx, access: Access, place: CompiledPlace, now: Date): Promise<Held | null> {
  const [row] = await tx.select().from(pens).where(eq(pens.placeId, place.place.id));
  if (!row || now.getTime() - row.seenAt.getTime() > GONE_AFTER) return null;
  const holder = subjectOf(access.index, { person: row.personId });
  return holder && mayNot(access, holder, "write", place) === null ? row : null;
}

async function here(tx: Tx, asker: string, id: string, now: Date): Promise<Here> {
  const access = await readAccess(tx);
  const { place, me } = writable(access, asker, id);
  return { tx, access, me, place, asker, held: await heldNow(tx, access, place, now), now };
}

const idleMinutes = ({ held, now }: Here): number => (held ? (now.getTime() - held.typedAt.getTime()) / MINUTE : 0);

/** Why somebody may not take it from whoever has it. */
const untakable = (it: Here): string =>
  it.held === null || it.held.personId === it.asker
    ? ""
    : (mayNot(it.access, it.me, "takePen", it.place, { idleMinutes: idleMinutes(it) }) ?? "");

async function told(it: Here): Promise<Pen> {
  const { tx, access, me, place, asker, held } = it;
  const names = namesFor(access, me);
  const mine = held?.personId === asker;
  const asks = held?.askedBy ?? null;
  return {
    holder: held && { name: names.person(held.personId), mine, since: held.since.toISOString(), typedAt: held.typedAt.toISOString() },
    asking: asks !== null && (mine || asks === asker) ? { name: names.person(asks), mine: asks === asker } : null,
    untakable: untakable(it),
    newest: versionName(await newestVersion(tx, place.place.id)),
  };
}

async function put(it: Here, change: Partial<Held>): Promise<void> {
  const { tx, asker, now, place } = it;
  const fresh = { placeId: place.place.id, personId: asker, since: now, seenAt: now, typedAt: now, askedBy: null };
  await tx
    .insert(pens)
    .values({ ...fresh, ...change })
    .onConflictDoUpdate({ target: pens.placeId, set: { ...fresh, ...change } });
  await tellOf(tx, place.place.id);
}

async function ofMine(it: Here, change: Partial<Held>): Promise<void> {
  const { tx, asker, place } = it;
  await tx
    .update(pens)
    .set(change)
    .where(and(eq(pens.placeId, place.place.id), eq(pens.personId, asker)));
}

const ACTS: Readonly<Record<PenAct, (it: Here) => Promise<void>>> = {
  take: async (it) => {
    if (it.held?.personId === it.asker) return ofMine(it, { seenAt: it.now });
    if (it.held) need(it.access, it.me, "takePen", it.place, { idleMinutes: idleMinutes(it) });
    await put(it, {});
  },
  stay: (it) => ofMine(it, { seenAt: it.now }),
  lay: async (it) => {
    if (it.held?.personId !== it.asker) return;
    await it.tx.delete(pens).where(eq(pens.placeId, it.place.place.id));
    await tellOf(it.tx, it.place.place.id);
  },
  ask: async (it) => {
    if (it.held === null || it.held.personId === it.asker) return put(it, {});
    await it.tx.update(pens).set({ askedBy: it.asker }).where(eq(pens.placeId, it.place.place.id));
    await tellOf(it.tx, it.place.place.id);
  },
  hand: async (it) => {
    const to = it.held?.askedBy;
    if (it.held?.personId !== it.asker || !to) throw changedMeanwhile("Nobody asks you for the pen any more.");
    const subject = subjectOf(it.access.index, { person: to });
    if (!subject || mayNot(it.access, subject, "write", it.place) !== null)
      throw changedMeanwhile("Whoever asked for the pen may not write this page any more.");
    await put(it, { personId: to });
  },
  keep: async (it) => {
    if (it.held?.personId !== it.asker) return;
    await ofMine(it, { askedBy: null, seenAt: it.now });
    await tellOf(it.tx, it.place.place.id);
  },
};

export const readPen = (asker: string, id: string, now = new Date()): Promise<Pen> =>
  database().transaction(async (tx) => told(await here(tx, asker, id, now)));

/** Does something with the pen; two who pick it up at once are told who has it. */
export const actOnPen = (asker: string, id: string, act: PenAct, now = new Date()): Promise<Pen> =>
  database().transaction(async (tx) => {
    await tx.select({ id: pens.placeId }).from(pens).where(eq(pens.placeId, id)).for("update");
    await ACTS[act](await here(tx, asker, id, now));
    return told(await here(tx, asker, id, now));
  });

/** Something was typed by whoever has it. */
export const noteTyped = (tx: Tx, writer: string, id: string, now = new Date()): Promise<unknown> =>
  tx
    .update(pens)
    .set({ typedAt: now, seenAt: now })
    .where(and(eq(pens.placeId, id), eq(pens.personId, writer)));

/** Lays down every pen of somebody who signs out. */
export async function layDownAll(person: string): Promise<void> {
  await database().transaction(async (tx) => {
    const rows = await tx.delete(pens).where(eq(pens.personId, person)).returning({ id: pens.placeId });
    for (const { id } of rows) await tellOf(tx, id);
  });
}
