/** Pledges: statements about access that must stay true (access-model.md, section 9). */
import { bitOf } from "./abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "./accessIndex.ts";
import { cellIn, type Group, Sides } from "./compare.ts";
import { type Pledge, principalKey, subjectOfKey } from "./document.ts";
import { type Explanation, explain } from "./explain.ts";
import { endsAround } from "./instants.ts";

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
export function covers(index: AccessIndex, pledge: Pledge, subject: CompiledSubject): boolean {
  const { who } = pledge;
  if (subject.suspended) return false;
  if ("class" in who) return subject.class === who.class;
  const principal = index.principalNumbers.get(principalKey(who));
  return principal !== undefined && subject.matches.has(principal);
}

interface Tally {
  fresh: number;
  gone: number;
  witness: { subject: string; place: string } | null;
}

/** One pledge on both sides of a comparison: violations that are new, and those that are gone. */
class PledgeCount {
  readonly tally: Tally = { fresh: 0, gone: 0, witness: null };

  constructor(
    private readonly sides: Sides,
    private readonly was: Pledge | undefined,
    private readonly is: Pledge | undefined,
  ) {}

  private fails(pledge: Pledge | undefined, cell: number): boolean {
    return pledge !== undefined && ((cell & bitOf(pledge.ability)) !== 0) === (pledge.rule === "never");
  }

  private selected(side: "before" | "after", id: string): boolean {
    const { index } = this.sides[side];
    const pledge = side === "before" ? this.was : this.is;
    const place = index ? placeOf(index, id) : undefined;
    return index !== null && pledge !== undefined && place !== undefined && selects(index, pledge, place);
  }

  private note(broken: { before: boolean; after: boolean }, subjects: readonly CompiledSubject[], places: readonly string[]): void {
    if (broken.before === broken.after || places.length === 0 || subjects.length === 0) return;
    if (broken.before) this.tally.gone += subjects.length * places.length;
    else {
      this.tally.fresh += subjects.length * places.length;
      this.tally.witness ??= { subject: (subjects[0] as CompiledSubject).key, place: places[0] as string };
    }
  }

  /** Subjects of a group, parted by whether the pledge covers them before and after. */
  private parted(group: Group): { before: boolean; after: boolean; subjects: CompiledSubject[] }[] {
    const parts = [false, true].flatMap((before) => [false, true].map((after) => ({ before, after, subjects: [] as CompiledSubject[] })));
    const { before, after } = this.sides;
    for (const subject of group.subjects) {
      const [was, is] = [before.subject(subject.key), after.subject(subject.key)];
      const coveredBefore = Boolean(before.index && this.was && was && covers(before.index, this.was, was));
      const coveredAfter = Boolean(after.index && this.is && is && covers(after.index, this.is, is));
      parts[(coveredBefore ? 2 : 0) + (coveredAfter ? 1 : 0)]?.subjects.push(subject);
    }
    return parts.filter((part) => (part.before || part.after) && part.subjects.length > 0);
  }

  run(): Tally {
    const { before, after, pairs, groups } = this.sides;
    const places = pairs.map((pair) => {
      const marked = pair.places.map((id) => ({ id, before: this.selected("before", id), after: this.selected("after", id) }));
      return { pair, chosen: marked.filter((it) => it.before || it.after) };
    });
    const concerned = places.filter(({ chosen }) => chosen.length > 0);
    for (const group of groups) {
      for (const part of this.parted(group)) {
        for (const { pair, chosen } of concerned) {
          const was = part.before && this.fails(this.was, cellIn(pair.before, group.before));
          const is = part.after && this.fails(this.is, cellIn(pair.after, group.after));
          if (!was && !is) continue;
          for (const it of chosen) {
            if (!group.apart?.has(it.id)) this.note({ before: was && it.before, after: is && it.after }, part.subjects, [it.id]);
          }
        }
        for (const id of group.apart ?? []) {
          const was = part.before && this.selected("before", id) && this.fails(this.was, before.walked(group.before, id));
          const is = part.after && this.selected("after", id) && this.fails(this.is, after.walked(group.after, id));
          this.note({ before: was, after: is }, part.subjects, [id]);
        }
      }
    }
    return this.tally;
  }
}

interface Counted {
  from: number;
  until: number;
  counts: ReadonlyMap<string, number>;
}

/** How many violations each pledge of an index has: carried on from change to change, counted whole only once. */
const counted = new WeakMap<AccessIndex, Counted>();

function countsOf(index: AccessIndex, at: number): ReadonlyMap<string, number> {
  const known = counted.get(index);
  if (known && at >= known.from && at < known.until) return known.counts;
  const counts = new Map(brokenPledges(index, at).map(({ pledge, count }) => [pledge, count]));
  counted.set(index, { ...endsAround(index, at), counts });
  return counts;
}

/** Every pledge that does not hold at an instant, with a witness; exact over every subject and place each covers. */
export function brokenPledges(index: AccessIndex, at: number): PledgeBreak[] {
  if (index.document.pledges.length === 0) return [];
  const sides = new Sides(null, index, at);
  return index.document.pledges.flatMap((pledge) => {
    const { fresh, witness } = new PledgeCount(sides, undefined, pledge).run();
    return witness ? [{ pledge: pledge.id, ...witness, count: fresh }] : [];
  });
}

/** The explanation of a violation: why its witness has, or lacks, what the pledge is about. Null for ids that are not there. */
export function explainBreak(index: AccessIndex, it: PledgeBreak, at: number): Explanation | null {
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
  at: number,
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
