/** Everything that differs between two sides, gathered by subjects who lose and gain the same. */

import type { Cell } from "../decide/index.ts";
import type { CompiledSubject } from "../index/index.ts";
import type { Joint, JointClass, RowPair, Sides } from "./compare.ts";

/** Ids of places. */
export type PlaceGroup = readonly string[];

export interface Difference {
  /** Subjects that lose and gain the very same at the very same places. */
  subjects: CompiledSubject[];
  changes: { before: Cell; after: Cell; groups: PlaceGroup[] }[];
}

type Change = { before: Cell; after: Cell; places: readonly number[] };

/** More lists than there ever are: history and list together make one number. */
const MOST_LISTS = 2 ** 26;

/** More than there are cells. */
const CELLS = 1024;

/** Changes of one subject after another: those with the very same history of changes end up together. */
class Gathering {
  private readonly lists = new Map<readonly Change[], number>();
  private readonly numbers = new Map<number, number>();
  private readonly histories: { earlier: number; changes: readonly Change[] }[] = [{ earlier: -1, changes: [] }];
  private readonly historyOf: Int32Array;
  private readonly groups = new Map<readonly number[], PlaceGroup>();

  constructor(private readonly sides: Sides) {
    this.historyOf = new Int32Array(sides.everybody.count);
  }

  /** Adds the same changes to the histories of these subjects; who is given the same list has the same ones. */
  add(subjects: readonly number[], changes: readonly Change[]): void {
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
    return [...found.values()].filter(({ changes }) => changes.length > 0);
  }

  private changesOf(history: number): Difference["changes"] {
    const merged = new Map<number, Difference["changes"][number]>();
    const chain: Change[] = [];
    for (let number = history; number > 0; ) {
      const { earlier, changes } = this.histories[number] as { earlier: number; changes: readonly Change[] };
      chain.unshift(...changes);
      number = earlier;
    }
    for (const { before, after, places } of chain) {
      const known = merged.get(before * CELLS + after);
      if (known) known.groups.push(this.groupOf(places));
      else merged.set(before * CELLS + after, { before, after, groups: [this.groupOf(places)] });
    }
    return [...merged.values()];
  }

  /** The places of a list by their ids: the same list is the same group, for however many subjects. */
  private groupOf(places: readonly number[]): PlaceGroup {
    const known = this.groups.get(places) ?? places.map((where) => this.sides.idOf(where));
    this.groups.set(places, known);
    return known;
  }
}

/** One change after others: classes with the same changes up to a pair of rows have them in common. */
interface Step {
  earlier: Step | null;
  pair: RowPair;
  before: Cell;
  after: Cell;
}

/** What changes for the classes of a joint: for each the last of its changes, the same for all with the very same ones. */
function lastSteps({ pairs, classes }: Joint, sides: Sides): (Step | null)[] {
  const last: (Step | null)[] = new Array(classes.length).fill(null);
  for (const pair of pairs) {
    const [was, is] = [sides.before.cells(pair.before), sides.after.cells(pair.after)];
    const made = new Map<Step | null, Map<number, Step>>();
    for (let i = 0; i < classes.length; i++) {
      const it = classes[i] as JointClass;
      const before = was && it.before >= 0 ? (was[it.before] as number) : 0;
      const after = is && it.after >= 0 ? (is[it.after] as number) : 0;
      if (before === after) continue;
      const earlier = last[i] as Step | null;
      const cells = made.get(earlier) ?? new Map<number, Step>();
      made.set(earlier, cells);
      const step = cells.get(before * CELLS + after) ?? { earlier, pair, before, after };
      cells.set(before * CELLS + after, step);
      last[i] = step;
    }
  }
  return last;
}

type StepChange = Change & { pair: RowPair };

function changesUpTo(last: Step): StepChange[] {
  const changes: StepChange[] = [];
  for (let step: Step | null = last; step; step = step.earlier)
    changes.push({ before: step.before, after: step.after, places: step.pair.places, pair: step.pair });
  return changes.reverse();
}

/** Everything that differs between two sides, over every subject and every place; exact. */
export function differencesOf(sides: Sides): Difference[] {
  const gathering = new Gathering(sides);
  for (const joint of sides.joints) {
    const steps = lastSteps(joint, sides);
    const known = new Map<Step, StepChange[]>();
    for (const [i, it] of joint.classes.entries()) {
      const last = steps[i];
      if (!last) continue;
      const changes = known.get(last) ?? changesUpTo(last);
      known.set(last, changes);
      addClass(gathering, sides, it.subjects, changes);
    }
  }
  for (const [who, places] of sides.apart) {
    const changes = [...places].flatMap((where): Change[] => {
      const [before, after] = sides.walkedFor(who, where);
      return before === after ? [] : [{ before, after, places: [where] }];
    });
    if (changes.length > 0) gathering.add([who], changes);
  }
  return gathering.differences();
}

/** Adds what changes for the subjects of a class; for those whom its tables do not answer for at a place, without that place. */
function addClass(gathering: Gathering, sides: Sides, subjects: readonly number[], changes: readonly StepChange[]): void {
  const changed = new Set(changes.map(({ pair }) => pair));
  const concerns = (who: number) => [...(sides.apart.get(who) ?? [])].some((where) => changed.has(sides.pairAt(where) as RowPair));
  const excepted = sides.apart.size === 0 ? [] : subjects.filter(concerns);
  const known = new Set(excepted);
  gathering.add(excepted.length === 0 ? subjects : subjects.filter((who) => !known.has(who)), changes);
  for (const who of excepted) {
    const apart = sides.apart.get(who);
    const touched = new Set([...(apart ?? [])].map((where) => sides.pairAt(where)));
    const elsewhere = changes.map((change) =>
      touched.has(change.pair) ? { ...change, places: change.places.filter((where) => !apart?.has(where)) } : change,
    );
    gathering.add(
      [who],
      elsewhere.filter(({ places }) => places.length > 0),
    );
  }
}
