/** The moves a proposal is built from (access-model.md, section 12): grants at the place, fences, starting fresh. */

import { type AccessIndex, type CompiledPlace, pathOf, peopleOf } from "../index/index.ts";
import {
  type AbilitySet,
  abilitiesIn,
  type Edit,
  type Fence,
  fenceKey,
  GOVERN,
  type Grant,
  grantKey,
  type Instant,
  LEFT_BY_WRITE_FENCE,
  maskOf,
  NOTHING,
  type Principal,
  principalKey,
} from "../model/index.ts";
import type { Covered } from "./wishes.ts";

const MOST_CANDIDATES = 24;

interface Source {
  place: string;
  grant: Grant;
}

/** Everything the moves look at. */
interface Ground {
  at: Instant;
  index: AccessIndex;
  place: CompiledPlace;
  id: string;
  covered: readonly Covered[];
  /** Unexpired grants that count at the place, standing on it or above; helpers' draft grants stay out of it. */
  here: Source[];
  above: Source[];
}

function groundOf(index: AccessIndex, place: CompiledPlace, covered: readonly Covered[], at: Instant): Ground {
  const path = pathOf(index, place);
  const start = Math.max(
    0,
    path.findLastIndex((step) => step.fresh),
  );
  const sources = path
    .slice(start)
    .flatMap((step) =>
      step.place.grants.flatMap((grant, i): Source[] => ((step.grants[i]?.until ?? 0) > at ? [{ place: step.place.id, grant }] : [])),
    );
  const id = place.place.id;
  return {
    at,
    index,
    place,
    id,
    covered,
    here: sources.filter((it) => it.place === id && !it.grant.draft),
    above: sources.filter((it) => it.place !== id),
  };
}

const wishFor = (ground: Ground, principal: Principal): Covered | undefined =>
  ground.covered.find(({ wish }) => principalKey(wish.principal) === principalKey(principal));

/**
 * What a grant may give at most so that nobody it names has more than is wished for them. Grants with `govern` make
 * overseers, whom wishes except, and stay as they are.
 */
function allowedBy(ground: Ground, grant: Grant): AbilitySet {
  const mask = maskOf(grant.abilities);
  if (mask & GOVERN) return mask;
  const wished = wishFor(ground, grant.to);
  if (wished) return wished.target;
  const people = new Set(peopleOf(ground.index, grant.to, ground.at));
  const isPublic = "audience" in grant.to && grant.to.audience === "public";
  let allowed = mask;
  for (const { subjects, target } of ground.covered) {
    if (subjects.some((subject) => people.has(subject) || (isPublic && subject.person === null))) allowed &= target;
  }
  return allowed;
}

const put = (grant: Grant, abilities: AbilitySet): Grant => ({ ...grant, abilities: abilitiesIn(abilities) });

/** Grants at the place brought to what is wished; `lowerOthers` also lowers grants to others that give covered people too much. */
function localGrants(ground: Ground, options: { lowerOthers: boolean; addMissing: boolean }): Edit[] {
  const edits: Edit[] = [];
  const settled = new Set<string>();
  for (const { grant } of ground.here) {
    const wished = wishFor(ground, grant.to);
    if (!wished && !options.lowerOthers) continue;
    const key = principalKey(grant.to);
    const target = wished && (settled.has(key) || !options.addMissing) ? NOTHING : allowedBy(ground, grant);
    if (wished && options.addMissing) settled.add(key);
    const changed = target === NOTHING ? undefined : put(grant, target);
    if (changed && grantKey(changed) === grantKey(grant)) continue;
    edits.push({ kind: "grant", place: ground.id, remove: grant, ...(changed ? { put: changed } : {}) });
  }
  if (!options.addMissing) return edits;
  for (const { wish, target } of ground.covered) {
    if (settled.has(principalKey(wish.principal)) || target === NOTHING) continue;
    edits.push({ kind: "grant", place: ground.id, put: put({ to: wish.principal, abilities: [] }, target) });
  }
  return edits;
}

/** Principals whose grants give more than `left` and who keep that: wished for, or not touched by any wish. */
function keepers(ground: Ground, left: AbilitySet): Principal[] {
  const kept = new Map<string, Principal>();
  for (const { wish, target } of ground.covered) if (target & ~left) kept.set(principalKey(wish.principal), wish.principal);
  for (const { grant } of [...ground.above, ...ground.here]) {
    const mask = maskOf(grant.abilities);
    if (mask & ~left && (allowedBy(ground, grant) & ~left) !== 0) kept.set(principalKey(grant.to), grant.to);
  }
  return [...kept.values()];
}

function fencing(ground: Ground, kind: Fence["kind"]): Edit[] {
  const fence: Fence = { kind, admits: keepers(ground, kind === "write" ? LEFT_BY_WRITE_FENCE : NOTHING) };
  const known = ground.place.place.fences.some((it) => fenceKey(it) === fenceKey(fence));
  return known ? [] : [{ kind: "fence", place: ground.id, put: fence }];
}

/** Admits the wished principals to every fence on the path that keeps them from what is wished. */
function admitting(ground: Ground): Edit[] {
  return pathOf(ground.index, ground.place).flatMap((step) =>
    step.place.fences.flatMap((fence): Edit[] => {
      const left = fence.kind === "write" ? LEFT_BY_WRITE_FENCE : NOTHING;
      const missing = ground.covered
        .filter(({ target, wish }) => target & ~left && !fence.admits.some((it) => principalKey(it) === principalKey(wish.principal)))
        .map(({ wish }) => wish.principal);
      if (missing.length === 0) return [];
      return [{ kind: "fence", place: step.place.id, remove: fence, put: { ...fence, admits: [...fence.admits, ...missing] } }];
    }),
  );
}

/** Takes the wished principals out of the fences that stand at the place itself. */
function expelling(ground: Ground): Edit[] {
  return ground.place.place.fences.flatMap((fence): Edit[] => {
    const left = fence.kind === "write" ? LEFT_BY_WRITE_FENCE : NOTHING;
    const admits = fence.admits.filter((principal) => {
      const wished = wishFor(ground, principal);
      return !wished || (wished.target & ~left) !== 0;
    });
    return admits.length === fence.admits.length ? [] : [{ kind: "fence", place: ground.id, remove: fence, put: { ...fence, admits } }];
  });
}

/** Starts fresh: what was granted above is granted here again as far as the wishes allow. */
function startingFresh(ground: Ground): Edit[] {
  if (ground.place.fresh || ground.place.place.kind === "site") return [];
  const edits = [
    { kind: "stance", place: ground.id, from: "follow", to: "fresh" } as Edit,
    ...localGrants(ground, { lowerOthers: true, addMissing: true }),
  ];
  const present = new Set(ground.place.place.grants.map(grantKey));
  for (const edit of edits) if (edit.kind === "grant" && edit.put) present.add(grantKey(edit.put));
  for (const { grant } of ground.above) {
    if (wishFor(ground, grant.to) && !(maskOf(grant.abilities) & GOVERN)) continue;
    const allowed = allowedBy(ground, grant);
    const { draft: _, ...plain } = grant;
    const copy = put(plain, allowed);
    if (allowed === NOTHING || present.has(grantKey(copy))) continue;
    present.add(grantKey(copy));
    edits.push({ kind: "grant", place: ground.id, put: copy });
  }
  return edits;
}

/**
 * The patterns of moves for the wishes at a place, always as many and in the same order, so that one pattern can be tried
 * at several places at once. An empty pattern does not apply here.
 */
export function patternsFor(index: AccessIndex, place: CompiledPlace, covered: readonly Covered[], at: Instant): Edit[][] {
  const ground = groundOf(index, place, covered, at);
  const grants = [
    localGrants(ground, { lowerOthers: false, addMissing: true }),
    localGrants(ground, { lowerOthers: false, addMissing: false }),
    localGrants(ground, { lowerOthers: true, addMissing: true }),
    localGrants(ground, { lowerOthers: true, addMissing: false }),
  ];
  const doors = [[], admitting(ground), expelling(ground), fencing(ground, "write"), fencing(ground, "read")];
  const fresh = startingFresh(ground);
  const freshly = fresh.length > 0 ? [fresh, [...admitting(ground), ...fresh], [...expelling(ground), ...fresh]] : [[], [], []];
  return [...doors.flatMap((door) => grants.map((local) => [...door, ...local])), ...freshly];
}

/** Patterns put together over all places, without repeats, at most 24. */
export function candidatesFor(
  index: AccessIndex,
  wanted: readonly { place: CompiledPlace; covered: readonly Covered[] }[],
  at: Instant,
): Edit[][] {
  const perPlace = wanted.map(({ place, covered }) => patternsFor(index, place, covered, at));
  const seen = new Set<string>();
  const candidates: Edit[][] = [];
  for (let pattern = 0; pattern < (perPlace[0]?.length ?? 0); pattern++) {
    const once = new Map<string, Edit>();
    for (const patterns of perPlace) for (const edit of patterns[pattern] ?? []) once.set(JSON.stringify(edit), edit);
    const text = [...once.keys()].join();
    if (once.size === 0 || seen.has(text)) continue;
    seen.add(text);
    candidates.push([...once.values()]);
  }
  return candidates.slice(0, MOST_CANDIDATES);
}
