/** Random access documents for the property tests: small, dense in rules, and sound. */
import fc from "fast-check";
import {
  ABILITIES,
  type Ability,
  type AccessDocument,
  abilitiesIn,
  close,
  type Grant,
  type GroupMember,
  GUEST_LIMIT,
  instantOf,
  maskOf,
  OUTSIDER_LIMIT,
  type Person,
  type Place,
  type Principal,
} from "../../src/core/access/model/index.ts";

export const NOW = instantOf("2026-11-23T12:00:00Z");
const INSTANTS = ["2026-11-23T11:59:59.999Z", "2026-11-23T12:00:00Z", "2026-11-23T12:00:00.001Z", "2027-06-01T00:00:00+02:00"];

const maybe = <T>(arb: fc.Arbitrary<T>, weight = 3) => fc.option(arb, { nil: undefined, freq: weight });
const abilitySet = fc.subarray([...ABILITIES], { minLength: 1, maxLength: 4 });
const until = maybe(fc.constantFrom(...INSTANTS), 2);

function principalOf(people: number, groups: number): fc.Arbitrary<Principal> {
  const audience = fc.constantFrom("public", "accounts", "members").map((it): Principal => ({ audience: it as "public" }));
  const person = fc.nat(people - 1).map((i): Principal => ({ person: `p${i}` }));
  const group = fc.nat(groups - 1).map((i): Principal => ({ group: `g${i}` }));
  return fc.oneof(audience, person, group);
}

/** Takes away what a principal may not be granted, so that the document is sound. */
function soundGrant(grant: Grant, people: Person[]): Grant {
  const { to } = grant;
  const guest = "person" in to && people.find((person) => person.id === to.person)?.kind === "guest";
  const forbidden: Ability[] =
    guest || ("audience" in to && to.audience !== "members") ? ["govern", "admit"] : "audience" in to ? ["govern"] : [];
  const abilities = grant.abilities.filter((ability) => !forbidden.includes(ability));
  return { ...grant, abilities: abilitiesIn(close(maskOf(abilities.length > 0 ? abilities : ["read"]))) };
}

const STATES = ["live", "live", "live", "draft", "scheduled", "archived", "binned"] as const;

interface RawPlace {
  kind: "page" | "bulletin";
  parent: number;
  state: (typeof STATES)[number];
  was: "live" | "draft" | "scheduled" | undefined;
  stance: "follow" | "fresh";
  owner: number | undefined;
  tags: string[];
  grants: Grant[];
  fences: Place["fences"];
  ceilings: { outsiders?: Ability[]; guests?: Ability[]; passes?: boolean };
}

function buildPlaces(raw: RawPlace[], spaces: number, people: Person[]): Place[] {
  const places: Place[] = [];
  raw.forEach((it, i) => {
    const common = {
      id: `x${i}`,
      stance: it.stance,
      tags: it.tags,
      grants: it.grants.map((grant) => soundGrant(grant, people)),
      fences: it.fences,
      ...(it.owner === undefined ? {} : { owner: `p${it.owner % people.length}` }),
    };
    if (i === 0) places.push({ ...common, kind: "site", state: "live" });
    else if (i <= spaces) {
      const state = it.state === "archived" || it.state === "binned" ? it.state : "live";
      places.push({ ...common, kind: "space", parent: "x0", state, ceilings: it.ceilings });
    } else {
      const parents = places.filter((place) => place.kind === "space" || (it.kind === "page" && place.kind === "page"));
      const parent = parents[it.parent % parents.length] as Place;
      const gone = it.state === "archived" || it.state === "binned";
      places.push({ ...common, kind: it.kind, parent: parent.id, state: it.state, ...(gone && it.was ? { was: it.was } : {}) });
    }
  });
  return places;
}

const person = fc.record({
  kind: fc.constantFrom("member" as const, "guest" as const),
  status: fc.constantFrom("active" as const, "active" as const, "active" as const, "suspended" as const),
  until: fc.oneof({ weight: 1, arbitrary: fc.constantFrom(...INSTANTS) }, { weight: 4, arbitrary: fc.constant(undefined) }),
});

const outsiders = fc.constantFrom<Ability[]>([], ["read"], ["read", "discuss"]);
const guests = abilitySet
  .map((list) => abilitiesIn(close(maskOf(list)) & GUEST_LIMIT))
  .filter((list) => close(maskOf(list)) === maskOf(list));

/** A sound random document of up to 6 people, 4 groups (nested), 2 spaces and 12 places, 3 passes. */
export const world: fc.Arbitrary<AccessDocument> = fc
  .record({ people: fc.integer({ min: 1, max: 6 }), groups: fc.integer({ min: 1, max: 4 }), spaces: fc.integer({ min: 1, max: 2 }) })
  .chain(({ people, groups, spaces }) => {
    const principal = principalOf(people, groups);
    const grant = fc.record({ to: principal, abilities: abilitySet, until, draft: fc.boolean() }).map((it): Grant => it as Grant);
    const fence = fc.record({ kind: fc.constantFrom("read" as const, "write" as const), admits: fc.array(principal, { maxLength: 3 }) });
    const place = fc.record({
      kind: fc.constantFrom("page" as const, "page" as const, "bulletin" as const),
      parent: fc.nat(20),
      state: fc.constantFrom(...STATES),
      was: maybe(fc.constantFrom("live" as const, "draft" as const, "scheduled" as const)),
      stance: fc.constantFrom("follow" as const, "follow" as const, "fresh" as const),
      owner: maybe(fc.nat(people - 1)),
      tags: fc.subarray(["a", "b"]),
      grants: fc.array(grant, { maxLength: 3 }),
      fences: maybe(fc.array(fence, { maxLength: 2 }), 2).map((it) => it ?? []),
      ceilings: fc.record({ outsiders, guests, passes: fc.boolean() }, { requiredKeys: [] }),
    });
    return fc
      .record({
        ceilings: fc.record({ outsiders: outsiders.map((it) => abilitiesIn(maskOf(it) & OUTSIDER_LIMIT)), guests, passes: fc.boolean() }),
        people: fc
          .array(person, { minLength: people, maxLength: people })
          .map((list): Person[] => list.map(({ until: end, ...it }, i) => ({ id: `p${i}`, ...it, ...(end ? { until: end } : {}) }))),
        members: fc.array(fc.record({ group: fc.nat(groups - 1), person: maybe(fc.nat(people - 1), 4), inner: fc.nat(groups - 1) }), {
          maxLength: 8,
        }),
        places: fc.array(place, { minLength: spaces + 2, maxLength: 12 }),
        passes: fc.array(fc.record({ place: fc.nat(20), below: fc.boolean(), until, revoked: fc.constantFrom(false, false, true) }), {
          maxLength: 3,
        }),
      })
      .map((raw): AccessDocument => {
        const places = buildPlaces(raw.places, spaces, raw.people);
        const pages = places.filter((it) => it.kind === "page" || it.kind === "bulletin");
        return {
          tesoroAccess: 1,
          ceilings: raw.ceilings,
          people: raw.people,
          groups: Array.from({ length: groups }, (_, i) => ({
            id: `g${i}`,
            // A group holds groups of higher number only: no cycles.
            members: raw.members.flatMap((it): GroupMember[] =>
              it.group !== i
                ? []
                : it.person !== undefined
                  ? [{ person: `p${it.person}` }]
                  : it.inner > i
                    ? [{ group: `g${it.inner}` }]
                    : [],
            ),
          })),
          places,
          passes: raw.passes.map((it, i) => ({ ...it, id: `k${i}`, place: (pages[it.place % pages.length] as Place).id })),
          pledges: [],
        };
      });
  });
