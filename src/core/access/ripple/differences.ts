/** Everything that differs between two sides, gathered by subjects who lose and gain the same. */

import type { Cell } from "../decide/index.ts";
import type { CompiledSubject } from "../index/index.ts";
import type { JointClass, RowPair, Sides } from "./compare.ts";

/** Ids of places. */
export type PlaceGroup = readonly string[];

export interface Difference {
  /** Subjects that lose and gain the very same at the very same places. */
  subjects: CompiledSubject[];
  changes: { before: Cell; after: Cell; groups: PlaceGroup[] }[];
}

type Change = { before: Cell; after: Cell; places: readonly number[] };

/** Changes of one subject after another: those with the very same history of changes end up together. */
class Gathering {
  private readonly numbers = new Map<string, number>();
  private readonly histories: { earlier: number; changes: readonly Change[] }[] = [{ earlier: -1, changes: [] }];
  private readonly historyOf: Int32Array;
  private readonly groups = new Map<readonly number[], PlaceGroup>();

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
    const merged = new Map<number, Difference["changes"][number]>();
    const chain: Change[] = [];
    for (let number = history; number > 0; ) {
      const { earlier, changes } = this.histories[number] as { earlier: number; changes: readonly Change[] };
      chain.unshift(...changes);
      number = earlier;
    }
    for (const { before, after, places } of chain) {
      const known = merged.get(before * 1024 + after);
      if (known) known.groups.push(this.groupOf(places));
      else merged.set(before * 1024 + after, { before, after, groups: [this.groupOf(places)] });
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
        const touched = new Set([...(apart ?? [])].map((where) => sides.pairAt(where)));
        const elsewhere = changes.map((change) =>
          touched.has(change.pair) ? { ...change, places: change.places.filter((where) => !apart?.has(where)) } : change,
        );
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
