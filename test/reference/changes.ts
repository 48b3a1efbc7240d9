/** Random edits of every kind for the property tests: each fits the document it is drawn for, unless it leads to an unsound one. */
import fc from "fast-check";
import {
  ABILITIES,
  type AccessDocument,
  abilitiesIn,
  type Edit,
  type Grant,
  type GroupMember,
  type Level,
  leadsTo,
  markOf,
  type Pass,
  type Person,
  type Pledge,
  type Principal,
  STATE_ACTS,
  setOfLevel,
} from "../../src/core/access/model/index.ts";

/** Four numbers that choose the kind of edit, what it is about, whom it names, and how. */
export const draw = fc.tuple(fc.nat(15), fc.nat(30), fc.nat(30), fc.nat(30));
export type Draw = typeof draw extends fc.Arbitrary<infer T> ? T : never;

const oneOf = <T>(list: readonly T[], pick: number): T => list[pick % list.length] as T;

export function principalAt(document: AccessDocument, pick: number): Principal {
  const all: Principal[] = [
    { audience: "public" },
    { audience: "accounts" },
    { audience: "members" },
    ...document.groups.map(({ id }) => ({ group: id })),
    ...document.people.map(({ id }) => ({ person: id })),
  ];
  return oneOf(all, pick);
}

export const grantOf = (to: Principal, level: Level): Grant => ({ to, abilities: abilitiesIn(setOfLevel(level)) });

/** An edit to a place's rules: grants, fences, stance. */
export function ruleEditAt(document: AccessDocument, [which, where, pick, how]: Draw): Edit {
  const place = oneOf(document.places, where);
  const principal = principalAt(document, pick);
  const kind = which % 5;
  if (kind === 0) return { kind: "grant", place: place.id, put: grantOf(principal, ((how % 5) + 1) as Level) };
  if (kind === 1 && place.grants[0]) return { kind: "grant", place: place.id, remove: place.grants[0] };
  if (kind === 2 && place.fences[0]) return { kind: "fence", place: place.id, remove: place.fences[0] };
  if (kind === 3) return { kind: "fence", place: place.id, put: { kind: how % 2 ? "read" : "write", admits: [principal] } };
  return { kind: "stance", place: place.id, from: place.stance, to: place.stance === "fresh" ? "follow" : "fresh" };
}

function pageEditAt(document: AccessDocument, [which, where, pick, how]: Draw): Edit {
  const pages = document.places.filter(({ kind }) => kind === "page" || kind === "bulletin");
  const page = oneOf(pages.length > 0 ? pages : document.places, where);
  const others = document.places.filter(({ kind }) => kind === "space" || (kind === "page" && page.kind === "page"));
  const owner = oneOf(document.people, pick).id;
  const tags = (["a"] as string[]).filter(() => how % 2 === 0);
  const acts = STATE_ACTS.flatMap((act) => leadsTo(act, page.kind, page) ?? []);
  const kinds: Edit[] = [
    { kind: "move", place: page.id, from: page.parent ?? "", to: oneOf(others, pick).id },
    { kind: "owner", place: page.id, from: page.owner ?? null, to: how % 4 === 0 ? null : owner },
    { kind: "tags", place: page.id, from: page.tags, to: tags },
    { kind: "state", place: page.id, from: markOf(page), to: acts.length > 0 ? oneOf(acts, how) : { state: "binned" } },
    { kind: "start", place: `new${where}`, parent: oneOf(others, pick).id, as: "page", owner },
  ];
  return oneOf(kinds, which);
}

function siteEditAt(document: AccessDocument, [which, where, pick, how]: Draw): Edit {
  const space = oneOf(
    document.places.filter(({ kind }) => kind === "space" || kind === "site"),
    where,
  );
  const person = oneOf(document.people, pick);
  const group = oneOf(document.groups, where);
  const inner = document.groups.find(({ id }) => id > group.id);
  const member: GroupMember = how % 3 === 0 && inner ? { group: inner.id } : { person: person.id };
  const known = group.members.some((it) => JSON.stringify(it) === JSON.stringify(member));
  const changed: Person = {
    ...person,
    kind: how % 2 ? "member" : "guest",
    status: how % 3 ? "active" : "suspended",
    ...(how % 5 === 0 ? { until: oneOf(["2026-11-23T12:00:00Z", "2027-01-01T00:00:00Z"], pick) } : {}),
  };
  const page = document.places.find(({ kind }) => kind === "page" || kind === "bulletin");
  const pass = document.passes[where % Math.max(1, document.passes.length)];
  const put: Pass = { id: pass?.id ?? "k9", place: pass?.place ?? page?.id ?? "", below: how % 2 === 0, revoked: how % 5 === 0 };
  const pledge: Pledge = {
    id: "pledge",
    who: oneOf([{ class: "outsiders" }, { class: "members" }, { group: group.id }], how),
    rule: how % 2 ? "never" : "always",
    ability: oneOf(ABILITIES, pick),
    where: oneOf([{}, { tag: "a" }, { space: "x1" }, { subtree: "x2" }, { state: "live" }], where),
  };
  const old = document.pledges.find(({ id }) => id === "pledge");
  const own = space.kind === "site" ? document.ceilings : (space.ceilings ?? null);
  const kinds: Edit[] = [
    {
      kind: "ceilings",
      place: space.id,
      from: own,
      to: { outsiders: how % 2 ? [] : ["read"], guests: how % 3 ? ["read"] : ["read", "discuss"], passes: how % 2 === 0 },
    },
    { kind: "member", group: group.id, ...(known ? { remove: member } : { put: member }) },
    { kind: "person", person: person.id, remove: person, put: changed },
    { kind: "person", person: `q${pick}`, put: { id: `q${pick}`, kind: "member", status: "active" } },
    { kind: "pass", pass: put.id, ...(pass ? { remove: pass } : {}), put },
    { kind: "pledge", pledge: "pledge", ...(old ? { remove: old } : {}), put: pledge },
    { kind: "group", group: `h${pick}`, put: { id: `h${pick}` } },
  ];
  return oneOf(kinds, which);
}

/** An edit of any kind. */
export function editAt(document: AccessDocument, it: Draw): Edit {
  if (it[0] < 5) return ruleEditAt(document, it);
  return it[0] < 10 ? pageEditAt(document, it) : siteEditAt(document, it);
}
