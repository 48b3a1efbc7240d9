/**
 * What a change brings along without being asked (lifecycle.md): the edits that follow from others of the same change, so
 * that the ledger holds them and taking back undoes them.
 */
import { type AccessIndex, below, type CompiledPlace, placeOf } from "../access/index/index.ts";
import type { Edit } from "../access/model/index.ts";
import { grantKey } from "../access/model/index.ts";

/** Helpers let into a draft leave when it goes live, but for those the same change says something of ("Before it goes live"). */
function helpersLeaving(place: CompiledPlace, edits: readonly Edit[]): Edit[] {
  const told = new Set(
    edits.flatMap((edit) => (edit.kind === "grant" && edit.place === place.place.id && edit.remove ? [grantKey(edit.remove)] : [])),
  );
  return place.place.grants
    .filter((grant) => grant.draft && !told.has(grantKey(grant)))
    .map((remove): Edit => ({ kind: "grant", place: place.place.id, remove }));
}

/** What is scheduled and leaves its space is a draft again: a schedule holds no destination ("Schedules"). */
function unscheduled(index: AccessIndex, moved: CompiledPlace, to: CompiledPlace | undefined, edits: readonly Edit[]): Edit[] {
  if (!to || to.space === moved.space) return [];
  const told = new Set(edits.flatMap((edit) => (edit.kind === "state" ? [edit.place] : [])));
  return below(index, moved)
    .filter(({ place }) => place.state === "scheduled" && !told.has(place.id))
    .map(({ place }): Edit => ({ kind: "state", place: place.id, from: { state: "scheduled" }, to: { state: "draft" } }));
}

/** The edits of a change, followed by those that they bring along in this site. */
export function completed(index: AccessIndex, edits: readonly Edit[]): Edit[] {
  const further = edits.flatMap((edit): Edit[] => {
    const place = "place" in edit && edit.kind !== "start" ? placeOf(index, edit.place) : undefined;
    if (!place) return [];
    if (
      edit.kind === "state" &&
      edit.to.state === "live" &&
      place.unpublished &&
      place.place.state !== "binned" &&
      place.place.state !== "archived"
    )
      return helpersLeaving(place, edits);
    return edit.kind === "move" ? unscheduled(index, place, placeOf(index, edit.to), edits) : [];
  });
  return [...edits, ...further];
}

/** Helpers of a draft who are kept when it goes live: their grants become ordinary ones. Needs `admit`. */
export const helpersKept = (place: CompiledPlace): Edit[] =>
  place.place.grants
    .filter((grant) => grant.draft)
    .map(({ draft: _, ...put }): Edit => ({ kind: "grant", place: place.place.id, remove: { ...put, draft: true }, put }));
