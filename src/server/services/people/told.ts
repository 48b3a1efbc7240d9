/** What is said of people wherever they are listed: how they stand, and what they can do where. */
import type { Levels, PersonState } from "../../../contracts/people.ts";
import { cellsInBlock, keptCells, rowOfPlace, SET_OF_CELL, tablesAt, tellsOfOthers } from "../../../core/access/decide/index.ts";
import {
  type AccessIndex,
  type Block,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  type Tables,
} from "../../../core/access/index/index.ts";
import { type Instant, LEVELS, levelWithin } from "../../../core/access/model/index.ts";
import { type Access, cellOf } from "../../access/current.ts";

export const stateOf = (subject: CompiledSubject, at: Instant): PersonState =>
  isActive(subject, at) ? "active" : subject.person?.status === "suspended" ? "suspended" : "over";

const noLevels = (): Levels => Object.fromEntries(LEVELS.map((_, level) => [level, 0])) as Levels;

/** Pages of a row: the space, where it is in it, is none. */
const pagesIn = (index: AccessIndex, block: Block, row: number): number =>
  (block.rows[row]?.places.length ?? 0) - (block.space >= 0 && index.rowOf[block.space] === row ? 1 : 0);

const isGone = (place: CompiledPlace | undefined): boolean => place?.place.state === "binned";

/**
 * On how many pages of a space somebody has which level at most; what is in the bin aside. `knows`: only where this asker
 * may know what others can do.
 */
export function levelsIn(access: Access, block: Block, who: CompiledSubject, knows: CompiledSubject | null): Levels {
  const { index, at } = access;
  const levels = noLevels();
  if (block.space < 0 || isGone(index.places[block.space])) return levels;
  const told = knows && [...cellsInBlock(index, block, knows.number, at)].map(({ cell }) => tellsOfOthers(cell));
  let row = 0;
  for (const { row: it, cell } of cellsInBlock(index, block, who.number, at)) {
    if (!isGone(it.example) && (told === null || told[row])) levels[levelWithin(cell & SET_OF_CELL)] += pagesIn(index, block, row);
    row++;
  }
  // Their own drafts, which the rows leave out.
  for (const place of pagesByOwner(index).get(who.person?.id ?? "") ?? [])
    if (place.space === block.space && (!told || told[index.rowOf[place.number] as number]))
      moveOwnDraft(access, block, place, who, levels);
  return levels;
}

/** A draft of their own counts by what they have there, not by what the row says. */
function moveOwnDraft(access: Access, block: Block, place: CompiledPlace, who: CompiledSubject, levels: Levels): void {
  const { index } = access;
  if (index.ownerGate[place.number] !== who.number) return;
  levels[levelWithin(cellInRow(access, block, index.rowOf[place.number] as number, who) & SET_OF_CELL)]--;
  levels[levelWithin(cellOf(access, who, place) & SET_OF_CELL)]++;
}

const cellInRow = ({ index, at }: Access, block: Block, row: number, who: CompiledSubject): number => {
  const tables = tablesAt(index, block, at);
  return keptCells(index, block, tables, row, at)[tables.classOf[who.number] as number] as number;
};

/** Of a block, by number of a class, on how many pages it has which level: worked out once for as long as its tables stand. */
const byClass = new WeakMap<Tables, (Int32Array | undefined)[]>();
const LEVEL_OF = Uint8Array.from({ length: SET_OF_CELL + 1 }, (_, set) => levelWithin(set));

function levelsOfClass({ index, at }: Access, block: Block, tables: Tables, number: number): Int32Array {
  const known = byClass.get(tables) ?? [];
  byClass.set(tables, known);
  const made = known[number];
  if (made) return made;
  const levels = new Int32Array(LEVELS.length);
  block.rows.forEach(({ example }, row) => {
    if (isGone(example)) return;
    const cell = keptCells(index, block, tables, row, at)[number] as number;
    const level = LEVEL_OF[cell & SET_OF_CELL] as number;
    levels[level] = (levels[level] as number) + pagesIn(index, block, row);
  });
  known[number] = levels;
  return levels;
}

/** The same over the whole site; asked of a hundred people at a time. */
export function levelsOf(access: Access, who: CompiledSubject): Levels {
  const { index, at } = access;
  const sums = new Int32Array(LEVELS.length);
  for (const block of index.blocks) {
    if (block.space < 0 || isGone(index.places[block.space])) continue;
    const tables = tablesAt(index, block, at);
    const levels = levelsOfClass(access, block, tables, tables.classOf[who.number] as number);
    for (let level = 0; level < sums.length; level++) sums[level] = (sums[level] as number) + (levels[level] as number);
  }
  const found = Object.fromEntries(LEVELS.map((_, level) => [level, sums[level]])) as Levels;
  for (const place of pagesByOwner(index).get(who.person?.id ?? "") ?? []) {
    const block = index.blocks[index.blockOf[place.number] as number];
    if (block && block.space >= 0 && !isGone(index.places[block.space])) moveOwnDraft(access, block, place, who, found);
  }
  return found;
}

/** How many members oversee a place. */
export function overseersOf({ index, at }: Access, place: CompiledPlace, oversees: number): number {
  const { row, tables } = rowOfPlace(index, place.number, at);
  let count = 0;
  row.forEach((cell, number) => {
    if (cell & oversees) count += tables.counts[number] as number;
  });
  return count;
}

const owned = new WeakMap<readonly CompiledPlace[], Map<string, CompiledPlace[]>>();

/** Pages by their owner, what is in the bin aside; worked out once for an index. */
export function pagesByOwner({ places }: AccessIndex): ReadonlyMap<string, readonly CompiledPlace[]> {
  const known = owned.get(places);
  if (known) return known;
  const by = new Map<string, CompiledPlace[]>();
  for (const place of places) {
    const { owner } = place.place;
    if (owner === undefined || isGone(place)) continue;
    const list = by.get(owner);
    if (list) list.push(place);
    else by.set(owner, [place]);
  }
  owned.set(places, by);
  return by;
}
