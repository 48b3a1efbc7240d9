/** How somebody stands at a place: the facts that the table of acts goes by. */
import { decide, OVERSEES, ownsAsMember, SET_OF_CELL } from "../decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, isActive, siteOf } from "../index/index.ts";
import { type Instant, NOTHING } from "../model/index.ts";
import type { Standing } from "./acts.ts";

/** Whether a member oversees the site. */
export const isSiteKeeper = (index: AccessIndex, subject: CompiledSubject, at: Instant): boolean =>
  (decide(index, subject.number, siteOf(index).number, at) & OVERSEES) !== 0;

/**
 * How a subject stands at a place at an instant (milliseconds since the epoch). `there` is what they hold on the place
 * above; an act that leads elsewhere says so itself. Without a place: how they stand on the whole site.
 */
export const standingAt = (index: AccessIndex, subject: CompiledSubject, place: CompiledPlace | undefined, at: Instant): Standing =>
  standings(index, subject, at)(place);

/** The same for many places: what is so wherever the subject stands is worked out once. */
export function standings(index: AccessIndex, subject: CompiledSubject, at: Instant): (place: CompiledPlace | undefined) => Standing {
  const cellAt = (where: CompiledPlace | undefined) => (where ? decide(index, subject.number, where.number, at) : NOTHING);
  const active = isActive(subject, at);
  const keepsSite = isSiteKeeper(index, subject, at);
  return (place) => {
    const cell = cellAt(place);
    return {
      set: cell & SET_OF_CELL,
      oversight: (cell & OVERSEES) !== 0,
      governs: (cellAt(place && (index.places[place.space] ?? siteOf(index))) & OVERSEES) !== 0,
      keepsSite,
      member: active && subject.class === "members",
      signedIn: active && subject.person !== null,
      owns: active && place !== undefined && ownsAsMember(subject, place),
      unpublished: place?.unpublished ?? false,
      there: cellAt(place && index.places[place.parent]) & SET_OF_CELL,
    };
  };
}
