/** Everything that differs between two sides, gathered by subjects who lose and gain the same. */

import type { Cell } from "../decide/index.ts";
import type { CompiledSubject } from "../index/index.ts";
import type { Joint, RowPair, Sides } from "./compare.ts";

/** Ids of places. */
export type PlaceGroup = readonly string[];

export interface Difference {
  /** Subjects that lose and gain the very same at the very same places. */
  subjects: CompiledSubject[];
  /** `groups`: numbers of groups of places. */
  changes: { before: Cell; after: Cell; groups: readonly number[] }[];
}

export interface Differences {
  /** Groups of places by number; many differences share them. */
  places: readonly PlaceGroup[];
  found: Difference[];
}

/** More than there are cells: what was and what is there make one number. */
const CELLS = 1024;

/** What changes for somebody: by the cells before and after, the numbers of the groups of places where. */
type Changes = ReadonlyMap<number, readonly number[]>;

/** More lists than there ever are: history and list together make one number. */
const MOST_LISTS = 2 ** 26;

/** Changes of one subject after another: those with the very same history of changes end up together. */
class Gathering {
  readonly places: PlaceGroup[] = [];
  private readonly numberOf = new Map<RowPair, number>();
  private readonly lists = new Map<Changes, number>();
  private readonly numbers = new Map<number, number>();
  private readonly histories: { earlier: number; changes: Changes }[] = [{ earlier: -1, changes: new Map() }];
  private readonly historyOf: Int32Array;

  constructor(private readonly sides: Sides) {
    this.historyOf = new Int32Array(sides.everybody.count);
  }

  /** A group of these places, as `Sides.places` knows them, for who has one by themselves. */
  group(places: readonly number[]): number {
    return this.places.push(places.map((where) => this.sides.idOf(where))) - 1;
  }

  /** The group of the places of a pair of rows. */
  groupOf(pair: RowPair): number {
    const known = this.numberOf.get(pair) ?? this.group(pair.places);
    this.numberOf.set(pair, known);
    return known;
  }

  /** Adds the same changes to the histories of these subjects; who is given the same list has the same ones. */
  add(subjects: readonly number[], changes: Changes): void {
    const nth = this.lists.get(changes) ?? this.lists.size;
    this.lists.set(changes, nth);
    for (const who of subjects) {
      const earlier = this.historyOf[who] as number;
      const name = earlier * MOST_LISTS + nth;
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
    return [...found.values()];
  }

  private changesOf(history: number): Difference["changes"] {
    const chain: Changes[] = [];
    for (let number = history; number > 0; ) {
      const { earlier, changes } = this.histories[number] as { earlier: number; changes: Changes };
      chain.unshift(changes);
      number = earlier;
    }
    const merged = new Map<number, readonly number[]>();
    for (const changes of chain)
      for (const [cells, groups] of changes) {
        const known = merged.get(cells);
        merged.set(cells, known ? [...known, ...groups] : groups);
      }
    return [...merged].map(([cells, groups]) => ({ before: Math.floor(cells / CELLS), after: cells % CELLS, groups }));
  }
}

/** No change, as the kind of what changes for a class in a row. */
const SAME = 0;

/** By cells before and after the kind of change they are in the row at hand; all the same again after each row. Four megabytes: made once, not for each joint. */
const kinds = new Int32Array(CELLS * CELLS).fill(SAME);

/**
 * What changes for the classes of a joint, row after row. Classes for which the very same has changed so far are in one
 * branch of the tree; a row splits branches by the cells that it has for them before and after.
 */
class StepTree {
  /** Of each step the pair of rows, the cells before and after, and the step before it; the first stands for none. */
  readonly pairs: number[] = [-1];
  readonly cells: number[] = [0];
  readonly earlier: number[] = [-1];
  /** By number of a class its branch, and by branch its last step. */
  private readonly branchOf: Uint32Array;
  private lastOf: number[] = [0];
  /** By number of a class of the joint its number before and after, -1 where there is none. */
  private readonly before: Int32Array;
  private readonly after: Int32Array;
  /** Of the row at hand: by number of a class the kind of its change, by kind the cells. */
  private readonly kindOf: Uint32Array;
  private cellsOfKind: number[] = [];

  constructor({ pairs, classes }: Joint, sides: Sides) {
    this.branchOf = new Uint32Array(classes.length);
    this.kindOf = new Uint32Array(classes.length);
    this.before = Int32Array.from(classes, (it) => it.before);
    this.after = Int32Array.from(classes, (it) => it.after);
    pairs.forEach((pair, number) => {
      this.readRow(sides.before.cells(pair.before) ?? NO_CELLS, sides.after.cells(pair.after) ?? NO_CELLS);
      if (this.cellsOfKind.length > 1) this.split(number);
    });
  }

  /** The last step of a class, 0 where nothing changes for it. */
  lastStep(number: number): number {
    return this.lastOf[this.branchOf[number] as number] as number;
  }

  private readRow(was: Uint16Array, is: Uint16Array): void {
    const { kindOf, before, after } = this;
    const found = [SAME];
    for (let i = 0; i < kindOf.length; i++) {
      const earlier = before[i] as number;
      const later = after[i] as number;
      const had = earlier < 0 ? 0 : (was[earlier] as number);
      const has = later < 0 ? 0 : (is[later] as number);
      const cells = had * CELLS + has;
      if (had !== has && kinds[cells] === SAME) kinds[cells] = found.push(cells) - 1;
      kindOf[i] = had === has ? SAME : (kinds[cells] as number);
    }
    for (const cells of found) kinds[cells] = SAME;
    this.cellsOfKind = found;
  }

  private split(pair: number): void {
    const { branchOf, kindOf, cellsOfKind, lastOf } = this;
    const into = new Int32Array(lastOf.length * cellsOfKind.length).fill(-1);
    const then: number[] = [];
    for (let i = 0; i < branchOf.length; i++) {
      const branch = branchOf[i] as number;
      const kind = kindOf[i] as number;
      const at = branch * cellsOfKind.length + kind;
      if (into[at] === -1) {
        const last = lastOf[branch] as number;
        into[at] = then.push(kind === SAME ? last : this.step(last, pair, cellsOfKind[kind] as number)) - 1;
      }
      branchOf[i] = into[at] as number;
    }
    this.lastOf = then;
  }

  private step(earlier: number, pair: number, cells: number): number {
    this.earlier.push(earlier);
    this.cells.push(cells);
    return this.pairs.push(pair) - 1;
  }

  /** The steps up to one, in order; `groupAt` says which group of places stands for a pair of rows, -1 where none is left. */
  changesUpTo(last: number, groupAt: (pair: number) => number): Changes {
    const steps: number[] = [];
    for (let step = last; step > 0; step = this.earlier[step] as number) steps.push(step);
    const changes = new Map<number, number[]>();
    // Most often the cells are the same from one step to the next.
    let known = -1;
    let list: number[] = [];
    for (const step of steps.reverse()) {
      const group = groupAt(this.pairs[step] as number);
      if (group < 0) continue;
      const cells = this.cells[step] as number;
      if (cells !== known) {
        list = changes.get(cells) ?? [];
        changes.set(cells, list);
        known = cells;
      }
      list.push(group);
    }
    return changes;
  }
}

/** The row of a block that is not there: no class of the joint has a number in it. */
const NO_CELLS = new Uint16Array(0);

/** Of subjects whom the tables do not answer for at places of some pairs: where, by the number of the pair. */
function exceptionsIn({ pairs }: Joint, sides: Sides): Map<number, Map<number, Set<number>>> {
  const numberOf = new Map(pairs.map((pair, i) => [pair, i]));
  const found = new Map<number, Map<number, Set<number>>>();
  for (const [who, places] of sides.apart) {
    for (const where of places) {
      const pair = sides.pairAt(where);
      const number = pair && numberOf.get(pair);
      if (number === undefined) continue;
      const byPair = found.get(who) ?? new Map<number, Set<number>>();
      found.set(who, byPair);
      byPair.set(number, (byPair.get(number) ?? new Set()).add(where));
    }
  }
  return found;
}

/** Gathers what changes by the tables of a joint; for those whom these do not answer for at a place, without that place. */
function gatherJoint(gathering: Gathering, joint: Joint, sides: Sides): void {
  const { pairs, classes } = joint;
  const excepted = exceptionsIn(joint, sides);
  const tree = new StepTree(joint, sides);
  const groups = pairs.map(() => -1);
  const groupAt = (pair: number): number => {
    if (groups[pair] === -1) groups[pair] = gathering.groupOf(pairs[pair] as RowPair);
    return groups[pair] as number;
  };
  const known = new Map<number, Changes>();
  for (const [i, { subjects }] of classes.entries()) {
    const last = tree.lastStep(i);
    if (last === 0) continue;
    const apart = excepted.size === 0 ? [] : subjects.filter((who) => excepted.has(who));
    const set = new Set(apart);
    const others = apart.length === 0 ? subjects : subjects.filter((who) => !set.has(who));
    if (others.length > 0) {
      const changes = known.get(last) ?? tree.changesUpTo(last, groupAt);
      known.set(last, changes);
      gathering.add(others, changes);
    }
    for (const who of apart) {
      const without = excepted.get(who) as Map<number, Set<number>>;
      const changes = tree.changesUpTo(last, (pair) => {
        const places = without.get(pair);
        const left = places && (pairs[pair] as RowPair).places.filter((where) => !places.has(where));
        return left ? (left.length > 0 ? gathering.group(left) : -1) : groupAt(pair);
      });
      if (changes.size > 0) gathering.add([who], changes);
    }
  }
}

/** Everything that differs between two sides, over every subject and every place; exact. */
export function differencesOf(sides: Sides): Differences {
  const gathering = new Gathering(sides);
  for (const joint of sides.joints) gatherJoint(gathering, joint, sides);
  for (const [who, places] of sides.apart) {
    const changes = new Map<number, number[]>();
    for (const where of places) {
      const [before, after] = sides.walkedFor(who, where);
      if (before === after) continue;
      const cells = before * CELLS + after;
      changes.set(cells, [...(changes.get(cells) ?? []), gathering.group([where])]);
    }
    if (changes.size > 0) gathering.add([who], changes);
  }
  return { places: gathering.places, found: gathering.differences() };
}
