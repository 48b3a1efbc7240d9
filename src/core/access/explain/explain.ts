/** Why a subject has or lacks an ability (access-model.md, section 7). The result is data; sentences are made in `sentences.ts`. */

import { admits, effectiveSet, gateOfState, givenSet, ownsAsMember, passesUnpublishedGate, passReaches } from "../decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, isActive, pathOf, siteOf } from "../index/index.ts";
import {
  type Ability,
  type AbilitySet,
  bitOf,
  close,
  ENDLESS,
  type Fence,
  type Grant,
  type Instant,
  maskOf,
  NOTHING,
  OWN_DRAFT,
  type PageState,
} from "../model/index.ts";

/** One step of an answer: the layer, where the rule stands, the rule, and what it did. */
export type Step =
  | { layer: "status"; effect: "stops" }
  | { layer: "grants"; effect: "gives"; place: string; rule: "grant"; grant: Grant; own: boolean }
  | { layer: "grants"; effect: "gives"; place: string; rule: "ownDraft" }
  | { layer: "grants"; effect: "gives"; place: string; rule: "pass"; pass: string }
  | {
      layer: "grants";
      effect: "stops";
      rule: "noGrant";
      cutOff: { place: string; by: string; grant: Grant }[];
      ended: { place: string; grant: Grant }[];
    }
  | { layer: "fences"; effect: "stops"; place: string; fence: Fence }
  | { layer: "ceilings"; effect: "stops"; place: string; which: "outsiders" | "guests" | "passes" }
  | { layer: "state"; effect: "stops"; place: string; state: PageState | "unpublished" };

export interface Explanation {
  answer: boolean;
  ability: Ability;
  place: string;
  /** For yes: every source, the nearest first. For no: everything that stops it, in the order of the layers. */
  steps: Step[];
}

interface Sources {
  gives: Step[];
  cutOff: { place: string; by: string; grant: Grant }[];
  ended: { place: string; grant: Grant }[];
  fromPublic: boolean;
  fromOthers: boolean;
}

/** A suspended person is asked about as if active, so that further obstacles show too; only `status` differs. */
const asIfActive = (subject: CompiledSubject, at: Instant): CompiledSubject =>
  isActive(subject, at) ? subject : { ...subject, activeUntil: ENDLESS, matches: subject.named };

const stepOf = (source: Source, at: string): Step => {
  const { place } = source;
  if (source.rule === "ownDraft") return { layer: "grants", effect: "gives", place, rule: "ownDraft" };
  if (source.rule === "pass") return { layer: "grants", effect: "gives", place, rule: "pass", pass: source.pass };
  return { layer: "grants", effect: "gives", place, rule: "grant", grant: source.grant, own: place === at };
};

function findSources(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, bit: AbilitySet, at: Instant): Sources {
  const sources = sourcesOf(index, subject, place, at).filter(({ mask }) => mask & bit);
  const isPublic = (source: Source) => source.rule === "grant" && "audience" in source.grant.to && source.grant.to.audience === "public";
  const found: Sources = {
    gives: sources.map((source) => stepOf(source, place.place.id)),
    cutOff: [],
    ended: [],
    fromPublic: sources.some(isPublic),
    fromOthers: sources.some((source) => !isPublic(source)),
  };
  let cutBy: string | null = null;
  for (const here of pathOf(index, place).reverse()) {
    const where = here.place.id;
    here.grants.forEach((compiled, i) => {
      if (!(compiled.mask & bit) || !subject.matches.has(compiled.to)) return;
      const grant = here.place.grants[i] as Grant;
      if (compiled.until <= at) found.ended.push({ place: where, grant });
      else if (cutBy !== null) found.cutOff.push({ place: where, by: cutBy, grant });
    });
    if (here.fresh && cutBy === null) cutBy = where;
  }
  return found;
}

function fencesInTheWay(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, ability: Ability): Step[] {
  const leftByWrite = ability === "read" || ability === "discuss";
  return pathOf(index, place).flatMap((here) =>
    here.fences.flatMap((fence, i): Step[] => {
      if (admits(fence, subject) || (fence.kind === "write" && leftByWrite)) return [];
      return [{ layer: "fences", effect: "stops", place: here.place.id, fence: here.place.fences[i] as Fence }];
    }),
  );
}

/** The ceilings in the way of an ability: the site's, the space's own, or both (section 7: every one that would stop it). */
function ceilingsAgainst(index: AccessIndex, place: CompiledPlace, which: "outsiders" | "guests" | "passes", bit: AbilitySet): Step[] {
  const site = siteOf(index);
  const space = place.space >= 0 ? index.places[place.space] : undefined;
  const stops = (at: CompiledPlace): boolean => {
    const own = "ceilings" in at.place ? at.place.ceilings : undefined;
    if (which === "passes") return own?.passes === false;
    return own?.[which] !== undefined && (close(maskOf(own[which])) & bit) === 0;
  };
  const siteStops = { outsiders: !(site.outsiderCeiling & bit), guests: !(site.guestCeiling & bit), passes: !site.passes }[which];
  return [...(siteStops ? [site] : []), ...(space && stops(space) ? [space] : [])].map((ceiling) => ({
    layer: "ceilings",
    effect: "stops",
    place: ceiling.place.id,
    which,
  }));
}

function ceilingsInTheWay(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, bit: AbilitySet, sources: Sources): Step[] {
  if (subject.class === "members") return [];
  const openToPublic = (place.outsiderCeiling & bit) !== 0;
  const outsiders = ceilingsAgainst(index, place, "outsiders", bit);
  const anySource = sources.fromPublic || sources.fromOthers;
  const byPublic = openToPublic && (sources.fromPublic || !anySource);
  if (subject.class === "guests") {
    if (byPublic || (place.guestCeiling & bit && (sources.fromOthers || !anySource))) return [];
    const guests = ceilingsAgainst(index, place, "guests", bit);
    if (!anySource) return guests;
    return [...(sources.fromPublic ? outsiders : []), ...(sources.fromOthers ? guests : [])];
  }
  if (subject.pass === null) return openToPublic ? [] : outsiders;
  if (byPublic || (place.passes && (sources.fromOthers || !anySource) && bit === bitOf("read"))) return [];
  return [
    ...(sources.fromOthers ? [] : outsiders),
    ...(sources.fromOthers && !place.passes ? ceilingsAgainst(index, place, "passes", bit) : []),
    ...(sources.fromOthers && sources.fromPublic ? outsiders : []),
  ];
}

function statesInTheWay(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, bit: AbilitySet, at: Instant): Step[] {
  if (place.place.kind === "site") return [];
  // What the subject would hold if the earlier layers let it through: the states are judged on that.
  const wanted = close(bit) | givenSet(index, subject, place, at);
  const steps: Step[] = [];
  const stop = (where: string, state: PageState | "unpublished") => steps.push({ layer: "state", effect: "stops", place: where, state });
  if (!passesUnpublishedGate(subject, place, wanted, at)) stop(place.place.id, "unpublished");
  if (!(gateOfState(place.place.state, subject.class === "members", wanted) & bit)) stop(place.place.id, place.place.state);
  const space = index.places[place.space] as CompiledPlace;
  if (space !== place && !(gateOfState(space.place.state, subject.class === "members", wanted) & bit))
    stop(space.place.id, space.place.state);
  return steps;
}

/** Leaves out sources that a ceiling cancels, so that an answer of yes lists only what really gives it. */
const reallyGives =
  (subject: CompiledSubject, place: CompiledPlace, bit: AbilitySet) =>
  (step: Step): boolean => {
    if (subject.class === "members" || step.layer !== "grants" || step.effect !== "gives") return true;
    const fromPublic = step.rule === "grant" && "audience" in step.grant.to && step.grant.to.audience === "public";
    if (fromPublic) return (place.outsiderCeiling & bit) !== 0;
    return subject.class === "guests" ? (place.guestCeiling & bit) !== 0 : place.passes;
  };

/**
 * Answers whether a subject has an ability at a place at an instant (milliseconds since the epoch), with the steps to
 * the answer. `answer` is exactly that of `effectiveSet`. For no, steps name the first layer that stops it and every
 * further one that would stop it too. Implements section 7 of access-model.md.
 */
export function explain(index: AccessIndex, subject: CompiledSubject, ability: Ability, place: CompiledPlace, at: Instant): Explanation {
  const bit = bitOf(ability);
  const answer = (effectiveSet(index, subject, place, at) & bit) !== NOTHING;
  const asked = asIfActive(subject, at);
  const sources = findSources(index, asked, place, bit, at);
  const head = { answer, ability, place: place.place.id };
  if (answer) return { ...head, steps: sources.gives.filter(reallyGives(subject, place, bit)) };
  const steps: Step[] = [];
  if (!isActive(subject, at)) steps.push({ layer: "status", effect: "stops" });
  if (sources.gives.length === 0) {
    steps.push({ layer: "grants", effect: "stops", rule: "noGrant", cutOff: sources.cutOff, ended: sources.ended });
  }
  steps.push(...fencesInTheWay(index, asked, place, ability));
  steps.push(...ceilingsInTheWay(index, asked, place, bit, sources));
  steps.push(...statesInTheWay(index, asked, place, bit, at));
  return { ...head, steps };
}

/** A rule that gives a subject something at a place, and what it gives before fences, ceilings and states. */
export type Source =
  | { rule: "grant"; place: string; grant: Grant; mask: AbilitySet }
  | { rule: "ownDraft"; place: string; mask: AbilitySet }
  | { rule: "pass"; place: string; pass: string; mask: AbilitySet };

/** Every rule that gives a subject something at a place at an instant, the nearest first (section 5, step 2). */
export function sourcesOf(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): Source[] {
  const found: Source[] = [];
  const id = place.place.id;
  if (!isActive(subject, at)) return found;
  if (place.unpublished && ownsAsMember(subject, place)) found.push({ rule: "ownDraft", place: id, mask: OWN_DRAFT });
  for (const here of pathOf(index, place).reverse()) {
    here.grants.forEach((compiled, i) => {
      if (compiled.until <= at || !subject.matches.has(compiled.to)) return;
      found.push({ rule: "grant", place: here.place.id, grant: here.place.grants[i] as Grant, mask: compiled.mask });
    });
    if (here.fresh) break;
  }
  if (subject.pass !== null && passReaches(index, subject, place, at)) {
    found.push({ rule: "pass", place: subject.pass.place, pass: subject.pass.id, mask: bitOf("read") });
  }
  return found;
}
