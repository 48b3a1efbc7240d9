/**
 * The exact difference between two indexes, subject by subject and place by place, worked out on classes: blocks that the
 * two share are left out; in the others rows are compared with rows, and subjects that neither side tells apart are one.
 * Own drafts and passes, which the tables leave out, are laid over it one by one.
 */

import { type AccessIndex, below, type CompiledPlace, type CompiledSubject, placeOf } from "./accessIndex.ts";
import { givenSet } from "./evaluate.ts";
import type { Block, Tables } from "./rows.ts";
import { type Cell, PASS_CLASS, rowCells, SET_OF_CELL, tablesAt, walkedCell } from "./tables.ts";

export interface Difference {
  /** Subjects that lose and gain the very same at the very same places. */
  subjects: CompiledSubject[];
  changes: { before: Cell; after: Cell; places: string[] }[];
}

/** Where a place stands on one side: a row of a block, or nowhere. */
interface Spot {
  block: number;
  row: number;
}

/** Places that stand in one row before and in one row after, with the cells of both and the class of each subject. */
export interface RowPair {
  places: readonly string[];
  before: Cells | null;
  after: Cells | null;
}

interface Cells {
  cells: Uint16Array;
  classOf: Uint16Array | Uint32Array;
}

/** Subjects gathered where neither side tells them apart in any of the blocks compared; those with exceptions stand alone. */
export interface Group {
  subjects: CompiledSubject[];
  before: CompiledSubject | undefined;
  after: CompiledSubject | undefined;
  /** Places where the tables do not answer for this one subject. */
  apart: ReadonlySet<string> | null;
}

const NOWHERE: Spot = { block: -1, row: -1 };

const isGated = (index: AccessIndex, place: CompiledPlace): boolean =>
  place.unpublished || place.place.state !== "live" || index.places[place.space]?.place.state !== "live";

/** One side of a comparison: spots of places, cells of rows, each worked out once. */
class Side {
  private readonly rows = new Map<string, Cells>();

  constructor(
    readonly index: AccessIndex | null,
    private readonly at: number,
    private readonly statesAside: boolean,
  ) {}

  spot(id: string): Spot {
    const number = this.index?.placeNumbers.get(id);
    if (!this.index || number === undefined || number >= this.index.places.length) return NOWHERE;
    return { block: this.index.blockOf[number] as number, row: this.index.rowOf[number] as number };
  }

  private tables(block: number): Tables {
    const index = this.index as AccessIndex;
    return tablesAt(index, index.blocks[block] as Block, this.at);
  }

  /** The tables of the blocks that these spots are in. */
  tablesOf(spots: readonly Spot[]): Tables[] {
    return [...new Set(spots.map(({ block }) => block))].filter((block) => block >= 0).map((block) => this.tables(block));
  }

  cells({ block, row }: Spot): Cells | null {
    if (!this.index || block < 0) return null;
    const key = `${block}|${row}`;
    const known = this.rows.get(key);
    if (known) return known;
    const tables = this.tables(block);
    const kept = this.statesAside ? undefined : tables.cells[row];
    const cells = kept ?? rowCells(this.index, this.index.blocks[block] as Block, tables, row, this.at, this.statesAside);
    const made = { cells, classOf: tables.classOf };
    this.rows.set(key, made);
    return made;
  }

  /** One subject at one place, past the tables. */
  walked(subject: CompiledSubject | undefined, id: string): Cell {
    const place = this.index ? placeOf(this.index, id) : undefined;
    if (!this.index || !subject || !place) return 0;
    return this.statesAside ? givenSet(this.index, subject, place, this.at) : walkedCell(this.index, subject, place, this.at);
  }

  subject(key: string): CompiledSubject | undefined {
    const number = this.index?.subjectNumbers.get(key);
    return number === undefined ? undefined : this.index?.subjects[number];
  }

  /** Whether any class of a row has something there, exceptions aside. */
  opensToSomebody(spot: Spot): boolean {
    const row = this.cells(spot);
    if (!row) return false;
    const { counts } = this.tables(spot.block);
    return row.cells.some((cell, number) => number !== PASS_CLASS && (counts[number] as number) > 0 && (cell & SET_OF_CELL) !== 0);
  }
}

/** The cell of a group's subject on one side of a pair of rows. */
export const cellIn = (side: Cells | null, subject: CompiledSubject | undefined): Cell =>
  side && subject ? (side.cells[side.classOf[subject.at] as number] as number) : 0;

/**
 * Two indexes side by side: rows paired with rows, subjects gathered into groups. An earlier index of null stands for
 * nothing at all. `whole` takes in the blocks that the two share, too.
 */
export class Sides {
  readonly before: Side;
  readonly after: Side;
  readonly pairs: readonly RowPair[];
  readonly groups: readonly Group[];
  private readonly spots: { before: Spot; after: Spot }[] = [];

  constructor(
    earlier: AccessIndex | null,
    later: AccessIndex,
    at: number,
    readonly options: { whole?: boolean; statesAside?: boolean } = {},
  ) {
    this.before = new Side(earlier, at, options.statesAside ?? false);
    this.after = new Side(later, at, options.statesAside ?? false);
    this.pairs = this.pairRows();
    this.groups = this.groupSubjects(this.exceptions());
  }

  private pairRows(): RowPair[] {
    const pairs = new Map<string, { places: string[]; before: Spot; after: Spot }>();
    const seen = new Set<string>();
    for (const id of this.placesCompared()) {
      if (seen.has(id)) continue;
      seen.add(id);
      const [was, is] = [this.before.spot(id), this.after.spot(id)];
      const key = `${was.block}|${was.row}>${is.block}|${is.row}`;
      const known = pairs.get(key);
      if (known) known.places.push(id);
      else pairs.set(key, { places: [id], before: was, after: is });
    }
    return [...pairs.values()].map(({ places, before, after }) => {
      this.spots.push({ before, after });
      return { places, before: this.before.cells(before), after: this.after.cells(after) };
    });
  }

  /** Places of all blocks that the two indexes do not share. */
  private *placesCompared(): IterableIterator<string> {
    const kept = new Set<Block>(this.options.whole ? [] : this.before.index?.blocks);
    const shared = new Set(this.after.index?.blocks.filter((block) => kept.has(block)));
    for (const { index } of [this.before, this.after]) {
      for (const block of index?.blocks ?? []) {
        if (!index || shared.has(block)) continue;
        for (const { example, places } of block.rows) {
          if (this.options.statesAside && !isGated(index, example)) continue;
          for (const at of places) yield (index.places[at] as CompiledPlace).place.id;
        }
      }
    }
  }

  /** Subjects whom the tables cannot answer for everywhere, owners of own drafts and pass holders, with the places in question. */
  private exceptions(): Map<string, Set<string>> {
    const concerned = new Set(this.pairs.flatMap(({ places }) => places));
    const found = new Map<string, Set<string>>();
    const add = (key: string, id: string) => {
      const list = found.get(key);
      if (list) list.add(id);
      else found.set(key, new Set([id]));
    };
    for (const side of [this.before, this.after]) {
      const { index } = side;
      if (!index) continue;
      for (const id of concerned) {
        const owner = index.ownerGate[index.placeNumbers.get(id) ?? -1] ?? -1;
        if (owner >= 0) add((index.subjects[owner] as CompiledSubject).key, id);
      }
      const other = side === this.before ? this.after : this.before;
      for (const { pass, key } of index.subjects) {
        const place = pass ? placeOf(index, pass.place) : undefined;
        if (!pass || !place) continue;
        const changed = other.subject(key)?.pass !== pass;
        for (const { place: reached } of pass.below ? below(index, place) : [place]) {
          if (changed || concerned.has(reached.id)) add(key, reached.id);
        }
      }
    }
    return found;
  }

  private groupSubjects(apart: ReadonlyMap<string, ReadonlySet<string>>): Group[] {
    const tables = {
      before: this.before.tablesOf(this.spots.map(({ before }) => before)),
      after: this.after.tablesOf(this.spots.map(({ after }) => after)),
    };
    const groups = new Map<string, Group>();
    const text = (side: readonly Tables[], it: CompiledSubject | undefined) => {
      if (!it) return "-";
      let key = "";
      for (const { classOf } of side) key += `${classOf[it.at]},`;
      return key;
    };
    const add = (was: CompiledSubject | undefined, is: CompiledSubject | undefined) => {
      const subject = (is ?? was) as CompiledSubject;
      const own = apart.get(subject.key) ?? null;
      const key = own ? subject.key : `${text(tables.before, was)}>${text(tables.after, is)}>${subject.class}`;
      const known = groups.get(key);
      if (known) known.subjects.push(subject);
      else groups.set(key, { subjects: [subject], before: was, after: is, apart: own });
    };
    const [earlier, later] = [this.before.index, this.after.index];
    const aligned = earlier?.subjectNumbers === later?.subjectNumbers;
    earlier?.subjects.forEach((was, at) => {
      add(was, aligned ? later?.subjects[at] : this.after.subject(was.key));
    });
    for (const is of later?.subjects ?? []) if (!this.before.subject(is.key)) add(undefined, is);
    return [...groups.values()];
  }

  /** Places that somebody had something at before and nobody has anything at after. */
  closedToAll(): string[] {
    const byPlace = new Map<string, Group[]>();
    for (const group of this.groups) for (const id of group.apart ?? []) byPlace.set(id, [...(byPlace.get(id) ?? []), group]);
    const opens = (side: "before" | "after", id: string) =>
      (byPlace.get(id) ?? []).some((group) => this[side].walked(group[side], id) & SET_OF_CELL);
    return this.pairs.flatMap(({ places }, i) => {
      const { before, after } = this.spots[i] as { before: Spot; after: Spot };
      if (after.block < 0 || this.after.opensToSomebody(after)) return [];
      const opened = this.before.opensToSomebody(before);
      return places.filter((id) => (opened || opens("before", id)) && !opens("after", id));
    });
  }
}

/** What changes for a group: cell by cell for whole rows, one by one where it has exceptions. */
function changesOf(group: Group, sides: Sides) {
  const changes = new Map<number, { before: Cell; after: Cell; parts: (readonly string[])[] }>();
  const note = (was: Cell, is: Cell, places: readonly string[]) => {
    if (was === is || places.length === 0) return;
    const known = changes.get(was * 1024 + is);
    if (known) known.parts.push(places);
    else changes.set(was * 1024 + is, { before: was, after: is, parts: [places] });
  };
  const { apart } = group;
  for (const pair of sides.pairs) {
    const [was, is] = [cellIn(pair.before, group.before), cellIn(pair.after, group.after)];
    if (was !== is) note(was, is, apart ? pair.places.filter((id) => !apart.has(id)) : pair.places);
  }
  for (const id of apart ?? []) note(sides.before.walked(group.before, id), sides.after.walked(group.after, id), [id]);
  return [...changes.values()];
}

/** Everything that differs between two sides, over every subject and every place; exact. */
export function differencesOf(sides: Sides): Difference[] {
  const found = new Map<string, Difference>();
  const numbers = new Map<readonly string[], number>();
  const numbered = (part: readonly string[]): number => {
    const known = numbers.get(part) ?? numbers.size;
    numbers.set(part, known);
    return known;
  };
  for (const group of sides.groups) {
    const changes = changesOf(group, sides);
    if (changes.length === 0) continue;
    const parts = changes.map((it) => `${it.before}>${it.after}:${it.parts.map(numbered).join(",")}`);
    const signature = `${group.subjects[0]?.class}|${parts.join("|")}`;
    const known = found.get(signature);
    if (known) for (const subject of group.subjects) known.subjects.push(subject);
    else {
      const whole = changes.map((it) => ({ before: it.before, after: it.after, places: it.parts.flat() }));
      found.set(signature, { subjects: [...group.subjects], changes: whole });
    }
  }
  return [...found.values()];
}
