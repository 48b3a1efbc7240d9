/** Changes of state, by whatever sequence of edits and whoever makes them: along the table only, and nothing opened without `publish`. */
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { referenceSet, subjectsOf } from "../../../../test/reference/reference.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { completed } from "../../lifecycle/index.ts";
import { compile } from "../index/index.ts";
import {
  type Ability,
  type AccessDocument,
  actBetween,
  type Edit,
  invertEdits,
  leadsTo,
  markOf,
  type Place,
  STATE_ACTS,
  STATES,
  STATES_BEFORE,
  type StateMark,
  sameMark,
} from "../model/index.ts";
import { update } from "../update/index.ts";
import { may, TABLE } from "./acts.ts";
import { judgeChange } from "./policy.ts";

/** Any mark at all, lawful or forged. */
const mark: fc.Arbitrary<StateMark> = fc.record(
  { state: fc.constantFrom(...STATES), was: fc.constantFrom(...STATES_BEFORE), binnedFrom: fc.constant("archived" as const) },
  { requiredKeys: ["state"] },
);
/** A value once in so many times, else null. */
const sometimes = <T>(it: fc.Arbitrary<T>, times: number) =>
  fc.oneof({ weight: 1, arbitrary: it }, { weight: times - 1, arbitrary: fc.constant(null) });
/** Which place, where an edit leads: a lawful act by number, or any mark; and whether `from` is told as it is. */
const step = fc.record({
  where: fc.nat(20),
  act: fc.nat(STATE_ACTS.length - 1),
  forged: sometimes(mark, 3),
  from: sometimes(mark, 12),
  joined: sometimes(fc.constant(true), 4),
});
type Step = typeof step extends fc.Arbitrary<infer T> ? T : never;

const isPage = ({ kind }: Place) => kind === "page" || kind === "bulletin";
const at = (document: AccessDocument, id: string) => document.places.find((place) => place.id === id) as Place;

function editOf(document: AccessDocument, { where, act, forged, from }: Step): Edit {
  const place = document.places[where % document.places.length] as Place;
  const to = forged ?? leadsTo(STATE_ACTS[act] as "bin", place.kind, place) ?? { state: "live" as const };
  return { kind: "state", place: place.id, from: from ?? markOf(place), to };
}

/** The state of the space a place stands in, which gates it as well. */
const spaceState = (document: AccessDocument, id: string): string => {
  const place = at(document, id);
  return place.kind === "page" || place.kind === "bulletin" ? spaceState(document, place.parent ?? "") : place.state;
};

const readers = (document: AccessDocument, id: string): string[] =>
  subjectsOf(document)
    .filter((subject) => referenceSet(document, subject, id, NOW).includes("read"))
    .map((subject) => JSON.stringify(subject));

/** The world with a member who holds these everywhere but behind fences and fresh starts. */
const withMaker = (document: AccessDocument, abilities: Ability[]): AccessDocument => ({
  ...document,
  people: document.people.map((it) => (it.id === "p0" ? { id: "p0", kind: "member", status: "active" } : it)),
  places: document.places.map((it) => (it.kind === "site" ? { ...it, grants: [...it.grants, { to: { person: "p0" }, abilities }] } : it)),
});

describe("edits of state alone", () => {
  it("lead along the table only, and open nothing to anybody for who may not publish it, but by coming back to exactly what was left", () => {
    let made = 0;
    holds(
      fc.property(world, fc.array(step, { minLength: 1, maxLength: 8 }), fc.boolean(), (raw, steps, publisher) => {
        const maker = "p0";
        const document = withMaker(raw, publisher ? ["read", "revise", "publish", "retire"] : ["read", "revise", "add", "retire"]);
        let index = compile(document);
        /** What was left by archiving and binning, by place: where coming back must lead. */
        const left = new Map<string, { mark: StateMark; readers: string[]; space: string }[]>();
        let waiting: Edit[] = [];
        for (const it of steps) {
          waiting.push(editOf(index.document, it));
          if (it.joined) continue;
          const edits = completed(index, waiting);
          waiting = [];
          const updated = update(index, edits);
          if (!updated.ok) continue;
          if (judgeChange(index, updated.index, { edits, maker, at: NOW, reason: "Tried." }).refusals.length > 0) continue;
          made++;
          const [before, after] = [index.document, updated.index.document];
          for (const id of new Set(edits.flatMap((edit) => (edit.kind === "state" ? [edit.place] : [])))) {
            const [was, is] = [at(before, id), at(after, id)];
            const stack = left.get(id) ?? [];
            if (isPage(is) && is.state === "archived" && was.state !== "archived" && was.state !== "binned") expect(is.was).toBe(was.state);
            if (isPage(is) && is.state === "binned" && was.state !== "binned") {
              expect([is.was, is.binnedFrom]).toEqual(was.state === "archived" ? [was.was ?? "live", "archived"] : [was.state, undefined]);
            }
            const gained = readers(after, id).filter((key) => !readers(before, id).includes(key));
            const published = referenceSet(before, { person: maker }, id, NOW).includes("publish");
            const above = was.parent === undefined ? [] : referenceSet(before, { person: maker }, was.parent, NOW);
            const own = was.owner === maker && above.includes("publish");
            if (gained.length > 0 && !published && !own) {
              const back = stack.findLast((one) => sameMark(one.mark, is) || (one.mark.state === "scheduled" && is.state === "draft"));
              const known = back ? back.readers : readers(document, id);
              // What the random site began with in archive or bin, or in a space that was there, has nothing in this history to compare with.
              // Where the space came back meanwhile, it opens what was archived while it was closed: that is its own act.
              const sameSpace = back?.space === spaceState(after, id);
              if (back && sameSpace) expect(gained.filter((key) => !known.includes(key))).toEqual([]);
              else if (!back)
                expect([at(document, id).state, spaceState(document, id)]).toEqual(
                  expect.arrayContaining([expect.stringMatching(/archived|binned/)]),
                );
            }
            stack.push({ mark: markOf(was), readers: readers(before, id), space: spaceState(before, id) });
            left.set(id, stack);
          }
          index = updated.index;
        }
      }),
      { runs: 1500 },
    );
    expect(made).toBeGreaterThan(200);
  });

  it("can be taken back as long as anything leads back, to where they began; what was scheduled is a draft then", () => {
    holds(
      fc.property(world, fc.array(step, { minLength: 1, maxLength: 4 }), (document, steps) => {
        const start = compile(document);
        let index = start;
        const edits: Edit[] = [];
        for (const it of steps) {
          const edit = editOf(index.document, it);
          const updated = update(index, [edit]);
          if (!updated.ok) continue;
          edits.push(edit);
          index = updated.index;
        }
        const back = update(index, invertEdits(edits));
        if (edits.some((edit) => edit.kind === "state" && (edit.from.state === "scheduled" || edit.from.was === "scheduled"))) return;
        if (!back.ok) throw new Error(JSON.stringify([edits, back.conflicts]));
        for (const place of back.index.document.places) expect(sameMark(place, at(document, place.id))).toBe(true);
      }),
      { runs: 500 },
    );
  });

  it("and of anything else leave a withdrawn pass withdrawn when they are taken back", () => {
    const pass = { id: "k", place: "x2", below: true, revoked: false };
    const withdrawn = { ...pass, revoked: true };
    const edit = (remove: typeof pass, put: typeof pass): Edit => ({ kind: "pass", pass: "k", remove, put });
    expect(invertEdits([edit(pass, withdrawn)])).toEqual([]);
    expect(invertEdits([edit(pass, { ...withdrawn, below: false })])).toEqual([edit({ ...withdrawn, below: false }, withdrawn)]);
    expect(invertEdits([{ kind: "pass", pass: "k", put: pass }])).toEqual([edit(pass, withdrawn)]);
  });

  it("have no act for a forged mark, a site, or a scheduled space", () => {
    expect(actBetween("page", { state: "archived", was: "draft" }, { state: "live" })).toBeNull();
    expect(actBetween("page", { state: "binned", was: "live", binnedFrom: "archived" }, { state: "live" })).toBeNull();
    expect(actBetween("page", { state: "binned", was: "scheduled" }, { state: "draft" })).toBe("restore");
    for (const act of STATE_ACTS) expect(leadsTo(act, "site", { state: "live" })).toBeNull();
    expect(leadsTo("schedule", "space", { state: "live" })).toBeNull();
  });
});

/** Rows of the design that nothing here does yet: each goes from this list with the feature that brings it. */
const TO_COME = [
  "see comments on a page",
  "send a page",
  "take a page's text out · a branch or space",
  "put a file on a page",
  "bring pages in",
  "say that a page must be read · see who confirmed · confirm",
];

describe("the table of acts", () => {
  it("has the rows of section 6a, in their order, where the design is at hand", () => {
    let design: string;
    try {
      design = readFileSync(new URL("../../../../../shared/design/access-model.md", import.meta.url), "utf8");
    } catch {
      return;
    }
    const section = design.slice(design.indexOf("## 6a."), design.indexOf("## 7."));
    const rows = [...section.matchAll(/^\| (.+?) \| (.+?) \|$/gm)].map(([, line]) => line as string);
    const known = rows.filter((line) => line !== "act" && !line.startsWith("---"));
    expect(known.filter((line) => TO_COME.includes(line))).toEqual(TO_COME);
    expect(TABLE.map(({ line }) => line)).toEqual(known.filter((line) => !TO_COME.includes(line)));
  });

  it("gives nothing to who holds nothing, but asking for access to whoever is signed in", () => {
    const nobody = { set: 0, oversight: false, keepsSite: false, member: false, signedIn: false };
    for (const { acts } of TABLE) for (const name of Object.keys(acts)) expect(may(name as "read", nobody)).toMatch(/\.$/);
    expect(may("askForAccess", { ...nobody, signedIn: true })).toBeNull();
  });
});
