/** What is read: counted where one may know it, people without names, words that few looked for left out. */
import { eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { database } from "../../db/client.ts";
import { houseRules, readerMarks, searchMisses, viewCounts } from "../../db/schema/index.ts";
import { searchPages } from "../search/search.ts";
import { asCounted, forgetReaders, noteMiss, noteReader, weekOf } from "./noting.ts";
import { exportReads, readReads } from "./reads.ts";

onDatabase("demo");

const DAY = 86_400_000;
const sum = (views: { outsiders: number; guests: number; members: number }): number => views.outsiders + views.guests + views.members;

it("views of a branch are those of its pages, by week and kind of reader; those of a space hold them", async () => {
  const alone = await readReads("maren", { about: "cranes", alone: "yes", weeks: "60" });
  const rows = await database().select().from(viewCounts).where(eq(viewCounts.placeId, "cranes"));
  const since = alone.weeks[0]?.week ?? "";
  const expected = rows.filter(({ day }) => day >= since).reduce((all, { views }) => all + views, 0);
  expect(sum(alone.total)).toBe(expected);
  expect(alone.weeks).toHaveLength(60);
  expect(alone.most.rows).toEqual([]);
  const space = await readReads("maren", { about: "quays", weeks: "60" });
  expect(sum(space.total)).toBeGreaterThan(expected);
  expect(space.most.rows.length).toBeGreaterThan(5);
  const views = space.most.rows.map((row) => row.views);
  expect(views).toEqual([...views].sort((a, b) => b - a));
  expect(space.missed).toBeNull();
  const [stale] = space.stale.rows;
  expect(Date.parse(stale?.since ?? "")).toBeLessThan(Date.now() - 180 * DAY);
});

it("is told where one may know how often pages are read, and nowhere else", async () => {
  expect(await status(readReads("mei", { about: "cranes" }))).toBe(403);
  expect(await status(readReads("mei", { about: "patrols" }))).toBe(404);
  expect(await status(readReads("mei", { about: "nowhere" }))).toBe(404);
  expect((await readReads("mei", {})).missed).toBeNull();
  expect(sum((await readReads("mei", { about: "quays" })).total)).toBe(0);
  const whole = await readReads("ines", { weeks: "13" });
  const mine = await readReads("viktor", { weeks: "13" });
  expect(sum(whole.total)).toBeGreaterThan(sum(mine.total));
  expect(whole.never.rows.map(({ id }) => id)).toContain("ballast");
  const file = await (await exportReads("maren", { format: "json", about: "quays", weeks: "13" })).text();
  expect(file).toContain("cranes");
  expect(file).not.toContain("patrols");
});

it("people are counted by marks that change with the week, each once, and forgotten as the house says", async () => {
  const now = Date.now();
  const people = async () => (await readReads("maren", { about: "berth5works", alone: "yes", weeks: "13" })).weeks.at(-1)?.people;
  const before = (await people()) ?? 0;
  await database().delete(readerMarks).where(eq(readerMarks.placeId, "berth5works"));
  for (const who of ["mei", "mei", "jonas", "dora"]) await noteReader("berth5works", who, now);
  expect(await people()).toBe(3);
  expect(before).toBeGreaterThanOrEqual(0);
  const marks = await database().select().from(readerMarks).where(eq(readerMarks.placeId, "berth5works"));
  for (const { mark, week } of marks) expect([/mei|jonas|dora/.test(mark), week]).toEqual([false, weekOf(now)]);
  await noteReader("berth5works", "mei", now + 7 * DAY);
  const all = await database().select().from(readerMarks).where(eq(readerMarks.placeId, "berth5works"));
  expect(new Set(all.map(({ mark }) => mark)).size).toBe(4);
  await forgetReaders(now + 400 * DAY);
  expect(await database().select().from(readerMarks).where(eq(readerMarks.placeId, "berth5works"))).toEqual([]);
  await database().insert(houseRules).values({ rule: "useDays", value: 0 });
  await noteReader("shorepower", "mei", now + 800 * DAY);
  await noteMiss("nothing of that", "member", "mei");
  expect((await readReads("maren", { about: "quays" })).total.people).toBeNull();
  expect(await database().select().from(searchMisses).where(eq(searchMisses.words, "nothing of that"))).toEqual([]);
  await database().delete(houseRules).where(eq(houseRules.rule, "useDays"));
});

it("words searched for and not found are shown once five people or more looked for them", async () => {
  const shown = async () => (await readReads("ines", {})).missed?.find(({ words }) => words === "quokka shelter");
  for (const who of ["mei", "jonas", "maren", "lena"]) await noteMiss("Quokka  shelter ", "member", who);
  await noteMiss("quokka shelter", "member", "mei");
  expect(await shown()).toBeUndefined();
  await noteMiss("quokka shelter", "guest", "dora");
  expect(await shown()).toMatchObject({ members: 5, guests: 1, people: 5 });
  expect(asCounted("  A\u0000b\n C ")).toBe("a b c");
  await noteMiss("x", "member", "mei");
  await noteMiss("y".repeat(200), "outsider", null);
  expect((await database().select().from(searchMisses)).filter(({ words }) => words.length < 2 || words.length > 60)).toEqual([]);
  expect((await searchPages(null, "zanzibarfahrplan")).total).toBe(0);
  await new Promise((later) => setTimeout(later, 300));
  expect(await database().select().from(searchMisses).where(eq(searchMisses.words, "zanzibarfahrplan"))).toMatchObject([
    { reader: "outsider", mark: "", times: 1 },
  ]);
});
