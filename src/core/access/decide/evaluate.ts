/** The effective set and oversight (access-model.md, sections 5 and 6). */

import {
  type AccessIndex,
  type CompiledFence,
  type CompiledGrant,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  ruledAbove,
  ruledAt,
} from "../index/index.ts";
import {
  type AbilitySet,
  GOVERN,
  type Instant,
  LEFT_BY_WRITE_FENCE,
  LEFT_WHEN_ARCHIVED,
  LEFT_WHEN_BINNED,
  NOTHING,
  OWN_DRAFT,
  type PageState,
  READ,
  RETIRE,
  REVISE,
} from "../model/index.ts";

export const admits = (fence: CompiledFence, subject: CompiledSubject): boolean =>
  fence.admits.some((number) => subject.matches.has(number));

/** What a subject owns as the writer of an unpublished page. */
export const ownsAsMember = (subject: CompiledSubject, place: CompiledPlace): boolean =>
  subject.class === "members" && subject.person !== null && place.place.owner === subject.person.id;

/** Whether a pass holder's pass reaches a place: at its own place, or below it with no fresh place between (section 5, step 2). */
export function passReaches(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): boolean {
  if (subject.passEnd <= at) return false;
  if (place.place.id === subject.pass?.place) return true;
  if (!subject.pass?.below) return false;
  for (let here: CompiledPlace | undefined = place; here; here = index.places[here.parent]) {
    if (here.place.id === subject.pass.place) return true;
    if (here.fresh) return false;
  }
  return false;
}

/** Steps 4: what the ceilings leave of the two unions. */
export function underCeilings(subject: CompiledSubject, place: CompiledPlace, fromPublic: AbilitySet, fromOthers: AbilitySet): AbilitySet {
  if (subject.class === "members") return fromPublic | fromOthers;
  const open = fromPublic & place.outsiderCeiling;
  if (subject.class === "guests") return open | (fromOthers & place.guestCeiling);
  return open | (subject.pass !== null && place.passes ? fromOthers : NOTHING);
}

/** What the state `archived` or `binned`, of a place or of its space, leaves to a member, or to anybody else. */
export function gateOfState(state: PageState, isMember: boolean, set: AbilitySet): AbilitySet {
  if (state === "archived") return isMember ? set & LEFT_WHEN_ARCHIVED : NOTHING;
  if (state === "binned") return isMember && set & RETIRE ? set & LEFT_WHEN_BINNED : NOTHING;
  return set;
}

/** Whether the unpublished gate lets a subject keep what it was given. */
export function passesUnpublishedGate(subject: CompiledSubject, place: CompiledPlace, set: AbilitySet, at: Instant): boolean {
  if (!place.unpublished) return true;
  if (subject.class === "outsiders") return false;
  const letIn = () => place.grants.some((grant) => grant.draft && grant.until > at && subject.matches.has(grant.to));
  return (set & REVISE) !== 0 || ownsAsMember(subject, place) || letIn();
}

/** Step 5: what the state of the place and of its space leave. */
function throughState(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, given: AbilitySet, at: Instant): AbilitySet {
  const { kind, state } = place.place;
  if (kind === "site") return given;
  if (!passesUnpublishedGate(subject, place, given, at)) return NOTHING;
  const isMember = subject.class === "members";
  const set = gateOfState(state, isMember, given);
  if (kind === "space") return set;
  return gateOfState((index.places[place.space] as CompiledPlace).place.state, isMember, set);
}

/**
 * Steps 2 to 4: what grants, fences and ceilings give, before the state is asked. Nothing for a suspended subject. Rules in
 * `without` count as not there.
 */
export function givenSet(
  index: AccessIndex,
  subject: CompiledSubject,
  place: CompiledPlace,
  at: Instant,
  without?: ReadonlySet<CompiledGrant | CompiledFence>,
): AbilitySet {
  if (!isActive(subject, at)) return NOTHING;
  let fromPublic = NOTHING;
  let fromOthers = NOTHING;
  let left = ~NOTHING;
  let inScope = true;
  for (let here = ruledAt(index, place); here; here = ruledAbove(index, here)) {
    if (inScope) {
      for (const grant of here.grants) {
        if (grant.until <= at || !subject.matches.has(grant.to) || without?.has(grant)) continue;
        if (grant.to === 0) fromPublic |= grant.mask;
        else fromOthers |= grant.mask;
      }
      if (here.fresh) inScope = false;
    }
    for (const fence of here.fences) {
      if (!admits(fence, subject) && !without?.has(fence)) left &= fence.kind === "read" ? NOTHING : LEFT_BY_WRITE_FENCE;
    }
  }
  if (place.unpublished && ownsAsMember(subject, place)) fromOthers |= OWN_DRAFT;
  if (subject.pass !== null && passReaches(index, subject, place, at)) fromOthers |= READ;
  return underCeilings(subject, place, fromPublic & left, fromOthers & left);
}

/**
 * What a subject can really do at a place, at an instant (milliseconds since the epoch), as a closed mask.
 * Implements section 5 of access-model.md; O(rule-bearing places on the path).
 */
export function effectiveSet(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): AbilitySet {
  return throughState(index, subject, place, givenSet(index, subject, place, at), at);
}

/** Whether a subject has oversight of a place (section 6). */
export function hasOversight(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): boolean {
  return oversightFrom(index, subject, place, at) !== undefined;
}

/** The nearest place on the path whose `govern` grant gives a subject oversight, or undefined. */
export function oversightFrom(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): CompiledPlace | undefined {
  if (subject.class !== "members" || !isActive(subject, at)) return undefined;
  for (let here = ruledAt(index, place); here; here = ruledAbove(index, here)) {
    if (here.grants.some((grant) => grant.mask & GOVERN && grant.until > at && subject.matches.has(grant.to))) return here;
  }
  return undefined;
}
