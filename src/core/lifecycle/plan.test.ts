/** Acts over random trees and sequences: what they come to keeps the tree, loses nothing, and can be taken back field by field. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { compareKeys, type Step, World } from "../../../test/reference/lives.ts";
import { type AccessIndex, compile, placeOf } from "../access/index/index.ts";
import { type AccessDocument, applyEdits, DEFAULT_CEILINGS, type Edit, instantOf, invertEdits, type Place } from "../access/model/index.ts";
import { actsOn, LIFE_ACTS, missingChoices, planAct } from "./index.ts";

const AT = instantOf("2026-11-23T12:00:00Z");
const step: fc.Arbitrary<Step> = fc.record({ act: fc.nat(20), place: fc.nat(40), more: fc.nat(40), choice: fc.nat(11), to: fc.nat(40) });
const tree = fc.array(fc.record({ parent: fc.nat(40), state: fc.nat(4), bulletin: fc.boolean() }), { minLength: 3, maxLength: 16 });

const isPage = ({ kind }: Place) => kind === "page" || kind === "bulletin";
const places = (index: AccessIndex) => index.document.places;

/** What must be so after any act. */
function checkSound(world: World, known: ReadonlySet<string>) {
  const { index } = world;
  for (const place of places(index)) {
    const seen = new Set<string>();
    for (let it: Place | undefined = place; it; it = it.parent === undefined ? undefined : placeOf(index, it.parent)?.place) {
      expect(seen.has(it.id)).toBe(false);
      seen.add(it.id);
    }
    expect(seen.has("site")).toBe(true);
    const above = placeOf(index, place.parent ?? "")?.place;
    if (isPage(place) && above && isPage(above) && above.state === "binned") expect([place.id, place.state]).toEqual([place.id, "binned"]);
  }
  const there = new Set(places(index).map(({ id }) => id));
  for (const id of known) expect([id, there.has(id) || world.erased.has(id)]).toEqual([id, true]);
  for (const space of places(index).filter(({ kind }) => kind === "space")) {
    const number = placeOf(index, space.id)?.number;
    const live = index.places.filter((it) => it.space === number && it.place.kind === "page" && it.place.state === "live");
    const landing = world.landings.get(space.id);
    if (live.length > 0) expect(live.map(({ place }) => place.id)).toContain(landing);
    else if (landing !== undefined) expect(placeOf(index, landing)?.place.state).not.toMatch(/archived|binned/);
  }
  for (const parent of places(index)) {
    const slots = places(index).flatMap((it) => (it.parent === parent.id && it.kind === "page" ? [world.slots.get(it.id)] : []));
    expect(new Set(slots).size).toBe(slots.length);
  }
}

/** Everything about the places of a world that somebody could miss. */
const fieldsOf = (world: World) => ({
  places: [...places(world.index)].sort((a, b) => compareKeys(a.id, b.id)),
  passes: world.index.document.passes,
  slots: [...world.slots].sort(),
  landings: [...world.landings].sort(),
});

it("any acts in any order: a tree stays a tree, nothing is lost but by erasing, and a space with live pages has a landing page", () => {
  const done = new Map<string, number>();
  holds(
    fc.property(tree, fc.array(step, { minLength: 1, maxLength: 14 }), (drawn, steps) => {
      const world = new World(drawn, AT);
      const known = new Set(places(world.index).map(({ id }) => id));
      checkSound(world, known);
      for (const it of steps) {
        const act = world.draw(it);
        if (!act) continue;
        const made = world.make(act);
        if (made) done.set(act.act, (done.get(act.act) ?? 0) + 1);
        checkSound(world, known);
      }
    }),
    { runs: 500 },
  );
  for (const act of LIFE_ACTS) expect([act, done.get(act) ?? 0]).toEqual([act, expect.any(Number)]);
  expect(Math.min(...LIFE_ACTS.map((act) => done.get(act) ?? 0))).toBeGreaterThan(30);
});

it("what was binned or archived and comes back is as it was: parent, slot, rules, tags, owner, state, what was handed up too", () => {
  let compared = 0;
  holds(
    fc.property(tree, step, fc.boolean(), (drawn, it, archives) => {
      const world = new World(
        drawn.map((place) => ({ ...place, state: place.state === 1 ? 2 : place.state })),
        AT,
      );
      const before = fieldsOf(world);
      const page = places(world.index).filter(isPage)[it.place % Math.max(1, places(world.index).filter(isPage).length)];
      const [away, back] = archives ? (["archive", "unarchive"] as const) : (["bin", "restore"] as const);
      if (!page || !actsOn(page.kind, page).includes(away)) return;
      const below = it.choice % 2 ? "along" : "handUp";
      if (!world.make({ act: away, places: [page.id], below }, "choose")) return;
      // Coming back does not make it the landing page again: another was chosen.
      if (JSON.stringify([...world.landings].sort()) !== JSON.stringify(before.landings)) return;
      expect(
        world.make({ act: back, places: [page.id], back: true, passes: world.index.document.passes.map(({ id }) => id) }, "choose"),
      ).toBe(true);
      expect(fieldsOf(world)).toEqual(before);
      compared++;
    }),
    { runs: 1_500 },
  );
  expect(compared).toBeGreaterThan(150);
});

it("taking everything back in reverse order gives the start field by field", () => {
  let taken = 0;
  holds(
    fc.property(tree, fc.array(step, { minLength: 1, maxLength: 10 }), (drawn, steps) => {
      // What was scheduled comes back as a draft, and what was a draft then is not what was left: that has a test of its own.
      const world = new World(
        drawn.map((it) => ({ ...it, state: it.state === 1 ? 0 : it.state })),
        AT,
      );
      const before = fieldsOf(world);
      const made: Edit[][] = [];
      for (const it of steps) {
        const act = world.draw(it);
        if (!act || act.act === "erase") continue;
        const all = { ...act, passes: world.index.document.passes.map(({ id }) => id) };
        if (world.make(all)) made.push(world.last);
      }
      for (const edits of made.reverse()) {
        const back = invertEdits(edits);
        expect(world.apply(back)).toBe(true);
        taken++;
      }
      expect(fieldsOf(world)).toEqual(before);
    }),
    { runs: 800 },
  );
  expect(taken).toBeGreaterThan(1_000);
});

it("a bare edit that leaves pages below in use, or puts something into the bin's things, lacks a choice; the planned one never does", () => {
  let lacking = 0;
  holds(
    fc.property(tree, step, (drawn, it) => {
      const world = new World(drawn, AT);
      const act = world.draw(it);
      if (!act || !world.make(act)) return;
      expect(missingChoices(world.previous, world.index, world.factsBefore, world.last)).toEqual([]);
      const bare = world.last.filter((edit) => edit.kind === "state" && edit.place === act.places[0]);
      const applied = applyEdits(world.previous.document as AccessDocument, bare);
      if (!applied.ok || bare.length === 0) return;
      const after = compile(applied.document);
      const needed = world.last.some(
        (edit) => edit.kind === "move" || edit.kind === "landing" || (edit.kind === "state" && edit.place !== act.places[0]),
      );
      const missing = missingChoices(world.previous, after, world.factsBefore, bare);
      if (missing.length > 0) {
        expect(needed).toBe(true);
        lacking++;
      }
    }),
    { runs: 1_500 },
  );
  expect(lacking).toBeGreaterThan(40);
});

/** Counts how often anything of a list is looked at. */
function counted<T extends object>(list: readonly T[]): { list: readonly T[]; looks(): number } {
  let looks = 0;
  const proxy = new Proxy(list, {
    get(target, name, receiver) {
      if (typeof name === "string" && /^\d+$/.test(name)) looks++;
      return Reflect.get(target, name, receiver);
    },
  });
  return { list: proxy, looks: () => looks };
}

it("a branch that comes back looks through the change it left by a few times, however many pages it has", () => {
  const bare = { stance: "follow" as const, tags: [], grants: [], fences: [] };
  const looksFor = (size: number): number => {
    const pages = Array.from({ length: size }, (_, i): Place => {
      const parent = i === 0 ? "s" : i % 3 === 0 ? `p${i - 1}` : "p0";
      return { ...bare, id: `p${i}`, kind: "page", parent, state: "binned", was: "live" };
    });
    const edits = pages.map(
      ({ id }): Edit => ({ kind: "state", place: id, from: { state: "live" }, to: { state: "binned", was: "live" } }),
    );
    const { list, looks } = counted(edits);
    const index = compile({
      tesoroAccess: 1,
      ceilings: DEFAULT_CEILINGS,
      people: [],
      groups: [],
      passes: [],
      pledges: [],
      places: [
        { ...bare, id: "site", kind: "site", state: "live" },
        { ...bare, id: "s", kind: "space", parent: "site", state: "live" },
        ...pages,
      ],
    });
    const left = new Map(pages.map(({ id }) => [id, { edits: list, at: AT }]));
    const plan = planAct(index, { slots: new Map(), landings: new Map(), left, keepsDays: 90 }, { act: "restore", places: ["p0"] }, AT);
    expect(plan.edits.filter(({ kind }) => kind === "state").length).toBe(size);
    return looks();
  };
  for (const size of [20, 400]) expect(looksFor(size)).toBeLessThanOrEqual(4 * size);
});

it("a page and one further below it leave, and what lies between is handed up: so is what lies below the second", () => {
  const draft = (parent: number) => ({ parent, state: 0, bulletin: false });
  // p0 holds p1, which holds p2, which holds p3.
  const world = new World([draft(0), draft(2), draft(3), draft(4)], AT);
  const above = (id: string) => world.index.document.places.find((it) => it.id === id)?.parent;
  expect(["p1", "p2", "p3"].map(above)).toEqual(["p0", "p1", "p2"]);
  expect(world.make({ act: "bin", places: ["p0", "p2"], below: "handUp" })).toBe(true);
  expect(missingChoices(world.previous, world.index, world.factsBefore, world.last)).toEqual([]);
  expect(above("p3")).toBe("p1");
});
