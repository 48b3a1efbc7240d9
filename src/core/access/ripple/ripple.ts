/** The ripple of a change: who gains and who loses what (access-model.md, section 8). */

import { type Cell, effectiveSet, OVERSEES, SET_OF_CELL } from "../decide/index.ts";
import { type AccessIndex, placeOf, type SubjectClass, subjectOf } from "../index/index.ts";
import { type Ability, abilitiesIn, type Instant, type Pass, READ } from "../model/index.ts";
import { Sides } from "./compare.ts";
import { type Difference, differencesOf, type PlaceGroup } from "./differences.ts";
import { comparePledges, type PledgeBreak } from "./pledges.ts";

/** One line of a ripple: these subjects, at these places, gain and lose exactly this. */
export interface RippleEntry {
  class: SubjectClass;
  /** Keys as `subjectKey` writes them. */
  subjects: string[];
  /** Where, by groups of places whose rules are alike: entries share them, no place is in two of one entry. */
  groups: readonly PlaceGroup[];
  before: Ability[];
  after: Ability[];
  gains: Ability[];
  losses: Ability[];
  oversight: "gained" | "lost" | "same";
}

export interface Ripple {
  /** Outsiders first, then guests, then members. */
  entries: RippleEntry[];
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
export function linesOf(differences: readonly Difference[]): RippleEntry[] {
  const lines = differences.flatMap(({ subjects, changes }) => {
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
  return lines.sort((a, b) => ORDER.indexOf(a.class) - ORDER.indexOf(b.class));
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
  const sides = new Sides(before, after, at);
  return {
    entries: linesOf(differencesOf(sides)),
    passes: comparePasses(before, after, at),
    pledges: comparePledges(sides, before, after, at),
    closedToAll: sides.closedToAll(),
  };
}

export const isEmptyRipple = (it: Ripple): boolean =>
  it.entries.length === 0 && it.pledges.break.length === 0 && it.pledges.mend.length === 0;

/** Ids of all places that some entries are about; a group that many share is looked at once. */
export function distinctPlaces(entries: readonly Pick<RippleEntry, "groups">[]): Set<string> {
  const groups = new Set<PlaceGroup>();
  for (const entry of entries) for (const group of entry.groups) groups.add(group);
  return new Set([...groups].flat());
}

/** Numbers of subjects and places of each class that gain or lose something; classes with neither are left out. */
export function countRipple(it: Ripple): RippleCount[] {
  return ORDER.flatMap((name) => {
    const entries = it.entries.filter((entry) => entry.class === name);
    if (entries.length === 0) return [];
    const people = (pick: (entry: RippleEntry) => boolean) => new Set(entries.filter(pick).flatMap(({ subjects }) => subjects)).size;
    const places = (pick: (entry: RippleEntry) => boolean) => distinctPlaces(entries.filter(pick)).size;
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
