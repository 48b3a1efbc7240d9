/**
 * A slow, literal reading of access-model.md, sections 1 to 6, written from the page alone: sets of words, no index, no
 * masks, nothing imported from the core but types. The property tests hold the core to it.
 */
import type { Ability, AccessDocument, Instant, Person, Place, Principal, Subject } from "../../src/core/access/model/index.ts";

type Words = Set<Ability>;

const NEEDS: Record<Ability, Ability[]> = {
  read: [],
  discuss: ["read"],
  revise: ["read"],
  add: ["read"],
  publish: ["revise"],
  arrange: ["read"],
  retire: ["read"],
  admit: ["read"],
  govern: ["admit", "arrange", "retire"],
};
const ALL = Object.keys(NEEDS) as Ability[];

function closed(words: Iterable<Ability>): Words {
  const result = new Set(words);
  for (;;) {
    const size = result.size;
    for (const word of [...result]) for (const need of NEEDS[word]) result.add(need);
    if (result.size === size) return result;
  }
}

const both = (a: Words, b: Iterable<Ability>): Words => {
  const other = new Set(b);
  return new Set([...a].filter((word) => other.has(word)));
};
const either = (a: Words, b: Words): Words => new Set([...a, ...b]);

const personOf = (doc: AccessDocument, subject: Subject): Person | undefined =>
  "person" in subject ? doc.people.find((person) => person.id === subject.person) : undefined;

function inGroup(doc: AccessDocument, person: string, group: string, seen: string[] = []): boolean {
  if (seen.includes(group)) return false;
  const found = doc.groups.find((it) => it.id === group);
  return (found?.members ?? []).some((member) =>
    "person" in member ? member.person === person : inGroup(doc, person, member.group, [...seen, group]),
  );
}

/** Not suspended, and their last day not over. */
const active = (person: Person, at: Instant): boolean => person.status === "active" && running(person.until, at);

function matches(doc: AccessDocument, principal: Principal, subject: Subject): boolean {
  const person = personOf(doc, subject);
  if ("audience" in principal) {
    if (principal.audience === "public") return true;
    return principal.audience === "accounts" ? person !== undefined : person?.kind === "member";
  }
  if (!person) return false;
  return "group" in principal ? inGroup(doc, person.id, principal.group) : principal.person === person.id;
}

function pathTo(doc: AccessDocument, place: Place): Place[] {
  const above = doc.places.find((it) => it.id === place.parent);
  return above ? [...pathTo(doc, above), place] : [place];
}

const running = (until: string | null | undefined, at: Instant): boolean => until === undefined || until === null || Date.parse(until) > at;

const isPage = (place: Place): boolean => place.kind === "page" || place.kind === "bulletin";
const waiting = (state: string): boolean => state === "draft" || state === "scheduled";
const unpublished = (place: Place): boolean =>
  isPage(place) && (waiting(place.state) || ((place.state === "archived" || place.state === "binned") && waiting(place.was ?? "live")));

/** Step 2: the unions P and Q. */
function unions(doc: AccessDocument, subject: Subject, path: Place[], at: Instant): { p: Words; q: Words } {
  const place = path[path.length - 1] as Place;
  const person = personOf(doc, subject);
  const fresh = path.map((it, i) => (i > 0 && it.stance === "fresh" ? i : 0));
  const start = Math.max(...fresh);
  let p: Words = new Set();
  let q: Words = new Set();
  for (const grant of path.slice(start).flatMap((it) => it.grants)) {
    if (!matches(doc, grant.to, subject) || !running(grant.until, at)) continue;
    const isPublic = "audience" in grant.to && grant.to.audience === "public";
    if (isPublic) p = either(p, closed(grant.abilities));
    else q = either(q, closed(grant.abilities));
  }
  if (unpublished(place) && person?.kind === "member" && place.owner === person.id)
    q = either(q, new Set(["read", "discuss", "revise", "retire"]));
  const pass = "pass" in subject ? doc.passes.find((it) => it.id === subject.pass) : undefined;
  if (pass && !pass.revoked && running(pass.until, at)) {
    const standsAt = path.findIndex((it) => it.id === pass.place);
    const last = path.length - 1;
    if (standsAt === last || (standsAt >= 0 && pass.below && start <= standsAt)) q = either(q, new Set(["read"]));
  }
  return { p, q };
}

/** Step 4: the ceilings O and U and whether passes are allowed, at a place. */
function ceilingsAt(doc: AccessDocument, path: Place[]) {
  const own = path.find((it) => it.kind === "space")?.ceilings ?? {};
  const o = new Set(doc.ceilings.outsiders);
  const u = new Set(doc.ceilings.guests);
  return {
    o: own.outsiders ? both(o, own.outsiders) : o,
    u: own.guests ? both(u, own.guests) : u,
    passes: doc.ceilings.passes && own.passes !== false,
  };
}

/** Step 5. */
function gated(doc: AccessDocument, subject: Subject, path: Place[], g: Words, at: Instant): Words {
  const place = path[path.length - 1] as Place;
  const person = personOf(doc, subject);
  const member = person?.kind === "member";
  let set = g;
  if (unpublished(place)) {
    const outsider = person === undefined;
    const helper = place.grants.some((grant) => grant.draft && running(grant.until, at) && matches(doc, grant.to, subject));
    const owner = member && place.owner === person?.id;
    if (outsider || !(set.has("revise") || owner || helper)) return new Set();
  }
  const gate = (state: string) => {
    if (state === "archived") set = member ? both(set, ["read", "arrange", "retire", "admit", "govern"]) : new Set();
    if (state === "binned") set = member && set.has("retire") ? both(set, ["read", "retire"]) : new Set();
  };
  if (place.kind !== "site") gate(place.state);
  if (isPage(place)) gate((path[1] as Place).state);
  return set;
}

/** Section 5, whole. */
export function referenceSet(doc: AccessDocument, subject: Subject, placeId: string, at: Instant): Ability[] {
  const person = personOf(doc, subject);
  if (person && !active(person, at)) return [];
  const path = pathTo(doc, doc.places.find((it) => it.id === placeId) as Place);
  let { p, q } = unions(doc, subject, path, at);
  for (const fence of path.flatMap((it) => it.fences)) {
    if (fence.admits.some((principal) => matches(doc, principal, subject))) continue;
    const left: Ability[] = fence.kind === "read" ? [] : ["read", "discuss"];
    p = both(p, left);
    q = both(q, left);
  }
  const { o, u, passes } = ceilingsAt(doc, path);
  let g: Words;
  if (person?.kind === "member") g = either(p, q);
  else if (person) g = either(both(p, o), both(q, u));
  else if ("pass" in subject) g = either(both(p, o), passes ? q : new Set());
  else g = both(p, o);
  const result = gated(doc, subject, path, g, at);
  return ALL.filter((word) => result.has(word));
}

/** Section 6. */
export function referenceOversight(doc: AccessDocument, subject: Subject, placeId: string, at: Instant): boolean {
  const person = personOf(doc, subject);
  if (person?.kind !== "member" || !active(person, at)) return false;
  const path = pathTo(doc, doc.places.find((it) => it.id === placeId) as Place);
  return path.some((it) =>
    it.grants.some((grant) => grant.abilities.includes("govern") && running(grant.until, at) && matches(doc, grant.to, subject)),
  );
}

/** Every subject of a document, the public first. */
export const subjectsOf = (doc: AccessDocument): Subject[] => [
  { public: true },
  ...doc.passes.map((pass) => ({ pass: pass.id })),
  ...doc.people.map((person) => ({ person: person.id })),
];
