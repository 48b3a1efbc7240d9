/** The ripple of a change: who gains and who loses what (access-model.md, section 8). */

import { type Cell, effectiveSet, OVERSEES, SET_OF_CELL } from "../decide/index.ts";
import { type AccessIndex, placeOf, type SubjectClass, subjectOf } from "../index/index.ts";
import { type Ability, abilitiesIn, type Instant, type Pass, READ } from "../model/index.ts";
import { Sides } from "./compare.ts";
import { type Differences, differencesOf, type PlaceGroup } from "./differences.ts";
import { comparePledges, type PledgeBreak } from "./pledges.ts";

/** One line of a ripple: these subjects, at these places, gain and lose exactly this. */
export interface RippleEntry {
  class: SubjectClass;
  /** Keys as `subjectKey` writes them. Entries are about the very same subjects, or have none in common. */
  subjects: string[];
  /** Where: numbers of groups of places whose rules are alike. No place is in two groups of one entry. */
  groups: readonly number[];
  before: Ability[];
  after: Ability[];
  gains: Ability[];
  losses: Ability[];
  oversight: "gained" | "lost" | "same";
}

/** Lines of a ripple, and the groups of places they are about: each once, however many lines share it. */
export interface RippleLines {
  places: readonly PlaceGroup[];
  /** Outsiders first, then guests, then members. */
  entries: RippleEntry[];
}

export interface Ripple extends RippleLines {
  passes: { start: string[]; stop: string[] };
  pledges: { break: PledgeBreak[]; mend: string[] };
  /** Places that somebody could open before and that nobody but overseers has anything at now. */
  closedToAll: string[];
}

export interface RippleCount {
  class: SubjectClass;
  gaining: number;
  losing: number;
  gainedPlaces: number;
  lostPlaces: number;
}

const ORDER: readonly SubjectClass[] = ["outsiders", "guests", "members"];

const abilitiesOf = (cell: Cell): Ability[] => abilitiesIn(cell & SET_OF_CELL);

/** Puts differences into lines, the outside first. */
export function linesOf({ places, found }: Differences): RippleLines {
  const lines = found.flatMap(({ subjects, changes }) => {
    const keys = subjects.map(({ key }) => key);
    return changes.map(
      ({ before, after, groups }): RippleEntry => ({
        class: subjects[0]?.class ?? "members",
        subjects: keys,
        groups,
        before: abilitiesOf(before),
        after: abilitiesOf(after),
        gains: abilitiesOf(after & ~before),
        losses: abilitiesOf(before & ~after),
        oversight: (before & OVERSEES) === (after & OVERSEES) ? "same" : after & OVERSEES ? "gained" : "lost",
      }),
    );
  });
  return { places, entries: lines.sort((a, b) => ORDER.indexOf(a.class) - ORDER.indexOf(b.class)) };
}

const works = (index: AccessIndex, pass: Pass, at: Instant): boolean => {
  const subject = subjectOf(index, { pass: pass.id });
  const place = placeOf(index, pass.place);
  return subject !== undefined && place !== undefined && (effectiveSet(index, subject, place, at) & READ) !== 0;
};

function comparePasses(before: AccessIndex, after: AccessIndex, at: Instant): Ripple["passes"] {
  const passes = new Map([...before.document.passes, ...after.document.passes].map((pass) => [pass.id, pass]));
  const start: string[] = [];
  const stop: string[] = [];
  for (const pass of passes.values()) {
    const [worked, worksNow] = [works(before, pass, at), works(after, pass, at)];
    if (worksNow && !worked) start.push(pass.id);
    if (worked && !worksNow) stop.push(pass.id);
  }
  return { start, stop };
}

/**
 * Compares two compiled documents over every subject and every place at one instant (milliseconds since the epoch);
 * exact, not sampled. A subject or place that one of them lacks holds nothing there. What the two share by `update` is
 * not looked at. Implements section 8.
 */
export function ripple(before: AccessIndex, after: AccessIndex, at: Instant): Ripple {
  // What the document does not hold was changed, and nothing else.
  if (before === after)
    return { places: [], entries: [], passes: { start: [], stop: [] }, pledges: { break: [], mend: [] }, closedToAll: [] };
  const sides = new Sides(before, after, at);
  return {
    ...linesOf(differencesOf(sides)),
    passes: comparePasses(before, after, at),
    pledges: comparePledges(sides, before, after, at),
    closedToAll: sides.closedToAll(),
  };
}

export const isEmptyRipple = (it: Ripple): boolean =>
  it.entries.length === 0 && it.pledges.break.length === 0 && it.pledges.mend.length === 0;

/** Ids of the places of an entry, each once. */
export const placesOf = ({ places }: RippleLines, { groups }: Pick<RippleEntry, "groups">): string[] =>
  groups.flatMap((number) => places[number] ?? []);

/** Groups of places that may have some in common: which places any of them hold together, each once. */
export class Union {
  private readonly ids: string[];
  private readonly numbers: readonly Int32Array[];

  constructor(groups: readonly PlaceGroup[]) {
    const known = new Map<string, number>();
    const numberOf = (id: string): number => {
      const number = known.get(id) ?? known.size;
      known.set(id, number);
      return number;
    };
    this.numbers = groups.map((group) => Int32Array.from(group, numberOf));
    this.ids = [...known.keys()];
  }

  /** Ids of the places of the groups that are marked by number. */
  of(marked: Uint8Array): string[] {
    const seen = new Uint8Array(this.ids.length);
    this.numbers.forEach((group, number) => {
      if (marked[number]) for (const place of group) seen[place] = 1;
    });
    return this.ids.filter((_, number) => seen[number]);
  }
}

const unions = new WeakMap<RippleLines["places"], Union>();

/** Ids of all places that some entries are about; a group that many share is looked at once. */
export function distinctPlaces({ places }: RippleLines, entries: readonly Pick<RippleEntry, "groups">[]): string[] {
  const about = new Uint8Array(places.length);
  for (const { groups } of entries) for (const number of groups) about[number] = 1;
  const union = unions.get(places) ?? new Union(places);
  unions.set(places, union);
  return union.of(about);
}

/** The lists of subjects that some entries are about, each once. */
export const peopleOf = (entries: readonly RippleEntry[]): (readonly string[])[] => [
  ...new Map(entries.map(({ subjects }) => [subjects[0], subjects])).values(),
];

/** Numbers of subjects and places of each class that gain or lose something; classes with neither are left out. */
export function countRipple(it: Ripple): RippleCount[] {
  return ORDER.flatMap((name) => {
    const entries = it.entries.filter((entry) => entry.class === name);
    if (entries.length === 0) return [];
    const people = (pick: (entry: RippleEntry) => boolean) => peopleOf(entries.filter(pick)).reduce((sum, { length }) => sum + length, 0);
    const places = (pick: (entry: RippleEntry) => boolean) => distinctPlaces(it, entries.filter(pick)).length;
    const gains = (entry: RippleEntry) => entry.gains.length > 0 || entry.oversight === "gained";
    const loses = (entry: RippleEntry) => entry.losses.length > 0 || entry.oversight === "lost";
    return [
      {
        class: name,
        gaining: people(gains),
        losing: people(loses),
        gainedPlaces: places(gains),
        lostPlaces: places(loses),
      },
    ];
  });
}
