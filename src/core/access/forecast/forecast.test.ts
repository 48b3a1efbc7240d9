/** What comes by itself, worked out one after the other, is what the rules say at each of those instants. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { effectiveSet } from "../decide/index.ts";
import { type AccessIndex, compile } from "../index/index.ts";
import { type Instant, instantAt } from "../model/index.ts";
import { placesOf } from "../ripple/index.ts";
import { comings, rippling } from "./forecast.ts";

const LATE = instantAt(NOW + 20_000 * 86_400_000);

/** What everybody has everywhere at an instant. */
const cellsAt = (index: AccessIndex, at: Instant) =>
  new Map<string, number>(
    index.subjects.flatMap((who) =>
      index.places.map((place) => [`${who.key} @ ${place.place.id}`, effectiveSet(index, who, place, at)] as const),
    ),
  );

it("takes from everybody just what they have until then and not from then on", () => {
  let seen = 0;
  holds(
    fc.property(world, (document) => {
      const index = compile(document);
      const list = comings(index, [], NOW, LATE);
      expect(list.map(({ at }) => at)).toEqual([...list.map(({ at }) => at)].sort((a, b) => a - b));
      const lost = new Map<string, Set<string>>();
      for (const [nth, ripple] of [...rippling(index, list, NOW)].entries()) {
        const at = String(list[nth]?.at);
        const here = lost.get(at) ?? new Set<string>();
        lost.set(at, here);
        for (const entry of ripple?.entries ?? []) {
          expect(entry.gains).toEqual([]);
          for (const who of entry.subjects) for (const place of placesOf(ripple as never, entry)) here.add(`${who} @ ${place}`);
        }
      }
      let before = cellsAt(index, NOW);
      for (const [at, found] of lost) {
        const then = cellsAt(index, instantAt(Number(at)));
        const differs = [...then.keys()].filter((key) => then.get(key) !== before.get(key));
        seen += differs.length;
        for (const key of differs) expect(found).toContain(key);
        // Beside abilities only oversight can go: that is in a ripple, and not in what somebody has.
        for (const key of found) if (!differs.includes(key)) expect(key).toMatch(/^person:/);
        before = then;
      }
    }),
    { runs: 400 },
  );
  expect(seen).toBeGreaterThan(100);
});
