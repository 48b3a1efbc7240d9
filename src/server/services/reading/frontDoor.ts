/** The front door: spaces and newest bulletins, as far as they are open. */

import { and, desc, eq, sql } from "drizzle-orm";
import type { FrontDoor, ReaderLink } from "../../../contracts/reading.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { listing } from "../../db/schema/index.ts";
import { edgeOf, isOpen, linkTo, openLive, openViewing, type Reader, type Viewing } from "./viewing.ts";

const NEWEST = 8;
/** A walk leaves out what its looker may not know of: so many are asked for to have enough left. */
const SPARE = 10;

/** The newest bulletins that are open, of one space or of all; older than a bulletin, where one reads on from it. */
export async function newestBulletins(
  tx: Tx,
  viewing: Viewing,
  space: CompiledPlace | null,
  olderThan?: string,
): Promise<(ReaderLink & { space: string; at: string })[]> {
  const { access, viewer } = viewing;
  const block = space ? access.index.blockOf[space.number] : undefined;
  const reach = await reachOf(tx, access.index, viewer.number, access.at, READ, block);
  const before =
    olderThan === undefined
      ? undefined
      : sql`(${listing.changedAt}, ${listing.placeId}) < (select o.changed_at, o.place_id from ${listing} o where o.place_id = ${olderThan})`;
  const rows = await tx
    .select({ id: listing.placeId, at: listing.changedAt })
    .from(listing)
    .where(
      and(
        eq(listing.kind, "bulletin"),
        eq(listing.state, "live"),
        space ? eq(listing.spaceId, space.place.id) : undefined,
        within(reach),
        before,
      ),
    )
    .orderBy(desc(listing.changedAt), desc(listing.placeId))
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
