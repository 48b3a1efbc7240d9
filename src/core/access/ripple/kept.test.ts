/** Ripples as they are kept: nothing of them is lost, and no list of places is written twice. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { draw, editAt } from "../../../../test/reference/changes.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { compile } from "../index/index.ts";
import type { AccessDocument, Edit } from "../model/index.ts";
import { update } from "../update/index.ts";
import { countRipple, distinctPlaces, flat, placesOf, type Ripple, ripple, unpack } from "./index.ts";

/** Who gains and loses what where, pair by pair. */
const pairs = (it: Ripple): string[] =>
  it.entries
    .flatMap((entry) =>
      entry.subjects.flatMap((subject) => placesOf(it, entry).map((place) => `${subject} @ ${place}: ${entry.before}>${entry.after}`)),
    )
    .sort();

const changed = fc.tuple(world, fc.array(draw, { minLength: 1, maxLength: 6 }));

function rippleOf(document: AccessDocument, draws: readonly [number, number, number, number][]): Ripple {
  const before = compile(document);
  let after = before;
  for (const it of draws) {
    const edits: Edit[] = [editAt(after.document, it)];
    const updated = update(after, edits);
    if (updated.ok) after = updated.index;
  }
  return ripple(before, after, NOW);
}

it("comes back from where it is kept as it was; so do those that were kept with the places themselves", () => {
  let grouped = 0;
  holds(
    fc.property(changed, ([document, draws]) => {
      const it = rippleOf(document, draws);
      const kept = JSON.parse(JSON.stringify(it));
      expect(unpack(kept)).toEqual(it);
      expect(pairs(unpack(JSON.parse(JSON.stringify(flat(it)))))).toEqual(pairs(it));
      const groups = it.entries.flatMap((entry) => entry.groups);
      expect(it.places.length).toBe(new Set(groups).size);
      grouped += groups.length - it.places.length;
      // Two entries are about the same subjects or have none in common: so people are counted.
      for (const count of countRipple(it)) {
        const losing = it.entries.filter((entry) => entry.class === count.class && (entry.losses.length > 0 || entry.oversight === "lost"));
        expect(count.losing).toBe(new Set(losing.flatMap(({ subjects }) => subjects)).size);
      }
      for (const entry of it.entries) expect(new Set(placesOf(it, entry)).size).toBe(placesOf(it, entry).length);
      expect(distinctPlaces(it, it.entries).sort()).toEqual([...new Set(it.entries.flatMap((entry) => placesOf(it, entry)))].sort());
    }),
    { runs: 300 },
  );
  // Else nothing would have been shared, and the test would say nothing of it.
  expect(grouped).toBeGreaterThan(20);
});
