/** Why a column shows what it shows at a place: an answer in one sentence, and the steps to it. */
import type { WhyAnswer } from "../../../contracts/slip.ts";
import { effectiveSet, oversightFrom } from "../../../core/access/decide/index.ts";
import { explain, explanationText } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { ABILITIES, type Ability, abilitiesIn, describeSet, readViewpoint, subjectKey } from "../../../core/access/model/index.ts";
import { type Access, need } from "../../access/current.ts";
import { imaginedIn } from "../../access/imagined.ts";
import { subjectName } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { refused } from "../../trouble.ts";
import { subjectsSeen } from "../grid/cells.ts";
import { nameOf } from "../grid/grid.ts";
import { nowOrThen, openSight, type Sight, seenThen } from "../grid/sight.ts";

/** Of many subjects, one who has just what all of them have, or else the one who has least. */
function witness(access: Access, subjects: readonly CompiledSubject[], place: CompiledPlace): CompiledSubject | undefined {
  const sets = subjects.map((subject) => effectiveSet(access.index, subject, place, access.at));
  const common = sets.reduce((all, set) => all & set, sets[0] ?? 0);
  const exact = sets.indexOf(common);
  if (exact >= 0) return subjects[exact];
  const sizes = sets.map((set) => abilitiesIn(set).length);
  return subjects[sizes.indexOf(Math.min(...sizes))];
}

/** What is asked of *why*. */
export interface WhyOrder {
  place: string;
  viewpoint: string;
  ability?: Ability | undefined;
  at?: string | undefined;
}

/** Whose answer stands for a column: of an imagined person, in an index of their own. */
function askedAbout(sight: Sight, column: string, place: CompiledPlace) {
  const { access } = sight;
  const viewpoint = readViewpoint(column);
  if (viewpoint?.kind === "imagined") {
    const made = imaginedIn(access.index, { kind: viewpoint.of, groups: viewpoint.groups });
    return made ? { ...made, count: 1, who: nameOf(sight.names, viewpoint) } : null;
  }
  const subjects = subjectsSeen(sight, column);
  const subject = witness(access, subjects, place);
  if (!subject) return null;
  return { index: access.index, subject, count: subjects.length, who: subjectName(access, sight.names, subjectKey(subject.subject)) };
}

export const readWhyHere = (asker: string, { place: placeId, viewpoint: column, ability, at }: WhyOrder): Promise<WhyAnswer> =>
  inSnapshot(async (tx) => {
    const sight = await openSight(tx, asker, at);
    const place = seenThen(sight, placeId);
    if (sight.live && column !== `person:${asker}`) need(sight.access, sight.me, "knowOthers", place);
    const about = askedAbout(sight, column, place);
    if (!about) throw refused("There is nobody in this column to explain.");
    const { index, subject, who, count } = about;
    const { names, access } = sight;
    const set = effectiveSet(index, subject, place, access.at);
    const asked = ability ?? abilitiesIn(set).at(-1) ?? "read";
    const why = explain(index, subject, asked, place, access.at);
    const text = explanationText(why, who, names);
    const overseesFrom = oversightFrom(index, subject, place, access.at);
    const known = (id: string) => {
      const step = placeOf(index, id);
      return step && sight.sees(step) ? id : null;
    };
    return {
      place: { id: placeId, title: place.place.kind === "site" ? "The whole site" : (place.place.title ?? "") },
      who,
      stands: count > 1 ? `One of ${count}, with no more than all of them have.` : "",
      level: describeSet(set),
      ability: asked,
      answer: text.answer,
      steps: text.steps.map((sentence, i) => {
        const step = why.steps[i];
        return { text: sentence, place: step && "place" in step ? known(step.place) : null };
      }),
      abilities: ABILITIES.map((name) => ({ ability: name, has: abilitiesIn(set).includes(name) })),
      oversight: overseesFrom ? `${who} oversees this place through a Keeper grant on ${names.place(overseesFrom.place.id)}.` : "",
    };
  });

export const readWhy = nowOrThen("readWhyHere", readWhyHere, (_, { at }) => at);
