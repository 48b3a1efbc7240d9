/** Cells of the grid: what a viewpoint has at each place, for one person or for many. */

import type { GridCell } from "../../../contracts/grid.ts";
import { decide, GUEST, MEMBER, OVERSEES, rowOfPlace, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import {
  type AccessIndex,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  peopleOf,
  placeOf,
  subjectOf,
  type Tables,
} from "../../../core/access/index/index.ts";
import { type Instant, levelOf, readViewpoint, type SubjectNumber, subjectBehind } from "../../../core/access/model/index.ts";
import { imaginedIn } from "../../access/imagined.ts";
import type { Sight } from "./sight.ts";

/** The subjects behind a viewpoint; none if it names nobody. Imagined people are in no index but their own (`imaginedIn`). */
function subjectsBehind(index: AccessIndex, text: string, at: Instant): CompiledSubject[] {
  const viewpoint = readViewpoint(text);
  if (!viewpoint) return [];
  const { kind } = viewpoint;
  if (kind === "guests" || kind === "members") return index.subjects.filter((it) => it.person && isActive(it, at) && it.class === kind);
  if (kind === "group") return peopleOf(index, { group: viewpoint.id }, at);
  const subject = subjectBehind(viewpoint);
  const one = subject ? subjectOf(index, subject) : undefined;
  return one ? [one] : [];
}

/** One column over many places: its subjects are counted by class once for each block. */
class Column {
  private readonly numbers: ReadonlySet<number>;
  private readonly counted = new Map<object, Map<number, { count: number; example: CompiledSubject }>>();

  constructor(
    private readonly index: AccessIndex,
    private readonly subjects: readonly CompiledSubject[],
    private readonly at: Instant,
    /** The kind of class, where these are all the active people of a kind. */
    private readonly kind: number | null,
  ) {
    this.numbers = new Set(subjects.map((subject) => subject.number));
  }

  /** How many of the column's subjects are in each class of a block; of a whole kind of people the block knows that already. */
  private countIn({ classOf, counts: all, kinds, examples }: Tables) {
    const known = this.counted.get(classOf);
    if (known) return known;
    const counts = new Map<number, { count: number; example: CompiledSubject }>();
    if (this.kind !== null) {
      for (const [number, example] of examples.entries())
        if (kinds[number] === this.kind && example) counts.set(number, { count: all[number] as number, example });
    } else {
      for (const subject of this.subjects) {
        const number = classOf[subject.number] as number;
        const it = counts.get(number);
        if (it) it.count++;
        else counts.set(number, { count: 1, example: subject });
      }
    }
    this.counted.set(classOf, counts);
    return counts;
  }

  /** What the subjects have at a place, and how many have just that. Whoever owns a draft, or holds a pass, counts alone. */
  private cellsAt(place: CompiledPlace): { cell: number; count: number }[] {
    const { index, at } = this;
    if (this.subjects.length === 1)
      return this.subjects.map((subject) => ({ cell: decide(index, subject.number, place.number, at), count: 1 }));
    const { row: cells, tables } = rowOfPlace(index, place.number, at);
    const { classOf } = tables;
    const owner = index.ownerGate[place.number] as SubjectNumber;
    const alone = this.numbers.has(owner) ? owner : null;
    const found = [...this.countIn(tables)].map(([number, { count }]) => ({
      cell: cells[number] as number,
      count: alone !== null && classOf[alone] === number ? count - 1 : count,
    }));
    if (alone !== null) found.push({ cell: decide(index, alone, place.number, at), count: 1 });
    return found.filter(({ count }) => count > 0);
  }

  private namedAt(place: CompiledPlace): boolean {
    if (place.fresh || place.fences.length > 0) return true;
    const running = place.grants.filter((grant) => grant.until > this.at);
    if (running.length === 0) return false;
    return [...this.countIn(rowOfPlace(this.index, place.number, this.at).tables).values()].some(({ example }) =>
      running.some((grant) => example.matches.has(grant.to)),
    );
  }

  cell(place: CompiledPlace): GridCell | null {
    if (this.subjects.length === 0) return null;
    const found = this.cellsAt(place);
    const set = found.reduce((common, { cell }) => common & cell, SET_OF_CELL);
    return {
      set,
      level: levelOf(set),
      more: found.reduce((sum, { cell, count }) => sum + ((cell & SET_OF_CELL) === set ? 0 : count), 0),
      here: this.namedAt(place),
      oversight: found.some(({ cell }) => (cell & OVERSEES) !== 0),
    };
  }
}

/** A column of some rules at an instant: whoever is imagined stands in an index of their own, and is counted nowhere else. */
function columnOf(index: AccessIndex, key: string, subjects: readonly CompiledSubject[], at: Instant): Column {
  const viewpoint = readViewpoint(key);
  if (viewpoint?.kind === "imagined") {
    const made = imaginedIn(index, { kind: viewpoint.of, groups: viewpoint.groups });
    return new Column(made?.index ?? index, made ? [made.subject] : [], at, null);
  }
  const kinds: Record<string, number> = { guests: GUEST, members: MEMBER };
  return new Column(index, subjects, at, kinds[key] ?? null);
}

/** The cells as somebody sees them, of the rules they look at, where they may know what others can do; null where a column shows nobody. */
export function cellsSeen(sight: Sight, columns: readonly string[], places: readonly CompiledPlace[]): Map<string, (GridCell | null)[]> {
  const { index, at } = sight.access;
  const shown = columns.map((key) => columnOf(index, key, subjectsSeen(sight, key), at));
  return new Map(places.filter(sight.tells).map((place) => [place.place.id, shown.map((column) => column.cell(place))]));
}

/** The subjects of a column as somebody sees them: a pass to a place they do not keep is none for them. */
export const subjectsSeen = ({ access: { index, at }, tells }: Sight, column: string): CompiledSubject[] =>
  subjectsBehind(index, column, at).filter(({ pass }) => {
    const place = pass === null ? undefined : placeOf(index, pass.place);
    return pass === null || (place !== undefined && tells(place));
  });
