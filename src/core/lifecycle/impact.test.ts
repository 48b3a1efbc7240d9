/** What a change breaks, held to a slow answer: every subject asked at every place, one by one. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { draw, editAt } from "../../../test/reference/changes.ts";
import { NOW, world } from "../../../test/reference/worlds.ts";
import { decide } from "../access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, compile, placeOf, subjectOf } from "../access/index/index.ts";
import { type AccessDocument, type Edit, READ } from "../access/model/index.ts";
import { ripple } from "../access/ripple/index.ts";
import { update } from "../access/update/index.ts";
import { brokenLinks, impactOf, readersOutside } from "./impact.ts";

const isPage = ({ place }: CompiledPlace): boolean => place.kind === "page" || place.kind === "bulletin";

const reads = (index: AccessIndex, subject: CompiledSubject, place: CompiledPlace): boolean =>
  (decide(index, subject.number, place.number, NOW) & READ) !== 0;

/** Who reads a place that is not published since they own it. */
const ownsDraft = (index: AccessIndex, { number }: CompiledPlace): CompiledSubject | undefined =>
  index.subjects[index.ownerGate[number] ?? -1];

interface Change {
  before: AccessIndex;
  after: AccessIndex;
  edits: Edit[];
}

function changeOf(document: AccessDocument, draws: readonly [number, number, number, number][]): Change {
  const before = compile(document);
  let after = before;
  const made: Edit[] = [];
  for (const it of draws) {
    const edits: Edit[] = [editAt(after.document, it)];
    const updated = update(after, edits);
    if (!updated.ok) continue;
    after = updated.index;
    made.push(...edits);
  }
  return { before, after, edits: made };
}

/** Whoever of the first index is known to the second, as they are there. */
const later = ({ after }: Change, subject: CompiledSubject): CompiledSubject | undefined =>
  subject.person ? subjectOf(after, { person: subject.person.id }) : subjectOf(after, { public: true });

const changes = fc.tuple(world, fc.array(draw, { minLength: 1, maxLength: 5 }));

it("a link is broken just where somebody who can follow it now cannot follow it then, and told as outside where one of those is", () => {
  let [broken, outside, sound] = [0, 0, 0];
  holds(
    fc.property(changes, ([document, draws]) => {
      const change = changeOf(document, draws);
      const { before, after } = change;
      const pages = before.places.filter(isPage).slice(0, 12);
      const links = pages.flatMap((from) => pages.flatMap((to) => (from === to ? [] : [{ from: from.place.id, to: to.place.id }])));
      const told = new Map(brokenLinks(before, after, NOW, links).map((it) => [`${it.from} ${it.to}`, it.outside]));
      for (const link of links) {
        const [from, to, then] = [placeOf(before, link.from), placeOf(before, link.to), placeOf(after, link.to)];
        if (!from || !to) throw new Error("the links are between pages of the site");
        // An owner of a draft is not told of by the tables that links are compared by.
        if (ownsDraft(before, from) || ownsDraft(before, to)) continue;
        const owner = then && ownsDraft(after, then);
        if (owner && reads(before, owner, from) && reads(before, owner, to)) continue;
        const lost = before.subjects.filter((subject) => {
          if (subject.pass || !reads(before, subject, from) || !reads(before, subject, to)) return false;
          const as = later(change, subject);
          return !(as && then && reads(after, as, then));
        });
        const expected = lost.length === 0 ? undefined : lost.some((subject) => subject.class !== "members");
        expect([link, told.get(`${link.from} ${link.to}`)]).toEqual([link, expected]);
        if (expected === undefined) sound++;
        else if (expected) outside++;
        else broken++;
      }
    }),
    { runs: 700 },
  );
  expect([broken > 20, outside > 2, sound > 50]).toEqual([true, true, true]);
});

it("guests are told of who lose reading somewhere and keep nothing but what the public reads", () => {
  let left = 0;
  holds(
    fc.property(changes, ([document, draws]) => {
      const { before, after, edits } = changeOf(document, draws);
      const it = ripple(before, after, NOW);
      const told = impactOf({ before, after, at: NOW, edits, ripple: it }, { links: [], schedules: [], routines: [], views30: 0 }).guests;
      const losing = new Set(
        it.entries.filter((entry) => entry.class === "guests" && entry.losses.includes("read")).flatMap((entry) => entry.subjects),
      );
      const everybody = subjectOf(after, { public: true });
      if (!everybody) throw new Error("the public is always there");
      const expected = after.subjects.filter(
        (subject) =>
          losing.has(subject.key) &&
          !after.places.some(
            (place) => ownsDraft(after, place) !== subject && reads(after, subject, place) && !reads(after, everybody, place),
          ),
      );
      // A draft of one's own is left aside.
      expect([...told].sort()).toEqual(expected.flatMap(({ person }) => (person ? [person.id] : [])).sort());
      left += told.length;
    }),
    { runs: 900 },
  );
  expect(left).toBeGreaterThan(2);
});

it("who outside reads a place: the public, and every guest counted once", () => {
  holds(
    fc.property(world, (document) => {
      const index = compile(document);
      for (const place of index.places.filter(isPage)) {
        if (ownsDraft(index, place)) continue;
        const outside = index.subjects.filter((subject) => !subject.pass && subject.class !== "members" && reads(index, subject, place));
        const guests = outside.filter(({ person }) => person).length;
        expect(readersOutside(index, place.number, NOW)).toEqual({ public: outside.length > guests, guests });
      }
    }),
    { runs: 200 },
  );
});
