/** Why a column shows what it shows at a place: an answer in one sentence, and the steps to it. */
import type { WhyAnswer } from "../../../contracts/slip.ts";
import { effectiveSet, oversightFrom } from "../../../core/access/decide/index.ts";
import { explain, explanationText } from "../../../core/access/explain/index.ts";
import type { CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import { ABILITIES, type Ability, abilitiesIn, describeSet, subjectKey } from "../../../core/access/model/index.ts";
import { type Access, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { knownId, namesFor, subjectName } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { refused } from "../../trouble.ts";
import { subjectsOfColumn } from "../grid/cells.ts";

/** Of many subjects, one who has just what all of them have, or else the one who has least. */
function witness(access: Access, subjects: readonly CompiledSubject[], place: CompiledPlace): CompiledSubject | undefined {
  const sets = subjects.map((subject) => effectiveSet(access.index, subject, place, access.at));
  const common = sets.reduce((all, set) => all & set, sets[0] ?? 0);
  const exact = sets.indexOf(common);
  if (exact >= 0) return subjects[exact];
  const sizes = sets.map((set) => abilitiesIn(set).length);
  return subjects[sizes.indexOf(Math.min(...sizes))];
}

export async function readWhy(asker: string, placeId: string, column: string, ability: Ability | undefined): Promise<WhyAnswer> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    if (column !== `person:${asker}`) need(access, me, "knowOthers", place);
    const subjects = subjectsOfColumn(access, me, column);
    const subject = witness(access, subjects, place);
    if (!subject) throw refused("There is nobody in this column to explain.");
    const names = namesFor(access, me);
    const who = subjectName(access, names, subjectKey(subject.subject));
    const set = effectiveSet(access.index, subject, place, access.at);
    const asked = ability ?? abilitiesIn(set).at(-1) ?? "read";
    const why = explain(access.index, subject, asked, place, access.at);
    const text = explanationText(why, who, names);
    const overseesFrom = oversightFrom(access.index, subject, place, access.at);
    return {
      place: { id: placeId, title: place.place.kind === "site" ? "The whole site" : (place.place.title ?? "") },
      who,
      stands: subjects.length > 1 ? `One of ${subjects.length}, with no more than all of them have.` : "",
      level: describeSet(set),
      ability: asked,
      answer: text.answer,
      steps: text.steps.map((sentence, i) => {
        const step = why.steps[i];
        return { text: sentence, place: step && "place" in step ? knownId(access, me, step.place) : null };
      }),
      abilities: ABILITIES.map((name) => ({ ability: name, has: abilitiesIn(set).includes(name) })),
      oversight: overseesFrom ? `${who} oversees this place through a Keeper grant on ${names.place(overseesFrom.place.id)}.` : "",
    };
  });
}
