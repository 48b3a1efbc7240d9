/** The tree of places one may see, as far as it is sent: whole, opened, or by a filter. */
import { and, eq, sql } from "drizzle-orm";
import { cellsInBlock, OVERSEES } from "../../../core/access/decide/index.ts";
import { type Block, blockAt, type CompiledPlace, type CompiledSubject, siteOf, spaceIdOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { type Access, maySee } from "../../access/current.ts";
import { gapId } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { holds } from "../../db/document.ts";
import { pages, slots, spaces } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { compareKeys } from "../change/order.ts";

/** Up to so many places a grid is sent whole; of a larger one spaces first, then what is opened. */
const SENT_WHOLE = 2_000;
/** So many rows at most are sent, however much is opened. */
const MOST_ROWS = 4_000;

export interface Shown {
  place: CompiledPlace;
  /** How many places below are not sent. */
  unsent: number;
  /** Whether it fits the filter itself; otherwise it is what stands above one that does. */
  fits: boolean;
}

/** The tree of places one may see, with the gaps above them: parents before children, siblings as arranged. */
export class VisibleTree {
  private readonly counts = new Map<number, number>();
  private readonly owns: boolean;

  constructor(
    private readonly access: Access,
    private readonly me: CompiledSubject,
    /** Which places are seen, where it is not the rules themselves that say so: those of another time. */
    private readonly sight: ((place: CompiledPlace) => boolean) | null = null,
  ) {
    this.owns = access.index.ownerGate.includes(me.number);
  }

  /** How many places at and below one the asker may see. */
  count(place: CompiledPlace): number {
    const known = this.counts.get(place.number);
    if (known !== undefined) return known;
    let count = 0;
    if (place.place.kind === "space" && this.sight === null) count = this.countInBlock(blockAt(this.access.index, place.number));
    else {
      count = this.sees(place) ? 1 : 0;
      for (const at of place.children) count += this.count(this.access.index.places[at] as CompiledPlace);
    }
    this.counts.set(place.number, count);
    return count;
  }

  private sees(place: CompiledPlace): boolean {
    return this.sight ? this.sight(place) : maySee(this.access, this.me, place);
  }

  /** The id of a row: of a gap, one that names nothing. */
  idOf(place: CompiledPlace): string {
    return this.sees(place) ? place.place.id : gapId(this.me, place.place.id);
  }

  /** A whole space is counted by rows, and drafts of one's own are added. */
  private countInBlock(block: Block): number {
    const { index, at } = this.access;
    let count = 0;
    for (const { row, cell } of cellsInBlock(index, block, this.me.number, at)) {
      if (cell & (READ | OVERSEES)) count += row.places.length;
      else if (this.owns) count += row.places.filter((place) => index.ownerGate[place] === this.me.number).length;
    }
    return count;
  }

  /** How many places there are for the asker in all. */
  get places(): number {
    return this.count(siteOf(this.access.index));
  }

  /** Whether all of them are sent at once, and filters are for the browser. */
  get isWhole(): boolean {
    return this.places <= SENT_WHOLE;
  }

  /** Places that fit a filter, and what stands above them: for each how many of those at and below it fit. */
  private fitting(fits: (place: CompiledPlace) => boolean): Int32Array {
    const { index } = this.access;
    const counts = new Int32Array(index.places.length);
    for (const place of index.places) {
      if (!this.sees(place) || !fits(place)) continue;
      for (let step: CompiledPlace | undefined = place; step; step = index.places[step.parent])
        counts[step.number] = (counts[step.number] as number) + 1;
    }
    return counts;
  }

  /**
   * The places whose rows are sent: all; or the site, its spaces and what is in the opened ones; or those that fit a filter
   * with what is above them. `unshown`: how many of them there was no room for.
   */
  async shown(tx: Tx, opened: ReadonlySet<string>, fits: ((place: CompiledPlace) => boolean) | null) {
    const site = siteOf(this.access.index);
    const fitting = fits && this.fitting(fits);
    const there = (place: CompiledPlace) => (fitting ? (fitting[place.number] as number) : this.count(place));
    const isOpen = (place: CompiledPlace) => fitting !== null || this.isWhole || place === site || opened.has(this.idOf(place));
    const lists = new Map<CompiledPlace, CompiledPlace[]>();
    let room = MOST_ROWS;
    const gather = (place: CompiledPlace) => {
      room--;
      if (!isOpen(place) || room <= 0) return;
      const list = place.children.map((child) => this.access.index.places[child] as CompiledPlace).filter((child) => there(child) > 0);
      lists.set(place, list);
      for (const child of list) gather(child);
    };
    if (there(site) > 0) gather(site);
    const order = await arrangement(tx, this.access, [...lists.values()].flat(), this.sight !== null);
    const rows: Shown[] = [];
    let unshown = 0;
    const visit = (place: CompiledPlace) => {
      if (rows.length >= MOST_ROWS) {
        unshown += there(place);
        return;
      }
      const list = lists.get(place);
      const own = this.sees(place) && (fits?.(place) ?? true);
      const inside = list ? 0 : there(place) - (own ? 1 : 0);
      // By a filter nothing is opened later: what there was no room to go into is not shown.
      if (fitting) unshown += inside;
      rows.push({ place, unsent: fitting ? 0 : inside, fits: own });
      for (const child of [...(list ?? [])].sort(order)) visit(child);
    };
    if (there(site) > 0) visit(site);
    return { rows, fit: there(site), unshown };
  }
}

/** How siblings stand to one another: spaces as arranged, pages by their slots, then bulletins by date. */
export async function arrangement(tx: Tx, { index, seq }: Access, list: readonly CompiledPlace[], asOf: boolean) {
  const ids = textArray(list.map(({ place }) => place.id));
  const spaceRows = await tx.select({ id: spaces.placeId, position: spaces.position, arranged: spaces.arranged }).from(spaces);
  const named = new Set(spaceRows.filter(({ arranged }) => arranged === "name").map(({ id }) => id));
  const byName = new Map(
    list.flatMap((place) => {
      const space = spaceIdOf(index, place);
      return place.place.kind === "page" && named.has(space) ? [[place.place.id, (place.place.title ?? "").toLowerCase()] as const] : [];
    }),
  );
  const pageRows = await tx
    .select({ id: pages.placeId, slot: slots.slot, startedAt: pages.startedAt })
    .from(pages)
    .leftJoin(slots, and(eq(slots.placeId, pages.placeId), holds(slots, asOf ? seq : null)))
    .where(sql`${pages.placeId} = any(${ids})`);
  // One key for all: before a bulletin's date stands a sign that comes after every slot.
  const keys = new Map([
    ...spaceRows.map(({ id, position }) => [id, String(position).padStart(8, "0")] as const),
    ...pageRows.map(({ id, slot, startedAt }) => [id, byName.get(id) ?? slot ?? `~${startedAt.toISOString()}`] as const),
  ]);
  return (a: CompiledPlace, b: CompiledPlace): number => compareKeys(keys.get(a.place.id) ?? "", keys.get(b.place.id) ?? "");
}
