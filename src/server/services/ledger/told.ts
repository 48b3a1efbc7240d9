/** What of a ledger entry somebody is told: edit by edit, each to those who may see that one (access-model.md, 6a). */

import { arrayContains, desc, inArray } from "drizzle-orm";
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { labelOf } from "../../../core/ledger/index.ts";
import { type Access, keepsSite } from "../../access/current.ts";
import { knowsOthersAt, knowsPlace, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";

/** How much of entries an asker is told of. */
export interface Told {
  /** Whether what stands there about a place is for them. */
  place(id: string): boolean;
  edit(edit: Edit): boolean;
}

/** Of an entry by `maker`: what is about places the asker administers and, of their own, whatever they may still see. */
export function toldOf(access: Access, me: CompiledSubject, maker: string | null): Told {
  const own = maker !== null && maker === me.person?.id;
  const keeper = me.person !== null && keepsSite(access, me.person.id);
  // That something was erased is for whoever keeps the site: to all others it is as though it had never been.
  const place = (id: string) =>
    knowsOthersAt(access, me, id) || (own && knowsPlace(access, me, id)) || (keeper && placeOf(access.index, id) === undefined);
  return {
    place,
    // Edits about people, groups and pledges were made by site keepers, and are for them.
    edit: (edit) => {
      const id = placeOfEdit(edit);
      return id === null ? keeper || own : place(id);
    },
  };
}

/** Which entry last changed a place, and by whom, as far as somebody may see it: " (entry 412, by Maren Lüders)". */
export async function byWhom(tx: Tx, access: Access, me: CompiledSubject, id: string): Promise<string> {
  const [last] = await tx
    .select()
    .from(ledger)
    .where(arrayContains(ledger.places, [id]))
    .orderBy(desc(ledger.seq))
    .limit(1);
  return last?.maker && maySeeEntry(access, me, last) ? ` (entry ${last.seq}, by ${namesFor(access, me).person(last.maker)})` : "";
}

/** Who made an entry, as it is told: the clock and Tesoro itself have no name, nor have readers who are not signed in. */
export const whoMade = (names: { person(id: string): string }, { maker, act }: { maker: string | null; act: string }): string =>
  maker !== null ? names.person(maker) : act === "flag" ? "The public" : "Tesoro";

/** Entries of some numbers as other lists speak of them: which, by whom, and what it was. */
export async function entriesInPassing(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  seqs: Iterable<Seq | null>,
): Promise<Map<Seq, { seq: Seq; who: string; act: string }>> {
  const wanted = [...new Set(seqs)].filter((seq) => seq !== null);
  if (wanted.length === 0) return new Map();
  const rows = await tx.select({ seq: ledger.seq, maker: ledger.maker, act: ledger.act }).from(ledger).where(inArray(ledger.seq, wanted));
  const names = namesFor(access, me);
  return new Map(rows.map((row) => [row.seq, { seq: row.seq, who: whoMade(names, row), act: labelOf(row.act) }]));
}

/** Whether somebody may see a ledger entry: some of it is about a place they administer, or they made it, or they keep the site. */
export function maySeeEntry(access: Access, me: CompiledSubject, entry: { maker: string | null; places: string[] }): boolean {
  if (me.person === null) return false;
  if (entry.maker === me.person.id || keepsSite(access, me.person.id)) return true;
  return entry.places.some((id) => knowsOthersAt(access, me, id));
}
