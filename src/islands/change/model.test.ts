/**
 * The tray, against the real core and a server that answers late, in any order, or not at all; with other tabs and other
 * keepers. What is in it is what the screen says, item by item; nothing comes back that was thrown away.
 */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import type { Preview, ProposalView } from "../../contracts/change.ts";
import { parseAccessDocument } from "../../core/access/exchange/index.ts";
import { type AccessIndex, compile } from "../../core/access/index/index.ts";
import {
  abilitiesIn,
  describeSet,
  type Edit,
  fenceKey,
  type Grant,
  grantKey,
  instantOf,
  type Level,
  type Principal,
  setOfLevel,
  wishedSet,
} from "../../core/access/model/index.ts";
import { propose } from "../../core/access/propose/index.ts";
import { update } from "../../core/access/update/index.ts";
import { type CallError, editsOf, type TrayItem, TrayModel, type TrayServer, type TrayStore, type TrayWish } from "./model.ts";
import { isNothing, supersede } from "./supersede.ts";

const AT = instantOf("2026-11-25T12:00:00Z");
const grant = (to: Principal, level: Level): Grant => ({ to, abilities: abilitiesIn(setOfLevel(level)) });
const MEMBERS: Principal = { audience: "members" };

function harbour(): AccessIndex {
  const parsed = parseAccessDocument({
    tesoroAccess: 1,
    people: [
      { id: "keeper", kind: "member" },
      { id: "p", kind: "member" },
      { id: "q", kind: "member" },
    ],
    groups: [{ id: "pilots", members: [{ person: "p" }] }],
    places: [
      { id: "site", kind: "site", grants: [grant({ person: "keeper" }, 5)] },
      { id: "s", kind: "space", parent: "site", title: "S", grants: [grant(MEMBERS, 2)] },
      { id: "a", kind: "page", parent: "s", title: "A", grants: [grant({ group: "pilots" }, 3)] },
      { id: "b", kind: "page", parent: "s", title: "B" },
    ],
  });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
  return compile(parsed.document);
}

class Refused extends Error {
  constructor(readonly told: CallError) {
    super(told.message);
  }
}

const PRINCIPALS: Record<string, Principal> = { members: MEMBERS, "group:pilots": { group: "pilots" }, "person:q": { person: "q" } };
const IMPOSSIBLE = "person:nobody";

class World {
  index = harbour();
  calls: (() => void)[] = [];
  kept = new Map<string, string>();
  tabs: TrayModel[] = [];
  /** Items that may be there, since they were asked for after the last time everything went. */
  wanted = new Set<string>();
  lastWish: TrayWish | null = null;

  constructor() {
    this.open();
    this.open();
  }

  private later<T>(answer: () => T): Promise<T> {
    return new Promise((done, fail) =>
      this.calls.push(() => {
        try {
          done(answer());
        } catch (error) {
          fail(error);
        }
      }),
    );
  }

  /** What does not fit, told by edit. */
  private staged(edits: Edit[]): AccessIndex {
    const updated = update(this.index, edits);
    if (updated.ok) return updated.index;
    const told = updated.conflicts.map(({ edit, message }) => ({ nth: edits.indexOf(edit), message }));
    throw new Refused({ message: "changed meanwhile", code: "changedMeanwhile", edits: told });
  }

  private server(): TrayServer {
    return {
      preview: (edits) =>
        this.later(() => {
          this.staged(edits);
          return { seen: JSON.stringify([this.index.document, edits]), ripple: { summary: [] } } as unknown as Preview;
        }),
      propose: ([place = ""], wishes, edits) =>
        this.later((): ProposalView => {
          const last = wishes.at(-1) as TrayWish;
          const none = { best: null, others: [], exceptions: [], alreadySo: false };
          if (last.column === IMPOSSIBLE) return { ...none, reason: `impossible: ${last.name} at ${describeSet(wishedSet(last))}` };
          const asked = wishes.map((it) => ({
            place,
            principal: PRINCIPALS[it.column] as Principal,
            abilities: abilitiesIn(wishedSet(it)),
          }));
          const { candidates, alreadySo } = propose(this.staged(edits), asked, AT);
          const views = candidates.map((it) => ({ edits: it.edits, sentences: it.edits.map((edit) => JSON.stringify(edit)), besides: "" }));
          const [best = null, ...others] = views;
          return {
            ...none,
            best,
            others,
            alreadySo,
            reason: best || alreadySo ? "" : `impossible: ${last.name} at ${describeSet(wishedSet(last))}`,
          };
        }),
      apply: ({ edits, seen }) =>
        this.later(() => {
          if (seen !== JSON.stringify([this.index.document, edits]))
            throw new Refused({ message: "look again", code: "changedMeanwhile", edits: [] });
          this.index = this.staged(edits);
          return { seq: 1 };
        }),
      changed: async () => {},
      errorOf: (error) => {
        if (error instanceof Refused) return error.told;
        if ((error as Error).message === "offline") return { message: "offline", code: "offline", edits: [] };
        throw error;
      },
    };
  }

  private open(): void {
    const store: TrayStore = {
      list: () => [...this.kept.values()].map((it) => JSON.parse(it) as TrayItem),
      put: (item) => void this.kept.set(item.id, JSON.stringify(item)),
      drop: (id) => void this.kept.delete(id),
    };
    this.tabs.push(new TrayModel(this.server(), store));
  }

  settle = (): Promise<void> => new Promise((done) => setImmediate(done));

  async answer(at: number, fails = false): Promise<void> {
    const [call] = this.calls.splice(at % Math.max(1, this.calls.length), 1);
    if (fails) this.dropCall(call);
    else call?.();
    await this.settle();
  }

  /** The network is away for one call. */
  private dropCall(call: (() => void) | undefined): void {
    const real = this.index;
    // An answer that never comes: for the caller it is an error, for the server nothing happened.
    Object.defineProperty(this, "index", {
      get: () => {
        throw new Error("offline");
      },
      set: () => {},
      configurable: true,
    });
    try {
      call?.();
    } finally {
      Object.defineProperty(this, "index", { value: real, writable: true, configurable: true });
    }
  }

  async calm(): Promise<void> {
    for (let i = 0; i < 200 && this.calls.length > 0; i++) await this.answer(0);
    // Whoever comes back to a tab sees what is true by then.
    for (const tab of this.tabs) {
      tab.read();
      void tab.look();
    }
    for (let i = 0; i < 200 && this.calls.length > 0; i++) await this.answer(0);
  }

  /** Of each rule of a place, at most one thing waits; and nothing waits that nobody asked for. */
  check(): void {
    for (const tab of this.tabs) {
      const { items, note, preview } = tab.state;
      if (items.length === 0) expect([note, preview], "an empty tray keeps a note or a preview").toEqual(["", null]);
      const rules = editsOf(items).flatMap((edit) => {
        if (edit.kind === "grant" && edit.remove) return [`${edit.place} ${grantKey(edit.remove)}`];
        if (edit.kind === "fence" && edit.remove) return [`${edit.place} ${fenceKey(edit.remove)}`];
        return edit.kind === "stance" ? [`${edit.place} stance`] : [];
      });
      expect(new Set(rules).size, `two things wait for one rule: ${rules}`).toBe(rules.length);
      for (const { id } of items) expect(this.wanted, `${id} came back`).toContain(id);
    }
  }
}

type Step = (world: World) => unknown;
const tab = fc.nat(1);
const place = fc.constantFrom("a", "b");
const level = fc.constantFrom<Level>(0, 1, 2, 3, 4);

const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.tuple(tab, place, fc.constantFrom(...Object.keys(PRINCIPALS), IMPOSSIBLE), level).map(
      ([at, id, column, to]): Step =>
        (world) => {
          world.wanted.add(`wish:${id}`);
          world.lastWish = { column, name: column, level: to };
          void world.tabs[at]?.wish({ id, title: id }, world.lastWish);
        },
    ),
  },
  {
    // A grant that stands on A, edited by hand: another level, or away with it.
    weight: 4,
    arbitrary: fc.tuple(tab, fc.option(level)).map(
      ([at, to]): Step =>
        (world) => {
          const standing = world.index.document.places.find((it) => it.id === "a")?.grants[0];
          if (!standing) return;
          const put = to === null || to === 0 ? {} : { put: grant(standing.to, to) };
          const rule = `grant ${grantKey(standing)}`;
          world.wanted.add(`rule:a:${rule}`);
          world.tabs[at]?.stage({ id: "a", title: "A" }, rule, { kind: "grant", place: "a", remove: standing, ...put }, "edited");
        },
    ),
  },
  {
    weight: 2,
    arbitrary: fc.tuple(tab, place, level).map(
      ([at, id, to]): Step =>
        (world) => {
          if (to === 0) return;
          world.wanted.add(`rule:${id}:new members`);
          world.tabs[at]?.stage({ id, title: id }, "new members", { kind: "grant", place: id, put: grant(MEMBERS, to) }, "added");
        },
    ),
  },
  {
    weight: 2,
    arbitrary: fc.tuple(tab, fc.nat(3)).map(
      ([at, i]): Step =>
        (world) => {
          const model = world.tabs[at];
          const item = model?.state.items[i];
          if (!model || !item) return;
          model.remove(item.id);
          expect(model.state.items.some((it) => it.id === item.id)).toBe(false);
        },
    ),
  },
  {
    weight: 1,
    arbitrary: tab.map(
      (at): Step =>
        async (world) => {
          world.tabs[at]?.throwAway();
          expect(world.tabs[at]?.state).toMatchObject({ items: [], preview: null, note: "" });
          world.tabs[1 - at]?.read();
          // Only what the other tab is being asked for right now may still come.
          if (!world.tabs[1 - at]?.state.busy) world.wanted.clear();
        },
    ),
  },
  {
    weight: 1,
    arbitrary: tab.map(
      (at): Step =>
        (world) =>
          world.tabs[at]?.write({ note: world.tabs[at]?.state.items.length ? "why" : "" }),
    ),
  },
  {
    weight: 2,
    arbitrary: tab.map(
      (at): Step =>
        (world) =>
          void world.tabs[at]?.apply(),
    ),
  },
  {
    weight: 2,
    arbitrary: tab.map(
      (at): Step =>
        (world) =>
          world.tabs[at]?.read(),
    ),
  },
  {
    // Another keeper is quicker.
    weight: 1,
    arbitrary: level.map(
      (to): Step =>
        (world) => {
          const standing = world.index.document.places.find((it) => it.id === "a")?.grants[0];
          if (!standing) return;
          const updated = update(world.index, [
            { kind: "grant", place: "a", remove: standing, ...(to === 0 ? {} : { put: grant(standing.to, to) }) },
          ]);
          if (updated.ok) world.index = updated.index;
        },
    ),
  },
  {
    weight: 8,
    arbitrary: fc.tuple(fc.nat(4), fc.boolean(), fc.boolean()).map(
      ([at, a, b]): Step =>
        (world) =>
          world.answer(at, a && b),
    ),
  },
);

describe("the tray", () => {
  it("is what the screen says, whatever comes late, fails, or is done in another tab or by another keeper", async () => {
    await holds(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 40 }), async (steps) => {
        const world = new World();
        for (const act of steps) {
          await act(world);
          await world.settle();
          world.check();
        }
        await world.calm();
        world.check();
        for (const model of world.tabs) {
          const { items, busy, fresh, preview, problem, trouble } = model.state;
          expect(busy, "it never ends").toBe(false);
          expect(items.map((it) => it.id).sort(), "two tabs differ").toEqual([...world.kept.keys()].sort());
          const fits = update(world.index, editsOf(items));
          if (items.length > 0 && fits.ok && problem !== "offline")
            expect([fresh, preview !== null], "no ripple for what fits").toEqual([true, true]);
          if (!fits.ok) expect(Object.keys(trouble).length, "what does not fit is not pointed at").toBeGreaterThan(0);
        }
        // Each thing can be dropped, down to nothing.
        const [first] = world.tabs as [TrayModel];
        for (const { id } of [...first.state.items]) first.remove(id);
        expect([first.state.items, world.kept.size]).toEqual([[], 0]);
      }),
      { runs: 500 },
    );
  });

  it("gives the reason of the wish that was just made", async () => {
    const world = new World();
    const [model] = world.tabs as [TrayModel];
    void model.wish({ id: "a", title: "A" }, { column: "members", name: "members", level: 1 });
    await world.settle();
    void model.wish({ id: "a", title: "A" }, { column: IMPOSSIBLE, name: "Nobody", level: 3 });
    await world.calm();
    expect(model.state.problem).toBe("impossible: Nobody at Writer");
    expect(model.state.items).toHaveLength(1);
  });

  it("replaces the earlier of two choices at one rule, also one that builds on the other", () => {
    holds(
      fc.property(fc.array(level, { minLength: 1, maxLength: 5 }), (levels) => {
        const first = grant(MEMBERS, 2);
        let waiting: Edit[] = [];
        for (const to of levels) {
          const now = waiting[0]?.kind === "grant" && waiting[0].put ? waiting[0].put : first;
          const edit: Edit = { kind: "grant", place: "s", remove: now, ...(to === 0 ? {} : { put: grant(MEMBERS, to) }) };
          const { kept, edits } = supersede(waiting, [edit]);
          waiting = [...waiting.filter((_, i) => kept[i]), ...edits].filter((it) => !isNothing(it));
          expect(waiting.length).toBeLessThanOrEqual(1);
          if (to === 0) break;
        }
        const [last] = waiting;
        const to = levels[levels.indexOf(0)] ?? levels.at(-1);
        if (to === 2) expect(last).toBeUndefined();
        else expect(last).toMatchObject({ remove: first, ...(to === 0 ? {} : { put: grant(MEMBERS, to as Level) }) });
      }),
    );
  });
});
