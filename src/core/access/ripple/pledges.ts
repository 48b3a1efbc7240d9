/** Pledges: statements about access that must stay true (access-model.md, section 9). */

import { type Explanation, explain } from "../explain/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, endsAround, isActive, placeOf, subjectOf } from "../index/index.ts";
import { bitOf, type Instant, type Pledge, principalKey, subjectOfKey } from "../model/index.ts";
import { type RowPair, Sides } from "./compare.ts";

/** A pledge that does not hold: for how many pairs of a subject and a place, and one of them as a witness. */
export interface PledgeBreak {
  pledge: string;
  /** Key as `subjectKey` writes it. */
  subject: string;
  place: string;
  count: number;
}

/** Whether a pledge's filter selects a place: all given conditions hold. */
export function selects(index: AccessIndex, pledge: Pledge, place: CompiledPlace): boolean {
  const { space, subtree, tag, state } = pledge.where;
  if (space !== undefined && index.places[place.space]?.place.id !== space) return false;
  if (tag !== undefined && !place.place.tags.includes(tag)) return false;
  if (state !== undefined && (place.place.kind === "site" || place.place.state !== state)) return false;
  return subtree === undefined || standsIn(index, place, subtree);
}

function standsIn(index: AccessIndex, place: CompiledPlace, id: string): boolean {
  for (let here: CompiledPlace | undefined = place; here; here = index.places[here.parent]) if (here.place.id === id) return true;
  return false;
}

/** Whether a pledge is about a subject; class `outsiders` is the public and every pass holder. */
export function covers(index: AccessIndex, pledge: Pledge, subject: CompiledSubject, at: Instant): boolean {
  const { who } = pledge;
  if (!isActive(subject, at)) return false;
  if ("class" in who) return subject.class === who.class;
  const principal = index.principalNumbers.get(principalKey(who));
  return principal !== undefined && subject.matches.has(principal);
}

interface Tally {
  fresh: number;
  gone: number;
  witness: { subject: string; place: string } | null;
}

/** So many who break a pledge at one place are kept by name; their number is exact. */
const MOST_WITNESSES = 5;

/** One place at which a pledge does not hold: for how many subjects, and the first of them, by keys. */
export interface Violation {
  place: string;
  count: number;
  subjects: string[];
}

/** One pledge on both sides of a comparison: violations that are new, and those that are gone. */
class PledgeCount {
  readonly tally: Tally = { fresh: 0, gone: 0, witness: null };
  /** Where there are new ones, by number of the place; kept where somebody asks. */
  readonly violations = new Map<number, { count: number; subjects: string[] }>();

  constructor(
    private readonly sides: Sides,
    private readonly was: Pledge | undefined,
    private readonly is: Pledge | undefined,
    private readonly keeps = false,
  ) {}

  private fails(pledge: Pledge | undefined, cell: number): boolean {
    return pledge !== undefined && ((cell & bitOf(pledge.ability)) !== 0) === (pledge.rule === "never");
  }

  private selected(side: "before" | "after", where: number): boolean {
    const { index } = this.sides[side];
    const pledge = side === "before" ? this.was : this.is;
    const place = index?.places[this.sides.places[side === "before" ? "earlier" : "later"](where)];
    return Boolean(index && pledge && place && selects(index, pledge, place));
  }

  /** Whether a pledge for one space has nothing to do with the blocks of a pair of rows. */
  private passesBy({ before, after }: RowPair): boolean {
    const outside = (index: AccessIndex | null, pledge: Pledge | undefined, block: number) => {
      if (!index || !pledge || block < 0) return true;
      const { space } = pledge.where;
      return space !== undefined && index.places[index.blocks[block]?.space ?? -1]?.place.id !== space;
    };
    return outside(this.sides.before.index, this.was, before.block) && outside(this.sides.after.index, this.is, after.block);
  }

  /** These subjects, parted by whether the pledge covers them before, after, or on both sides. */
  private parted(subjects: readonly number[]): Part[] {
    const { before, after, everybody } = this.sides;
    const parts = [1, 2, 3].map((bits): Part => ({ before: (bits & 1) !== 0, after: (bits & 2) !== 0, subjects: [] }));
    for (const who of subjects) {
      const was = before.index?.subjects[everybody.earlier(who)];
      const is = after.index?.subjects[everybody.later(who)];
      const bits =
        (before.index && this.was && was && covers(before.index, this.was, was, this.sides.at) ? 1 : 0) +
        (after.index && this.is && is && covers(after.index, this.is, is, this.sides.at) ? 2 : 0);
      parts[bits - 1]?.subjects.push(who);
    }
    return parts.filter((part) => part.subjects.length > 0);
  }

  /** Counts (or, with -1, discounts) what cells mean for some subjects at a place that the filter selects; `walked` cells hold for exceptions, too. */
  private look(part: Part, was: number, is: number, it: Chosen, times: 1 | -1 = 1, walked = false): void {
    const broken = {
      before: part.before && it.before && this.fails(this.was, was),
      after: part.after && it.after && this.fails(this.is, is),
    };
    if (broken.before === broken.after) return;
    const pairs = part.subjects.length * times;
    if (broken.before) this.tally.gone += pairs;
    else {
      this.tally.fresh += pairs;
      if (this.keeps) this.keep(part, it.where, times, walked);
      if (times < 0 || this.tally.witness) return;
      const witness = part.subjects.find((who) => walked || !this.sides.apart.get(who)?.has(it.where));
      if (witness !== undefined) this.tally.witness = { subject: this.sides.subject(witness).key, place: this.sides.idOf(it.where) };
    }
  }

  private keep(part: Part, where: number, times: 1 | -1, walked: boolean): void {
    const there = this.violations.get(where) ?? { count: 0, subjects: [] };
    this.violations.set(where, there);
    there.count += part.subjects.length * times;
    if (times < 0) return;
    for (const who of part.subjects) {
      if (there.subjects.length >= MOST_WITNESSES) break;
      if (walked || !this.sides.apart.get(who)?.has(where)) there.subjects.push(this.sides.subject(who).key);
    }
  }

  private chosen(places: Iterable<number>): Chosen[] {
    const found: Chosen[] = [];
    for (const where of places) {
      const it = { where, before: this.selected("before", where), after: this.selected("after", where) };
      if (it.before || it.after) found.push(it);
    }
    return found;
  }

  run(): Tally {
    const { sides } = this;
    const chosen = new Map<RowPair, Chosen[]>();
    for (const pair of sides.pairs) {
      if (this.passesBy(pair)) continue;
      const list = this.chosen(pair.places);
      if (list.length > 0) chosen.set(pair, list);
    }
    // Exceptions first, so that a witness found in a class is one that its tables answer for.
    for (const [who, places] of sides.apart) {
      const list = this.chosen(places);
      const [part] = list.length > 0 ? this.parted([who]) : [];
      if (!part) continue;
      for (const it of list) {
        this.look(part, ...sides.cellsFor(who, it.where), it, -1);
        this.look(part, ...sides.walkedFor(who, it.where), it, 1, true);
      }
    }
    if (chosen.size > 0) this.classes(chosen);
    return this.tally;
  }

  private classes(chosen: ReadonlyMap<RowPair, Chosen[]>): void {
    const { before, after, joints } = this.sides;
    for (const { pairs, classes } of joints) {
      const rows = pairs.flatMap((pair) => {
        const list = chosen.get(pair);
        return list ? [{ list, was: before.cells(pair.before), is: after.cells(pair.after) }] : [];
      });
      if (rows.length === 0) continue;
      for (const it of classes) {
        let parts: Part[] | null = null;
        for (const { list, was, is } of rows) {
          const earlier = was && it.before >= 0 ? (was[it.before] as number) : 0;
          const later = is && it.after >= 0 ? (is[it.after] as number) : 0;
          if (!this.fails(this.was, earlier) && !this.fails(this.is, later)) continue;
          parts ??= this.parted(it.subjects);
          for (const part of parts) for (const one of list) this.look(part, earlier, later, one);
        }
      }
    }
  }
}

/** A place that a pledge's filter selects before, after, or on both sides. */
interface Chosen {
  /** Number, as `Sides.places` knows it. */
  where: number;
  before: boolean;
  after: boolean;
}

/** Subjects that a pledge covers alike. */
interface Part {
  before: boolean;
  after: boolean;
  subjects: number[];
}

interface Counted {
  from: number;
  until: number;
  counts: ReadonlyMap<string, number>;
}

/** How many violations each pledge of an index has: carried on from change to change, counted whole only once. */
const counted = new WeakMap<AccessIndex, Counted>();

function countsOf(index: AccessIndex, at: Instant): ReadonlyMap<string, number> {
  const known = counted.get(index);
  if (known && at >= known.from && at < known.until) return known.counts;
  const counts = new Map(brokenPledges(index, at).map(({ pledge, count }) => [pledge, count]));
  counted.set(index, { ...endsAround(index, at), counts });
  return counts;
}

/** Every pledge that does not hold at an instant, with a witness; exact over every subject and place each covers. */
export function brokenPledges(index: AccessIndex, at: Instant): PledgeBreak[] {
  if (index.document.pledges.length === 0) return [];
  const sides = new Sides(null, index, at);
  return index.document.pledges.flatMap((pledge) => {
    const { fresh, witness } = new PledgeCount(sides, undefined, pledge).run();
    return witness ? [{ pledge: pledge.id, ...witness, count: fresh }] : [];
  });
}

/** The site before spaces, spaces before what is in them. */
const rankOf = (index: AccessIndex, id: string): number =>
  ({ site: 0, space: 1, page: 2, bulletin: 2 })[placeOf(index, id)?.place.kind ?? "page"];

/**
 * For each of some pledges every place at which it does not hold at an instant (milliseconds since the epoch), for how many
 * subjects, the site first, then spaces, then pages; exact, whether or not the document has these pledges: so one that is only thought of
 * can be tried. Section 9.
 */
export function violationsOf(index: AccessIndex, pledges: readonly Pledge[], at: Instant): Violation[][] {
  const sides = new Sides(null, index, at);
  return pledges.map((pledge) => {
    const count = new PledgeCount(sides, undefined, pledge, true);
    count.run();
    return [...count.violations]
      .filter(([, it]) => it.count > 0)
      .map(([where, it]) => ({ place: sides.idOf(where), ...it }))
      .sort((a, b) => rankOf(index, a.place) - rankOf(index, b.place) || (a.place < b.place ? -1 : 1));
  });
}

/** The explanation of a violation: why its witness has, or lacks, what the pledge is about. Null for ids that are not there. */
export function explainBreak(index: AccessIndex, it: PledgeBreak, at: Instant): Explanation | null {
  const pledge = index.document.pledges.find(({ id }) => id === it.pledge);
  const subject = subjectOf(index, subjectOfKey(it.subject));
  const place = placeOf(index, it.place);
  return pledge && subject && place ? explain(index, subject, pledge.ability, place, at) : null;
}

/** Whether a pledge covers others after than before although no block tells: its group gained or lost somebody. */
const coversOthers = (before: AccessIndex, after: AccessIndex, pledge: Pledge): boolean => {
  if ("class" in pledge.who) return false;
  const key = principalKey(pledge.who);
  const list = (index: AccessIndex) => index.matching[index.principalNumbers.get(key) ?? -1];
  return list(before) !== list(after);
};

/**
 * What a change does to pledges. Any new violation counts as breaking, of a pledge already broken too; a pledge mends
 * when its last violation goes (section 6a).
 */
export function comparePledges(
  sides: Sides,
  before: AccessIndex,
  after: AccessIndex,
  at: Instant,
): { break: PledgeBreak[]; mend: string[] } {
  const breaks: PledgeBreak[] = [];
  const mend: string[] = [];
  if (before.document.pledges.length + after.document.pledges.length === 0) return { break: breaks, mend };
  const earlier = new Map(before.document.pledges.map((pledge) => [pledge.id, pledge]));
  const brokenBefore = countsOf(before, at);
  const counts = new Map<string, number>();
  let whole: Sides | null = null;
  for (const pledge of after.document.pledges) {
    const was = earlier.get(pledge.id);
    const everywhere = was !== pledge || coversOthers(before, after, pledge);
    if (everywhere) whole ??= new Sides(before, after, at, { whole: true });
    const { fresh, gone, witness } = new PledgeCount(everywhere && whole ? whole : sides, was, pledge).run();
    const count = (brokenBefore.get(pledge.id) ?? 0) + fresh - gone;
    counts.set(pledge.id, count);
    if (witness) breaks.push({ pledge: pledge.id, ...witness, count: fresh });
    if (count === 0 && gone > 0) mend.push(pledge.id);
  }
  counted.set(after, { ...endsAround(after, at), counts });
  return { break: breaks, mend };
}
