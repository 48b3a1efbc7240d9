/** Planning a move: of pages with all that is below them, to a place, before or after what stands there. */
import { type CompiledPlace, pathOf, placeOf, spaceIdOf } from "../access/index/index.ts";
import { type Edit, leadsTo, markOf, type StateMark } from "../access/model/index.ts";
import type { LifeAct } from "./acts.ts";
import type { Making } from "./making.ts";
import { branchOf } from "./tree.ts";

/** Live pages of what is moved that the space they go into never approved: they arrive as drafts, where that is chosen. */
function planArrival(making: Making, { arrive }: LifeAct, moved: readonly CompiledPlace[], target: CompiledPlace): void {
  const { index, facts } = making;
  const unapproved = facts.unapproved?.get(spaceIdOf(index, target));
  if (!unapproved) return;
  const shown = moved.filter(({ space }) => space !== target.space).flatMap((place) => branchOf(index, place));
  const lacking = [...new Set(shown)].filter(({ place }) => place.state === "live" && unapproved.has(place.id));
  if (lacking.length === 0) return;
  const pages = lacking.map(({ place }) => place.id);
  if (arrive === undefined) return void making.choices.push({ choose: "arrival", pages });
  const tops = new Set(moved);
  for (const top of lacking) {
    const { place } = top;
    // What is live can always be taken down.
    const edit: Edit = { kind: "state", place: place.id, from: markOf(place), to: leadsTo("takeDown", place.kind, place) as StateMark };
    making.edits.push(edit);
    if (!tops.has(top)) making.along.add(edit);
  }
  making.arriving.push(...pages);
}

export function planMoving(making: Making, act: LifeAct, tops: readonly CompiledPlace[]): void {
  const { index } = making;
  const { to = "", after } = act;
  const target = placeOf(index, to);
  if (!target) {
    making.choices.push({ choose: "destination", pages: tops.map(({ place }) => place.id) });
    return;
  }
  const above = new Set(pathOf(index, target));
  let last = after;
  const moved: CompiledPlace[] = [];
  for (const place of tops) {
    const { id, kind, parent = "" } = place.place;
    const wrong =
      target.place.kind === "space" || (target.place.kind === "page" && kind === "page")
        ? ""
        : kind === "bulletin"
          ? "a bulletin stands in a space"
          : "pages stand in a space or in a page";
    if (wrong !== "") making.misfit(place, wrong);
    else if (above.has(place)) making.misfit(place, "it cannot be moved into itself");
    else if (target.place.state === "binned" || index.places[target.space]?.place.state === "binned")
      making.misfit(place, "what it would go into is in the bin");
    else {
      if (parent !== to) making.edits.push({ kind: "move", place: id, from: parent, to });
      moved.push(place);
      if (kind === "page" && (parent !== to || last !== undefined))
        making.placings.push({ place: id, ...(last === undefined ? {} : { after: last }) });
      if (kind === "page" && last !== undefined) last = id;
    }
  }
  planArrival(making, act, moved, target);
}
