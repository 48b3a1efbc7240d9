import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { referenceOversight, referenceSet, subjectsOf } from "../../../test/reference/reference.ts";
import { NOW, world } from "../../../test/reference/worlds.ts";
import { decide, effectiveSet, hasOversight, OVERSEES } from "./decide/index.ts";
import { parseAccessDocument } from "./exchange/index.ts";
import { explain } from "./explain/index.ts";
import { type CompiledPlace, compile, placeOf, subjectOf } from "./index/index.ts";
import {
  ABILITIES,
  type Ability,
  type AccessDocument,
  abilitiesIn,
  applyEdits,
  type Ceilings,
  close,
  type Edit,
  type Grant,
  invertEdits,
  type Level,
  maskOf,
  type Place,
  type Subject,
  subjectKey,
} from "./model/index.ts";
import { coverage, propose } from "./propose/index.ts";
import { placesOf, ripple } from "./ripple/index.ts";

/** The whole matrix of a document as the core sees it: mask and oversight by subject and place. */
function matrix(document: AccessDocument): Map<string, { set: number; oversight: boolean }> {
  const index = compile(document);
  const cells = new Map<string, { set: number; oversight: boolean }>();
  for (const subject of index.subjects) {
    for (const place of index.places) {
      const key = `${subjectKey(subject.subject)} @ ${place.place.id}`;
      cells.set(key, { set: effectiveSet(index, subject, place, NOW), oversight: hasOversight(index, subject, place, NOW) });
    }
  }
  return cells;
}

const known = (index: ReturnType<typeof compile>, subject: Subject, place: string) => ({
  subject: subjectOf(index, subject) as NonNullable<ReturnType<typeof subjectOf>>,
  place: placeOf(index, place) as NonNullable<ReturnType<typeof placeOf>>,
});

/** Whether a ceiling that is said to be in the way stands at the site or at the place's own space, and does not go that far. */
function ceilingStops(
  document: AccessDocument,
  place: CompiledPlace,
  step: { place: string; which: keyof Ceilings },
  ability: Ability,
): boolean {
  const spaceOf = (it: Place | undefined): string | undefined =>
    it === undefined || it.kind === "space" ? it?.id : spaceOf(document.places.find(({ id }) => id === it.parent));
  const at = document.places.find(({ id }) => id === step.place);
  const own = at?.kind === "site" ? document.ceilings : at?.ceilings;
  const right = at?.kind === "site" || at?.id === spaceOf(place.place);
  if (step.which === "passes") return right && own?.passes === false;
  return right && !abilitiesIn(close(maskOf(own?.[step.which] ?? []))).includes(ability);
}

describe("the access core", () => {
  it("agrees with the reference in random worlds, survives a round trip, and gives closed sets", () => {
    holds(
      fc.property(world, (document) => {
        const parsed = parseAccessDocument(JSON.parse(JSON.stringify(document)));
        if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
        const index = compile(parsed.document);
        const told: string[] = [];
        const expected: string[] = [];
        for (const subject of subjectsOf(document)) {
          for (const place of document.places) {
            const it = known(index, subject, place.id);
            const set = effectiveSet(index, it.subject, it.place, NOW);
            const oversight = hasOversight(index, it.subject, it.place, NOW);
            // The tables say the same as the walk up the path, and every set is closed.
            const quick = decide(index, it.subject.number, it.place.number, NOW);
            const sound = close(set) === set && quick === (set | (oversight ? OVERSEES : 0));
            told.push(`${abilitiesIn(set)} ${oversight} ${sound}`);
            expected.push(`${referenceSet(document, subject, place.id, NOW)} ${referenceOversight(document, subject, place.id, NOW)} true`);
          }
        }
        expect(told).toEqual(expected);
      }),
      { runs: 2_500 },
    );
  });

  it("explains every answer: yes with a source, no with an obstacle, and removing a sole obstacle opens it", () => {
    holds(
      fc.property(world, fc.constantFrom(...ABILITIES), fc.boolean(), (made, ability, turned) => {
        // Databases give places in any order: the site need not come first.
        const document = turned ? { ...made, places: [...made.places].reverse() } : made;
        const index = compile(document);
        for (const subject of index.subjects) {
          for (const place of index.places) {
            const can = abilitiesIn(effectiveSet(index, subject, place, NOW)).includes(ability);
            const why = explain(index, subject, ability, place, NOW);
            expect(why.answer).toBe(can);
            expect(why.steps.length).toBeGreaterThan(0);
            expect(why.steps.every((step) => step.effect === (can ? "gives" : "stops"))).toBe(true);
            for (const step of why.steps) if (step.layer === "ceilings") expect(ceilingStops(document, place, step, ability)).toBe(true);
            const [only, ...others] = why.steps;
            if (can || others.length > 0 || only?.layer !== "fences") continue;
            const opened = { ...document, places: document.places.map((it) => (it.id === only.place ? { ...it, fences: [] } : it)) };
            const after = compile(opened);
            const there = known(after, subject.subject, place.place.id);
            expect(abilitiesIn(effectiveSet(after, there.subject, there.place, NOW))).toContain(ability);
          }
        }
      }),
      { runs: 300 },
    );
  });

  it("never gives anybody anything when a grant goes, a fence comes or a ceiling sinks; the ripple is the difference of two matrices", () => {
    const narrower = (document: AccessDocument, which: number, pick: number): AccessDocument => {
      const place = document.places[pick % document.places.length] as Place;
      const changed = (it: Partial<Place>) => ({
        ...document,
        places: document.places.map((old) => (old === place ? { ...old, ...it } : old)),
      });
      if (which === 0) return changed({ grants: place.grants.slice(1) });
      if (which === 1)
        return changed({ fences: [...place.fences, { kind: pick % 2 ? "read" : "write", admits: [{ audience: "members" }] }] });
      return {
        ...document,
        ceilings: {
          outsiders: [],
          guests: ["read"].filter((it) => document.ceilings.guests.includes(it as "read")) as "read"[],
          passes: false,
        },
      };
    };
    holds(
      fc.property(world, world, fc.nat(2), fc.nat(30), (document, other, which, pick) => {
        const smaller = narrower(document, which, pick);
        const was = matrix(document);
        const is = matrix(smaller);
        for (const [key, cell] of is) expect(cell.set & ~(was.get(key)?.set ?? 0)).toBe(0);
        for (const after of [smaller, other]) {
          const cells = matrix(after);
          const expected = new Set<string>();
          for (const key of new Set([...was.keys(), ...cells.keys()])) {
            const [a, b] = [was.get(key), cells.get(key)];
            if ((a?.set ?? 0) !== (b?.set ?? 0) || (a?.oversight ?? false) !== (b?.oversight ?? false))
              expected.add(`${key} ${a?.set ?? 0}>${b?.set ?? 0}`);
          }
          const it = ripple(compile(document), compile(after), NOW);
          const told = it.entries.flatMap((entry) =>
            entry.subjects.flatMap((subject) =>
              placesOf(it, entry).map((place) => `${subject} @ ${place} ${maskOf(entry.before)}>${maskOf(entry.after)}`),
            ),
          );
          expect(new Set(told)).toEqual(expected);
          expect(told.length).toBe(expected.size);
        }
      }),
      { runs: 300 },
    );
  });

  it("proposes only what achieves the wishes exactly, and says why where it proposes nothing", () => {
    let achieved = 0;
    const wishOf = (document: AccessDocument, pick: number, level: number) => {
      const principals = [
        { audience: "members" as const },
        { audience: "public" as const },
        ...document.groups.map(({ id }) => ({ group: id })),
        ...document.people.map(({ id }) => ({ person: id })),
      ];
      return { principal: principals[pick % principals.length] as (typeof principals)[number], level: (level % 5) as Level };
    };
    holds(
      fc.property(world, fc.nat(30), fc.array(fc.tuple(fc.nat(30), fc.nat(30)), { minLength: 1, maxLength: 2 }), (document, where, raw) => {
        const place = document.places[where % document.places.length] as Place;
        const wishes = raw.map(([pick, level]) => wishOf(document, pick, level));
        const before = compile(document);
        const proposal = propose(
          before,
          wishes.map((wish) => ({ ...wish, place: place.id })),
          NOW,
        );
        const { covered } = coverage(before, known(before, { public: true }, place.id).place, wishes, NOW);
        if (!proposal.alreadySo && proposal.candidates.length === 0) expect(proposal.obstacle).not.toBeNull();
        for (const candidate of proposal.candidates) {
          achieved++;
          const applied = applyEdits(document, candidate.edits);
          if (!applied.ok) throw new Error("a proposal does not apply");
          const after = compile(applied.document);
          for (const { subjects, target } of covered) {
            for (const subject of subjects) {
              const it = known(after, subject.subject, place.id);
              expect(effectiveSet(after, it.subject, it.place, NOW)).toBe(target);
            }
          }
        }
      }),
      { runs: 300 },
    );
    expect(achieved).toBeGreaterThan(15);
  });

  it("turns a wish for a group to write and members to read into one write fence with one grant", () => {
    const bare: Omit<Place, "id" | "kind"> = { state: "live", stance: "follow", tags: [], grants: [], fences: [] };
    const document: AccessDocument = {
      tesoroAccess: 1,
      ceilings: { outsiders: ["read"], guests: ["read"], passes: true },
      people: ["ana", "ben", "cleo"].map((id) => ({ id, kind: "member", status: "active" })),
      groups: [{ id: "pilots", members: [{ person: "ana" }] }],
      places: [
        { ...bare, id: "site", kind: "site", grants: [{ to: { person: "cleo" }, abilities: [...ABILITIES] }] },
        {
          ...bare,
          id: "space",
          kind: "space",
          parent: "site",
          grants: [{ to: { audience: "members" }, abilities: ["read", "revise", "add"] }],
        },
        { ...bare, id: "page", kind: "page", parent: "space" },
      ],
      passes: [],
      pledges: [],
    };
    const wishes = [
      { principal: { group: "pilots" }, level: 3 as const },
      { principal: { audience: "members" as const }, level: 1 as const },
    ];
    const { candidates, exceptions } = propose(
      compile(document),
      wishes.map((wish) => ({ ...wish, place: "page" })),
      NOW,
    );
    expect(exceptions).toEqual(["person:cleo"]);
    expect(candidates[0]?.edits).toHaveLength(2);
    expect(candidates[0]?.edits).toContainEqual({
      kind: "fence",
      place: "page",
      put: { kind: "write", admits: [{ group: "pilots" }, { person: "cleo" }] },
    });
    expect(candidates[0]?.unwishedLosses).toEqual({ outsiders: 0, guests: 0, members: 0 });
  });

  it("takes back any applied edits to the same document, and notices what changed meanwhile", () => {
    const extra: Grant = { to: { audience: "members" }, abilities: ["read", "discuss"], until: "2031-05-05T00:00:00.000Z" };
    holds(
      fc.property(world, fc.nat(30), (document, pick) => {
        const place = document.places[pick % document.places.length] as Place;
        const edits: Edit[] = [
          { kind: "grant", place: place.id, ...(place.grants[0] ? { remove: place.grants[0] } : {}), put: extra },
          { kind: "stance", place: place.id, from: place.stance, to: place.stance === "fresh" ? "follow" : "fresh" },
        ];
        const applied = applyEdits(document, edits);
        if (!applied.ok) throw new Error("does not apply");
        const back = applyEdits(applied.document, invertEdits(edits));
        expect(back.ok && matrix(back.document)).toEqual(matrix(document));
        const twice = applyEdits(applied.document, edits);
        expect(twice.ok ? [] : twice.conflicts.map(({ edit }) => edit.kind)).toEqual(["grant", "stance"]);
      }),
      { runs: 100 },
    );
  });
});
