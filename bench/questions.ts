/** The questions all are asked, and the part of the world that the general libraries hold: one space of the large set. */

import { type AccessIndex, type CompiledPlace, isActive, pathOf } from "../src/core/access/index/index.ts";
import {
  ABILITIES,
  type Ability,
  abilitiesIn,
  type Instant,
  type PlaceNumber,
  principalKey,
  type SubjectNumber,
} from "../src/core/access/model/index.ts";
import { Dice } from "../src/demo/large/dice.ts";

/** A grant or a fence as data that any rule engine can be given. */
export interface PeerGrant {
  place: string;
  /** "audience:members", "group:g1", "person:p1". */
  to: string;
  abilities: Ability[];
}

export interface PeerFence {
  place: string;
  kind: "read" | "write";
  admits: string[];
}

export interface PeerPlace {
  id: string;
  /** The place itself and those above it as far as grants come down from there. */
  scope: string[];
  /** The place itself and all above it. */
  path: string[];
}

/**
 * Members at live pages of one space, and at the space: grants, groups in groups, fences and fresh places. States, ends,
 * ceilings, own drafts and passes are left out, so that every library can hold the rules in its own words.
 */
export interface PeerWorld {
  space: string;
  places: PeerPlace[];
  grants: PeerGrant[];
  fences: PeerFence[];
  /** For each member the principals that match, audiences included. */
  principals: Map<string, string[]>;
}

export interface Question {
  person: string;
  place: string;
  ability: Ability;
  /** The same as numbers. */
  subjectAt: SubjectNumber;
  placeAt: PlaceNumber;
  bit: number;
}

const isPlainLive = (place: CompiledPlace): boolean => place.place.kind === "space" || place.place.state === "live";

/** The space with the number of places nearest to `size`. */
function spaceOfSize(index: AccessIndex, size: number): CompiledPlace {
  const sized = index.blocks.flatMap((block) => {
    const place = index.places[block.space];
    return place && place.place.state === "live" ? [{ place, off: Math.abs(block.places.length - size) }] : [];
  });
  sized.sort((a, b) => a.off - b.off);
  return (sized[0] as { place: CompiledPlace }).place;
}

export function peerWorld(index: AccessIndex, at: Instant, size: number): PeerWorld {
  const space = spaceOfSize(index, size);
  const inside = index.places.filter((place) => place.space === space.number && isPlainLive(place));
  const places = inside.map((place): PeerPlace => {
    const path = pathOf(index, place);
    const start = Math.max(
      0,
      path.findLastIndex(({ fresh }) => fresh),
    );
    const ids = path.map((it) => it.place.id);
    return { id: place.place.id, scope: ids.slice(start), path: ids };
  });
  const above = new Set(places.flatMap(({ path }) => path));
  const bearing = index.places.filter((place) => above.has(place.place.id));
  const grants = bearing.flatMap((place) =>
    place.grants.flatMap((grant, i): PeerGrant[] => {
      const rule = place.place.grants[i];
      return grant.until > at && rule ? [{ place: place.place.id, to: principalKey(rule.to), abilities: abilitiesIn(grant.mask) }] : [];
    }),
  );
  const fences = bearing.flatMap((place) =>
    place.place.fences.map((fence): PeerFence => ({ place: place.place.id, kind: fence.kind, admits: fence.admits.map(principalKey) })),
  );
  const members = index.subjects.filter((subject) => subject.class === "members" && isActive(subject, at));
  const keys = [...index.principalNumbers.keys()];
  const named = new Set([...grants.map(({ to }) => to), ...fences.flatMap(({ admits }) => admits)]);
  const principals = new Map(
    members.map((subject) => [
      subject.person?.id ?? "",
      [...subject.matches].map((it) => keys[it] as string).filter((key) => named.has(key)),
    ]),
  );
  return { space: space.place.id, places, grants, fences, principals };
}

/** Questions about members at places of the peers' space, each about one ability; the same every time. */
export function questionsFor(index: AccessIndex, world: PeerWorld, count: number): Question[] {
  const dice = new Dice(11);
  const people = [...world.principals.keys()];
  return Array.from({ length: count }, () => {
    const person = dice.pick(people);
    const place = dice.pick(world.places).id;
    const ability = dice.pick(ABILITIES.slice(0, 7));
    return {
      person,
      place,
      ability,
      subjectAt: index.subjectNumbers.get(`person:${person}`) as SubjectNumber,
      placeAt: index.placeNumbers.get(place) as PlaceNumber,
      bit: 1 << ABILITIES.indexOf(ability),
    };
  });
}
