/**
 * Planning acts (lifecycle.md): the edits an act comes to, what must still be chosen, what of it follows without being asked
 * for, and, of what comes back, what will be as before and what will not. Pure: nothing is judged here and nothing is said
 * to anybody; `authority/` judges the edits, `impact.ts` says what they would break.
 */
import { type AccessIndex, type CompiledPlace, placeOf } from "../access/index/index.ts";
import { type Edit, type Instant, leadsTo, markOf, type PageState } from "../access/model/index.ts";
import { actFits, belowOf, type LifeAct } from "./acts.ts";
import { isErasable, planErasing } from "./erasing.ts";
import type { LifeFacts } from "./facts.ts";
import { planLandings } from "./landings.ts";
import { type Choice, Making, type Plan } from "./making.ts";
import { planMoving } from "./moving.ts";
import { planReturning } from "./returning.ts";
import { branchOf, handedUp, inOrder, isPage, topsOf } from "./tree.ts";

/** What a place is now, for whoever hears that an act does not fit it. */
export const IS_NOW: Record<PageState, string> = {
  live: "it is live",
  draft: "it is a draft",
  scheduled: "it is scheduled",
  archived: "it is in the archive",
  binned: "it is in the bin",
};

/** An act as it would be if what is still to be chosen were chosen in the first way there is; null where that is not possible. */
export function assumed(act: LifeAct, choices: readonly Choice[]): LifeAct | null {
  let it: LifeAct | null = act;
  for (const choice of choices) {
    if (choice.choose === "below") it = { ...it, below: "along" };
    else if (choice.choose === "arrival") it = { ...it, arrive: "draft" };
    else if (choice.choose === "landing")
      it = { ...it, landings: [...(it.landings ?? []), { space: choice.space, page: choice.candidates[0] as string }] };
    else return null;
  }
  return it;
}

/** A plan with its landing pages chosen in the first way there is, where nothing else is left to choose; else null. */
export function landed(plan: Plan, { landings }: LifeFacts): Plan | null {
  const chosen = plan.choices.flatMap((it): Edit[] =>
    it.choose === "landing"
      ? [{ kind: "landing", place: it.space, from: landings.get(it.space) ?? null, to: it.candidates[0] as string }]
      : [],
  );
  return chosen.length < plan.choices.length ? null : { ...plan, choices: [], edits: [...plan.edits, ...chosen] };
}

/** Archiving, binning, taking down: with what is below, or handing it up. */
function planLeaving(making: Making, { act, below }: LifeAct, chosen: readonly CompiledPlace[]): void {
  const { index, facts } = making;
  if (act !== "takeDown" && act !== "archive" && act !== "bin") return;
  const takesBelow = act !== "takeDown";
  const inside = takesBelow ? chosen.flatMap((place) => (isPage(place) ? branchOf(index, place).slice(1) : [])) : [];
  const asked = new Set(chosen);
  // What is in the bin already follows its parent; what is archived already needs no archiving.
  const open = inside.filter((place) => !asked.has(place) && leadsTo(act, place.place.kind, place.place) !== null);
  const waiting = [...new Set(open)];
  if (waiting.length > 0 && below !== "along" && below !== "handUp")
    making.choices.push({ choose: "below", options: belowOf(act), pages: waiting.map(({ place }) => place.id) });
  const going = [...chosen, ...(below === "along" ? waiting : [])];
  for (const place of going) {
    const to = leadsTo(act, place.place.kind, place.place);
    if (!to) continue;
    const edit: Edit = { kind: "state", place: place.place.id, from: markOf(place.place), to };
    making.edits.push(edit);
    if (!asked.has(place)) making.along.add(edit);
  }
  if (below === "along") making.below.along.push(...waiting.map(({ place }) => place.id));
  if (below === "handUp") {
    for (const { place, to, after } of handedUp(index, facts, new Set(going), act)) {
      making.follow({ kind: "move", place: place.place.id, from: place.place.parent ?? "", to });
      making.placings.push({ place: place.place.id, after });
      making.below.handedUp.push(place.place.id);
    }
  }
}

/**
 * Plans an act on a site as it is at an instant (milliseconds since the epoch). Every place is looked at: what the act cannot
 * be done to is a misfit, with the reason; what must be chosen first is a choice. With neither, `edits` make the whole act.
 * Implements lifecycle.md, "States and acts", "Branches", "Order", "Restoring", "Erasing".
 */
export function planAct(index: AccessIndex, facts: LifeFacts, act: LifeAct, at: Instant): Plan {
  const making = new Making(index, facts, at);
  const found = [...new Set(act.places)].flatMap((id) => placeOf(index, id) ?? []);
  const fit = found.filter((place) => {
    const fits = act.act === "erase" ? isErasable(index, place) : actFits(act.act, place.place.kind, place.place);
    if (!fits) making.misfit(place, place.place.kind === "site" ? "this is not done to the site" : misfitWords(act, place));
    return fits;
  });
  const chosen = inOrder(index, facts, fit);
  making.places = chosen.map(({ place }) => place.id);
  if (act.act === "move") planMoving(making, act, topsOf(index, chosen));
  else if (act.act === "unarchive" || act.act === "restore") planReturning(making, act, chosen);
  else if (act.act === "erase") planErasing(making, topsOf(index, chosen));
  else planLeaving(making, act, chosen);
  planLandings(making, act);
  return making;
}

function misfitWords({ act }: LifeAct, { place }: CompiledPlace): string {
  if (act === "move" && place.kind === "space") return "a space is not moved";
  return IS_NOW[place.state];
}
