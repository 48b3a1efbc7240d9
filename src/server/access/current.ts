/**
 * The access rules as they are in the caller's snapshot. The compiled index is kept between requests, but its version
 * is read from the database each time, in the same snapshot as everything else: nobody decides on older rules.
 */
import { desc, eq } from "drizzle-orm";
import { READ } from "../../core/access/abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../core/access/accessIndex.ts";
import { compile } from "../../core/access/compile.ts";
import type { Subject } from "../../core/access/document.ts";
import { effectiveSet, hasOversight } from "../../core/access/evaluate.ts";
import type { Tx } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { ledger } from "../db/schema.ts";
import { notThere } from "../http/trouble.ts";

export interface Access {
  /** Number of the last change that touched access; 0 before the first. */
  seq: number;
  index: AccessIndex;
  /** The instant decisions are made for, milliseconds since the epoch. */
  at: number;
}

let kept: { seq: number; index: AccessIndex } | undefined;

/** The rules in this transaction's snapshot. */
export async function readAccess(tx: Tx, at = Date.now()): Promise<Access> {
  const newest = await tx.select({ seq: ledger.seq }).from(ledger).where(eq(ledger.touchesAccess, true)).orderBy(desc(ledger.seq)).limit(1);
  const seq = newest[0]?.seq ?? 0;
  if (kept?.seq !== seq) {
    const index = compile(await loadDocument(tx));
    // Another request may have loaded a newer one meanwhile; keep the newest.
    if (!kept || kept.seq < seq) kept = { seq, index };
    return { seq, index, at };
  }
  return { seq, index: kept.index, at };
}

const PUBLIC: Subject = { public: true };

/** The subject somebody is: a person, or the public. A person who is no longer known counts as nobody at all. */
export function subjectFor(access: Access, personId: string | null): CompiledSubject {
  const subject = subjectOf(access.index, personId === null ? PUBLIC : { person: personId });
  if (!subject) throw notThere();
  return subject;
}

/** What somebody may do at a place, and whether they oversee it. */
export const standing = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace) => ({
  set: effectiveSet(index, subject, place, at),
  oversight: hasOversight(index, subject, place, at),
});

export const mayRead = ({ index, at }: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (effectiveSet(index, subject, place, at) & READ) !== 0;

/** Whether somebody may know that a place exists, by its title: they read or oversee it. */
export const maySee = (access: Access, subject: CompiledSubject, place: CompiledPlace): boolean =>
  mayRead(access, subject, place) || hasOversight(access.index, subject, place, access.at);

/** A place somebody may see; for any other, the same answer as for one that does not exist. */
export function seenPlace(access: Access, subject: CompiledSubject, id: string): CompiledPlace {
  const place = placeOf(access.index, id);
  if (!place || !maySee(access, subject, place)) throw notThere();
  return place;
}
