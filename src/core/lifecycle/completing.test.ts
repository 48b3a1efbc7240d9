/** What a change brings along without being asked: helpers leave at publication, what leaves its space is scheduled no more. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { draw, editAt } from "../../../test/reference/changes.ts";
import { world } from "../../../test/reference/worlds.ts";
import { below, compile, placeOf } from "../access/index/index.ts";
import { applyEdits, type Edit, type Place } from "../access/model/index.ts";
import { completed, helpersKept } from "./index.ts";

const isPage = ({ kind }: Place): boolean => kind === "page" || kind === "bulletin";

it("a page that goes live for the first time keeps no helper but those the same change keeps; nothing else is touched", () => {
  let left = 0;
  let stayed = 0;
  holds(
    fc.property(world, fc.nat(30), fc.boolean(), (document, pick, keeps) => {
      const drafts = document.places.filter((it) => isPage(it) && (it.state === "draft" || it.state === "scheduled"));
      const page = drafts[pick % Math.max(1, drafts.length)];
      if (!page) return;
      const index = compile(document);
      const live: Edit = { kind: "state", place: page.id, from: { state: page.state }, to: { state: "live" } };
      const place = placeOf(index, page.id);
      const kept = keeps && place ? helpersKept(place) : [];
      const edits = completed(index, [live, ...kept]);
      expect(edits.slice(0, 1 + kept.length)).toEqual([live, ...kept]);
      const further = edits.slice(1 + kept.length);
      for (const edit of further) expect(edit).toMatchObject({ kind: "grant", place: page.id, remove: { draft: true } });
      const applied = applyEdits(document, edits);
      if (!applied.ok) return;
      const after = applied.document.places.find(({ id }) => id === page.id) as Place;
      expect(after.grants.filter((grant) => grant.draft)).toEqual([]);
      const helpers = new Set(page.grants.filter((grant) => grant.draft).map((grant) => JSON.stringify(grant.to)));
      const plain = new Set(page.grants.filter((grant) => !grant.draft).map((grant) => JSON.stringify(grant.to)));
      const now = new Set(after.grants.map((grant) => JSON.stringify(grant.to)));
      for (const helper of helpers) {
        if (plain.has(helper)) continue;
        expect([helper, now.has(helper)]).toEqual([helper, keeps]);
        if (keeps) stayed++;
        else left++;
      }
      for (const other of plain) expect(now.has(other)).toBe(true);
    }),
    { runs: 600 },
  );
  expect(Math.min(left, stayed)).toBeGreaterThan(20);
});

it("what is scheduled and moves to another space, or stands in what moves, is a draft there; within its space it stays", () => {
  let unscheduled = 0;
  holds(
    fc.property(world, fc.nat(30), fc.nat(30), (document, pick, where) => {
      const pages = document.places.filter(isPage);
      const page = pages[pick % Math.max(1, pages.length)];
      const targets = document.places.filter(({ kind }) => kind === "space" || kind === "page");
      const target = targets[where % Math.max(1, targets.length)];
      if (!page?.parent || !target || target.id === page.id) return;
      const index = compile(document);
      const [from, to] = [placeOf(index, page.id), placeOf(index, target.id)];
      if (!from || !to || below(index, from).includes(to)) return;
      const move: Edit = { kind: "move", place: page.id, from: page.parent, to: target.id };
      const further = completed(index, [move]).slice(1);
      const waiting = below(index, from).filter(({ place }) => place.state === "scheduled");
      const expected = from.space === to.space ? [] : waiting.map(({ place }) => place.id);
      expect(further.map((edit) => ("place" in edit ? edit.place : "")).sort()).toEqual(expected.sort());
      for (const edit of further) expect(edit).toMatchObject({ kind: "state", from: { state: "scheduled" }, to: { state: "draft" } });
      unscheduled += expected.length;
      // What the same change says of a page is not said twice.
      const [first] = expected;
      if (first === undefined) return;
      const own: Edit = { kind: "state", place: first, from: { state: "scheduled" }, to: { state: "binned", was: "scheduled" } };
      expect(completed(index, [move, own]).filter((edit) => "place" in edit && edit.place === first && edit.kind === "state")).toEqual([
        own,
      ]);
    }),
    { runs: 1_500 },
  );
  expect(unscheduled).toBeGreaterThan(20);
});

it("every other change brings nothing along", () => {
  holds(
    fc.property(world, draw, (document, it) => {
      const edit = editAt(document, it);
      if (edit.kind === "move" || (edit.kind === "state" && edit.to.state === "live")) return;
      expect(completed(compile(document), [edit])).toEqual([edit]);
    }),
    { runs: 400 },
  );
});
