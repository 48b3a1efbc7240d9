/** One decision: a look into flat arrays (`quick.ts`), filled on the way from the tables of the block (`tables.ts`). */

import { type AccessIndex, blockAt, type CompiledPlace, type CompiledSubject, type Row, STRIDE_BITS } from "../index/index.ts";
import type { Instant, PlaceNumber, SubjectNumber } from "../model/index.ts";
import { passReaches } from "./evaluate.ts";
import { type Cell, keptCells, PASS_CLASS, tablesAt, walkedCell } from "./tables.ts";

const walked = (index: AccessIndex, subject: SubjectNumber, place: PlaceNumber, at: Instant): Cell =>
  walkedCell(index, index.subjects[subject] as CompiledSubject, index.places[place] as CompiledPlace, at);

/** Whether the pass that a subject holds reaches a place; elsewhere its holder is like the public. */
const opens = (index: AccessIndex, subject: SubjectNumber, place: PlaceNumber, at: Instant): boolean =>
  passReaches(index, index.subjects[subject] as CompiledSubject, index.places[place] as CompiledPlace, at);

/** Fills the row of a place, so that the next question about it is answered at once. */
function fill(index: AccessIndex, place: PlaceNumber, at: Instant): void {
  const block = blockAt(index, place);
  const tables = tablesAt(index, block, at);
  const row = index.rowOf[place] as number;
  const cells = keptCells(index, block, tables, row, at);
  index.quick.prepareFor(at);
  index.quick.fill((block.rows[row] as Row).places, tables.classOf, cells, tables);
}

/**
 * The effective set and oversight of a subject at a place, both by number, at an instant (milliseconds since the epoch):
 * the same answer as `effectiveSet` and `hasOversight` (sections 5 and 6), from tables; O(1) once its row is known.
 */
export function decide(index: AccessIndex, subject: SubjectNumber, place: PlaceNumber, at: Instant): Cell {
  const { quick } = index;
  const i = place << STRIDE_BITS;
  if ((quick.info[i + 1] as number) < 0 || at < quick.from || at >= quick.until) fill(index, place, at);
  const { info, arena } = quick;
  const number = arena.classes[(info[i] as number) + subject] as number;
  if (info[i + 2] === subject || (number === PASS_CLASS && opens(index, subject, place, at))) return walked(index, subject, place, at);
  return arena.cells[(info[i + 1] as number) + number] as number;
}
