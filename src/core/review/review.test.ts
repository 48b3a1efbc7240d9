/** When pages are due, how flags live, and in which order both are looked at. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { ENDLESS, FLAG_KINDS, FLAG_OUTCOMES, flagStep, type Instant, instantAt, type PageFlag } from "../access/model/index.ts";
import { dueAt, ended, queueOrder, type Waiting, waitsSince, weightOf } from "./index.ts";

const DAY = 86_400_000;
const instant = fc.integer({ min: 0, max: 4_000 }).map((days) => instantAt(days * DAY));
const maybe = <T>(it: fc.Arbitrary<T>) => fc.option(it, { nil: null });
const period = maybe(fc.integer({ min: 1, max: 3650 }));

const reviewed = fc.record({ published: maybe(instant), confirmed: maybe(instant), asideUntil: maybe(instant), period, ofSpace: period });

describe("a page is due", () => {
  it("a period after it was last confirmed or published, its own before its space's, and never before what it was set aside until", () => {
    holds(
      fc.property(reviewed, (page) => {
        const at = dueAt(page);
        const days = page.period ?? page.ofSpace;
        if (days === null || page.published === null) {
          expect(at).toBe(ENDLESS);
          return;
        }
        const last = Math.max(page.published, page.confirmed ?? 0);
        expect(at).toBeGreaterThanOrEqual(last + days * DAY);
        expect(at).toBeGreaterThanOrEqual(page.asideUntil ?? 0);
        expect([last + days * DAY, page.asideUntil]).toContain(at);
      }),
    );
  });

  it("later by being confirmed, published or set aside, never earlier; and not by its space where it has a period of its own", () => {
    holds(
      fc.property(reviewed, instant, period, (page, later, other) => {
        const before = dueAt(page);
        if (page.published !== null)
          for (const change of [
            { confirmed: instantAt(Math.max(later, page.confirmed ?? 0)) },
            { asideUntil: instantAt(Math.max(later, page.asideUntil ?? 0)) },
          ])
            expect(dueAt({ ...page, ...change })).toBeGreaterThanOrEqual(before);
        if (page.period !== null) expect(dueAt({ ...page, ofSpace: other })).toBe(before);
      }),
    );
  });
});

const iso = instant.map((at) => new Date(at).toISOString());
const open: fc.Arbitrary<PageFlag> = fc.record({
  kind: fc.constantFrom(...FLAG_KINDS),
  by: fc.constantFrom("mei", "maren"),
  at: iso,
  due: iso,
  note: fc.string(),
});

it("a flag is raised open, handed on, ended once, opened again by taking that back; what was said of it never changes", () => {
  holds(
    fc.property(open, fc.constantFrom(...FLAG_OUTCOMES), iso, (flag, outcome, at) => {
      const done = ended(flag, outcome, { by: "ruth", at, reason: "" });
      expect([
        flagStep(undefined, flag),
        flagStep(flag, { ...flag, to: "ruth" }),
        flagStep(flag, done),
        flagStep(done, flag),
        flagStep(flag, undefined),
      ]).toEqual(["raise", "hand", "end", "reopen", "withdraw"]);
      expect([flagStep(undefined, done), flagStep(undefined, undefined), flagStep(done, { ...done, reason: "x" })]).toEqual([
        null,
        null,
        null,
      ]);
      for (const forged of [{ note: `${flag.note}!` }, { quote: "otherwise" }, { by: "ines" }, { at: "2030-01-01T00:00:00.000Z" }])
        for (const after of [flag, done]) expect(flagStep(flag, { ...after, ...forged })).toBeNull();
    }),
  );
});

const waiting: fc.Arbitrary<Waiting> = fc.record({
  id: fc.string({ minLength: 1, maxLength: 4 }),
  due: maybe(instant),
  flags: fc.array(fc.record({ kind: fc.constantFrom(...FLAG_KINDS), due: instant }), { maxLength: 3 }),
  views: fc.nat(100_000),
  outside: fc.constantFrom("public" as const, "guests" as const, "nobody" as const),
});
const pages = fc.uniqueArray(waiting, { selector: ({ id }) => id, maxLength: 30 });
const now: Instant = instantAt(4_000 * DAY);

describe("the queue", () => {
  it("has everything once, heavier before lighter, the same order however it was handed in", () => {
    holds(
      fc.property(pages, fc.infiniteStream(fc.nat()), (all, random) => {
        const order = queueOrder(all, now);
        const shuffled = all
          .map((page) => [random.next().value as number, page] as const)
          .sort(([a], [b]) => a - b)
          .map(([, page]) => page);
        expect(queueOrder(shuffled, now)).toEqual(order);
        expect(new Set(order)).toEqual(new Set(all));
        const weights = order.map((page) => weightOf(page, now));
        expect(weights).toEqual([...weights].sort((a, b) => b - a));
      }),
    );
  });

  it("puts a page no later for being read more, from further outside, flagged, or overdue for longer; sensitive ones stand first", () => {
    holds(
      fc.property(waiting, fc.nat(1_000), fc.constantFrom(...FLAG_KINDS), (page, more, kind) => {
        const weight = weightOf(page, now);
        const earlier = instantAt(Math.min(waitsSince(page), now) - more * DAY);
        const heavier: Waiting[] = [
          { ...page, views: page.views + more },
          { ...page, outside: "public" },
          { ...page, flags: [...page.flags, { kind, due: earlier }] },
          { ...page, due: earlier },
        ];
        for (const it of heavier) expect(weightOf(it, now)).toBeGreaterThanOrEqual(weight);
        const others = { ...page, flags: page.flags.filter((flag) => flag.kind !== "sensitive") };
        const quiet: Waiting = { id: "x", due: null, flags: [{ kind: "sensitive", due: now }], views: 0, outside: "nobody" };
        expect(weightOf(quiet, now)).toBeGreaterThan(weightOf(others, now));
      }),
    );
  });
});
