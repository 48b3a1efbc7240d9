/**
 * Landing pages: a space that has live pages never lacks one among them (lifecycle.md, "Impact, before it happens"). Where an
 * act takes it away, another is chosen in the same step; where none is left, the space has none until one goes live.
 */
import { type AccessIndex, below, type CompiledPlace, placeOf } from "../access/index/index.ts";
import type { Edit } from "../access/model/index.ts";
import { update } from "../access/update/index.ts";
import type { LifeAct } from "./acts.ts";
import type { LifeFacts } from "./facts.ts";
import type { Making } from "./making.ts";

/** Whether a page can be the landing page of a space. */
export const canLand = (index: AccessIndex, space: CompiledPlace, page: CompiledPlace | undefined): boolean =>
  page !== undefined &&
  page.place.kind === "page" &&
  page.place.state === "live" &&
  page.space === space.number &&
  index.places[page.number] === page;

/** Live pages of a space, those nearest to its top first. */
export const landingCandidates = (index: AccessIndex, space: CompiledPlace): CompiledPlace[] =>
  below(index, space).filter((page) => canLand(index, space, page));

/** Spaces that edits may leave without their landing page: those the landing page of which they touch, or that get their first. */
function spacesTouched(before: AccessIndex, after: AccessIndex, facts: LifeFacts, edits: readonly Edit[]): CompiledPlace[] {
  const found = new Set<CompiledPlace>();
  const known = new Map<number, { space: CompiledPlace | null; landing: string | undefined }>();
  const spaceOf = (number: number) => {
    const there = known.get(number);
    if (there) return there;
    const space = after.places[number];
    const stands = space?.place.kind === "space" && placeOf(after, space.place.id) === space;
    const made = { space: stands ? space : null, landing: facts.landings.get(space?.place.id ?? "") };
    known.set(number, made);
    return made;
  };
  for (const edit of edits) {
    if (edit.kind !== "state" && edit.kind !== "move" && edit.kind !== "erase") continue;
    const was = placeOf(before, edit.place);
    // Numbers go on from one index to the next, unless it was begun anew.
    const is = after.places[was?.number ?? -1];
    for (const place of [was, is?.place.id === edit.place ? is : placeOf(after, edit.place)]) {
      const { space, landing } = spaceOf(place?.space ?? -1);
      if (!space) continue;
      // What moves or goes takes along what is below it, the landing page too.
      if (edit.kind !== "state" || landing === edit.place || landing === undefined) found.add(space);
    }
  }
  return [...found];
}

export interface LandingGap {
  space: CompiledPlace;
  landing: string | undefined;
  candidates: CompiledPlace[];
}

/** Spaces whose landing page edits take away, or that have live pages and no landing page after them. */
export function landingGaps(before: AccessIndex, after: AccessIndex, facts: LifeFacts, edits: readonly Edit[]): LandingGap[] {
  const chosen = new Map(edits.flatMap((edit) => (edit.kind === "landing" ? [[edit.place, edit.to] as const] : [])));
  return spacesTouched(before, after, facts, edits).flatMap((space) => {
    const landing = chosen.has(space.place.id) ? (chosen.get(space.place.id) ?? undefined) : facts.landings.get(space.place.id);
    if (canLand(after, space, landing === undefined ? undefined : placeOf(after, landing))) return [];
    // One that was none before these edits is not for them to mend.
    const old = placeOf(before, space.place.id);
    const stood = facts.landings.get(space.place.id);
    if (stood !== undefined && old && !canLand(before, old, placeOf(before, stood)) && !chosen.has(space.place.id)) return [];
    const candidates = landingCandidates(after, space);
    return landing === undefined && candidates.length === 0 ? [] : [{ space, landing: facts.landings.get(space.place.id), candidates }];
  });
}

/** Adds the landing pages that were chosen, and asks for those that were not. */
export function planLandings(making: Making, { landings = [] }: LifeAct): void {
  const { index, facts } = making;
  if (making.misfits.length > 0 || making.edits.length === 0) return;
  const updated = update(index, making.edits);
  if (!updated.ok) return;
  for (const { space, landing, candidates } of landingGaps(index, updated.index, facts, making.edits)) {
    const id = space.place.id;
    const wished = landings.find((it) => it.space === id)?.page;
    const page = wished === undefined ? undefined : candidates.find(({ place }) => place.id === wished);
    const only = landing === undefined ? candidates[0] : undefined;
    const to = page ?? only;
    const edit: Edit = { kind: "landing", place: id, from: landing ?? null, to: to?.place.id ?? null };
    // Choosing is for those who keep the space; where there is nothing to choose, it follows.
    if (page) making.edits.push(edit);
    else if (to || candidates.length === 0) making.follow(edit);
    else making.choices.push({ choose: "landing", space: id, candidates: candidates.map(({ place }) => place.id) });
  }
}
