/** Clocks elsewhere: there and back is the same instant, and jumps of the clock are said. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../test/holds.ts";
import { asIfHere, asIfThere, zonesNamed } from "./zones.ts";

const ZONES = ["Europe/Lisbon", "America/St_Johns", "Pacific/Kiritimati", "Asia/Kathmandu", "Australia/Lord_Howe", "UTC"];
const minute = fc
  .integer({ min: Date.parse("2026-01-01T00:00:00Z") / 60_000, max: Date.parse("2029-12-31T00:00:00Z") / 60_000 })
  .map((it) => new Date(it * 60_000).toISOString());

it("a time there is the instant it was said to be, unless clocks jump; then it says so", () => {
  holds(
    fc.property(minute, fc.constantFrom(...ZONES), (instant, zone) => {
      const { instant: back, said } = asIfThere(asIfHere(instant, zone), zone);
      // Of a time that a clock shows twice, the first one is meant.
      if (said === "") expect(back).toBe(instant);
      else expect(said).toMatch(/twice|jump/);
    }),
    { runs: 500 },
  );
});

it("a time that is left out or comes twice is told", () => {
  const at = (wall: string) => new Date(wall).toISOString();
  expect(asIfThere(at("2027-03-28T01:30:00"), "Europe/Lisbon")).toEqual({
    instant: "2027-03-28T01:30:00.000Z",
    said: "Clocks there jump over 01:30 on that day: it will be 02:30.",
  });
  expect(asIfThere(at("2027-10-31T01:30:00"), "Europe/Lisbon")).toEqual({
    instant: "2027-10-31T00:30:00.000Z",
    said: "Clocks there show 01:30 twice on that day: the first time is meant.",
  });
  expect(asIfThere("", "Europe/Lisbon")).toEqual({ instant: "", said: "" });
  expect(zonesNamed("lis", "Europe/Berlin")).toContain("Europe/Lisbon");
});
