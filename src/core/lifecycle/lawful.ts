/**
 * What no change leaves behind, whatever door it comes by (access-model.md, 6a): a bare edit of a state or a parent goes by the
 * same choices as an act, and is refused where one is missing.
 */
import { type AccessIndex, type CompiledPlace, placeOf } from "../access/index/index.ts";
import type { Edit, EditConflict } from "../access/model/index.ts";
import type { LifeFacts } from "./facts.ts";
import { canLand, landingGaps } from "./landings.ts";
import { branchOf, isPage, parentOf } from "./tree.ts";

/** What stands below a page that left, though it should have gone along or been handed up. */
function leftBelow(after: AccessIndex, edit: Extract<Edit, { kind: "state" }>): string | null {
  const place = placeOf(after, edit.place);
  if (!place || !isPage(place)) return null;
  const open = place.children.map((number) => after.places[number]?.place.state);
  if (edit.to.state === "binned" && open.some((state) => state !== "binned"))
    return "there are pages below it: they go along into the bin, or are handed up, in the same change";
  if (edit.to.state === "archived" && edit.from.state !== "binned" && open.some((state) => state !== "binned" && state !== "archived"))
    return "there are pages below it: they go along into the archive, or are handed up, in the same change";
  return null;
}

/** What would stand in something that is in the bin. */
function intoBin(before: AccessIndex, after: AccessIndex, edit: Extract<Edit, { kind: "state" | "move" }>): string | null {
  const place = placeOf(after, edit.place);
  if (!place || !isPage(place) || place.place.state === "binned") return null;
  if (edit.kind === "state" && edit.from.state !== "binned") return null;
  const above = parentOf(after, place);
  // What stands in a space that goes into the bin stays in it, wherever it stands there.
  const stays = edit.kind === "move" && placeOf(before, edit.place)?.space === place.space;
  const space = stays ? undefined : after.places[place.space];
  if ((above && isPage(above) && above.place.state === "binned") || space?.place.state === "binned")
    return "what it would stand in is in the bin: choose another place for it in the same change";
  return null;
}

/** Of edits that lead from one index to another, those that lack a choice, with which. */
export function missingChoices(before: AccessIndex, after: AccessIndex, facts: LifeFacts, edits: readonly Edit[]): EditConflict[] {
  const found = edits.flatMap((edit): EditConflict[] => {
    const messages =
      edit.kind === "state"
        ? [leftBelow(after, edit), intoBin(before, after, edit)]
        : edit.kind === "move"
          ? [intoBin(before, after, edit)]
          : [];
    return messages.flatMap((message) => (message === null ? [] : [{ edit, message, unlawful: true as const }]));
  });
  for (const edit of edits) {
    if (edit.kind !== "landing" || edit.to === null) continue;
    const space = placeOf(after, edit.place);
    if (space?.place.kind === "space" && !canLand(after, space, placeOf(after, edit.to)))
      found.push({ edit, message: "people land on a live page of the space itself", unlawful: true });
  }
  for (const { space, landing } of landingGaps(before, after, facts, edits)) {
    if (landing === undefined) continue;
    const edit =
      edits.find((it) => it.kind !== "landing" && "place" in it && it.place === landing) ??
      edits.find((it) => it.kind === "landing" && it.place === space.place.id);
    if (edit) found.push({ edit, message: "it is the landing page of its space: another is chosen in the same change", unlawful: true });
  }
  return found;
}

/**
 * Pages that readers of a space get by edits that did not show them there before: gone live, or moved in while they are live, with
 * all that stands below them. What a space asks of its live pages is asked of these.
 */
export function shownAnew(before: AccessIndex, after: AccessIndex, edits: readonly Edit[]): CompiledPlace[] {
  const touched = new Set<CompiledPlace>();
  for (const edit of edits) {
    const place = edit.kind === "state" || edit.kind === "move" ? placeOf(after, edit.place) : undefined;
    if (place && isPage(place)) for (const it of edit.kind === "move" ? branchOf(after, place) : [place]) touched.add(it);
  }
  const spaceOf = (index: AccessIndex, { space }: CompiledPlace) => index.places[space]?.place.id;
  return [...touched].filter((place) => {
    if (place.place.state !== "live") return false;
    const was = placeOf(before, place.place.id);
    return was?.place.state !== "live" || spaceOf(before, was) !== spaceOf(after, place);
  });
}

/** The landing pages that spaces get since their first page goes live; where there is none, readers land on a list. */
export function firstLandings(before: AccessIndex, after: AccessIndex, facts: LifeFacts, edits: readonly Edit[]): Edit[] {
  return landingGaps(before, after, facts, edits).flatMap(({ space, landing, candidates }): Edit[] => {
    if (landing !== undefined && candidates.length > 0) return [];
    return [{ kind: "landing", place: space.place.id, from: landing ?? null, to: candidates[0]?.place.id ?? null }];
  });
}
