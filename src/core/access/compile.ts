/** Turns an access document into an index on which decisions are quick: numbers for ids, masks for sets, rule-bearing places linked upwards. */
import { close, GUEST_LIMIT, maskOf, OUTSIDER_LIMIT } from "./abilities.ts";
import {
  type AccessDocument,
  type Ceilings,
  endOf,
  type PageState,
  type Pass,
  type Person,
  type Place,
  type Principal,
  principalKey,
  type Subject,
  subjectKey,
} from "./document.ts";

export interface CompiledGrant {
  /** Number of the principal. */
  to: number;
  mask: number;
  /** Milliseconds since the epoch; Infinity when endless. */
  until: number;
  draft: boolean;
}

export interface CompiledFence {
  kind: "read" | "write";
  admits: number[];
}

export interface CompiledPlace {
  at: number;
  place: Place;
  /** Number of the parent, -1 for the site. */
  parent: number;
  /** Number of the space, -1 for the site; a space is its own. */
  space: number;
  /** Nearest place at or above this one that bears a grant, a fence or a fresh stance; -1 if there is none. */
  ruled: number;
  grants: CompiledGrant[];
  fences: CompiledFence[];
  fresh: boolean;
  /** Resulting ceilings here, hard limits included. */
  outsiderCeiling: number;
  guestCeiling: number;
  passes: boolean;
  unpublished: boolean;
}

export type SubjectClass = "outsiders" | "guests" | "members";

export interface CompiledSubject {
  subject: Subject;
  class: SubjectClass;
  suspended: boolean;
  /** Numbers of the principals that match. */
  matches: ReadonlySet<number>;
  /** Numbers of the principals that would match if the subject were not suspended. */
  named: ReadonlySet<number>;
  person: Person | null;
  pass: Pass | null;
  /** Number of the pass's place, its end; only for a pass holder. */
  passPlace: number;
  passEnd: number;
}

export interface AccessIndex {
  document: AccessDocument;
  /** Parents stand before what is in them. */
  places: CompiledPlace[];
  placeNumbers: ReadonlyMap<string, number>;
  /** The public first, then pass holders, then people. */
  subjects: CompiledSubject[];
  subjectNumbers: ReadonlyMap<string, number>;
  principalNumbers: ReadonlyMap<string, number>;
}

const narrow = (ceiling: number, own: Ceilings["guests"]): number => (own === undefined ? ceiling : ceiling & close(maskOf(own)));

/** Places ordered so that each stands after its parent. Assumes a sound document. */
function parentsFirst(places: readonly Place[]): Place[] {
  const below = new Map<string | undefined, Place[]>();
  for (const place of places) {
    const siblings = below.get(place.parent);
    if (siblings) siblings.push(place);
    else below.set(place.parent, [place]);
  }
  const ordered: Place[] = [];
  const waiting = [...(below.get(undefined) ?? [])];
  while (waiting.length > 0) {
    const place = waiting.pop() as Place;
    ordered.push(place);
    const inside = below.get(place.id);
    if (inside) for (let i = inside.length - 1; i >= 0; i--) waiting.push(inside[i] as Place);
  }
  return ordered;
}

const isUnpublished = (place: Place): boolean => {
  if (place.kind !== "page" && place.kind !== "bulletin") return false;
  const state: PageState = place.state === "archived" || place.state === "binned" ? (place.was ?? "live") : place.state;
  return state === "draft" || state === "scheduled";
};

function compilePlaces(document: AccessDocument, numberOf: (principal: Principal) => number) {
  const places: CompiledPlace[] = [];
  const numbers = new Map<string, number>();
  for (const place of parentsFirst(document.places)) {
    const at = places.length;
    numbers.set(place.id, at);
    const parent = place.parent === undefined ? -1 : (numbers.get(place.parent) as number);
    const above = places[parent];
    const bears = place.grants.length > 0 || place.fences.length > 0 || (place.stance === "fresh" && place.kind !== "site");
    const own = place.kind === "space" ? (place.ceilings ?? {}) : {};
    const site = document.ceilings;
    places.push({
      at,
      place,
      parent,
      space: place.kind === "space" ? at : (above?.space ?? -1),
      ruled: bears ? at : (above?.ruled ?? -1),
      grants: place.grants.map((grant) => ({
        to: numberOf(grant.to),
        mask: close(maskOf(grant.abilities)),
        until: endOf(grant.until),
        draft: grant.draft === true,
      })),
      fences: place.fences.map((fence) => ({ kind: fence.kind, admits: fence.admits.map(numberOf) })),
      fresh: place.stance === "fresh" && place.kind !== "site",
      outsiderCeiling: above ? narrow(above.outsiderCeiling, own.outsiders) : close(maskOf(site.outsiders)) & OUTSIDER_LIMIT,
      guestCeiling: above ? narrow(above.guestCeiling, own.guests) : close(maskOf(site.guests)) & GUEST_LIMIT,
      passes: above ? above.passes && own.passes !== false : site.passes,
      unpublished: isUnpublished(place),
    });
  }
  return { places, numbers };
}

/** For every person the groups they are in, directly or through other groups; survives a cycle (section 1). */
function groupsOfPeople(document: AccessDocument): Map<string, Set<string>> {
  const holders = new Map<string, string[]>();
  for (const group of document.groups) {
    for (const member of group.members) {
      const key = principalKey(member);
      const list = holders.get(key);
      if (list) list.push(group.id);
      else holders.set(key, [group.id]);
    }
  }
  const result = new Map<string, Set<string>>();
  for (const person of document.people) {
    const found = new Set<string>();
    const waiting = [...(holders.get(`person:${person.id}`) ?? [])];
    while (waiting.length > 0) {
      const id = waiting.pop() as string;
      if (found.has(id)) continue;
      found.add(id);
      waiting.push(...(holders.get(`group:${id}`) ?? []));
    }
    result.set(person.id, found);
  }
  return result;
}

/**
 * Compiles a sound access document (as `parseAccessDocument` returns it) into an index for `effectiveSet`, `explain`,
 * `ripple` and the rest. Implements sections 1 to 4 of access-model.md; time O(size of the document).
 */
export function compile(document: AccessDocument): AccessIndex {
  const principalNumbers = new Map<string, number>();
  const numberOf = (principal: Principal): number => {
    const key = principalKey(principal);
    let number = principalNumbers.get(key);
    if (number === undefined) {
      number = principalNumbers.size;
      principalNumbers.set(key, number);
    }
    return number;
  };
  const everyone = numberOf({ audience: "public" });
  const accounts = numberOf({ audience: "accounts" });
  const members = numberOf({ audience: "members" });
  const { places, numbers } = compilePlaces(document, numberOf);

  const outsider = {
    class: "outsiders" as const,
    suspended: false,
    matches: new Set([everyone]),
    named: new Set([everyone]),
    person: null,
  };
  const nobodysPass = { pass: null, passPlace: -1, passEnd: Number.NEGATIVE_INFINITY };
  const subjects: CompiledSubject[] = [{ subject: { public: true }, ...outsider, ...nobodysPass }];
  for (const pass of document.passes) {
    const passEnd = pass.revoked ? Number.NEGATIVE_INFINITY : endOf(pass.until);
    subjects.push({ subject: { pass: pass.id }, ...outsider, pass, passPlace: numbers.get(pass.place) ?? -1, passEnd });
  }
  const groups = groupsOfPeople(document);
  for (const person of document.people) {
    const suspended = person.status === "suspended";
    const named = new Set<number>([everyone, accounts]);
    if (person.kind === "member") named.add(members);
    const self = principalNumbers.get(`person:${person.id}`);
    if (self !== undefined) named.add(self);
    for (const group of groups.get(person.id) ?? []) {
      const number = principalNumbers.get(`group:${group}`);
      if (number !== undefined) named.add(number);
    }
    const matches = suspended ? new Set<number>() : named;
    const kind: SubjectClass = person.kind === "member" ? "members" : "guests";
    subjects.push({ subject: { person: person.id }, class: kind, suspended, matches, named, person, ...nobodysPass });
  }
  const subjectNumbers = new Map(subjects.map((entry, i) => [subjectKey(entry.subject), i]));
  return { document, places, placeNumbers: numbers, subjects, subjectNumbers, principalNumbers };
}

/** The compiled place of an id, or undefined. */
export function placeOf(index: AccessIndex, id: string): CompiledPlace | undefined {
  const number = index.placeNumbers.get(id);
  return number === undefined ? undefined : index.places[number];
}

/** The compiled subject, or undefined for an unknown pass or person. */
export function subjectOf(index: AccessIndex, subject: Subject): CompiledSubject | undefined {
  const number = index.subjectNumbers.get(subjectKey(subject));
  return number === undefined ? undefined : index.subjects[number];
}

/** The places from the site down to the place itself. */
export function pathOf(index: AccessIndex, place: CompiledPlace): CompiledPlace[] {
  const path: CompiledPlace[] = [];
  for (let at: CompiledPlace | undefined = place; at; at = index.places[at.parent]) path.unshift(at);
  return path;
}

/** Everything in a place, itself first. */
export function below(index: AccessIndex, place: CompiledPlace): CompiledPlace[] {
  const inside = new Set([place.at]);
  const found = [place];
  for (let i = place.at + 1; i < index.places.length; i++) {
    const candidate = index.places[i] as CompiledPlace;
    if (!inside.has(candidate.parent)) break;
    inside.add(candidate.at);
    found.push(candidate);
  }
  return found;
}

/** People whom a principal matches; for audience `public` every active person. */
export function peopleOf(index: AccessIndex, principal: Principal): CompiledSubject[] {
  const people = index.subjects.filter((entry) => entry.person !== null && !entry.suspended);
  if ("person" in principal) return people.filter((entry) => entry.person?.id === principal.person);
  if ("audience" in principal) return principal.audience === "members" ? people.filter((entry) => entry.class === "members") : people;
  const number = index.principalNumbers.get(principalKey(principal));
  if (number !== undefined) return people.filter((entry) => entry.matches.has(number));
  const groups = groupsOfPeople(index.document);
  return people.filter((entry) => groups.get((entry.person as Person).id)?.has(principal.group));
}
