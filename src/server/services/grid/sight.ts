/**
 * What somebody looks at: the rules of now, or as they were or will be. What of the past or the time to come is shown goes by what its
 * asker keeps today: what somebody could see once is not theirs to see now.
 */

import type { Names } from "../../../core/access/explain/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, isKeeper, maySee, readAccess, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsOthersAt, knowsPeople, mayKnowOthers, namesFor } from "../../access/known.ts";
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

/** The rules as a change would leave them: what of them is shown goes by the rules of now. */
export const sightAfter = (now: Access, me: CompiledSubject, after: AccessIndex): Sight => {
  const tells = ({ place }: CompiledPlace) => knowsOthersAt(now, me, place.id);
  return { access: { ...now, index: after }, me, now, live: false, sees: tells, tells, names: namesFor(now, me) };
};

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
  const tells = ({ place }: CompiledPlace) => all || knowsOthersAt(now, me, place.id);
  return { access: then, me, now, live: false, sees: tells, tells, names: namesThen(now, then, me, tells) };
}

/** A place of the rules that are looked at, if its asker may know of it; throws alike for hidden and missing ones. */
export function seenThen({ access, sees }: Sight, id: string): CompiledPlace {
  const place = placeOf(access.index, id);
  if (!place || !sees(place)) throw notThere();
  return place;
}

/** What is read now where it is asked for, and as of another instant aside, where the site is large. */
export function nowOrThen<Args extends [asker: string, ...rest: unknown[]], Answer>(
  task: string,
  here: (...args: Args) => Promise<Answer>,
  atOf: (...args: Args) => string | undefined,
): (...args: Args) => Promise<Answer> {
  return (...args) =>
    atOf(...args) === undefined
      ? here(...args)
      : whereItFits(task, args, { whole: true, first: () => somebodyKnown(args[0]) }, () => here(...args));
}
