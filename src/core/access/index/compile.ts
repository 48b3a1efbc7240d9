/**
 * Turns an access document into an index on which decisions are quick: numbers for ids, masks for sets, rule-bearing
 * places linked upwards, places gathered into blocks and rows that share their answers (`blocks.ts`).
 */
import {
  type AccessDocument,
  type Ceilings,
  close,
  endOf,
  GUEST_LIMIT,
  maskOf,
  NO_PLACE,
  OUTSIDER_LIMIT,
  type PageState,
  type Place,
  type PlaceNumber,
  type Principal,
} from "../model/index.ts";
import type { AccessIndex, CompiledPlace } from "./accessIndex.ts";
import { endsOf, peopleEndsOf } from "./instants.ts";
import { Numbering } from "./numbering.ts";
import { Arena, Quick } from "./quick.ts";
import { gatherBlocks, ownerGateOf } from "./rows.ts";
import { compileCast, numberOfPrincipal } from "./subjects.ts";

const narrow = (ceiling: number, own: Ceilings["guests"]): number => (own === undefined ? ceiling : ceiling & close(maskOf(own)));

export const isUnpublished = (place: Place): boolean => {
  if (place.kind !== "page" && place.kind !== "bulletin") return false;
  const state: PageState = place.state === "archived" || place.state === "binned" ? (place.was ?? "live") : place.state;
  return state === "draft" || state === "scheduled";
};

export const NO_RULES: readonly never[] = [];

/** Compiles one place; `above` is its parent, compiled, `children` the numbers of what stands in it, `old` an earlier version of it. */
export function compilePlace(
  place: Place,
  number: PlaceNumber,
  above: CompiledPlace | undefined,
  children: readonly PlaceNumber[],
  document: AccessDocument,
  principals: Numbering,
  old?: CompiledPlace,
): CompiledPlace {
  const fresh = place.stance === "fresh" && place.kind !== "site";
  const bears = fresh || place.grants.length > 0 || place.fences.length > 0;
  const own = place.kind === "space" ? (place.ceilings ?? {}) : {};
  const site = document.ceilings;
  const numberOf = (principal: Principal): number => numberOfPrincipal(principals, principal);
  return {
    number,
    place,
    parent: above?.number ?? NO_PLACE,
    children,
    space: place.kind === "space" ? number : (above?.space ?? NO_PLACE),
    ruled: bears ? number : (above?.ruled ?? NO_PLACE),
    // Rules that did not change stay the very same lists: that tells what may be taken over from an earlier version.
    grants:
      old?.place.grants === place.grants
        ? old.grants
        : place.grants.length === 0
          ? NO_RULES
          : place.grants.map((grant) => ({
              to: numberOf(grant.to),
              mask: close(maskOf(grant.abilities)),
              until: endOf(grant.until),
              draft: grant.draft === true,
            })),
    fences:
      old?.place.fences === place.fences
        ? old.fences
        : place.fences.length === 0
          ? NO_RULES
          : place.fences.map((fence) => ({ kind: fence.kind, admits: fence.admits.map(numberOf) })),
    fresh,
    outsiderCeiling: above ? narrow(above.outsiderCeiling, own.outsiders) : close(maskOf(site.outsiders)) & OUTSIDER_LIMIT,
    guestCeiling: above ? narrow(above.guestCeiling, own.guests) : close(maskOf(site.guests)) & GUEST_LIMIT,
    passes: above ? above.passes && own.passes !== false : site.passes,
    unpublished: isUnpublished(place),
  };
}

function compilePlaces(document: AccessDocument, placeNumbers: Numbering<PlaceNumber>, principals: Numbering) {
  const children: PlaceNumber[][] = new Array(document.places.length);
  let site = NO_PLACE;
  document.places.forEach((place, i) => {
    const number = i as PlaceNumber;
    if (place.parent === undefined) site = number;
    else {
      const parent = placeNumbers.get(place.parent) as PlaceNumber;
      const siblings = children[parent];
      if (siblings) siblings.push(number);
      else children[parent] = [number];
    }
  });
  const places: CompiledPlace[] = new Array(document.places.length);
  // A database before its founding holds no site yet.
  const waiting: { number: PlaceNumber; above: CompiledPlace | undefined }[] = site < 0 ? [] : [{ number: site, above: undefined }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { number, above } = next;
    const inside = children[number] ?? NO_RULES;
    const compiled = compilePlace(document.places[number] as Place, number, above, inside, document, principals);
    places[number] = compiled;
    for (const child of inside) waiting.push({ number: child, above: compiled });
  }
  return { places, site };
}

/**
 * Compiles a sound access document (as `parseAccessDocument` returns it) into an index for `decide`, `effectiveSet`,
 * `explain`, `ripple` and the rest. Implements sections 1 to 4 of access-model.md; time O(size of the document).
 */
export function compile(document: AccessDocument): AccessIndex {
  const cast = compileCast(document);
  const placeNumbers = Numbering.of<PlaceNumber>(document.places.map(({ id }) => id));
  const { places, site } = compilePlaces(document, placeNumbers, cast.principalNumbers);
  const { blocks, blockOf, rowOf } = gatherBlocks(places);
  const ownerGate = Int32Array.from(places, (place) => ownerGateOf(cast, place));
  const quick = new Quick(ownerGate, Arena.empty());
  const ends = endsOf(places, cast.subjects);
  const peopleEnds = peopleEndsOf(cast.subjects);
  return { ...cast, document, places, placeNumbers, site, blocks, blockOf, rowOf, ownerGate, peopleEnds, ends, quick, kept: { cells: 0 } };
}
