/**
 * The access rules as they are in the caller's snapshot. The compiled index is kept between requests and brought up to
 * date change by change, but its version is read from the database each time, in the same snapshot as everything else:
 * nobody decides on older rules.
 */

import { and, asc, eq, gt, isNull, lte, sql } from "drizzle-orm";
import { type Act, isSiteKeeper, may, type Standing, standingAt } from "../../core/access/authority/index.ts";
import { type Cell, decide, OVERSEES, SET_OF_CELL } from "../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, compile, placeOf, subjectOf } from "../../core/access/index/index.ts";
import { BEFORE_ALL, type Instant, READ, type Seq, type Subject } from "../../core/access/model/index.ts";
import { retitle, update } from "../../core/access/update/index.ts";
import { bringsWhole, retitles } from "../../core/ledger/index.ts";
import { presentInstant } from "../clock.ts";
import { database, inSnapshot, onLeavingDatabase, type Tx } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { ledger, places } from "../db/schema/index.ts";
import { among } from "../db/textArray.ts";
import { withWords } from "../ledger/words.ts";
import { notThere, refused } from "../trouble.ts";

export interface Access {
  /** Number of the last change that touched access; 0 before the first. */
  seq: Seq;
  index: AccessIndex;
  /** The instant decisions are made for, milliseconds since the epoch. */
  at: Instant;
}

interface Kept {
  seq: Seq;
  index: AccessIndex;
}

/** Newest last. A snapshot may be a little older than the newest: its index is among these. */
let kept: Kept[] = [];
onLeavingDatabase(() => {
  kept = [];
});
const MOST_KEPT = 4;
/** Beyond so many missed changes the whole is read anew. */
const MOST_CAUGHT_UP = 400;

function keep(it: Kept): AccessIndex {
  const known = kept.find(({ seq }) => seq === it.seq);
  if (known) return known.index;
  // An index is of one change: what is kept with it (order, spaces) may differ where the rules do not.
  const index = kept.some((other) => other.index === it.index) ? { ...it.index } : it.index;
  kept = [...kept, { seq: it.seq, index }].sort((a, b) => a.seq - b.seq).slice(-MOST_KEPT);
  return index;
}

/** Keeps the index that a committed change came to, so that nobody has to work it out again. */
export const keepAccess = (seq: Seq, index: AccessIndex): void => {
  keep({ seq, index });
};

/** Titles that places have in this snapshot; a ledger entry says that they may have changed, not what to. */
async function titlesOf(tx: Tx, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await tx
    .select({ id: places.id, title: places.title })
    .from(places)
    .where(and(among(places.id, ids), isNull(places.toSeq)));
  return new Map(rows.map(({ id, title }) => [id, title]));
}

/** The index at `seq`, made from an earlier one by the changes in between; null where that is not possible. */
async function caughtUp(tx: Tx, from: Kept, seq: Seq): Promise<AccessIndex | null> {
  const rows = await tx
    .select({ seq: ledger.seq, edits: ledger.edits, places: ledger.places, act: ledger.act })
    .from(ledger)
    .where(and(gt(ledger.seq, from.seq), lte(ledger.seq, seq), eq(ledger.touchesAccess, true)))
    .orderBy(asc(ledger.seq))
    .limit(MOST_CAUGHT_UP + 1);
  if (rows.length > MOST_CAUGHT_UP || rows.some(({ act }) => bringsWhole(act))) return null;
  let { index } = from;
  // With the names in edits of people and groups, which the index holds as well.
  for (const { edits } of await withWords(tx, rows)) {
    const updated = update(index, edits);
    if (!updated.ok) return null;
    index = updated.index;
  }
  const retitled = rows.filter(({ act, edits }) => retitles(act, edits)).flatMap((entry) => entry.places);
  return retitle(index, await titlesOf(tx, [...new Set(retitled)]));
}

/** Asked with every request, and again in its transaction: not put together anew each time. */
const NEWEST = sql`select seq from ledger where touches_access order by seq desc limit 1`;
const newestUntil = (until: Date) =>
  sql`select seq from ledger where touches_access and at <= ${until.toISOString()} order by seq desc limit 1`;

/** Number of the newest change that touched access, of all or up to an instant, as the statement's snapshot has it; 0 if there is none. */
export async function newestSeq(tx: Pick<Tx, "execute">, until?: Date): Promise<Seq> {
  const [newest] = await tx.execute<{ seq: string }>(until === undefined ? NEWEST : newestUntil(until));
  return newest ? (Number(newest.seq) as Seq) : BEFORE_ALL;
}

/** The rules at this moment, for questions that need nothing else of the database: one statement is a snapshot of its own. */
export async function accessNow(): Promise<Access> {
  const seq = await newestSeq(database());
  const known = kept.find((it) => it.seq === seq);
  return known ? { seq, index: known.index, at: presentInstant() } : inSnapshot((tx) => readAccess(tx));
}

/** What transactions came to by their own changes, or are asked to go on from: nobody else's business before they end. */
const ownIndexes = new WeakMap<Tx, AccessIndex>();

/** From here on this transaction goes by these rules: those its own change led to, or would lead to. */
export const goOnFrom = (tx: Tx, index: AccessIndex): void => void ownIndexes.set(tx, index);

/** This transaction goes by what is so again. */
export const goByWhatIs = (tx: Tx): void => void ownIndexes.delete(tx);

/** The rules in this transaction's snapshot. */
export async function readAccess(tx: Tx, at = presentInstant()): Promise<Access> {
  const seq = await newestSeq(tx);
  const own = ownIndexes.get(tx);
  if (own) return { seq, index: own, at };
  const known = kept.find((it) => it.seq === seq);
  if (known) return { seq, index: known.index, at };
  const earlier = kept.findLast((it) => it.seq < seq);
  const index = (earlier && (await caughtUp(tx, earlier, seq))) ?? compile(await loadDocument(tx));
  return { seq, index: keep({ seq, index }), at };
}

const PUBLIC: Subject = { public: true };

/** The subject somebody is: a person, or the public. A person who is no longer known counts as nobody at all. */
export function subjectFor(access: Access, personId: string | null): CompiledSubject {
  const subject = subjectOf(access.index, personId === null ? PUBLIC : { person: personId });
  if (!subject) throw notThere();
  return subject;
}

/** Asked before work that may take long: whoever is not known here keeps nobody waiting. */
export const somebodyKnown = async (asker: string): Promise<void> => void subjectFor(await accessNow(), asker);

/** Whether a subject keeps the whole site. */
export const isKeeper = ({ index, at }: Access, subject: CompiledSubject): boolean => isSiteKeeper(index, subject, at);

/** Whether somebody keeps the whole site. */
export const keepsSite = (access: Access, asker: string): boolean => isSiteKeeper(access.index, subjectFor(access, asker), access.at);

/** What somebody has at a place, and whether they oversee it, as one number. */
export const cellOf = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): Cell =>
  decide(index, subject.number, place.number, at);

/** What somebody may do at a place, and whether they oversee it. */
export function standing(access: Access, subject: CompiledSubject, place: CompiledPlace): { set: number; oversight: boolean } {
  const cell = cellOf(access, subject, place);
  return { set: cell & SET_OF_CELL, oversight: (cell & OVERSEES) !== 0 };
}

/** Refuses, with the sentence of the table of acts, what somebody may not do at a place; without a place, on the whole site. */
export function need(access: Access, subject: CompiledSubject, act: Act, place?: CompiledPlace, facts: Partial<Standing> = {}): void {
  const refusal = mayNot(access, subject, act, place, facts);
  if (refusal !== null) throw refused(refusal);
}

/** Why somebody may not do something at a place, or null where they may. */
export const mayNot = (
  { index, at }: Access,
  subject: CompiledSubject,
  act: Act,
  place?: CompiledPlace,
  facts: Partial<Standing> = {},
): string | null => may(act, { ...standingAt(index, subject, place, at), ...facts });

export const mayRead = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (decide(index, subject.number, place.number, at) & READ) !== 0;

/** Whether somebody may know that a place exists, by its title: they read or oversee it. */
export const maySee = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (decide(index, subject.number, place.number, at) & (READ | OVERSEES)) !== 0;

/** A place somebody may see; for any other, the same answer as for one that does not exist. */
export function seenPlace(access: Access, subject: CompiledSubject, id: string): CompiledPlace {
  const place = placeOf(access.index, id);
  if (!place || !maySee(access, subject, place)) throw notThere();
  return place;
}
