/** Proposals: from a wish to a rule (access-model.md, section 12), for any number of wishes at any number of places. */

import { effectiveSet } from "../decide/index.ts";
import { type Explanation, explain } from "../explain/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../index/index.ts";
import { abilitiesIn, describeSet, type Edit, type Instant, principalKey } from "../model/index.ts";
import { placesOf, type Ripple, ripple } from "../ripple/index.ts";
import { update } from "../update/index.ts";
import { candidatesFor } from "./candidates.ts";
import { type Covered, coverage, type Wish } from "./wishes.ts";

/** Pairs of a subject and a place, by class of the subject. */
export interface Weight {
  outsiders: number;
  guests: number;
  members: number;
}

export interface Candidate {
  edits: Edit[];
  ripple: Ripple;
  unwishedGains: Weight;
  unwishedLosses: Weight;
}

/** Why no candidate achieves a wish: a subject that would not have the level, and what is in the way or gives too much. */
export interface Obstacle {
  place: string;
  wish: Wish;
  subject: string;
  has: string;
  explanation: Explanation;
}

export interface Proposal {
  /** The best first, then at most two more; empty if nothing achieves the wishes. */
  candidates: Candidate[];
  /** Keys of people a wish names who keep what they have because they oversee its place. */
  exceptions: string[];
  /** Nothing to do: the wishes hold already. */
  alreadySo: boolean;
  obstacle: Obstacle | null;
}

/** The wishes at one place, and whom they decide for. */
interface Wanted {
  place: CompiledPlace;
  covered: readonly Covered[];
}

/** The first covered subject that does not have exactly what is wished for. */
function unmet(index: AccessIndex, wanted: readonly Wanted[], at: Instant) {
  for (const { place, covered } of wanted) {
    const here = placeOf(index, place.place.id) as CompiledPlace;
    for (const { wish, target, subjects } of covered) {
      for (const { subject } of subjects) {
        const compiled = subjectOf(index, subject) as CompiledSubject;
        const has = effectiveSet(index, compiled, here, at);
        if (has !== target) return { here, wish, compiled, has, target };
      }
    }
  }
  return null;
}

const noWeight = (): Weight => ({ outsiders: 0, guests: 0, members: 0 });

/** Gains and losses of pairs that nobody wished for: of others, or elsewhere. */
function weigh(it: Ripple, wanted: readonly Wanted[]) {
  const wished = new Map(
    wanted.map(({ place, covered }) => [place.place.id, new Set(covered.flatMap(({ subjects }) => subjects.map(({ key }) => key)))]),
  );
  const gains = noWeight();
  const losses = noWeight();
  for (const entry of it.entries) {
    const places = placesOf(it, entry);
    let pairs = entry.subjects.length * places.length;
    for (const id of places) {
      const known = wished.get(id);
      if (known) pairs -= entry.subjects.filter((key) => known.has(key)).length;
    }
    if (entry.gains.length > 0 || entry.oversight === "gained") gains[entry.class] += pairs;
    if (entry.losses.length > 0 || entry.oversight === "lost") losses[entry.class] += pairs;
  }
  return { unwishedGains: gains, unwishedLosses: losses };
}

const heavier = (a: Weight, b: Weight): number => a.outsiders - b.outsiders || a.guests - b.guests || a.members - b.members;

const byMerit = (a: Candidate, b: Candidate): number =>
  heavier(a.unwishedGains, b.unwishedGains) || heavier(a.unwishedLosses, b.unwishedLosses) || a.edits.length - b.edits.length;

/**
 * Whether one obstacle says more than another: the one in the way of the wish that was made last; then that of a subject
 * that lacks something rather than has too much, since what is in the way has a name.
 */
function saysMore(a: Obstacle, b: Obstacle, last: Wish | undefined): boolean {
  const ofLast = (it: Obstacle) => last !== undefined && principalKey(it.wish.principal) === principalKey(last.principal);
  if (ofLast(a) !== ofLast(b)) return ofLast(a);
  return !a.explanation.answer && b.explanation.answer;
}

/** A wish and the place it is for. */
export type PlacedWish = Wish & { place: string };

function gatherWishes(index: AccessIndex, wishes: readonly PlacedWish[], at: Instant): { wanted: Wanted[]; exceptions: string[] } {
  const byPlace = new Map<string, Wish[]>();
  for (const { place, ...wish } of wishes) byPlace.set(place, [...(byPlace.get(place) ?? []), wish as Wish]);
  const exceptions = new Set<string>();
  const wanted = [...byPlace].map(([id, list]): Wanted => {
    const place = placeOf(index, id);
    if (!place) throw new RangeError(`no place has the id "${id}"`);
    const { covered, exceptions: own } = coverage(index, place, list, at);
    for (const key of own) exceptions.add(key);
    return { place, covered };
  });
  return { wanted, exceptions: [...exceptions] };
}

/**
 * Finds rule changes that achieve all wishes exactly at an instant (milliseconds since the epoch), judged by their exact
 * ripple and ranked: fewest unwished gains (outsiders weigh most, then guests), then fewest unwished losses, then fewest
 * rules. One pattern of moves is tried at all places, at most 24 candidates. If none achieves the wishes, `obstacle` says
 * why. Throws on an unknown place. Implements section 12.
 */
export function propose(before: AccessIndex, wishes: readonly PlacedWish[], at: Instant): Proposal {
  const { wanted, exceptions } = gatherWishes(before, wishes, at);
  if (!unmet(before, wanted, at)) return { candidates: [], exceptions, alreadySo: true, obstacle: null };

  const open = wanted.filter((it) => unmet(before, [it], at));
  const found: Candidate[] = [];
  let obstacle: Obstacle | null = null;
  for (const edits of candidatesFor(before, open, at)) {
    const tried = tryOut(before, wanted, edits, at);
    if (!tried) continue;
    if ("candidate" in tried) found.push(withoutNeedless(before, wanted, tried.candidate, at));
    else if (!obstacle || saysMore(tried.obstacle, obstacle, wishes.at(-1))) obstacle = tried.obstacle;
  }
  found.sort(byMerit);
  const texts = found.map(({ edits }) => JSON.stringify(edits));
  const distinct = found.filter((_, i) => texts.indexOf(texts[i] as string) === i);
  return { candidates: distinct.slice(0, 3), exceptions, alreadySo: false, obstacle: found.length > 0 ? null : obstacle };
}

/** Makes the edits on a copy: a judged candidate, what is in its way, or null if the edits do not fit together. */
function tryOut(
  before: AccessIndex,
  wanted: readonly Wanted[],
  edits: Edit[],
  at: Instant,
): { candidate: Candidate } | { obstacle: Obstacle } | null {
  const updated = update(before, edits);
  if (!updated.ok) return null;
  const miss = unmet(updated.index, wanted, at);
  if (miss) return { obstacle: obstacleOf(updated.index, miss, at) };
  const whole = ripple(before, updated.index, at);
  return { candidate: { edits, ripple: whole, ...weigh(whole, wanted) } };
}

/** So many edits are looked at one by one; a longer candidate is taken as it is. */
const MOST_LOOKED_AT = 24;

/** Leaves out, one by one, edits without which the wishes hold just as well and nobody else is worse off. */
function withoutNeedless(before: AccessIndex, wanted: readonly Wanted[], candidate: Candidate, at: Instant): Candidate {
  let best = candidate;
  if (candidate.edits.length > MOST_LOOKED_AT) return best;
  for (const edit of candidate.edits) {
    if (best.edits.length === 1) break;
    const fewer = best.edits.filter((it) => it !== edit);
    const tried = tryOut(before, wanted, fewer, at);
    if (tried && "candidate" in tried && byMerit(tried.candidate, best) < 0) best = tried.candidate;
  }
  return best;
}

function obstacleOf(index: AccessIndex, miss: NonNullable<ReturnType<typeof unmet>>, at: Instant): Obstacle {
  const lacks = abilitiesIn(miss.target & ~miss.has)[0];
  const ability = lacks ?? abilitiesIn(miss.has & ~miss.target)[0] ?? "read";
  return {
    place: miss.here.place.id,
    wish: miss.wish,
    subject: miss.compiled.key,
    has: describeSet(miss.has),
    explanation: explain(index, miss.compiled, ability, miss.here, at),
  };
}
