/** Dates as the person at the screen counts days, in whatever zone that is. */
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { holds } from "../../test/holds.ts";

const ZONES = ["America/New_York", "Pacific/Kiritimati", "Pacific/Pago_Pago", "Asia/Kathmandu", "Europe/Lisbon", "UTC"];
const before = process.env.TZ;

describe.each(ZONES)("in %s", (zone) => {
  let dates: typeof import("./dates.ts");
  beforeAll(async () => {
    process.env.TZ = zone;
    vi.resetModules();
    dates = await import("./dates.ts");
  });
  afterAll(() => {
    process.env.TZ = before;
  });

  it("an end chosen as 31 December is told as 31 December, also in a sentence", () => {
    const now = new Date(2026, 10, 25, 12);
    const read = dates.readDate("31 Dec 2026", now);
    const end = new Date((read?.date.getTime() ?? 0) + 86_400_000 - 1).toISOString();
    expect(dates.endWords(end)).toBe("31 Dec 2026");
    expect(dates.withLocalDates(`Pilots are Reader until ${end}.`)).toBe("Pilots are Reader until 31 Dec 2026.");
    expect(dates.exactDate(end)).toMatch(/^31 December 2026 at 23:59:59 /);
  });

  it("a day is read however it is written, and none is made of what is half typed", () => {
    const now = new Date(2026, 10, 25, 12);
    for (const words of ["16 Oct 2027", "16 October 2027", "2027-10-16", "16.10.2027", "16/10/2027", " 16  oct 2027 "])
      expect([words, dates.readDate(words, now)?.date.toDateString()]).toEqual([words, new Date(2027, 9, 16).toDateString()]);
    expect(dates.readDate("16 Oct 2027, 14:30", now)).toEqual({ date: new Date(2027, 9, 16, 14, 30), timed: true });
    expect(dates.readDate("in 4 weeks", now)?.date).toEqual(new Date(2026, 11, 23, 12));
    // The 25th of November 2026 is a Wednesday.
    expect(dates.readDate("last Monday", now)?.date.toDateString()).toBe(new Date(2026, 10, 23).toDateString());
    expect(dates.readDate("next wed", now)?.date.toDateString()).toBe(new Date(2026, 11, 2).toDateString());
    expect(dates.readDate("2 weeks ago", now)?.date.toDateString()).toBe(new Date(2026, 10, 11).toDateString());
    // As typed digit by digit: nothing but whole dates within reason.
    const typed = "31.12.2026";
    for (let i = 1; i < typed.length; i++) {
      const read = dates.readDate(typed.slice(0, i), now);
      expect([typed.slice(0, i), read === null || read.date.getFullYear() >= 1970]).toEqual([typed.slice(0, i), true]);
    }
    for (const none of ["", "31", "31 Feb 2027", "soon", "0002-12-31", "99999-01-01", "in 0x4 weeks"])
      expect([none, dates.readDate(none, now)]).toEqual([none, null]);
  });

  it("what is shown is read back as the same day", () => {
    const now = new Date(2026, 10, 25, 12);
    holds(
      fc.property(fc.date({ min: new Date(1971, 0, 1), max: new Date(2998, 0, 1), noInvalidDate: true }), (date) => {
        const day = dates.longDate(date.toISOString());
        expect(dates.readDate(day, now)?.date.toDateString()).toBe(date.toDateString());
      }),
      { runs: 200 },
    );
  });
});
