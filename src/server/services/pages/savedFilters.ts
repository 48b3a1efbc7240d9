/** Filters that were given a name: one's own, and those of spaces, which whoever sees the space may use. */
import { and, asc, eq, isNotNull, or, sql } from "drizzle-orm";
import type { FilterList, FilterSaved, SaveFilterBody } from "../../../contracts/filters.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import { database, inSnapshot, type Tx, takeTurnOf } from "../../db/client.ts";
import { savedFilters } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { badRequest, notThere } from "../../trouble.ts";

const MOST = 60;
type Row = typeof savedFilters.$inferSelect;

const mayDrop = (access: Access, asker: string, { personId, spaceId }: Row): boolean =>
  spaceId === null ? personId === asker : mayNot(access, subjectFor(access, asker), "changeSpace", placeOf(access.index, spaceId)) === null;

async function seenRows(tx: Tx, access: Access, asker: string): Promise<Row[]> {
  const rows = await tx
    .select()
    .from(savedFilters)
    .where(or(eq(savedFilters.personId, asker), isNotNull(savedFilters.spaceId)))
    .orderBy(asc(savedFilters.name), asc(savedFilters.id));
  const me = subjectFor(access, asker);
  // What a filter names by its id, whoever uses it must be able to know of.
  const names = (address: string) => ["space", "branch"].flatMap((name) => new URLSearchParams(address).get(name) ?? []);
  return rows.filter(
    ({ spaceId, address }) =>
      spaceId === null || (knowsPlace(access, me, spaceId) && names(address).every((id) => knowsPlace(access, me, id))),
  );
}

export const listFilters = (asker: string): Promise<FilterList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const rows = await seenRows(tx, access, asker);
    return {
      filters: rows.map((row) => ({
        id: row.id,
        name: row.name,
        address: row.address,
        space: row.spaceId === null ? null : (placeOf(access.index, row.spaceId)?.place.title ?? ""),
        mayDelete: mayDrop(access, asker, row),
      })),
    };
  });

export const saveFilter = (asker: string, { name, address, space }: SaveFilterBody): Promise<FilterSaved> =>
  database().transaction(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    if (space !== undefined) {
      const place = seenPlace(access, me, space);
      if (place.place.kind !== "space") throw badRequest("A filter is saved for oneself, or for a space.");
      need(access, me, "changeSpace", place);
    }
    const own = space === undefined ? eq(savedFilters.personId, asker) : eq(savedFilters.spaceId, space);
    await takeTurnOf(tx, `filters ${space === undefined ? asker : `of ${space}`}`);
    const [count] = await tx.select({ n: sql<number>`count(*)::int` }).from(savedFilters).where(own);
    if ((count?.n ?? 0) >= MOST) throw badRequest(`At most ${MOST} named filters. Drop one first.`);
    const [same] = await tx
      .select({ id: savedFilters.id })
      .from(savedFilters)
      .where(and(own, eq(savedFilters.name, name.trim())));
    if (same) throw badRequest("There is a filter of this name already. Give it another.");
    const id = newId();
    const whose = space === undefined ? { personId: asker, spaceId: null } : { personId: null, spaceId: space };
    await tx.insert(savedFilters).values({ id, name: name.trim(), address, ...whose, madeAt: new Date() });
    return { id };
  });

export const deleteFilter = (asker: string, id: string): Promise<Record<string, never>> =>
  database().transaction(async (tx) => {
    const access = await readAccess(tx);
    const row = (await seenRows(tx, access, asker)).find((it) => it.id === id);
    if (!row) throw notThere();
    if (!mayDrop(access, asker, row)) need(access, subjectFor(access, asker), "changeSpace", placeOf(access.index, row.spaceId ?? ""));
    await tx.delete(savedFilters).where(eq(savedFilters.id, id));
    return {};
  });
