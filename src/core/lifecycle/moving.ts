/** Planning a move: of pages with all that is below them, to a place, before or after what stands there. */
import { type CompiledPlace, pathOf, placeOf } from "../access/index/index.ts";
import type { LifeAct } from "./acts.ts";
import type { Making } from "./making.ts";

export function planMoving(making: Making, { to = "", after }: LifeAct, tops: readonly CompiledPlace[]): void {
  const { index } = making;
  const target = placeOf(index, to);
  if (!target) {
    making.choices.push({ choose: "destination", pages: tops.map(({ place }) => place.id) });
    return;
  }
  const above = new Set(pathOf(index, target));
  let last = after;
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
      if (kind === "page" && (parent !== to || last !== undefined))
        making.placings.push({ place: id, ...(last === undefined ? {} : { after: last }) });
      if (kind === "page" && last !== undefined) last = id;
    }
  }
}
