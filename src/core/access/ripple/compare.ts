/**
 * The exact difference between two indexes, subject by subject and place by place, worked out on classes: blocks and rows
 * that the two share are left out; in the others rows are compared with rows, and subjects that neither side tells apart
 * are one. Own drafts and passes, which the tables leave out, are laid over it one by one.
 */

import { type Cell, givenSet, keptCells, PASS_CLASS, rowCells, SET_OF_CELL, tablesAt, walkedCell } from "../decide/index.ts";
import { type AccessIndex, type Block, type CompiledPlace, type CompiledSubject, placesOfPass, type Tables } from "../index/index.ts";
import type { Instant } from "../model/index.ts";
import { Pairing } from "./pairing.ts";

/** Where a place stands on one side: a row of a block, or nowhere. */
interface Spot {
  block: number;
  row: number;
}

/** Places that stand in one row before and in one row after. */
export interface RowPair {
  /** Numbers of places, as `Sides.places` knows them. */
  places: readonly number[];
  before: Spot;
  after: Spot;
}

/** Subjects whom neither side tells apart in the blocks of some pairs of rows, exceptions aside. */
export interface JointClass {
  /** Numbers of the class, -1 where there is none. */
  before: number;
  after: number;
  /** Numbers of subjects, as `Sides.everybody` knows them. */
  subjects: number[];
}

/** Pairs of rows of one block before and one block after, with the classes that the two have together. */
export interface Joint {
  pairs: RowPair[];
  classes: JointClass[];
}

/** More rows than any block has: block and row together make one number. */
const ROWS = 2 ** 24;
const NOWHERE: Spot = { block: -1, row: -1 };

const isGated = (index: AccessIndex, place: CompiledPlace): boolean =>
  place.unpublished || place.place.state !== "live" || index.places[place.space]?.place.state !== "live";

/** One side of a comparison: spots of places, cells of rows, each worked out once. */
class Side {
  private readonly rows = new Map<string, Uint16Array>();

  constructor(
    readonly index: AccessIndex | null,
    private readonly at: Instant,
    private readonly statesAside: boolean,
  ) {}

  spot(number: number): Spot {
    if (!this.index || number < 0) return NOWHERE;
    return { block: this.index.blockOf[number] as number, row: this.index.rowOf[number] as number };
  }

  tables(block: number): Tables | null {
    return this.index && block >= 0 ? tablesAt(this.index, this.index.blocks[block] as Block, this.at) : null;
  }

  cells({ block, row }: Spot): Uint16Array | null {
    const tables = this.tables(block);
    if (!this.index || !tables) return null;
    const whole = this.index.blocks[block] as Block;
    if (!this.statesAside) return keptCells(this.index, whole, tables, row, this.at);
    const key = `${block}|${row}`;
    const made = this.rows.get(key) ?? rowCells(this.index, whole, tables, row, this.at, true);
    this.rows.set(key, made);
    return made;
  }

  /** One subject at one place, past the tables. */
  walked(subject: CompiledSubject | undefined, number: number): Cell {
    const place = this.index?.places[number];
    if (!this.index || !subject || !place) return 0;
    return this.statesAside ? givenSet(this.index, subject, place, this.at) : walkedCell(this.index, subject, place, this.at);
  }

  /** Whether any class of a row has something there, exceptions aside. */
  opensToSomebody(spot: Spot): boolean {
    const cells = this.cells(spot);
    if (!cells) return false;
    const { counts } = this.tables(spot.block) as Tables;
    return cells.some((cell, number) => number !== PASS_CLASS && (counts[number] as number) > 0 && (cell & SET_OF_CELL) !== 0);
  }
}

/** Things of two indexes, numbered together. */
function paired(earlier: AccessIndex | null, later: AccessIndex, numbers: "subjectNumbers" | "placeNumbers"): Pairing {
  const count = (index: AccessIndex) => (numbers === "subjectNumbers" ? index.subjects.length : index.places.length);
  if (!earlier) return new Pairing(0, count(later));
  const goesOn =
    numbers === "subjectNumbers"
      ? later.subjectNumbers.goesOnFrom(earlier.subjectNumbers)
      : later.placeNumbers.goesOnFrom(earlier.placeNumbers);
  if (goesOn) return new Pairing(count(earlier), count(later));
  const ids = (index: AccessIndex) =>
    numbers === "subjectNumbers" ? index.subjects.map(({ key }) => key) : index.places.map(({ place }) => place.id);
  return new Pairing(ids(earlier), ids(later));
}

const NO_CLASS = -1;

/**
 * Two indexes side by side: rows paired with rows, subjects gathered into classes. An earlier index of null stands for
 * nothing at all. `whole` takes in what the two share, too.
 */
export class Sides {
  readonly before: Side;
  readonly after: Side;
  readonly everybody: Pairing;
  readonly places: Pairing;
  /** By number of the subject the places where the tables do not answer for it. */
  readonly apart: ReadonlyMap<number, ReadonlySet<number>>;
  readonly pairs: readonly RowPair[];
  private readonly pairOf = new Map<number, RowPair>();
  private joined: Joint[] | null = null;

  constructor(
    earlier: AccessIndex | null,
    later: AccessIndex,
    readonly at: Instant,
    private readonly options: { whole?: boolean; statesAside?: boolean } = {},
  ) {
    this.before = new Side(earlier, at, options.statesAside ?? false);
    this.after = new Side(later, at, options.statesAside ?? false);
    this.everybody = paired(earlier, later, "subjectNumbers");
    this.places = paired(earlier, later, "placeNumbers");
    this.pairs = this.pairRows();
    this.apart = this.exceptions();
  }

  subject(who: number): CompiledSubject {
    const { before, after, everybody } = this;
    return (after.index?.subjects[everybody.later(who)] ?? before.index?.subjects[everybody.earlier(who)]) as CompiledSubject;
  }

  idOf(where: number): string {
    const { before, after, places } = this;
    const place = after.index?.places[places.later(where)] ?? before.index?.places[places.earlier(where)];
    return (place as CompiledPlace).place.id;
  }

  private spotsOf = (where: number): { before: Spot; after: Spot } => ({
    before: this.before.spot(this.places.earlier(where)),
    after: this.after.spot(this.places.later(where)),
  });

  private pairRows(): RowPair[] {
    const pairs = new Map<number, Map<number, RowPair & { places: number[] }>>();
    const inOrder: RowPair[] = [];
    for (const where of this.placesCompared()) {
      if (this.pairOf.has(where)) continue;
      const { before, after } = this.spotsOf(where);
      const key = before.block * ROWS + before.row;
      const from = pairs.get(key) ?? new Map<number, RowPair & { places: number[] }>();
      pairs.set(key, from);
      const known = from.get(after.block * ROWS + after.row);
      known?.places.push(where);
      const pair = known ?? { places: [where], before, after };
      if (!known) {
        from.set(after.block * ROWS + after.row, pair);
        inOrder.push(pair);
      }
      this.pairOf.set(where, pair);
    }
    return inOrder;
  }

  /** Places of all blocks that the two indexes do not share; of rows that were carried over only those that changed themselves. */
  private *placesCompared(): IterableIterator<number> {
    const { whole, statesAside } = this.options;
    const kept = new Set<Block>(whole ? [] : this.before.index?.blocks);
    const shared = new Set(this.after.index?.blocks.filter((block) => kept.has(block)));
    for (const side of [this.before, this.after]) {
      const { index } = side;
      const earlier = side === this.before;
      const other = earlier ? this.after.index : this.before.index;
      for (const [number, block] of (index?.blocks ?? []).entries()) {
        if (!index || shared.has(block)) continue;
        const carried = whole ? null : this.carriedRows(number, earlier);
        for (const [row, { example, places }] of block.rows.entries()) {
          if (statesAside && !isGated(index, example)) continue;
          const same = carried?.has(row) ?? false;
          for (const at of places) {
            if (!same || other?.places[at] !== index.places[at]) yield this.places.number(at, earlier ? "earlier" : "later");
          }
        }
      }
    }
  }

  /** Rows of a block that say the same on both sides. */
  private carriedRows(block: number, earlier: boolean): ReadonlySet<number> | null {
    const later = this.after.index?.blocks[block]?.tables;
    if (!later?.carried || later.carried.from !== this.before.index?.blocks[block]?.tables) return null;
    const rows = new Set<number>();
    later.carried.rows.forEach((old, row) => {
      if (old >= 0) rows.add(earlier ? old : row);
    });
    return rows;
  }

  private exceptions(): Map<number, Set<number>> {
    const found = new Map<number, Set<number>>();
    const add = (who: number, where: number) => {
      const list = found.get(who);
      if (list) list.add(where);
      else found.set(who, new Set([where]));
    };
    for (const side of ["earlier", "later"] as const) {
      const index = (side === "earlier" ? this.before : this.after).index;
      const other = (side === "earlier" ? this.after : this.before).index;
      if (!index) continue;
      for (const where of this.pairOf.keys()) {
        const owner = index.ownerGate[this.places[side](where)] ?? -1;
        if (owner >= 0) add(this.everybody.number(owner, side), where);
      }
      for (const pass of index.document.passes) {
        const who = this.everybody.number(index.subjectNumbers.get(`pass:${pass.id}`) as number, side);
        const changed = other?.subjects[this.everybody[side === "earlier" ? "later" : "earlier"](who)]?.pass !== pass;
        if (!changed && this.pairOf.size === 0) continue;
        for (const { number: place } of placesOfPass(index, pass)) {
          const where = this.places.number(place, side);
          if (changed || this.pairOf.has(where)) add(who, where);
        }
      }
    }
    return found;
  }

  /** The pairs of rows by the blocks they are in, each with the classes of both. */
  get joints(): readonly Joint[] {
    if (this.joined) return this.joined;
    const byBlocks = new Map<string, RowPair[]>();
    for (const pair of this.pairs) {
      const key = `${pair.before.block}>${pair.after.block}`;
      const list = byBlocks.get(key);
      if (list) list.push(pair);
      else byBlocks.set(key, [pair]);
    }
    this.joined = [...byBlocks.values()].map((pairs) => ({ pairs, classes: this.classesOf(pairs[0] as RowPair) }));
    return this.joined;
  }

  private classesOf(pair: RowPair): JointClass[] {
    const was = this.before.tables(pair.before.block)?.classOf;
    const is = this.after.tables(pair.after.block)?.classOf;
    const classes = new Map<number, JointClass>();
    const { everybody } = this;
    for (let who = 0; who < everybody.count; who++) {
      const earlier = everybody.earlier(who);
      const later = everybody.later(who);
      const before = was && earlier >= 0 ? (was[earlier] as number) : NO_CLASS;
      const after = is && later >= 0 ? (is[later] as number) : NO_CLASS;
      const key = (before + 1) * 0x20000 + after + 1;
      const known = classes.get(key);
      if (known) known.subjects.push(who);
      else classes.set(key, { before, after, subjects: [who] });
    }
    // As rows have them, so that a row is gone through from its beginning to its end.
    return [...classes.values()].sort((a, b) => a.before - b.before || a.after - b.after);
  }

  /** What the tables say of one subject at one place, on both sides. */
  cellsFor(who: number, where: number): [Cell, Cell] {
    const pair = this.pairOf.get(where);
    const cell = (side: Side, spot: Spot, number: number) => {
      const cells = number < 0 ? null : side.cells(spot);
      return cells ? (cells[side.tables(spot.block)?.classOf[number] as number] as number) : 0;
    };
    if (!pair) return [0, 0];
    return [cell(this.before, pair.before, this.everybody.earlier(who)), cell(this.after, pair.after, this.everybody.later(who))];
  }

  /** One subject at one place on both sides, past the tables. */
  walkedFor(who: number, where: number): [Cell, Cell] {
    const { before, after, everybody, places } = this;
    return [
      before.walked(before.index?.subjects[everybody.earlier(who)], places.earlier(where)),
      after.walked(after.index?.subjects[everybody.later(who)], places.later(where)),
    ];
  }

  pairAt(where: number): RowPair | undefined {
    return this.pairOf.get(where);
  }

  /** Of some places those where, after the change, a draft's owner or a pass has something, whether or not the change is about them. */
  private openedApart(among: ReadonlySet<number>): Set<number> {
    const { index } = this.after;
    const opened = new Set<number>();
    if (!index || among.size === 0) return opened;
    const look = (subject: number, where: number) => {
      const it = index.subjects[subject];
      if (it && this.after.walked(it, this.places.later(where)) & SET_OF_CELL) opened.add(where);
    };
    for (const where of among) look(index.ownerGate[this.places.later(where)] ?? -1, where);
    for (const pass of index.document.passes) {
      for (const { number } of placesOfPass(index, pass)) {
        const where = this.places.number(number, "later");
        if (among.has(where)) look(index.subjectNumbers.get(`pass:${pass.id}`) as number, where);
      }
    }
    return opened;
  }

  /** Places that somebody had something at before and nobody has anything at after. */
  closedToAll(): string[] {
    const byPlace = new Map<number, number[]>();
    for (const [who, places] of this.apart) for (const where of places) byPlace.set(where, [...(byPlace.get(where) ?? []), who]);
    const opens = (side: 0 | 1, where: number) => (byPlace.get(where) ?? []).some((who) => this.walkedFor(who, where)[side] & SET_OF_CELL);
    // A pass that stops may be all that opened a place whose rules did not change.
    const others = [...byPlace.keys()].filter((where) => !this.pairOf.has(where));
    const alone = others.map((where) => ({ places: [where], ...this.spotsOf(where) }));
    const closed = [...this.pairs, ...alone].flatMap(({ places, before, after }) => {
      if (after.block < 0 || this.after.opensToSomebody(after)) return [];
      const opened = this.before.opensToSomebody(before);
      return places.filter((where) => (opened || opens(0, where)) && !opens(1, where));
    });
    // Or not all: of places whose rules did not change, `apart` holds those alone who changed themselves.
    const still = this.openedApart(new Set(closed.filter((where) => !this.pairOf.has(where))));
    return closed.filter((where) => !still.has(where)).map((where) => this.idOf(where));
  }
}
