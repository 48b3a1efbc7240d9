/**
 * What somebody looks at: the rules of now, or as they were or will be. What of the past or the time to come is shown goes by what its
 * asker keeps today: what somebody could see once is not theirs to see now.
 */

import type { Names } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { knowsPeople, mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { accessAt } from "../forecast/ahead.ts";

export interface Sight {
  /** The rules that are shown, and the instant they are shown for. */
  access: Access;
  /** Who looks, by the rules of now. */
  me: CompiledSubject;
  now: Access;
  /** Whether these are the rules of now, under which things can be done. */
  live: boolean;
  /** Whether a place, as the shown rules have it, may be known of; and who can do what there. */
  sees(place: CompiledPlace): boolean;
  tells(place: CompiledPlace): boolean;
  names: Names;
}

export const sightOfNow = (access: Access, me: CompiledSubject): Sight => ({
  access,
  me,
  now: access,
  live: true,
  sees: (place) => maySee(access, me, place),
  tells: (place) => mayKnowOthers(access, me, place),
  names: namesFor(access, me),
});

/** Names of then: of what is not there today, whoever may know people still knows what it was called. */
function namesThen(now: Access, then: Access, me: CompiledSubject, tells: Sight["tells"]): Names {
  const today = namesFor(now, me);
  const people = knowsPeople(now, me);
  return {
    place: (id) => {
      const place = placeOf(then.index, id);
      if (!place || !tells(place)) return today.place(id);
      return place.place.kind === "site" ? "the site" : `“${place.place.title}”`;
    },
    person: (id) =>
      people && !subjectOf(now.index, { person: id }) ? (subjectOf(then.index, { person: id })?.person?.name ?? id) : today.person(id),
    group: (id) => {
      const gone = people && !now.index.document.groups.some((group) => group.id === id);
      return gone ? (then.index.document.groups.find((group) => group.id === id)?.name ?? today.group(id)) : today.group(id);
    },
  };
}

/** The sight of somebody as of an instant; without one: now. */
export async function openSight(tx: Tx, asker: string, asOf?: string): Promise<Sight> {
  const now = await readAccess(tx);
  const me = subjectFor(now, asker);
  if (asOf === undefined) return sightOfNow(now, me);
  const then = await accessAt(tx, asOf);
  const all = isKeeper(now, me);
  const tells = ({ place }: CompiledPlace) => {
    const today = placeOf(now.index, place.id);
    return all || (today !== undefined && mayKnowOthers(now, me, today));
  };
  return { access: then, me, now, live: false, sees: tells, tells, names: namesThen(now, then, me, tells) };
}

/** A place of the rules that are looked at, if its asker may know of it; throws alike for hidden and missing ones. */
export function seenThen({ access, sees }: Sight, id: string): CompiledPlace {
  const place = placeOf(access.index, id);
  if (!place || !sees(place)) throw notThere();
  return place;
}
