/** The tree of places as acts go through it: branches, what is handed up, and the order things stand in. */
import { type AccessIndex, below, type CompiledPlace, pathOf } from "../access/index/index.ts";
import type { LifeActName } from "./acts.ts";
import type { LifeFacts } from "./facts.ts";

export const isPage = ({ place }: CompiledPlace): boolean => place.kind === "page" || place.kind === "bulletin";

/** A page with all that stands below it; of anything else, itself alone: what is in a space goes by the state of the space. */
export const branchOf = (index: AccessIndex, place: CompiledPlace): CompiledPlace[] => (isPage(place) ? below(index, place) : [place]);

export const parentOf = (index: AccessIndex, place: CompiledPlace): CompiledPlace | undefined => index.places[place.parent];

const compare = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** What is directly in a place, as it stands there. */
export const childrenOf = (index: AccessIndex, { slots }: LifeFacts, place: CompiledPlace): CompiledPlace[] =>
  place.children
    .map((number) => index.places[number] as CompiledPlace)
    .sort((a, b) => compare(slots.get(a.place.id) ?? "~", slots.get(b.place.id) ?? "~"));

/** Some places as they stand in the tree: by depth, and beside one another by their slots. */
export const inOrder = (index: AccessIndex, { slots }: LifeFacts, list: readonly CompiledPlace[]): CompiledPlace[] =>
  list
    .map((place) => ({ place, depth: pathOf(index, place).length, slot: slots.get(place.place.id) ?? "~" }))
    .sort((a, b) => a.depth - b.depth || compare(a.slot, b.slot))
    .map(({ place }) => place);

/** Of some places, those that do not stand in another of them. */
export function topsOf(index: AccessIndex, list: readonly CompiledPlace[]): CompiledPlace[] {
  const chosen = new Set(list);
  return list.filter((place) => {
    for (let above = parentOf(index, place); above; above = parentOf(index, above)) if (chosen.has(above)) return false;
    return true;
  });
}

/**
 * What is handed up when places leave (lifecycle.md, "Order"): each page directly in one that leaves stands directly after the
 * page it was under, or after that one's parent where that leaves as well, in the order it had. What is in the bin follows
 * its parent; what is archived may stay in what is archived.
 */
export function handedUp(
  index: AccessIndex,
  facts: LifeFacts,
  leaving: ReadonlySet<CompiledPlace>,
  act: LifeActName,
): { place: CompiledPlace; to: string; after: string }[] {
  const stays = ({ place }: CompiledPlace) => place.state === "binned" || (act === "archive" && place.state === "archived");
  const found: { place: CompiledPlace; to: string; after: string }[] = [];
  // Of pages that leave together the uppermost; one that leaves below a page that is handed up itself is one as well.
  const tops = [...leaving].filter((place) => {
    const above = parentOf(index, place);
    return isPage(place) && !(above && isPage(above) && leaving.has(above));
  });
  for (const top of tops) {
    const to = parentOf(index, top)?.place.id ?? "";
    let after = top.place.id;
    const visit = (place: CompiledPlace): void => {
      for (const child of childrenOf(index, facts, place)) {
        if (leaving.has(child)) visit(child);
        else if (!stays(child)) {
          found.push({ place: child, to, after });
          after = child.place.id;
        }
      }
    };
    visit(top);
  }
  return found;
}
