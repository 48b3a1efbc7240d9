/**
 * The access rules as they are in the caller's snapshot. The compiled index is kept between requests and brought up to
 * date change by change, but its version is read from the database each time, in the same snapshot as everything else:
 * nobody decides on older rules.
 */
import { and, asc, desc, eq, gt, inArray, isNull, lte } from "drizzle-orm";
import { READ } from "../../core/access/abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../core/access/accessIndex.ts";
import { compile } from "../../core/access/compile.ts";
import { decide } from "../../core/access/decide.ts";
import type { Subject } from "../../core/access/document.ts";
import { isSiteKeeper } from "../../core/access/judge.ts";
import { OVERSEES, SET_OF_CELL } from "../../core/access/tables.ts";
import { retitle, update } from "../../core/access/update.ts";
import { database, inSnapshot, type Tx } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { ledger, places } from "../db/schema.ts";
import { notThere, refused } from "../http/trouble.ts";

export interface Access {
  /** Number of the last change that touched access; 0 before the first. */
  seq: number;
  index: AccessIndex;
  /** The instant decisions are made for, milliseconds since the epoch. */
  at: number;
}

interface Kept {
  seq: number;
  index: AccessIndex;
}

/** Newest last. A snapshot may be a little older than the newest: its index is among these. */
let kept: Kept[] = [];
const MOST_KEPT = 4;
/** Acts that may change a title and nothing else of the access document. */
const ABOUT_WORDS = new Set(["save", "publish"]);
/** Beyond so many missed changes the whole is read anew. */
const MOST_CAUGHT_UP = 400;

function keep(it: Kept): AccessIndex {
  const known = kept.find(({ seq }) => seq === it.seq);
  if (known) return known.index;
  kept = [...kept, it].sort((a, b) => a.seq - b.seq).slice(-MOST_KEPT);
  return it.index;
}

/** Titles that places have in this snapshot; a ledger entry says that they may have changed, not what to. */
async function titlesOf(tx: Tx, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await tx
    .select({ id: places.id, title: places.title })
    .from(places)
    .where(and(inArray(places.id, [...ids]), isNull(places.toSeq)));
  return new Map(rows.map(({ id, title }) => [id, title]));
}

/** The index at `seq`, made from an earlier one by the changes in between; null where that is not possible. */
async function caughtUp(tx: Tx, from: Kept, seq: number): Promise<AccessIndex | null> {
  const entries = await tx
    .select({ edits: ledger.edits, places: ledger.places, act: ledger.act })
    .from(ledger)
    .where(and(gt(ledger.seq, from.seq), lte(ledger.seq, seq), eq(ledger.touchesAccess, true)))
    .orderBy(asc(ledger.seq))
    .limit(MOST_CAUGHT_UP + 1);
  // An entry without edits brought in a whole document, unless it is about words alone.
  if (entries.length > MOST_CAUGHT_UP || entries.some(({ edits, act }) => edits.length === 0 && !ABOUT_WORDS.has(act))) return null;
  let { index } = from;
  for (const { edits } of entries) {
    const updated = update(index, edits);
    if (!updated.ok) return null;
    index = updated.index;
  }
  return retitle(index, await titlesOf(tx, [...new Set(entries.flatMap((entry) => entry.places))]));
}

/** Number of the newest change that touched access, of all or up to an instant, as the statement's snapshot has it; 0 if there is none. */
export async function newestSeq(tx: Pick<Tx, "select">, until?: Date): Promise<number> {
  const [newest] = await tx
    .select({ seq: ledger.seq })
    .from(ledger)
    .where(and(eq(ledger.touchesAccess, true), until && lte(ledger.at, until)))
    .orderBy(desc(ledger.seq))
    .limit(1);
  return newest?.seq ?? 0;
}

/** The rules at this moment, for questions that need nothing else of the database: one statement is a snapshot of its own. */
export async function accessNow(): Promise<Access> {
  const seq = await newestSeq(database());
  const known = kept.find((it) => it.seq === seq);
  return known ? { seq, index: known.index, at: Date.now() } : inSnapshot((tx) => readAccess(tx));
}

/** The rules in this transaction's snapshot. */
export async function readAccess(tx: Tx, at = Date.now()): Promise<Access> {
  const seq = await newestSeq(tx);
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

/** Whether somebody keeps the whole site. */
export const keepsSite = (access: Access, asker: string): boolean => isSiteKeeper(access.index, subjectFor(access, asker), access.at);

/** Refuses, with this sentence, whoever does not keep the whole site. */
export function checkSiteKeeper(access: Access, asker: string, message: string): void {
  if (!keepsSite(access, asker)) throw refused(message);
}

/** What somebody may do at a place, and whether they oversee it. */
export function standing({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): { set: number; oversight: boolean } {
  const cell = decide(index, subject.at, place.at, at);
  return { set: cell & SET_OF_CELL, oversight: (cell & OVERSEES) !== 0 };
}

export const mayRead = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (decide(index, subject.at, place.at, at) & READ) !== 0;

/** Whether somebody may know that a place exists, by its title: they read or oversee it. */
export const maySee = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (decide(index, subject.at, place.at, at) & (READ | OVERSEES)) !== 0;

/** A place somebody may see; for any other, the same answer as for one that does not exist. */
export function seenPlace(access: Access, subject: CompiledSubject, id: string): CompiledPlace {
  const place = placeOf(access.index, id);
  if (!place || !maySee(access, subject, place)) throw notThere();
  return place;
}
