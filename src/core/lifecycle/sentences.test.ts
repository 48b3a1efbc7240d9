/** Acts in words: one thing and many, with what goes along, outside told where it matters. */
import { expect, it } from "vitest";
import { compile, placeOf } from "../access/index/index.ts";
import { DEFAULT_CEILINGS, instantAt, type Place } from "../access/model/index.ts";
import { ripple } from "../access/ripple/index.ts";
import { update } from "../access/update/index.ts";
import {
  actDone,
  actFits,
  actsOn,
  actTitle,
  belowOf,
  brokenLinks,
  erasableFrom,
  IMPACT_LINES,
  impactOf,
  impactSentence,
  LIFE_ACTS,
  labelOfAct,
  pastOfAct,
  readersOutside,
  takingBackSentence,
} from "./index.ts";

it("says one and many alike in good grammar, and who from outside it matters to", () => {
  for (const line of IMPACT_LINES) {
    expect(impactSentence(line, 1)).toMatch(/^1 \w+ /);
    expect(impactSentence(line, 2)).toMatch(/^2 \w+s /);
    expect(impactSentence(line, 1)).not.toBe(impactSentence(line, 2).replace("2", "1"));
  }
  expect(impactSentence("links", 3, 3)).toContain("all of them for readers from outside");
  expect(impactSentence("links", 3, 1)).toContain("1 of them for readers from outside");
  for (const act of LIFE_ACTS) {
    expect(actTitle(act, "“Berth plan”", { more: 0, along: 0 })).toBe(`${labelOfAct(act)} “Berth plan”`);
    expect(takingBackSentence(act)).toMatch(act === "erase" ? /cannot be taken back/ : /can be taken back/);
    expect(actDone({ act, places: [] }, { along: 0, handedUp: 0 })).toBe(pastOfAct(act));
  }
  expect(actTitle("bin", "“A”", { more: 2, along: 1 })).toBe("Bin “A” and 2 more with 1 page below");
  expect(actDone({ act: "bin", places: [], below: "handUp" }, { along: 2, handedUp: 1 })).toBe(
    "binned, with 2 pages below; 1 page handed up",
  );
  expect(belowOf("bin")).toEqual(["along", "handUp"]);
  expect(actsOn("site", { state: "live" })).toEqual([]);
  expect(actFits("move", "space", { state: "live" })).toBe(false);
  expect(erasableFrom(instantAt(0), 90)).toBe(90 * 86_400_000);
});

it("an impact counts links by who could follow them, guests with nothing left, pledges that name what goes", () => {
  const bare = { stance: "follow" as const, tags: [], fences: [] };
  const place = (it: Partial<Place> & Pick<Place, "id" | "kind">): Place => ({ ...bare, state: "live", grants: [], ...it });
  const read = { abilities: ["read" as const] };
  const document = {
    tesoroAccess: 1 as const,
    ceilings: DEFAULT_CEILINGS,
    people: [
      { id: "gus", kind: "guest" as const, status: "active" as const },
      { id: "mia", kind: "member" as const, status: "active" as const },
    ],
    groups: [],
    places: [
      place({ id: "site", kind: "site" }),
      place({ id: "s", kind: "space", parent: "site", grants: [{ to: { audience: "members" }, ...read }] }),
      place({ id: "open", kind: "page", parent: "s", grants: [{ to: { audience: "public" }, ...read }] }),
      place({ id: "inner", kind: "page", parent: "s" }),
      place({ id: "forgus", kind: "page", parent: "s", grants: [{ to: { person: "gus" }, ...read }] }),
    ],
    passes: [{ id: "k", place: "inner", below: false, revoked: false }],
    pledges: [
      { id: "p", who: { class: "members" as const }, rule: "always" as const, ability: "read" as const, where: { subtree: "inner" } },
    ],
  };
  const at = instantAt(Date.parse("2026-11-23T12:00:00Z"));
  const before = compile(document);
  const gone = (id: string) => ({
    kind: "state" as const,
    place: id,
    from: { state: "live" as const },
    to: { state: "binned" as const, was: "live" as const },
  });
  const edits = [gone("inner"), gone("forgus"), gone("open")];
  const updated = update(before, edits);
  if (!updated.ok) throw new Error("it does not fit");
  const after = updated.index;
  const links = [
    { from: "open", to: "inner" },
    { from: "inner", to: "open" },
    { from: "open", to: "forgus" },
    { from: "forgus", to: "open" },
    { from: "open", to: "nowhere" },
  ];
  expect(brokenLinks(before, after, at, links)).toEqual([
    { from: "open", to: "inner", outside: false },
    { from: "inner", to: "open", outside: false },
    { from: "open", to: "forgus", outside: true },
    { from: "forgus", to: "open", outside: true },
  ]);
  expect(brokenLinks(before, before, at, links)).toEqual([]);
  const impact = impactOf(
    { before, after, at, edits, ripple: ripple(before, after, at) },
    { links, schedules: [{ place: "inner", what: "archive" }], routines: ["r"], views30: 7 },
  );
  expect(impact).toMatchObject({ guests: ["gus"], pledges: ["p"], passes: ["k"], landings: [], routines: ["r"], views30: 7 });
  expect(readersOutside(before, placeOf(before, "open")?.number as never, at)).toEqual({ public: true, guests: 1 });
  expect(readersOutside(before, placeOf(before, "forgus")?.number as never, at)).toEqual({ public: false, guests: 1 });
  expect(readersOutside(after, placeOf(after, "inner")?.number as never, at)).toEqual({ public: false, guests: 0 });
});
