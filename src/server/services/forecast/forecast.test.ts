/** What comes by itself: in order, with what it does to whom, what it breaks, and what was refused; for site keepers, and nothing is changed by looking. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { database, inChange } from "../../db/client.ts";
import { ledger, schedules } from "../../db/schema/index.ts";
import { sha256 } from "../../secrets.ts";
import { makeChange } from "../change/apply.ts";
import { calendarOf, makeFeed, readFeed, withdrawFeed } from "./feed.ts";
import { readForecast } from "./forecast.ts";

const DAY = 86_400_000;
const inDays = (days: number) => new Date(Date.now() + days * DAY).toISOString();

onDatabase("demo");

it("is a list in order, as far as was asked, each with who loses and gains; looking changes nothing", async () => {
  const entries = (await database().select().from(ledger)).length;
  const { rows, more } = await readForecast("ines", { days: "90" });
  expect([...rows].sort((a, b) => a.at.localeCompare(b.at))).toEqual(rows);
  expect(more).toBe(0);
  const of = (words: string) => rows.find(({ sentence }) => sentence.includes(words));
  expect(of("Greer Dalziel is Reader")).toMatchObject({
    what: "grant",
    place: { id: "inquiry13" },
    effect: [expect.stringContaining("1 guest loses")],
  });
  expect(of("The time of Ewa Lis ends")?.effect?.join()).toContain("1 guest loses");
  expect(of("goes live")).toMatchObject({
    what: "live",
    opens: true,
    effect: expect.arrayContaining([expect.stringMatching(/public .* gain/)]),
  });
  expect(of("Landings of the fleet")).toMatchObject({ what: "pass" });
  expect((await readForecast("ines", { days: "7" })).rows.every(({ at }) => at <= inDays(7))).toBe(true);
  expect(await database().select().from(ledger)).toHaveLength(entries);
  for (const asker of ["maren", "mei"]) expect(await status(readForecast(asker, {}))).toBe(403);
});

it("says which pledge will break by itself, what a second end of the same leaves, and what was refused", async () => {
  const grant = (days: number) => ({ to: { person: "mei" }, abilities: ["read" as const], until: inDays(days) });
  await inChange((tx) =>
    makeChange(tx, {
      maker: "ines",
      edits: [
        { kind: "grant", place: "patrols", put: grant(3) },
        { kind: "grant", place: "patrols", put: grant(5) },
        { kind: "grant", place: "site", put: { ...grant(6), to: { person: "noor" } } },
        {
          kind: "pledge",
          pledge: "night",
          put: { id: "night", who: { person: "mei" }, rule: "always", ability: "read", where: { subtree: "patrols" } },
        },
      ],
      act: "rules",
      note: "",
      reason: "For the week.",
    }),
  );
  await database()
    .update(schedules)
    .set({ at: new Date(Date.now() - DAY), problem: "Lena may not publish here any more." });
  const { rows } = await readForecast("ines", { days: "7" });
  const ends = rows.filter(({ sentence }) => sentence.includes("Mei"));
  // Of two grants of the same the first that ends takes nothing.
  expect(ends.map(({ effect, breaks }) => [effect?.length, breaks.length])).toEqual([
    [0, 0],
    [1, 1],
  ]);
  expect(ends[1]?.breaks[0]).toContain("always read");
  // Each end put off comes four weeks later, and nobody has less or more until then.
  const puttingOff = rows.flatMap(({ later }) => later?.edit ?? []);
  await inChange((tx) => makeChange(tx, { maker: "ines", edits: puttingOff, act: "rules", note: "", reason: "x" }));
  const after = (await readForecast("ines", { days: "90" })).rows;
  for (const { at, sentence, later } of rows)
    if (later) expect(after.some((it) => it.sentence === sentence && Date.parse(it.at) === Date.parse(at) + 28 * DAY)).toBe(true);
  expect((await readForecast("ines", { days: "7" })).rows.filter(({ later }) => later)).toEqual([]);
  expect(rows.find(({ place }) => place?.id === "site")).toMatchObject({ place: { name: "The site" }, what: "grant" });
  expect(rows[0]).toMatchObject({ refused: "Lena may not publish here any more.", effect: [] });
});

it("is a calendar behind a secret of one's own: without titles unless they were asked for, dead with whoever it is of, alike to none", async () => {
  const tokenOf = (address: string) => /\/feed\/([\w-]+)\.ics$/.exec(address)?.[1] ?? "";
  const plain = tokenOf((await makeFeed("tomasz", { titles: false })).address);
  const text = await calendarOf(plain);
  const { rows } = await readForecast("tomasz", { days: "90" });
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(rows.length);
  expect(text).toMatch(/^BEGIN:VCALENDAR[\s\S]*SUMMARY:A page goes live/);
  expect(text).not.toMatch(/Greer|New hours|Ewa Lis|house\?part/);
  // Nor is there a hash by which titles could be guessed.
  for (const { what, at, sentence } of rows)
    for (const guess of [sentence, `${what}|${at}|${sentence}`]) expect(text).not.toContain(sha256(guess).slice(0, 16));
  const titled = tokenOf((await makeFeed("tomasz", { titles: true })).address);
  expect((await calendarOf(titled)).replaceAll("\r\n ", "")).toContain("Greer Dalziel is Reader");
  expect((await readFeed("tomasz")).feed).toMatchObject({ titles: true, usedAt: expect.any(String) });
  const gone = await status(calendarOf("never"));
  expect([gone, await status(calendarOf(plain)), await status(makeFeed("maren", { titles: false }))]).toEqual([404, 404, 403]);
  const tomasz = { id: "tomasz", name: "Tomasz Wierzba", kind: "member" as const, status: "active" as const };
  const turn = (from: "active" | "suspended", to: "active" | "suspended") =>
    inChange((tx) =>
      makeChange(tx, {
        maker: "ines",
        act: "rules",
        note: "",
        edits: [{ kind: "person", person: "tomasz", remove: { ...tomasz, status: from }, put: { ...tomasz, status: to } }],
      }),
    );
  await turn("active", "suspended");
  expect(await status(calendarOf(titled))).toBe(404);
  await turn("suspended", "active");
  expect([await status(calendarOf(titled)), (await readFeed("tomasz")).feed]).toEqual([404, null]);
  const anew = tokenOf((await makeFeed("tomasz", { titles: false })).address);
  await withdrawFeed("tomasz");
  expect(await status(calendarOf(anew))).toBe(404);
});
