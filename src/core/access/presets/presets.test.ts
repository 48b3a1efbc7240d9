/** Presets and mixes: always lawful, each once, as open as they say. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import {
  ABILITIES,
  close,
  EVERYTHING,
  highestLevelFor,
  levelOf,
  limitFor,
  maskOf,
  type Principal,
  principalKey,
  setOfLevel,
  withAbility,
  withoutAbility,
} from "../model/index.ts";
import { PRESET_ROWS, PRESETS, presetRules } from "./index.ts";

const named: fc.Arbitrary<Principal> = fc.oneof(
  fc.constantFrom("ana", "ben", "cleo").map((person) => ({ person })),
  fc.constantFrom("crew", "pilots").map((group) => ({ group })),
);
const list = fc.array(named, { maxLength: 4 });

it("a preset names everybody once, at the highest level they were named for, and opens to audiences what it says", () => {
  holds(
    fc.property(fc.constantFrom(...PRESETS), list, list, list, (preset, keepers, publishers, writers) => {
      const { stance, grants } = presetRules(preset, { keepers, publishers, writers });
      const keys = grants.map(({ to }) => principalKey(to));
      expect(new Set(keys).size).toBe(keys.length);
      const levelFor = (it: Principal) => levelOf(maskOf(grants.find(({ to }) => principalKey(to) === principalKey(it))?.abilities ?? []));
      for (const it of keepers) expect(levelFor(it)).toBe(5);
      for (const it of publishers) expect([4, 5]).toContain(levelFor(it));
      if (PRESET_ROWS[preset].asksForWriters) for (const it of writers) expect([3, 4, 5]).toContain(levelFor(it));
      expect([levelFor({ audience: "public" }), levelFor({ audience: "members" })]).toEqual(
        { openHouse: [1, 3], commonRoom: [0, 3], readingRoom: [0, 1], closedRoom: [0, 0] }[preset],
      );
      expect(stance).toBe(preset === "closedRoom" ? "fresh" : "follow");
    }),
  );
});

it("an ability put into a closed set or taken out of it leaves a closed set, the nearest there is", () => {
  holds(
    fc.property(fc.nat(EVERYTHING), fc.constantFrom(...ABILITIES), (raw, ability) => {
      const set = close(raw);
      const bit = maskOf([ability]);
      const [more, less] = [withAbility(set, ability), withoutAbility(set, ability)];
      expect([close(more), close(less), more & bit, less & bit]).toEqual([more, less, bit, 0]);
      expect([more & set, less & set]).toEqual([set, less]);
      // Nothing closed lies between.
      for (let other = 0; other <= EVERYTHING; other++) {
        if (close(other) !== other) continue;
        if ((other & (set | bit)) === (set | bit)) expect(other & more).toBe(more);
        if ((other & set) === other && !(other & bit)) expect(other & less).toBe(other);
      }
    }),
    { runs: 60 },
  );
});

it("no principal is offered an ability that no document holds for it, and every level it may have fits", () => {
  const principals: [Principal, boolean][] = [
    [{ audience: "public" }, false],
    [{ audience: "accounts" }, false],
    [{ audience: "members" }, false],
    [{ group: "crew" }, false],
    [{ person: "ana" }, false],
    [{ person: "gus" }, true],
  ];
  for (const [principal, isGuest] of principals) {
    const limit = limitFor(principal, isGuest);
    expect(close(limit)).toBe(limit);
    expect(setOfLevel(highestLevelFor(principal, isGuest)) & ~limit).toBe(0);
  }
  expect(principals.map(([it, isGuest]) => ABILITIES.filter((ability) => !(limitFor(it, isGuest) & maskOf([ability]))).join(" "))).toEqual([
    "revise add publish arrange retire admit govern",
    "admit govern",
    "govern",
    "",
    "",
    "admit govern",
  ]);
});
