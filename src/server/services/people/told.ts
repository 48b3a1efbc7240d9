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
import { type AccessDocument, type Instant, LEVELS, type Level, levelWithin } from "../../../core/access/model/index.ts";
import { type Access, cellOf } from "../../access/current.ts";
import { pauses } from "../../access/pauses.ts";

export const stateOf = (subject: CompiledSubject, at: Instant): PersonState =>
  isActive(subject, at) ? "active" : subject.person?.status === "suspended" ? "suspended" : "over";

export const noLevels = (): Levels => Object.fromEntries(LEVELS.map((_, level) => [level, 0])) as Levels;

/** Pages of a row: the space, where it is in it, is none. */
export const pagesIn = (index: AccessIndex, block: Block, row: number): number =>
  (block.rows[row]?.places.length ?? 0) - (block.space >= 0 && index.rowOf[block.space] === row ? 1 : 0);

const isGone = (place: CompiledPlace | undefined): boolean => place?.place.state === "binned";

/**
 * On how many pages of a space somebody has which level at most; what is in the bin aside. `knows`: only where this asker
 * may know what others can do.
 */
export function levelsIn(access: Access, block: Block, who: CompiledSubject, knows: CompiledSubject): Levels {
  const { index, at } = access;
  const levels = noLevels();
  if (block.space < 0 || isGone(index.places[block.space])) return levels;
  const told = [...cellsInBlock(index, block, knows.number, at)].map(({ cell }) => tellsOfOthers(cell));
  let row = 0;
  for (const { row: it, cell } of cellsInBlock(index, block, who.number, at)) {
    if (!isGone(it.example) && told[row]) levels[levelWithin(cell & SET_OF_CELL)] += pagesIn(index, block, row);
    row++;
  }
  moveOwnDrafts(access, who, levels, (place) => place.space === block.space && told[index.rowOf[place.number] as number] === true);
  return levels;
}

/** Their own drafts, which rows leave out, count by what they have there. */
function moveOwnDrafts(access: Access, who: CompiledSubject, levels: Levels, counts: (place: CompiledPlace) => boolean): void {
  const { index, at } = access;
  for (const place of pagesOwnedBy(index, who.person?.id ?? "")) {
    if (index.ownerGate[place.number] !== who.number || isGone(index.places[place.space]) || !counts(place)) continue;
    const { row, tables } = rowOfPlace(index, place.number, at);
    levels[levelWithin((row[tables.classOf[who.number] as number] as number) & SET_OF_CELL)]--;
    levels[levelWithin(cellOf(access, who, place) & SET_OF_CELL)]++;
  }
}

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

/** The same over the whole site, for many people. */
export async function levelsOf(access: Access, people: readonly CompiledSubject[]): Promise<Levels[]> {
  const { index, at } = access;
  const found = people.map(noLevels);
  const pause = pauses();
  for (const block of index.blocks) {
    // After a restart their rows are worked out here.
    await pause();
    if (block.space < 0 || isGone(index.places[block.space])) continue;
    const tables = tablesAt(index, block, at);
    for (const [i, who] of people.entries()) {
      const here = levelsOfClass(access, block, tables, tables.classOf[who.number] as number);
      const levels = found[i] as Levels;
      for (let level = 0; level < here.length; level++) levels[level as Level] += here[level] as number;
    }
  }
  for (const [i, who] of people.entries()) moveOwnDrafts(access, who, found[i] as Levels, () => true);
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

/** Numbers of places by their owner, for as long as no place changes. */
const owned = new WeakMap<AccessDocument["places"], Map<string, number[]>>();

function ownedIn({ places }: AccessDocument): ReadonlyMap<string, readonly number[]> {
  const known = owned.get(places);
  if (known) return known;
  const made = new Map<string, number[]>();
  places.forEach(({ owner, state }, number) => {
    if (owner === undefined || state === "binned") return;
    const list = made.get(owner);
    if (list) list.push(number);
    else made.set(owner, [number]);
  });
  owned.set(places, made);
  return made;
}

/** Pages somebody owns, what is in the bin aside. */
export const pagesOwnedBy = ({ document, places }: AccessIndex, person: string): CompiledPlace[] =>
  (ownedIn(document).get(person) ?? []).map((number) => places[number] as CompiledPlace);

/** How many that is: asked of everybody where they are sorted by it. */
export const countOwnedBy = ({ document }: AccessIndex, person: string): number => ownedIn(document).get(person)?.length ?? 0;
