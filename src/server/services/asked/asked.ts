/** What was asked for, for whoever may admit there; and declining it. */
import { and, desc, eq, gt, inArray } from "drizzle-orm";
import type { AskedList, AskedQuery, AskedRow, DeclineBody } from "../../../contracts/asked.ts";
import { type CompiledPlace, type CompiledSubject, isActive, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, mayRead, maySee, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor, titlesAbove } from "../../access/known.ts";
import { pauses } from "../../access/pauses.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { asked } from "../../db/schema/index.ts";
import { changedMeanwhile, notThere } from "../../trouble.ts";
import { comingOf } from "../people/coming.ts";
import { lapsedBefore, lapseOf } from "./asking.ts";

const MOST_ROWS = 100;

type Row = typeof asked.$inferSelect;

export interface Asked {
  row: Row;
  place: CompiledPlace;
  who: CompiledSubject;
}

/** A request with its place and person, if it stands and the asker may decide on it; null for any other, alike. */
function decidable(access: Access, me: CompiledSubject, row: Row): Asked | null {
  const place = placeOf(access.index, row.placeId);
  const who = subjectOf(access.index, { person: row.personId });
  if (!place || !who?.person || !isActive(who, access.at) || !maySee(access, me, place)) return null;
  if (mayNot(access, me, "decideOnAccess", place) !== null) return null;
  // Whoever reads it by now, through whatever, waits for nothing.
  return mayRead(access, who, place) ? null : { row, place, who };
}

const stands = () => gt(asked.at, lapsedBefore());

/** One request that the asker may decide on; throws alike for any other and for none. */
export async function askedFor(tx: Tx, access: Access, me: CompiledSubject, id: string): Promise<Asked> {
  const [row] = await tx
    .select()
    .from(asked)
    .where(and(eq(asked.id, id), stands()));
  const it = row && row.state !== "granted" ? decidable(access, me, row) : null;
  if (!it) throw notThere();
  return it;
}

/** How many open requests for one place the asker may decide on; whoever may not is told of none, and nothing is looked up. */
export async function askingFor(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<number> {
  if (mayNot(access, me, "decideOnAccess", place) !== null) return 0;
  const rows = await tx
    .select()
    .from(asked)
    .where(and(stands(), eq(asked.state, "open"), eq(asked.placeId, place.place.id)));
  return rows.filter((row) => decidable(access, me, row) !== null).length;
}

export const readAsked = (asker: string, { place }: AskedQuery): Promise<AskedList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const rows = await tx
      .select()
      .from(asked)
      .where(and(stands(), inArray(asked.state, ["open", "declined"]), place === undefined ? undefined : eq(asked.placeId, place)))
      .orderBy(desc(asked.at), desc(asked.id));
    const found: Asked[] = [];
    const pause = pauses();
    for (const row of rows) {
      const it = decidable(access, me, row);
      if (it) found.push(it);
      await pause();
    }
    // Open ones first.
    found.sort((a, b) => Number(a.row.state !== "open") - Number(b.row.state !== "open"));
    const told = found.slice(0, MOST_ROWS);
    const names = namesFor(access, me);
    const guests = told.filter(({ who }) => who.class === "guests").map(({ row }) => row.personId);
    const coming = await comingOf(tx, access, guests);
    return {
      rows: told.map(
        ({ row, place: where, who }): AskedRow => ({
          id: row.id,
          who: { id: row.personId, name: names.person(row.personId), kind: who.class === "guests" ? "guest" : "member" },
          place: { id: where.place.id, name: where.place.title ?? "" },
          path: titlesAbove(access, me, where),
          reason: row.reason,
          at: row.at.toISOString(),
          lapses: lapseOf(row.at),
          broughtInBy: coming.by(row.personId),
          declined:
            row.state === "declined" && row.by && row.decidedAt
              ? { by: names.person(row.by), at: row.decidedAt.toISOString(), word: row.word }
              : null,
        }),
      ),
      more: found.length - told.length,
    };
  });

/** Declines what was asked for. Whoever asked is told nothing. */
export const decline = (maker: string, id: string, { word }: DeclineBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const { row, place } = await askedFor(tx, access, me, id);
    need(access, me, "decideOnAccess", place);
    if (row.state !== "open") throw changedMeanwhile("Somebody declined this already.");
    await tx.update(asked).set({ state: "declined", by: maker, decidedAt: new Date(), word: word.trim() }).where(eq(asked.id, id));
    return {};
  });
