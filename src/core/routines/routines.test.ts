/** When routines run, which pages fit them, and what they would do. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { FLAG_KINDS, instantAt, type PageState } from "../access/model/index.ts";
import {
  type DoneBefore,
  filterWords,
  leftAlone,
  nextTimes,
  type PageFacts,
  parseCron,
  type RoutineAction,
  type RoutineFilter,
  reasonsOf,
  STARTING,
  scheduleWords,
  troublesOf,
} from "./index.ts";

const MINUTE = 60_000;
const DAY = 86_400_000;

/** A field of a cron line that lets some values through. */
const field = (least: number, most: number) =>
  fc.oneof(
    fc.constant("*"),
    fc.integer({ min: least, max: most }).map(String),
    fc
      .tuple(fc.integer({ min: least, max: most }), fc.integer({ min: least, max: most }))
      .map(([a, b]) => `${Math.min(a, b)}-${Math.max(a, b)}`),
    fc.integer({ min: 1, max: 30 }).map((step) => `*/${step}`),
  );
const cronLine = fc.tuple(field(0, 59), field(0, 23), field(1, 31), field(1, 12), field(0, 6)).map((fields) => fields.join(" "));
/** Clocks that jump at different hours, by an hour or half of one; and some that never do. */
const zone = fc.constantFrom("UTC", "Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "Asia/Kolkata", "America/Santiago");

/** What a clock of a zone shows at an instant, as [month, day, hour, minute, weekday]. */
const shown = (zone: string) => {
  const clock = new Intl.DateTimeFormat("en-US", {
    timeZone: zone,
    hourCycle: "h23",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    weekday: "short",
  });
  return (instant: number) => {
    const at = Object.fromEntries(clock.formatToParts(instant).map(({ type, value }) => [type, value]));
    return {
      wall: `${at.month}/${at.day} ${at.hour}:${at.minute}`,
      values: [at.minute, at.hour, at.day, at.month].map(Number),
      weekday: ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"].indexOf(at.weekday ?? ""),
    };
  };
};

describe("a schedule", () => {
  it("comes at every minute that clocks of its zone show so, once where they show it twice, and never else but after a jump", () => {
    // Weeks in which clocks somewhere jump, and one in which none does.
    const start = fc.constantFrom(
      Date.UTC(2027, 2, 12),
      Date.UTC(2027, 2, 27),
      Date.UTC(2027, 3, 2),
      Date.UTC(2027, 9, 2),
      Date.UTC(2026, 9, 24),
      Date.UTC(2026, 10, 1),
      Date.UTC(2027, 6, 1),
    );
    holds(
      fc.property(cronLine, zone, start, (cron, zone, from) => {
        const fields = parseCron(cron);
        if (typeof fields === "string") throw new Error(fields);
        const clock = shown(zone);
        const to = from + 2 * DAY;
        const expected: number[] = [];
        let jumped = false;
        const seen = new Set<string>();
        for (let at = from - 3 * 60 * MINUTE; at < to; at += MINUTE) {
          const { wall, values, weekday } = clock(at);
          if (seen.has(wall)) continue;
          seen.add(wall);
          const [minute = 0, hour = 0, day = 0, month = 0] = values;
          const time =
            (fields.minute?.includes(minute) ?? true) && (fields.hour?.includes(hour) ?? true) && (fields.month?.includes(month) ?? true);
          const ofMonth = fields.day?.includes(day) ?? true;
          const ofWeek = fields.weekday?.includes(weekday) ?? true;
          const days = fields.day && fields.weekday ? ofMonth || ofWeek : ofMonth && ofWeek;
          if (time && days && at > from) expected.push(at);
          const [wasMinute = 0, wasHour = 0] = clock(at - MINUTE).values;
          const step = (hour * 60 + minute - wasHour * 60 - wasMinute + 1440) % 1440;
          if (step > 1 && step < 720) jumped = true;
        }
        const found = nextTimes({ cron, zone }, from, 5_000).filter((at) => at < to);
        expect(found).toEqual([...new Set(found)].sort((a, b) => a - b));
        if (jumped) expect(found).toEqual(expect.arrayContaining(expected));
        else expect(found).toEqual(expected);
      }),
      { runs: 60 },
    );
  });

  it("comes an hour later where clocks jump over it, and the first time where they show it twice", () => {
    const in_ = (cron: string, zone: string, after: string) =>
      nextTimes({ cron, zone }, Date.parse(after), 5).map((at) => new Date(at).toISOString());
    // Lisbon, 28 March 2027: 01:00 becomes 02:00. 31 October 2027: 02:00 becomes 01:00.
    expect(in_("30 1 * * *", "Europe/Lisbon", "2027-03-26T12:00:00Z")).toEqual([
      "2027-03-27T01:30:00.000Z",
      "2027-03-28T01:30:00.000Z",
      "2027-03-29T00:30:00.000Z",
      "2027-03-30T00:30:00.000Z",
      "2027-03-31T00:30:00.000Z",
    ]);
    expect(in_("30 1 * * *", "Europe/Lisbon", "2027-10-30T12:00:00Z").slice(0, 2)).toEqual([
      "2027-10-31T00:30:00.000Z",
      "2027-11-01T01:30:00.000Z",
    ]);
    expect(in_("0 6 29 2 *", "UTC", "2096-03-01T00:00:00Z")[0]).toBe("2104-02-29T06:00:00.000Z");
    expect(in_("0 6 31 2 *", "UTC", "2026-01-01T00:00:00Z")).toEqual([]);
    expect(in_("0 6 * * *", "Mars/Olympus", "2026-01-01T00:00:00Z")).toEqual([]);
  });

  it("is said in words, and what is none says what is wrong", () => {
    const words = (cron: string) => scheduleWords({ cron, zone: "Europe/Lisbon" });
    expect(words("0 6 * * 1")).toBe("Mondays at 06:00, Europe/Lisbon");
    expect(words("0 6,18 * * 1-5")).toBe("Monday to Friday at 06:00 and 18:00, Europe/Lisbon");
    expect(words("15 2 1 * *")).toBe("On the 1st of every month at 02:15, Europe/Lisbon");
    expect(words("0 12 * jan,jul mon")).toBe("Mondays of January and July at 12:00, Europe/Lisbon");
    expect(words("*/30 * * * *")).toBe("Every day at :00 and :30 of every hour, Europe/Lisbon");
    for (const none of [
      "",
      "* * * *",
      "60 * * * *",
      "* * 0 * *",
      "* * * * 8",
      "5-1 * * * *",
      "*/0 * * * *",
      "a b c d e",
      "1,,2 * * * *",
      "* * * * * *",
    ])
      expect([none, typeof parseCron(none)]).toEqual([none, "string"]);
  });
});

const states: PageState[] = ["draft", "scheduled", "live", "archived", "binned"];
const instant = fc.integer({ min: 0, max: 900 }).map((days) => instantAt(days * DAY));
const maybe = <T>(it: fc.Arbitrary<T>) => fc.option(it, { nil: null });
const NOW = instantAt(900 * DAY);
const page: fc.Arbitrary<PageFacts> = fc.record({
  id: fc.constant("p"),
  kind: fc.constantFrom("page" as const, "bulletin" as const),
  state: fc.constantFrom(...states),
  space: fc.constantFrom("s", "t"),
  path: fc.constantFrom(["p"], ["a", "p"]),
  owner: maybe(fc.constantFrom("o", "q")),
  tags: fc.subarray(["x", "y"]),
  readiness: maybe(fc.constantFrom("rough", "done")),
  changed: instant,
  published: maybe(instant),
  confirmed: maybe(instant),
  viewed: maybe(instant),
  due: maybe(instant),
  outside: maybe(fc.constantFrom("public" as const, "guests" as const, "both" as const, "nobody" as const)),
  flags: fc.subarray([...FLAG_KINDS]),
  erasable: maybe(instant),
});
const span = fc.integer({ min: 1, max: 900 });
const parts: fc.Arbitrary<Partial<RoutineFilter>> = fc.record(
  {
    spaces: fc.subarray(["s", "t"], { minLength: 1 }),
    branch: fc.constantFrom("a", "b"),
    owner: fc.constantFrom("o", "q"),
    tag: fc.constantFrom("x", "y"),
    readiness: fc.constantFrom("rough", "done"),
    outside: fc.constantFrom("public" as const, "guests" as const, "any" as const, "none" as const),
    flagged: fc.constantFrom("yes" as const, "no" as const),
    unchanged: span,
    unconfirmed: span,
    unread: span,
    changed: span,
    confirmed: span,
    read: span,
    due: span,
  },
  { requiredKeys: [] },
);

describe("a filter", () => {
  it("fits just where each of its parts fits by itself, and gives a reason for each count of days", () => {
    holds(
      fc.property(page, fc.constantFrom(...states), parts, (page, state, said) => {
        const whole = reasonsOf(page, { state, ...said }, NOW);
        const single = Object.entries(said).map(([name, value]) => reasonsOf(page, { state, [name]: value }, NOW));
        expect(whole !== null).toBe(page.state === state && single.every((it) => it !== null));
        const counted = ["unchanged", "unconfirmed", "unread", "changed", "confirmed", "read", "due"].filter((it) => it in said).length;
        if (whole) expect(whole.filter((it) => !it.startsWith("the bin"))).toHaveLength(counted);
      }),
    );
  });

  it("either fits what was not done for so long, or what was done within it, where it was done at all", () => {
    holds(
      fc.property(page, span, (page, days) => {
        const fits = (part: Partial<RoutineFilter>) => reasonsOf(page, { state: page.state, ...part }, NOW) !== null;
        expect(fits({ unchanged: days })).toBe(!fits({ changed: days }));
        expect(fits({ unread: days })).toBe(!fits({ read: days }));
        expect(fits({ unconfirmed: days }) || fits({ confirmed: days })).toBe(page.published !== null);
        expect(fits({ unconfirmed: days }) && fits({ confirmed: days })).toBe(false);
        expect(fits({ flagged: "yes" })).toBe(!fits({ flagged: "no" }));
        if (page.outside === null)
          for (const outside of ["public", "guests", "any", "none"] as const) expect(fits({ outside })).toBe(false);
      }),
    );
  });
});

describe("an action", () => {
  const action: fc.Arbitrary<RoutineAction> = fc.oneof(
    fc.constantFrom(...FLAG_KINDS).map((kind) => ({ what: "flag" as const, kind, note: "n" })),
    fc.constantFrom(...FLAG_KINDS).map((kind) => ({ what: "clearFlag" as const, kind })),
    fc.constantFrom("x", "y").map((tag) => ({ what: "addTag" as const, tag })),
    fc.constantFrom("x", "y").map((tag) => ({ what: "removeTag" as const, tag })),
    fc.constantFrom(
      { what: "archive" as const },
      { what: "bin" as const },
      { what: "erase" as const },
      { what: "tellOwner" as const, note: "n" },
    ),
  );
  const before: fc.Arbitrary<DoneBefore> = fc.record({
    told: maybe(instant),
    answered: fc.record({ outOfDate: instant }, { requiredKeys: [] }),
  });

  it("is never done to what it was done to already: nothing is done twice", () => {
    holds(
      fc.property(page, action, before, (page, action, before) => {
        if (leftAlone(action, page, before, NOW) !== null) return;
        const after: Record<string, Partial<PageFacts>> = {
          flag: { flags: [...page.flags, "kind" in action ? action.kind : "outOfDate"] },
          clearFlag: { flags: page.flags.filter((kind) => !("kind" in action) || kind !== action.kind) },
          addTag: { tags: [...page.tags, "tag" in action ? action.tag : ""] },
          removeTag: { tags: page.tags.filter((tag) => !("tag" in action) || tag !== action.tag) },
          archive: { state: "archived" },
          bin: { state: "binned" },
          erase: { erasable: null },
        };
        const told = action.what === "tellOwner" ? { ...before, told: NOW } : before;
        expect(leftAlone(action, { ...page, ...after[action.what] }, told, NOW)).not.toBeNull();
      }),
    );
  });

  it("erases nothing that the bin has not kept long enough", () => {
    holds(
      fc.property(page, before, (page, before) => {
        const spared = leftAlone({ what: "erase" }, page, before, NOW) !== null;
        expect(spared).toBe(page.state !== "binned" || page.erasable === null || page.erasable > NOW);
      }),
    );
  });
});

it("what is offered to start from is sound, and what cannot be kept says why", () => {
  const at = Date.UTC(2026, 10, 27);
  for (const { name, routine } of STARTING)
    expect([name, troublesOf({ ...routine, schedule: { cron: routine.cron, zone: "Europe/Lisbon" } }, at)]).toEqual([name, []]);
  const sound = {
    which: { state: "live" as const, unchanged: 30 },
    action: { what: "archive" as const },
    schedule: { cron: "0 6 * * 1", zone: "UTC" },
    most: 10,
  };
  const bad: [Partial<Parameters<typeof troublesOf>[0]>, string][] = [
    [{ schedule: { cron: "0 6 31 2 *", zone: "UTC" } }, "never comes"],
    [{ schedule: { cron: "0 6 * *", zone: "UTC" } }, "five fields"],
    [{ schedule: { cron: "0 6 * * *", zone: "Nowhere/At all" } }, "no time zone"],
    [{ which: { state: "live" } }, "every page there is"],
    [{ which: { state: "archived", unchanged: 3 } }, "Archiving is for"],
    [{ which: { state: "live", unchanged: 20, changed: 10 } }, "both changed"],
    [{ which: { state: "live", unchanged: 0 } }, "whole numbers"],
    [{ which: { state: "draft", due: 3 }, action: { what: "bin" } }, "Only live pages are due"],
    [{ which: { state: "live" }, action: { what: "erase" } }, "Only what is in the bin"],
    [{ which: { unusedGuests: 90 } }, "nothing else is done"],
    [{ action: { what: "tellHosts", note: "n" } }, "which guests"],
    [{ most: 0 }, "A run takes"],
    [{ most: 1e9 }, "A run takes"],
  ];
  for (const [change, said] of bad) expect(troublesOf({ ...sound, ...change }, at).join(" ")).toContain(said);
  expect(troublesOf(sound, at)).toEqual([]);
});

it("says the space it is confined to, whatever else its filter names", () => {
  const names = { place: (id: string) => `<${id}>`, person: (id: string) => id, group: (id: string) => id };
  holds(
    fc.property(fc.record({ branch: fc.constant("b"), spaces: fc.constant(["s"]) }, { requiredKeys: [] }), (where) => {
      const which: RoutineFilter = { state: "live", ...where };
      expect(filterWords(which, names, "confined")).toContain("<confined>");
      for (const id of [where.branch, ...(where.spaces ?? [])]) if (id) expect(filterWords(which, names, null)).toContain(`<${id}>`);
      expect(filterWords(which, names, null).includes("in any space")).toBe(!where.branch && !where.spaces);
    }),
  );
});
