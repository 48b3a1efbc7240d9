/**
 * The exact difference between two indexes, subject by subject and place by place, worked out on classes: blocks and rows
 * that the two share are left out; in the others rows are compared with rows, and subjects that neither side tells apart
 * are one. Own drafts and passes, which the tables leave out, are laid over it one by one.
 */
import { type AccessIndex, below, type CompiledPlace, type CompiledSubject, placeOf } from "./accessIndex.ts";
import { givenSet } from "./evaluate.ts";
import { Pairing } from "./pairing.ts";
import type { Block, Tables } from "./rows.ts";
import { type Cell, keptCells, PASS_CLASS, rowCells, SET_OF_CELL, tablesAt, walkedCell } from "./tables.ts";

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
    private readonly at: number,
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
  if (later[numbers].goesOnFrom(earlier[numbers])) return new Pairing(count(earlier), count(later));
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
    at: number,
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
        const place = placeOf(index, pass.place);
        const changed = other?.subjects[this.everybody[side === "earlier" ? "later" : "earlier"](who)]?.pass !== pass;
        if (!place || (!changed && this.pairOf.size === 0)) continue;
        for (const { at } of pass.below ? below(index, place) : [place]) {
          const where = this.places.number(at, side);
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
    return [...classes.values()];
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

  /** Places that somebody had something at before and nobody has anything at after. */
  closedToAll(): string[] {
    const byPlace = new Map<number, number[]>();
    for (const [who, places] of this.apart) for (const where of places) byPlace.set(where, [...(byPlace.get(where) ?? []), who]);
    const opens = (side: 0 | 1, where: number) => (byPlace.get(where) ?? []).some((who) => this.walkedFor(who, where)[side] & SET_OF_CELL);
    // A pass that stops may be all that opened a place whose rules did not change.
    const others = [...byPlace.keys()].filter((where) => !this.pairOf.has(where));
    const alone = others.map((where) => ({ places: [where], ...this.spotsOf(where) }));
    return [...this.pairs, ...alone].flatMap(({ places, before, after }) => {
      if (after.block < 0 || this.after.opensToSomebody(after)) return [];
      const opened = this.before.opensToSomebody(before);
      return places.filter((where) => (opened || opens(0, where)) && !opens(1, where)).map((where) => this.idOf(where));
    });
  }
}

type Change = { before: Cell; after: Cell; places: readonly number[] };

/** Changes of one subject after another: those with the very same history of changes end up together. */
class Gathering {
  private readonly numbers = new Map<string, number>();
  private readonly histories: { earlier: number; changes: readonly Change[] }[] = [{ earlier: -1, changes: [] }];
  private readonly historyOf: Int32Array;

  constructor(private readonly sides: Sides) {
    this.historyOf = new Int32Array(sides.everybody.count);
  }

  /** Adds the same changes to the histories of these subjects; `key` is equal for equal changes only. */
  add(subjects: readonly number[], key: string, changes: readonly Change[]): void {
    for (const who of subjects) {
      const earlier = this.historyOf[who] as number;
      const name = `${earlier}|${key}`;
      let number = this.numbers.get(name);
      if (number === undefined) {
        number = this.histories.length;
        this.numbers.set(name, number);
        this.histories.push({ earlier, changes });
      }
      this.historyOf[who] = number;
    }
  }

  differences(): Difference[] {
    const found = new Map<string, Difference>();
    for (let who = 0; who < this.historyOf.length; who++) {
      const history = this.historyOf[who] as number;
      if (history === 0) continue;
      const subject = this.sides.subject(who);
      const key = `${history}|${subject.class}`;
      const known = found.get(key);
      if (known) known.subjects.push(subject);
      else found.set(key, { subjects: [subject], changes: this.changesOf(history) });
    }
    return [...found.values()].filter(({ changes }) => changes.length > 0);
  }

  private changesOf(history: number): Difference["changes"] {
    const merged = new Map<number, { before: Cell; after: Cell; places: string[] }>();
    const chain: Change[] = [];
    for (let number = history; number > 0; ) {
      const { earlier, changes } = this.histories[number] as { earlier: number; changes: readonly Change[] };
      chain.unshift(...changes);
      number = earlier;
    }
    for (const { before, after, places } of chain) {
      const known = merged.get(before * 1024 + after);
      const ids = known?.places ?? [];
      for (const where of places) ids.push(this.sides.idOf(where));
      if (!known) merged.set(before * 1024 + after, { before, after, places: ids });
    }
    return [...merged.values()];
  }
}

interface PairedRow {
  pair: RowPair;
  was: Uint16Array | null;
  is: Uint16Array | null;
}

/** What changes for one class of a joint, and a text that is equal for equal changes. */
function changesIn(rows: readonly PairedRow[], it: JointClass) {
  const changes: (Change & { pair: RowPair })[] = [];
  let key = "";
  for (let i = 0; i < rows.length; i++) {
    const { pair, was, is } = rows[i] as PairedRow;
    const before = was && it.before >= 0 ? (was[it.before] as number) : 0;
    const after = is && it.after >= 0 ? (is[it.after] as number) : 0;
    if (before === after) continue;
    changes.push({ before, after, places: pair.places, pair });
    key += `${i}:${before}>${after},`;
  }
  return { changes, key };
}

/** Everything that differs between two sides, over every subject and every place; exact. */
export function differencesOf(sides: Sides): Difference[] {
  const gathering = new Gathering(sides);
  for (const [number, { pairs, classes }] of sides.joints.entries()) {
    const rows = pairs.map((pair): PairedRow => ({ pair, was: sides.before.cells(pair.before), is: sides.after.cells(pair.after) }));
    for (const it of classes) {
      const { changes, key } = changesIn(rows, it);
      if (changes.length === 0) continue;
      const changed = new Set(changes.map(({ pair }) => pair));
      const concerns = (who: number) => [...(sides.apart.get(who) ?? [])].some((where) => changed.has(sides.pairAt(where) as RowPair));
      const excepted = sides.apart.size === 0 ? [] : it.subjects.filter(concerns);
      const plain = excepted.length === 0 ? it.subjects : it.subjects.filter((who) => !excepted.includes(who));
      gathering.add(plain, `${number}#${key}`, changes);
      for (const who of excepted) {
        const apart = sides.apart.get(who);
        const elsewhere = changes.map((change) => ({ ...change, places: change.places.filter((where) => !apart?.has(where)) }));
        gathering.add(
          [who],
          `${number}#${who}`,
          elsewhere.filter(({ places }) => places.length > 0),
        );
      }
    }
  }
  for (const [who, places] of sides.apart) {
    const changes = [...places].flatMap((where): Change[] => {
      const [before, after] = sides.walkedFor(who, where);
      return before === after ? [] : [{ before, after, places: [where] }];
    });
    if (changes.length > 0) gathering.add([who], `apart ${who}`, changes);
  }
  return gathering.differences();
}
