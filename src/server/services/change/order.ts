/**
 * Order among siblings (lifecycle.md, "Order"): one list for each parent, of all its pages that are not erased. A page
 * stands there under a key that sorts (its slot), so that moving one changes no other.
 */

import { and, eq, isNull, sql } from "drizzle-orm";
import { generateKeyBetween } from "fractional-indexing";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import type { Edit, EditConflict, Seq } from "../../../core/access/model/index.ts";
import type { Placing } from "../../../core/lifecycle/index.ts";
import { insertMany } from "../../db/bulk.ts";
import type { Tx } from "../../db/client.ts";
import { places, slots } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";

type OrderEdit = Extract<Edit, { kind: "order" }>;

/** Ids of sibling pages and their slots, in order. */
export type Siblings = { id: string; slot: string }[];

/** Keys as they sort, byte by byte, here as in the database. */
export const compareKeys = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** The pages in a place, wherever they are in their life, in their order. */
export const pagesIn = (tx: Tx, parent: string): Promise<Siblings> =>
  tx
    .select({ id: slots.placeId, slot: slots.slot })
    .from(slots)
    .innerJoin(places, and(eq(places.id, slots.placeId), isNull(places.toSeq)))
    .where(and(isNull(slots.toSeq), eq(places.parentId, parent)))
    .orderBy(slots.slot);

/** The slot after the last page of a place, as it is now. */
export async function slotAtEnd(tx: Tx, parent: string): Promise<string> {
  const [last] = await tx
    .select({ slot: sql<string | null>`max(${slots.slot})` })
    .from(slots)
    .innerJoin(places, and(eq(places.id, slots.placeId), isNull(places.toSeq)))
    .where(and(isNull(slots.toSeq), eq(places.parentId, parent)));
  return generateKeyBetween(last?.slot ?? null, null);
}

/** A slot directly after one of these siblings, or before them all. */
export function slotAfter(siblings: Siblings, after: string | null): string {
  const i = after === null ? -1 : siblings.findIndex(({ id }) => id === after);
  return generateKeyBetween(siblings[i]?.slot ?? null, siblings[i + 1]?.slot ?? null);
}

/** The slots of some pages; bulletins and spaces have none. */
export async function slotsOf(tx: Tx, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await tx
    .select({ id: slots.placeId, slot: slots.slot })
    .from(slots)
    .where(and(isNull(slots.toSeq), among(slots.placeId, ids)));
  return new Map(rows.map(({ id, slot }) => [id, slot]));
}

/** Places one list after another, so that no two pages of a parent ever have the same slot. */
class Lists {
  private readonly lists = new Map<string, Siblings>();

  constructor(private readonly tx: Tx) {}

  private async of(parent: string): Promise<Siblings> {
    const list = this.lists.get(parent) ?? (await pagesIn(this.tx, parent));
    this.lists.set(parent, list);
    return list;
  }

  /** The slot directly after a page of the list, or before them all; at the end where that page is not there. */
  async after(parent: string, id: string, after: string | null | undefined): Promise<string> {
    const list = (await this.of(parent)).filter((it) => it.id !== id);
    const i = list.findIndex((it) => it.id === after);
    if (after === undefined || (after !== null && i < 0)) return this.settle(parent, id, null);
    return this.settle(parent, id, slotAfter(list, after));
  }

  /** The slot a page gets there: the one it asks for, or the nearest free one after it; without one, after the last. */
  async settle(parent: string, id: string, wished: string | null): Promise<string> {
    const list = (await this.of(parent)).filter((it) => it.id !== id);
    const taken = wished === null ? -1 : list.findIndex(({ slot }) => slot === wished);
    const slot =
      wished === null
        ? generateKeyBetween(list.at(-1)?.slot ?? null, null)
        : taken < 0
          ? wished
          : generateKeyBetween(wished, list[taken + 1]?.slot ?? null);
    this.lists.set(
      parent,
      [...list, { id, slot }].sort((a, b) => compareKeys(a.slot, b.slot)),
    );
    return slot;
  }
}

/**
 * Edits with their places among siblings: what moves without one goes to the end of its new list; a slot somebody else
 * has by now becomes the next free one. Also what does not fit since a page was given another place meanwhile.
 */
export async function inPlace(
  tx: Tx,
  index: AccessIndex,
  edits: readonly Edit[],
  placings: readonly Placing[] = [],
): Promise<{ edits: Edit[]; conflicts: EditConflict[] }> {
  const moved = new Map(edits.flatMap((edit) => (edit.kind === "move" ? [[edit.place, edit.to] as const] : [])));
  const ordered = new Map(edits.flatMap((edit) => (edit.kind === "order" ? [[edit.place, edit] as const] : [])));
  if (moved.size + ordered.size + placings.length === 0) return { edits: [...edits], conflicts: [] };
  const now = await slotsOf(tx, [...moved.keys(), ...ordered.keys(), ...placings.map(({ place }) => place)]);
  const conflicts = [...ordered.values()]
    .filter(({ place, from }) => now.get(place) !== from)
    .map((edit): EditConflict => ({ edit, message: "it was given another place among the pages beside it meanwhile" }));
  if (conflicts.length > 0) return { edits: [...edits], conflicts };
  const lists = new Lists(tx);
  const settled = async (place: string, from: string, wished: string | null): Promise<OrderEdit> => {
    const parent = moved.get(place) ?? placeOf(index, place)?.place.parent ?? "";
    return { kind: "order", place, from, to: await lists.settle(parent, place, wished) };
  };
  const made: Edit[] = [];
  for (const edit of edits) made.push(edit.kind === "order" ? await settled(edit.place, edit.from, edit.to) : edit);
  const placed = new Set(ordered.keys());
  for (const { place, after } of placings) {
    const from = now.get(place);
    if (from === undefined || placed.has(place)) continue;
    placed.add(place);
    const to = await lists.after(moved.get(place) ?? placeOf(index, place)?.place.parent ?? "", place, after);
    if (to !== from || moved.has(place)) made.push({ kind: "order", place, from, to });
  }
  for (const place of moved.keys()) {
    const from = now.get(place);
    if (from !== undefined && !placed.has(place)) made.push(await settled(place, from, null));
  }
  return { edits: made, conflicts: [] };
}

/** Writes the slots that edits give, as of change `seq`. */
export async function writeSlots(tx: Tx, edits: readonly Edit[], seq: Seq): Promise<void> {
  const given = new Map(edits.flatMap((edit) => (edit.kind === "order" && edit.from !== edit.to ? [[edit.place, edit.to] as const] : [])));
  if (given.size === 0) return;
  await tx
    .update(slots)
    .set({ toSeq: seq })
    .where(and(isNull(slots.toSeq), among(slots.placeId, [...given.keys()])));
  await insertMany(
    tx,
    slots,
    [...given].map(([placeId, slot]) => ({ placeId, slot, fromSeq: seq })),
  );
}
