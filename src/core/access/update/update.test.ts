/** Taking in changes: an index brought up to date is the index compiled anew, and its ripple is the difference of two matrices. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { draw, editAt } from "../../../../test/reference/changes.ts";
import { referenceSet, subjectsOf } from "../../../../test/reference/reference.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { decide, effectiveSet, matrixTotals, walkedCell } from "../decide/index.ts";
import { checkDocument, checkEdits, differenceOf } from "../exchange/index.ts";
import { type AccessIndex, compile, placeOf } from "../index/index.ts";
import {
  type AccessDocument,
  type Edit,
  instantAt,
  maskOf,
  type Place,
  type PlaceNumber,
  type SubjectNumber,
  subjectKey,
} from "../model/index.ts";
import { brokenPledges, covers, placesOf, ripple, selects, violationsOf } from "../ripple/index.ts";
import { update } from "./update.ts";

/** Every cell by subject and place, from the tables. */
function cellsOf(index: AccessIndex): Map<string, number> {
  const cells = new Map<string, number>();
  for (const subject of index.subjects) {
    for (const place of index.places) cells.set(`${subject.key} @ ${place.place.id}`, decide(index, subject.number, place.number, NOW));
  }
  return cells;
}

/** A history of sound changes, each made on the index the one before led to. */
function* historyOf(document: AccessDocument, draws: readonly [number, number, number, number][]) {
  let before = compile(document);
  for (const it of draws) {
    const edits: Edit[] = [editAt(before.document, it)];
    const updated = update(before, edits);
    if (!updated.ok) continue;
    const errors = checkEdits(updated.index, edits);
    // What the quick check of edits lets through is what the check of the whole document lets through.
    expect(errors.length > 0).toBe(checkDocument(updated.index.document).length > 0);
    if (errors.length > 0) continue;
    yield { before, after: updated.index, edits };
    before = updated.index;
  }
}

/** A page that two alike passes open and nothing else, and one of them is withdrawn. */
const plain: Omit<Place, "id" | "kind"> = { state: "live", stance: "follow", tags: [], grants: [], fences: [] };
const twoPasses: [AccessDocument, [number, number, number, number][]] = [
  {
    tesoroAccess: 1,
    ceilings: { outsiders: ["read"], guests: ["read"], passes: true },
    people: [{ id: "p0", kind: "member", status: "active" }],
    groups: [{ id: "g0", members: [] }],
    places: [
      { ...plain, id: "x0", kind: "site" },
      { ...plain, id: "x1", kind: "space", parent: "x0" },
      { ...plain, id: "x2", kind: "page", parent: "x1" },
    ],
    passes: ["k0", "k1"].map((id) => ({ id, place: "x2", below: true, revoked: false })),
    pledges: [],
  },
  [[11, 0, 0, 0]],
];

const history = fc.tuple(world, fc.array(draw, { minLength: 3, maxLength: 10 }));

describe("an index brought up to date", () => {
  it("is the index of the changed document compiled anew: cells, walks and totals", () => {
    holds(
      fc.property(history, ([document, draws]) => {
        for (const { after } of historyOf(document, draws)) {
          const fresh = compile(after.document);
          const cells = cellsOf(after);
          expect(cells).toEqual(cellsOf(fresh));
          for (const subject of after.subjects) {
            for (const place of after.places) {
              expect(walkedCell(after, subject, place, NOW)).toBe(cells.get(`${subject.key} @ ${place.place.id}`));
            }
          }
          expect(matrixTotals(after, NOW)).toEqual(matrixTotals(fresh, NOW));
        }
      }),
      { runs: 210 },
    );
  });

  it("leaves the index before it as it was, and its ripple is the difference of the two, pledges included", () => {
    const violations = (index: AccessIndex) =>
      new Set(
        index.document.pledges.flatMap((pledge) =>
          index.subjects.flatMap((subject) =>
            index.places.flatMap((place) => {
              if (!covers(index, pledge, subject, NOW) || !selects(index, pledge, place)) return [];
              const has = (effectiveSet(index, subject, place, NOW) & maskOf([pledge.ability])) !== 0;
              return has === (pledge.rule === "never") ? [`${pledge.id} ${subject.key} ${place.place.id}`] : [];
            }),
          ),
        ),
      );
    holds(
      fc.property(history, ([document, draws]) => {
        for (const { before, after } of historyOf(document, draws)) {
          const [was, is] = [cellsOf(compile(before.document)), cellsOf(after)];
          expect(cellsOf(before)).toEqual(was);
          const it = ripple(before, after, NOW);
          const told = it.entries.flatMap((entry) =>
            entry.subjects.flatMap((subject) => placesOf(it, entry).map((place) => `${subject} @ ${place}`)),
          );
          const differing = [...new Set([...was.keys(), ...is.keys()])].filter((key) => (was.get(key) ?? 0) !== (is.get(key) ?? 0));
          expect([...told].sort()).toEqual(differing.sort());
          const somebody = (index: AccessIndex, id: string) =>
            index.subjects.some((subject) => {
              const place = placeOf(index, id);
              return place && effectiveSet(index, subject, place, NOW);
            });
          const closed = before.places.filter(({ place }) => somebody(before, place.id) && !somebody(after, place.id));
          expect(it.closedToAll.sort()).toEqual(closed.map(({ place }) => place.id).sort());
          const [brokenBefore, brokenAfter] = [violations(before), violations(after)];
          const fresh = [...brokenAfter].filter((key) => !brokenBefore.has(key));
          expect(it.pledges.break.reduce((sum, { count }) => sum + count, 0)).toBe(fresh.length);
          for (const { pledge, subject, place } of it.pledges.break) expect(fresh).toContain(`${pledge} ${subject} ${place}`);
          expect(it.pledges.mend).toEqual(
            brokenBefore.size > 0 && brokenAfter.size === 0 && after.document.pledges.length > 0 ? ["pledge"] : [],
          );
          expect(brokenPledges(after, NOW).reduce((sum, { count }) => sum + count, 0)).toBe(brokenAfter.size);
          const { pledges } = after.document;
          // In an order that does not tell how the index came about.
          const places = (index: AccessIndex) => violationsOf(index, pledges, NOW).map((found) => found.map(({ place }) => place));
          expect(places(after)).toEqual(places(compile(after.document)));
          for (const [nth, found] of violationsOf(after, pledges, NOW).entries()) {
            const pledge = pledges[nth] as (typeof pledges)[number];
            expect(found.reduce((sum, { count }) => sum + count, 0)).toBe(brokenAfter.size);
            for (const { place, count, subjects } of found) {
              expect(subjects).toHaveLength(Math.min(count, 5));
              for (const subject of subjects) expect(brokenAfter).toContain(`${pledge.id} ${subject} ${place}`);
            }
          }
        }
      }),
      { runs: 210, kept: [[twoPasses]] },
    );
  });
});

describe("the same question asked again", () => {
  it("has the same answer, and what does not fit is one of the edits that were given this time", () => {
    let [fitting, unfit] = [0, 0];
    holds(
      fc.property(world, fc.array(draw, { minLength: 1, maxLength: 6 }), (document, draws) => {
        const before = compile(document);
        const edits = draws.map((it) => editAt(document, it));
        const again = structuredClone(edits);
        const [first, second] = [update(before, edits), update(before, again)];
        expect(second.ok).toBe(first.ok);
        if (first.ok && second.ok) {
          fitting++;
          expect(cellsOf(second.index)).toEqual(cellsOf(first.index));
          // Of other edits nothing is remembered.
          const other = update(before, edits.slice(1));
          if (other.ok) expect(cellsOf(other.index)).toEqual(cellsOf(compile(other.index.document)));
        } else if (!second.ok) {
          unfit++;
          for (const { edit } of second.conflicts) expect(again).toContain(edit);
        }
      }),
      { runs: 300 },
    );
    expect([fitting > 20, unfit > 5]).toEqual([true, true]);
  });
});

describe("two documents", () => {
  it("differ by edits that lead from one to the other, and back again", () => {
    holds(
      fc.property(history, ([document, draws]) => {
        const start = compile(document);
        let end = start;
        for (const { after, edits } of historyOf(document, draws)) {
          // Pages and passes are made in Tesoro, not by a document.
          if (edits.some(({ kind }) => kind === "start" || kind === "pass")) break;
          end = after;
        }
        const newPeople = end.document.people.length > document.people.length;
        for (const [from, to] of newPeople
          ? [[start, end]]
          : ([
              [start, end],
              [end, start],
            ] as const)) {
          const { edits, errors } = differenceOf((from as AccessIndex).document, (to as AccessIndex).document);
          // A state that no single act leads to is refused, whichever way round.
          if (errors.some(({ path }) => path.endsWith(".state"))) continue;
          expect(errors).toEqual([]);
          const updated = update(from as AccessIndex, edits);
          if (!updated.ok) throw new Error(JSON.stringify(updated.conflicts));
          expect(cellsOf(updated.index)).toEqual(cellsOf(to as AccessIndex));
          expect(differenceOf(updated.index.document, (to as AccessIndex).document).edits).toEqual([]);
        }
      }),
      { runs: 300 },
    );
  });
});

describe("a grant, a fence, a pass that ends", () => {
  it("counts to the millisecond, whichever instant is asked about first", () => {
    const instants = [-1, 0, 1, 2].map((offset) => instantAt(NOW + offset));
    holds(
      fc.property(world, fc.shuffledSubarray(instants, { minLength: 4 }), (document, asked) => {
        const index = compile(document);
        for (const at of asked) {
          for (const subject of subjectsOf(document)) {
            for (const place of document.places) {
              const number = index.subjectNumbers.get(subjectKey(subject)) as SubjectNumber;
              const cell = decide(index, number, index.placeNumbers.get(place.id) as PlaceNumber, at);
              expect(cell & 511).toBe(maskOf(referenceSet(document, subject, place.id, at)));
            }
          }
        }
      }),
      { runs: 150 },
    );
  });
});
