/** Planning to erase (lifecycle.md, "Erasing"): what is in the bin, with all that is below it; passes end, pledges that name it are changed first. */
import { type AccessIndex, below, type CompiledPlace } from "../access/index/index.ts";
import { erasableFrom } from "./facts.ts";
import type { Making } from "./making.ts";

/** What is in the bin so that a place is: itself, or its space; undefined where neither is. */
function inBin(index: AccessIndex, place: CompiledPlace): CompiledPlace | undefined {
  if (place.place.state === "binned") return place;
  const space = index.places[place.space];
  return space?.place.state === "binned" ? space : undefined;
}

/** Whether a place is in the bin, by itself or with its space: then it can be erased. */
export const isErasable = (index: AccessIndex, place: CompiledPlace): boolean => inBin(index, place) !== undefined;

/** Days in UTC, as the house rule counts them. */
const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" });

export function planErasing(making: Making, tops: readonly CompiledPlace[]): void {
  const { index, facts, at } = making;
  const going = tops.flatMap((place) => {
    const left = facts.left.get(inBin(index, place)?.place.id ?? "");
    const from = left && erasableFrom(left.at, facts.keepsDays);
    if (from === undefined || from > at) {
      making.misfit(
        place,
        from === undefined ? "it is not known since when it is in the bin" : `the bin keeps it until ${day.format(from)}`,
      );
      return [];
    }
    return below(index, place);
  });
  for (const place of going) if (!isErasable(index, place)) making.misfit(place, "it is not in the bin");
  const gone = new Set(going.map(({ place }) => place.id));
  for (const pledge of index.document.pledges) {
    const { subtree, space } = pledge.where;
    for (const id of [subtree, space])
      if (id !== undefined && gone.has(id)) {
        const named = going.find(({ place }) => place.id === id) as CompiledPlace;
        making.misfit(named, "a pledge names it: change the pledge first");
      }
  }
  for (const pass of index.document.passes)
    if (gone.has(pass.place) && !pass.revoked)
      making.follow({ kind: "pass", pass: pass.id, remove: pass, put: { ...pass, revoked: true } });
  // Deepest first: nothing ever stands in what is gone.
  const chosen = new Set(making.places);
  for (const place of [...going].reverse()) making.edits.push({ kind: "erase", place: place.place.id });
  making.below.along.push(...going.flatMap(({ place }) => (chosen.has(place.id) ? [] : [place.id])));
}
