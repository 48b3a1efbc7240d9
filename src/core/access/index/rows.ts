/** Blocks and rows: every space is a block, and in a block places that cannot differ in what they give anybody share a row. */

import { type Instant, NO_PLACE, type PageState, type PlaceNumber } from "../model/index.ts";
import type { CompiledPlace } from "./accessIndex.ts";
import type { Cast, CompiledSubject } from "./subjects.ts";

/** Places of a block that give everybody the same, own drafts and passes aside. */
export interface Row {
  /** One of its places. */
  example: CompiledPlace;
  places: readonly PlaceNumber[];
}

export interface Block {
  /** Number of the space; -1 for the block that holds the site alone. */
  space: PlaceNumber;
  places: readonly PlaceNumber[];
  rows: readonly Row[];
  /** Principals that any rule on the paths of its places names. */
  named: ReadonlySet<number> | null;
  tables: Tables | null;
}

/** The class that another was split from, and the principal whose matches were split off; -1 for the first classes. */
export interface Birth {
  from: number;
  by: number;
}

/** The classes of subjects in a block and the cells of its rows, for as long as no rule there ends. */
export interface Tables {
  /** The instant they were worked out for. */
  at: Instant;
  /** Milliseconds since the epoch, from included to excluded. */
  from: number;
  until: number;
  classOf: Uint16Array | Uint32Array;
  /** A subject of each class, or undefined where none is left in it; and how many there are. */
  examples: readonly (CompiledSubject | undefined)[];
  counts: Int32Array;
  kinds: Uint8Array;
  bornOf: readonly Birth[];
  /** Classes that a group or person among the principals matches. */
  classesOf: ReadonlyMap<number, readonly number[]>;
  cells: (Uint16Array | undefined)[];
  /** Tables of an earlier version that rows were taken over from: for each row its number there, or -1. */
  carried: { from: Tables; rows: Int32Array } | null;
}

/** Number of the member whose own draft an unpublished place is, or -1. */
export function ownerGateOf(cast: Cast, place: CompiledPlace): number {
  if (!place.unpublished || place.place.owner === undefined) return -1;
  const owner = cast.subjectNumbers.get(`person:${place.place.owner}`);
  return owner !== undefined && cast.subjects[owner]?.class === "members" ? owner : -1;
}

const GATES: Record<PageState, number> = { live: 0, draft: 0, scheduled: 0, archived: 1, binned: 2 };

/** Equal for two places of a block exactly where they share a row. */
export const rowKey = (place: CompiledPlace): number => {
  const letsIn = place.unpublished && place.grants.some((grant) => grant.draft);
  return (((place.ruled + 1) * 2 + (letsIn ? 1 : 0)) * 2 + (place.unpublished ? 1 : 0)) * 3 + GATES[place.place.state];
};

/** The key of the row that a place would be in if it were not in the archive or the bin. */
export const keyBeforeLeaving = (place: CompiledPlace): number => rowKey(place) - GATES[place.place.state];

/** A text that two places of a site share exactly where they share a row: of one space, under the same rules, in the same kind of state. */
export function rowSign(places: readonly CompiledPlace[], place: CompiledPlace): string {
  const idOf = (number: number) => places[number]?.place.id ?? "";
  return `${idOf(place.space)}|${idOf(place.ruled)}|${rowKey(place) % 12}`;
}

/** A block of these places; writes the number of each place's row into `rowOf`. */
export function gatherRows(space: PlaceNumber, places: readonly PlaceNumber[], all: readonly CompiledPlace[], rowOf: Int32Array): Block {
  const rows: { example: CompiledPlace; places: PlaceNumber[] }[] = [];
  const known = new Map<number, number>();
  for (const at of places) {
    const place = all[at] as CompiledPlace;
    const key = rowKey(place);
    let row = known.get(key);
    if (row === undefined) {
      row = rows.length;
      known.set(key, row);
      rows.push({ example: place, places: [] });
    }
    rows[row]?.places.push(at);
    rowOf[at] = row;
  }
  return { space, places, rows, named: null, tables: null };
}

/** Gathers places into blocks: the site alone first, then each space with all that is in it. */
export function gatherBlocks(places: readonly CompiledPlace[]) {
  const blockOf = new Int32Array(places.length);
  const rowOf = new Int32Array(places.length);
  const bySpace = new Map<PlaceNumber, PlaceNumber[]>([[NO_PLACE, []]]);
  const numbers = new Map<PlaceNumber, number>([[NO_PLACE, 0]]);
  for (const place of places) {
    let list = bySpace.get(place.space);
    if (!list) {
      list = [];
      numbers.set(place.space, bySpace.size);
      bySpace.set(place.space, list);
    }
    list.push(place.number);
    blockOf[place.number] = numbers.get(place.space) as number;
  }
  const blocks = [...bySpace].map(([space, list]) => gatherRows(space, list, places, rowOf));
  return { blocks, blockOf, rowOf };
}
