/** What somebody would see, told to whoever asks them in: by space, and what of it comes through groups and audiences. */
import type { Sight } from "../../../contracts/inviting.ts";
import { cellsInBlock, tellsOfOthers } from "../../../core/access/decide/index.ts";
import { below, type CompiledPlace, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { type Access, maySee, subjectFor } from "../../access/current.ts";
import { levelsIn } from "../people/told.ts";

const MOST_SPACES = 40;
const MOST_BESIDES = 60;

/** `then`: the access after the change, in which they are there; `asked`: the places they are asked in to. */
export function sightOf(then: Access, maker: string, person: string, asked: readonly string[]): Sight {
  const { index, at } = then;
  const who = subjectOf(index, { person });
  if (!who) return { spaces: [], more: 0, besides: [], hidden: 0 };
  const me = subjectFor(then, maker);
  const named = new Set<number>();
  for (const id of asked) {
    const place = placeOf(index, id);
    if (place?.place.kind === "space")
      for (const number of index.blocks[index.blockOf[place.number] as number]?.places ?? []) named.add(number);
    else if (place) for (const { number } of below(index, place)) named.add(number);
  }
  const besides: CompiledPlace[] = [];
  let hidden = 0;
  const spaces: Sight["spaces"] = [];
  for (const block of index.blocks) {
    const space = index.places[block.space];
    if (space?.place.kind !== "space") continue;
    const known = [...cellsInBlock(index, block, me.number, at)].map(({ cell }) => tellsOfOthers(cell));
    let here = 0;
    let row = -1;
    for (const { row: it, cell } of cellsInBlock(index, block, who.number, at)) {
      row++;
      if (!(cell & READ) || it.example.place.state === "binned") continue;
      for (const number of it.places) {
        const place = index.places[number] as CompiledPlace;
        if (named.has(number) || place === space) continue;
        here++;
        if (!maySee(then, me, place)) hidden++;
        else if (known[row] && besides.length < MOST_BESIDES) besides.push(place);
      }
    }
    const levels = levelsIn(then, block, who, me);
    const some = Object.entries(levels).some(([level, pages]) => level !== "0" && pages > 0);
    if ((some || here > 0) && maySee(then, me, space))
      spaces.push({ space: { id: space.place.id, name: space.place.title ?? "" }, levels, besides: here });
  }
  return {
    spaces: spaces.slice(0, MOST_SPACES),
    more: Math.max(0, spaces.length - MOST_SPACES),
    besides: besides.map(({ place }) => ({ id: place.id, name: place.title ?? "" })),
    hidden,
  };
}
