/** The compiled form of an access document, and how to find things in it. `compile.ts` makes it, `update.ts` brings it up to date. */
import {
  type AccessDocument,
  type Instant,
  type Pass,
  type Place,
  type PlaceNumber,
  type Principal,
  type Subject,
  subjectKey,
} from "../model/index.ts";
import type { Numbering } from "./numbering.ts";
import type { Quick } from "./quick.ts";
import type { Block } from "./rows.ts";
import { ACCOUNTS, type Cast, type CompiledSubject, isActive, MEMBERS, numberOfPrincipal } from "./subjects.ts";

export interface CompiledGrant {
  /** Number of the principal. */
  to: number;
  mask: number;
  /** Infinity when endless. */
  until: Instant;
  draft: boolean;
}

export interface CompiledFence {
  kind: "read" | "write";
  admits: number[];
}

export interface CompiledPlace {
  number: PlaceNumber;
  place: Place;
  /** -1 for the site. */
  parent: PlaceNumber;
  children: readonly PlaceNumber[];
  /** -1 for the site; a space is its own. */
  space: PlaceNumber;
  /** Nearest place at or above this one that bears a grant, a fence or a fresh stance; -1 if there is none. */
  ruled: PlaceNumber;
  grants: readonly CompiledGrant[];
  fences: readonly CompiledFence[];
  fresh: boolean;
  /** Resulting ceilings here, hard limits included. */
  outsiderCeiling: number;
  guestCeiling: number;
  passes: boolean;
  unpublished: boolean;
}

export interface AccessIndex extends Cast {
  document: AccessDocument;
  places: readonly CompiledPlace[];
  placeNumbers: Numbering<PlaceNumber>;
  site: PlaceNumber;
  blocks: readonly Block[];
  /** For each place the number of its block, of its row in the block, and of the member whose own draft it is (-1: nobody's). */
  blockOf: Int32Array;
  rowOf: Int32Array;
  ownerGate: Int32Array;
  /** Instants at which somebody's time here ends, in order, milliseconds since the epoch. */
  peopleEnds: Float64Array;
  /** Instants at which a grant, a pass or somebody's time here ends, in order, milliseconds since the epoch; may hold some that nothing ends at any more. */
  ends: Float64Array;
  quick: Quick;
  /** Cells kept in tables, over all versions of this index that share them. */
  kept: { cells: number };
}

export const siteOf = (index: AccessIndex): CompiledPlace => index.places[index.site] as CompiledPlace;

/** The compiled place of an id, or undefined. */
export function placeOf(index: AccessIndex, id: string): CompiledPlace | undefined {
  const number = index.placeNumbers.get(id);
  return number === undefined ? undefined : index.places[number];
}

/** Id of the space a place stands in, or is; empty for the site. */
export const spaceIdOf = (index: AccessIndex, { space }: CompiledPlace): string => index.places[space]?.place.id ?? "";

/** The compiled subject, or undefined for an unknown pass or person. */
export function subjectOf(index: AccessIndex, subject: Subject): CompiledSubject | undefined {
  const number = index.subjectNumbers.get(subjectKey(subject));
  return number === undefined ? undefined : index.subjects[number];
}

/** The places from the site down to the place itself. */
export function pathOf(index: AccessIndex, place: CompiledPlace): CompiledPlace[] {
  const path: CompiledPlace[] = [];
  for (let step: CompiledPlace | undefined = place; step; step = index.places[step.parent]) path.push(step);
  return path.reverse();
}

/** The nearest place at or above one that bears rules, and from there the next one above. */
export const ruledAt = (index: AccessIndex, place: CompiledPlace): CompiledPlace | undefined => index.places[place.ruled];
export const ruledAbove = (index: AccessIndex, here: CompiledPlace): CompiledPlace | undefined =>
  index.places[index.places[here.parent]?.ruled ?? -1];

/** The block that a place is in. */
export const blockAt = (index: AccessIndex, place: PlaceNumber): Block => index.blocks[index.blockOf[place] as number] as Block;

/** The places a pass may open: its own and, if it reaches below, those there; a fresh place between still stops it. */
export function placesOfPass(index: AccessIndex, pass: Pass): CompiledPlace[] {
  const start = placeOf(index, pass.place);
  if (!start) return [];
  return pass.below ? below(index, start) : [start];
}

/** Everything in a place, itself first, parents before what is in them. */
export function below(index: AccessIndex, place: CompiledPlace): CompiledPlace[] {
  const found = [place];
  for (let i = 0; i < found.length; i++) {
    for (const child of (found[i] as CompiledPlace).children) found.push(index.places[child] as CompiledPlace);
  }
  return found;
}

/** Active people whom a principal matches at an instant; for audience `public` all of them. */
export function peopleOf(index: AccessIndex, principal: Principal, at: Instant): CompiledSubject[] {
  if (!("audience" in principal)) {
    const matching = index.matching[numberOfPrincipal(index.principalNumbers, principal)] ?? [];
    return matching.map((number) => index.subjects[number] as CompiledSubject).filter((subject) => isActive(subject, at));
  }
  const audience = principal.audience === "members" ? MEMBERS : ACCOUNTS;
  return index.subjects.filter((subject) => subject.matches.has(audience) && isActive(subject, at));
}
