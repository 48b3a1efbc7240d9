/** Shows what a change would do, and what is in the way; changes nothing. */

import type { Preview } from "../../../contracts/change.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { distinctPlaces } from "../../../core/access/ripple/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { namesFor, toldRefusals } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { cellsSeen } from "../grid/cells.ts";
import { type Sight, sightAfter, sightOfNow } from "../grid/sight.ts";
import { placesOfActs } from "./apply.ts";
import { checkNoneScheduled, type Planned, planChange, refuseEarly } from "./plan.ts";
import { fingerprint, rippleView } from "./rippleView.ts";

/** The cells of a grid that a change would make others. */
function changedCells({ access, me, after, verdict }: Planned, columns: readonly string[]): Preview["cells"] {
  if (columns.length === 0) return [];
  const ids = distinctPlaces(verdict.ripple, verdict.ripple.entries);
  const cellsOf = (sight: Sight) =>
    cellsSeen(
      sight,
      columns,
      ids.flatMap((id) => placeOf(sight.access.index, id) ?? []),
    );
  const before = cellsOf(sightOfNow(access, me));
  const then = cellsOf(sightAfter(access, me, after));
  return [...before].flatMap(([place, row]) =>
    columns.flatMap((column, i) => {
      const [a, b] = [row[i], then.get(place)?.[i]];
      return a && b && (a.set !== b.set || a.more !== b.more) ? [{ place, column, before: a, after: b }] : [];
    }),
  );
}

/** A planned change as it is shown to its maker, who may make it but for what is in the way. */
export function previewOf(planned: Planned, columns: readonly string[] = []): Preview {
  const { access, me, edits, verdict } = planned;
  const names = namesFor(access, me);
  return {
    seen: fingerprint(verdict.ripple),
    // Things are named as they are afterwards only to those who may see them already.
    ripple: rippleView(access, me, verdict.ripple, { allThere: edits.every(({ kind }) => kind !== "start") }),
    refusals: toldRefusals(access, me, verdict.refusals).map((refusal) => ({
      ...refusal,
      title: refusal.place ? names.place(refusal.place) : "",
    })),
    steppingIn: verdict.steppingIn,
    cells: changedCells(planned, columns),
  };
}

/** Shows what edits and acts would do, and what is in the way; changes nothing. */
export const previewChange = (
  maker: string,
  edits: readonly Edit[],
  columns: readonly string[] = [],
  acts: readonly LifeAct[] = [],
): Promise<Preview> =>
  whereItFits(
    "previewHere",
    [maker, edits, columns, acts],
    { edits, places: placesOfActs(acts), first: () => refuseEarly(maker, edits, acts) },
    () => previewHere(maker, edits, columns, acts),
  );

export async function previewHere(
  maker: string,
  edits: readonly Edit[],
  columns: readonly string[] = [],
  acts: readonly LifeAct[] = [],
): Promise<Preview> {
  checkNoneScheduled(edits);
  return inSnapshot(async (tx) => previewOf(await planChange(tx, { maker, edits, acts }), columns));
}
