/** The front door, and what is listed of a space: spaces, newest bulletins, the tree of pages, slots, as far as they are open. */

import { and, desc, eq, sql } from "drizzle-orm";
import type { FrontDoor, NavigationItem, ReaderLink } from "../../../contracts/reading.ts";
import { type AccessIndex, type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { listing, slots } from "../../db/schema/index.ts";
import { compareKeys } from "../change/order.ts";
import { edgeOf, isOpen, linkTo, openLive, openViewing, type Reader, type Viewing } from "./viewing.ts";

const NEWEST = 8;
/** A walk leaves out what its looker may not know of: so many are asked for to have enough left. */
const SPARE = 10;

/** The newest bulletins that are open, of one space or of all. */
export async function newestBulletins(
  tx: Tx,
  viewing: Viewing,
  space: CompiledPlace | null,
): Promise<(ReaderLink & { space: string; at: string })[]> {
  const { access, viewer } = viewing;
  const block = space ? access.index.blockOf[space.number] : undefined;
  const reach = await reachOf(tx, access.index, viewer.number, access.at, READ, block);
  const rows = await tx
    .select({ id: listing.placeId, at: listing.changedAt })
    .from(listing)
    .where(
      and(eq(listing.kind, "bulletin"), eq(listing.state, "live"), space ? eq(listing.spaceId, space.place.id) : undefined, within(reach)),
    )
    .orderBy(desc(listing.changedAt))
    .limit(viewing.walking ? NEWEST * SPARE : NEWEST);
  return rows
    .flatMap(({ id, at }) => {
      const place = placeOf(access.index, id);
      if (!place || !isOpen(viewing, place)) return [];
      const around = access.index.places[place.space] as CompiledPlace;
      return [{ ...linkTo(viewing, place), space: isOpen(viewing, around) ? (around.place.title ?? "") : "", at: at.toISOString() }];
    })
    .slice(0, NEWEST);
}

const MOST_ELSEWHERE = 40;

/** Pages that are open although neither the page above nor the space is: their readers have no other way to them. */
function elsewhereOf(viewing: Viewing): FrontDoor["elsewhere"] {
  const { index } = viewing.access;
  const found: CompiledPlace[] = [];
  // A space that is archived is not on the front door, though members may still read it.
  const isShown = (place: CompiledPlace) => place.place.state === "live" && isOpen(viewing, place);
  index.blocks.forEach((block, number) => {
    const space = index.places[block.space];
    if (!space || isShown(space)) return;
    for (const places of openLive(viewing, number)) {
      for (const at of places) {
        const place = index.places[at] as CompiledPlace;
        const parent = index.places[place.parent];
        if (place.place.kind === "page" && parent && !isShown(parent) && found.length < MOST_ELSEWHERE) found.push(place);
      }
    }
  });
  const openBelow = (place: CompiledPlace): number =>
    (isShown(place) ? 1 : 0) + place.children.reduce((sum, child) => sum + openBelow(index.places[child] as CompiledPlace), 0);
  return found.map((place) => ({ ...linkTo(viewing, place), pages: openBelow(place) }));
}

/** The front door: the spaces and the newest bulletins that are open to the viewer. */
export async function readFrontDoor(reader: Reader): Promise<FrontDoor> {
  return inSnapshot(async (tx) => {
    const viewing = await openViewing(tx, reader);
    const { index } = viewing.access;
    const shown = viewing.spaces.flatMap((row) => {
      const place = placeOf(index, row.placeId);
      if (place?.place.state !== "live" || !isOpen(viewing, place)) return [];
      const open = openLive(viewing, index.blockOf[place.number] as number).reduce((sum, places) => sum + places.length, 0);
      return [{ ...linkTo(viewing, place), purpose: row.purpose, pages: open - 1 }];
    });
    return {
      ...edgeOf(viewing),
      spaces: shown,
      elsewhere: elsewhereOf(viewing),
      bulletins: await newestBulletins(tx, viewing, null),
    };
  });
}

export interface Navigation {
  items: NavigationItem[];
  /** How many more pages of the space are open and not listed. */
  more: number;
}

/** Up to so many places a space is listed whole; of a larger one, the top and the branch one is in. */
const LISTED_WHOLE = 400;
const MOST_SIBLINGS = 100;

/** The tree of a space as the viewer may see it; a page under a hidden one moves up, so that nothing tells of the gap. */
export async function navigationOf(tx: Tx, viewing: Viewing, space: CompiledPlace, here: CompiledPlace | null): Promise<Navigation> {
  const { index } = viewing.access;
  const whole = (index.blocks[index.blockOf[space.number] as number]?.places.length ?? 0) <= LISTED_WHOLE;
  const branch = new Set<number>();
  for (let step: CompiledPlace | undefined = here ?? undefined; step; step = index.places[step.parent]) branch.add(step.number);
  const shown = (place: CompiledPlace) => place.place.state === "live" && isOpen(viewing, place);
  /** What is listed under a place: open children, and in place of hidden ones what is under those. */
  const byName = viewing.spaces.find(({ placeId }) => placeId === space.place.id)?.arranged === "name";
  const pagesIn = await orderIn(tx, index, space, byName);
  const under = (place: CompiledPlace): CompiledPlace[] => pagesIn(place).flatMap((child) => (shown(child) ? [child] : under(child)));
  const lists = new Map<CompiledPlace, CompiledPlace[]>();
  const gather = (place: CompiledPlace) => {
    const list = under(place);
    lists.set(place, list);
    for (const child of list) if (whole || branch.has(child.number)) gather(child);
  };
  gather(space);
  const items: NavigationItem[] = [];
  const visit = (place: CompiledPlace, depth: number) => {
    const list = lists.get(place) ?? [];
    const kept = whole ? list : list.filter((child, i) => i < MOST_SIBLINGS || branch.has(child.number));
    for (const child of kept) {
      items.push({ ...linkTo(viewing, child), depth, here: child === here });
      if (lists.has(child)) visit(child, depth + 1);
    }
  };
  visit(space, 0);
  if (whole) return { items, more: 0 };
  const open = openLive(viewing, index.blockOf[space.number] as number).reduce(
    (sum, places) => sum + places.filter((place) => index.places[place]?.place.kind === "page").length,
    0,
  );
  return { items, more: Math.max(0, open - items.length) };
}

interface Order {
  slots: ReadonlyMap<string, string>;
  /** Pages of each place that was asked about, in their order. */
  pages: Map<CompiledPlace, CompiledPlace[]>;
}

/** The order in each space, for as long as the rules it was read with: whatever changes it makes new rules. */
const keptOrder = new WeakMap<AccessIndex, Map<number, Order>>();

/** Gives the pages directly in a place of a space, in their order. */
async function orderIn(
  tx: Tx,
  index: AccessIndex,
  space: CompiledPlace,
  byName: boolean,
): Promise<(place: CompiledPlace) => CompiledPlace[]> {
  const kept = keptOrder.get(index) ?? new Map<number, Order>();
  keptOrder.set(index, kept);
  const { slots: slotOf, pages } = kept.get(space.number) ?? { slots: await slotsIn(tx, space), pages: new Map() };
  kept.set(space.number, { slots: slotOf, pages });
  const keyOf = ({ place: { id, title = "" } }: CompiledPlace) => (byName ? title.toLowerCase() : (slotOf.get(id) ?? ""));
  const inOrder = (a: CompiledPlace, b: CompiledPlace) => compareKeys(keyOf(a), keyOf(b));
  return (place) => {
    const known = pages.get(place);
    if (known) return known;
    const found = place.children.map((number) => index.places[number] as CompiledPlace).filter((child) => child.place.kind === "page");
    pages.set(place, found.sort(inOrder));
    return found;
  };
}

async function slotsIn(tx: Tx, space: CompiledPlace): Promise<ReadonlyMap<string, string>> {
  const [row] = await tx.execute<{ slots: Record<string, string> }>(sql`
    select coalesce(json_object_agg(s.place_id, s.slot), '{}'::json) as slots
    from ${slots} as s join ${listing} as l on l.place_id = s.place_id where l.space_id = ${space.place.id} and s.to_seq is null`);
  return new Map(Object.entries(row?.slots ?? {}));
}
