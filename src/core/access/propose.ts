/** Proposals: from a wish to a rule (access-model.md, section 12), for wishes at one place. */

import { abilitiesIn, describeSet } from "./abilities.ts";
import { candidatesFor } from "./candidates.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, compile, placeOf, subjectOf } from "./compile.ts";
import { type AccessDocument, subjectKey } from "./document.ts";
import { applyEdits, type Edit } from "./edits.ts";
import { effectiveSet } from "./evaluate.ts";
import { type Explanation, explain } from "./explain.ts";
import { type Ripple, ripple } from "./ripple.ts";
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
  wish: Wish;
  subject: string;
  has: string;
  explanation: Explanation;
}

export interface Proposal {
  /** The best first, then at most two more; empty if nothing achieves the wishes. */
  candidates: Candidate[];
  /** Keys of people a wish names who keep what they have because they oversee the place. */
  exceptions: string[];
  /** Nothing to do: the wishes hold already. */
  alreadySo: boolean;
  obstacle: Obstacle | null;
}

/** The first covered subject that does not have exactly what is wished for. */
function unmet(index: AccessIndex, place: CompiledPlace, covered: readonly Covered[], at: number) {
  for (const { wish, target, subjects } of covered) {
    for (const { subject } of subjects) {
      const compiled = subjectOf(index, subject) as CompiledSubject;
      const has = effectiveSet(index, compiled, place, at);
      if (has !== target) return { wish, compiled, has, target };
    }
  }
  return null;
}

const noWeight = (): Weight => ({ outsiders: 0, guests: 0, members: 0 });

/** Gains and losses of pairs that nobody wished for: of others, or elsewhere. */
function weigh(it: Ripple, placeId: string, covered: readonly Covered[]) {
  const wished = new Set(covered.flatMap(({ subjects }) => subjects.map(({ subject }) => subjectKey(subject))));
  const gains = noWeight();
  const losses = noWeight();
  for (const entry of it.entries) {
    const strangers = entry.subjects.filter((key) => !wished.has(key)).length;
    const here = entry.places.includes(placeId) ? 1 : 0;
    const pairs = entry.subjects.length * (entry.places.length - here) + strangers * here;
    if (entry.gains.length > 0 || entry.oversight === "gained") gains[entry.class] += pairs;
    if (entry.losses.length > 0 || entry.oversight === "lost") losses[entry.class] += pairs;
  }
  return { unwishedGains: gains, unwishedLosses: losses };
}

const heavier = (a: Weight, b: Weight): number => a.outsiders - b.outsiders || a.guests - b.guests || a.members - b.members;

const byMerit = (a: Candidate, b: Candidate): number =>
  heavier(a.unwishedGains, b.unwishedGains) || heavier(a.unwishedLosses, b.unwishedLosses) || a.edits.length - b.edits.length;

/**
 * Finds rule changes at one place that achieve all wishes exactly, judged by their exact ripple and ranked: fewest
 * unwished gains (outsiders weigh most, then guests), then fewest unwished losses, then fewest rules. At most 24
 * candidates are tried. If none achieves the wishes, `obstacle` says why. Throws on an unknown place.
 */
export function propose(document: AccessDocument, placeId: string, wishes: readonly Wish[], at: number): Proposal {
  const before = compile(document);
  const place = placeOf(before, placeId);
  if (!place) throw new RangeError(`no place has the id "${placeId}"`);
  const { covered, exceptions } = coverage(before, place, wishes, at);
  if (!unmet(before, place, covered, at)) return { candidates: [], exceptions, alreadySo: true, obstacle: null };

  const found: Candidate[] = [];
  let obstacle: Obstacle | null = null;
  for (const edits of candidatesFor(before, place, covered, at)) {
    const tried = tryOut(before, placeId, covered, edits, at);
    if (!tried) continue;
    if ("candidate" in tried) found.push(withoutNeedless(before, placeId, covered, tried.candidate, at));
    // A subject that lacks something says more than one that has too much: what is in the way has a name.
    else if (!obstacle || (!tried.obstacle.explanation.answer && obstacle.explanation.answer)) obstacle = tried.obstacle;
  }
  found.sort(byMerit);
  const texts = found.map(({ edits }) => JSON.stringify(edits));
  const distinct = found.filter((_, i) => texts.indexOf(texts[i] as string) === i);
  return { candidates: distinct.slice(0, 3), exceptions, alreadySo: false, obstacle: found.length > 0 ? null : obstacle };
}

/** Makes the edits on a copy: a judged candidate, what is in its way, or null if the edits do not fit together. */
function tryOut(
  before: AccessIndex,
  placeId: string,
  covered: readonly Covered[],
  edits: Edit[],
  at: number,
): { candidate: Candidate } | { obstacle: Obstacle } | null {
  const applied = applyEdits(before.document, edits);
  if (!applied.ok) return null;
  const after = compile(applied.document);
  const here = placeOf(after, placeId) as CompiledPlace;
  const miss = unmet(after, here, covered, at);
  if (miss) return { obstacle: obstacleOf(after, here, miss, at) };
  const whole = ripple(before, after, at);
  return { candidate: { edits, ripple: whole, ...weigh(whole, placeId, covered) } };
}

/** Leaves out, one by one, edits without which the wishes hold just as well and nobody else is worse off. */
function withoutNeedless(before: AccessIndex, placeId: string, covered: readonly Covered[], candidate: Candidate, at: number): Candidate {
  let best = candidate;
  for (const edit of candidate.edits) {
    if (best.edits.length === 1) break;
    const fewer = best.edits.filter((it) => it !== edit);
    const tried = tryOut(before, placeId, covered, fewer, at);
    if (tried && "candidate" in tried && byMerit(tried.candidate, best) < 0) best = tried.candidate;
  }
  return best;
}

function obstacleOf(index: AccessIndex, place: CompiledPlace, miss: NonNullable<ReturnType<typeof unmet>>, at: number): Obstacle {
  const lacks = abilitiesIn(miss.target & ~miss.has)[0];
  const ability = lacks ?? abilitiesIn(miss.has & ~miss.target)[0] ?? "read";
  return {
    wish: miss.wish,
    subject: subjectKey(miss.compiled.subject),
    has: describeSet(miss.has),
    explanation: explain(index, miss.compiled, ability, place, at),
  };
}
