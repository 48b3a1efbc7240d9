/** Pledges: statements about access that must stay true (access-model.md, section 9). */
import { bitOf } from "./abilities.ts";
import { type AccessIndex, below, type CompiledPlace, type CompiledSubject, peopleOf, placeOf } from "./compile.ts";
import { type Pledge, subjectKey } from "./document.ts";
import { classKey, effectiveSet, ownersOfUnpublished } from "./evaluate.ts";

/** A subject and a place for which a pledge does not hold. */
export interface Violation {
  pledge: string;
  /** Key as `subjectKey` writes it. */
  subject: string;
  place: string;
}

/** Places a pledge's filter selects: all given conditions hold. */
export function placesOfPledge(index: AccessIndex, pledge: Pledge): CompiledPlace[] {
  const { space, subtree, tag, state } = pledge.where;
  const root = subtree === undefined ? undefined : placeOf(index, subtree);
  const candidates = subtree === undefined ? index.places : root ? below(index, root) : [];
  return candidates.filter(
    ({ place, space: spaceNumber }) =>
      (space === undefined || index.places[spaceNumber]?.place.id === space) &&
      (tag === undefined || place.tags.includes(tag)) &&
      (state === undefined || (place.kind !== "site" && place.state === state)),
  );
}

/** Active subjects a pledge covers; class `outsiders` is the public and every pass holder. */
export function subjectsOfPledge(index: AccessIndex, pledge: Pledge): CompiledSubject[] {
  const { who } = pledge;
  if (!("class" in who)) return peopleOf(index, who);
  return index.subjects.filter((subject) => subject.class === who.class && !subject.suspended);
}

/** Every violation of every pledge at an instant, exact over every subject and place each covers. */
export function brokenPledges(index: AccessIndex, at: number): Violation[] {
  const owners = ownersOfUnpublished(index);
  return index.document.pledges.flatMap((pledge) => {
    const bit = bitOf(pledge.ability);
    const places = placesOfPledge(index, pledge);
    const classes = new Map<string, { failing: string[] }>();
    return subjectsOfPledge(index, pledge).flatMap((subject) => {
      const key = classKey(index, subject, owners);
      let known = classes.get(key);
      if (!known) {
        const fails = (place: CompiledPlace) => ((effectiveSet(index, subject, place, at) & bit) !== 0) === (pledge.rule === "never");
        known = { failing: places.filter(fails).map((place) => place.place.id) };
        classes.set(key, known);
      }
      return known.failing.map((place) => ({ pledge: pledge.id, subject: subjectKey(subject.subject), place }));
    });
  });
}
