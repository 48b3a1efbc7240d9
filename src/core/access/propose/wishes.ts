/** Wishes (access-model.md, section 12): who is to have exactly which level, and whom each of several wishes decides for. */

import { hasOversight } from "../decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, peopleOf } from "../index/index.ts";
import { type AbilitySet, abilitiesIn, type Instant, type Principal, type Wished, wishedSet } from "../model/index.ts";

/** At its place, this principal has exactly this. */
export type Wish = { principal: Principal } & Wished;

export interface Covered {
  wish: Wish;
  target: AbilitySet;
  subjects: CompiledSubject[];
}

const rank = (principal: Principal): number => ("person" in principal ? 3 : "group" in principal ? 2 : 1);
const width = (principal: Principal): number =>
  "audience" in principal ? ["public", "accounts", "members"].indexOf(principal.audience) : 0;

/** Of two wishes that name the same person, whether the first decides: person, group, audience; the narrower audience; what gives more. */
const moreSpecific = (a: Wish, b: Wish): boolean => {
  if (rank(a.principal) !== rank(b.principal)) return rank(a.principal) > rank(b.principal);
  if (width(a.principal) !== width(b.principal)) return width(a.principal) > width(b.principal);
  const [given, other] = [abilitiesIn(wishedSet(a)).length, abilitiesIn(wishedSet(b)).length];
  return given === other ? wishedSet(a) > wishedSet(b) : given > other;
};

/** Whom each wish covers. Audience `public` is the public itself: people are wished for by the other principals. */
export function coverage(index: AccessIndex, place: CompiledPlace, wishes: readonly Wish[], at: Instant) {
  const deciding = new Map<CompiledSubject, Wish>();
  const exceptions = new Set<string>();
  for (const wish of wishes) {
    const isPublic = "audience" in wish.principal && wish.principal.audience === "public";
    const subjects = isPublic ? index.subjects.slice(0, 1) : peopleOf(index, wish.principal, at);
    for (const subject of subjects) {
      const known = deciding.get(subject);
      if (hasOversight(index, subject, place, at)) exceptions.add(subject.key);
      else if (!known || moreSpecific(wish, known)) deciding.set(subject, wish);
    }
  }
  const covered = wishes.map(
    (wish): Covered => ({
      wish,
      target: wishedSet(wish),
      subjects: [...deciding].filter(([, decided]) => decided === wish).map(([subject]) => subject),
    }),
  );
  return { covered, exceptions: [...exceptions] };
}
