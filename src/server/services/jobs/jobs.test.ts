/** How many jobs there are at once, and whose. */
import { eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { database } from "../../db/client.ts";
import { flags, notices } from "../../db/schema/index.ts";
import { runJob, unfinished } from "../../jobs/running.ts";
import { goOnWithJob, listJobs, lookAtMany, orderJob, readJob, stopJob, takeBackJob } from "./jobs.ts";
import { KINDS } from "./kinds.ts";

onDatabase("demo");

it("one person has a few jobs under way at most, ordered or gone on with; others are not held up by them", async () => {
  const tag = async (who: string, place: string, word: string): Promise<string> => {
    const order = { act: "tag" as const, places: [place], add: [word] };
    const { count, seen } = await lookAtMany(who, order);
    return (await orderJob(who, { order, count, note: "", seen })).id;
  };
  const mine: string[] = [];
  for (let i = 0; i < 5; i++) mine.push(await tag("viktor", "patrols", `round-${i}`));
  expect(await told(tag("viktor", "patrols", "one-more"))).toContain("under way already");
  const other = await tag("maren", "cranes", "greased");
  await runJob(other, KINDS);
  expect((await readJob("maren", other)).state).toBe("done");
  const [first = "", second = ""] = mine;
  await stopJob("viktor", first);
  await runJob(first, KINDS);
  mine.push(await tag("viktor", "patrols", "in-its-place"));
  expect(await told(goOnWithJob("viktor", first))).toContain("under way already");
  await runJob(second, KINDS);
  await goOnWithJob("viktor", first);
  for (const id of await unfinished()) await runJob(id, KINDS);
  for (const id of mine) expect([id, (await readJob("viktor", id)).state]).toEqual([id, "done"]);
});

it("jobs refuse what nobody meant: both ways of naming or none, a filter that fits nothing, what is not running, what is another's", async () => {
  expect(await status(lookAtMany("maren", { act: "archive" }))).toBe(400);
  expect(await status(lookAtMany("maren", { act: "archive", places: ["cranes"], filter: {} }))).toBe(400);
  expect(await status(lookAtMany("maren", { act: "archive", filter: { words: "no such page" } }))).toBe(400);
  expect(await status(lookAtMany("mei", { act: "archive", places: ["cranes"] }))).toBe(403);
  const [job] = (await listJobs("maren", { mine: "yes" })).jobs;
  const id = job?.id ?? "";
  expect(await status(stopJob("maren", id))).toBe(409);
  expect(await status(goOnWithJob("maren", id))).toBe(409);
  expect(await status(goOnWithJob("ines", id))).toBe(400);
  expect(await status(takeBackJob("jonas", id, { note: "" }))).toBe(404);
  expect((await listJobs("ines", {})).jobs.length).toBeGreaterThan(0);
});

it("hundreds are flagged as one job by those who write them, each once; readers flag one by one", async () => {
  const order = { act: "flag" as const, kind: "outOfDate" as const, words: "The new berths are missing.", filter: { space: "quays" } };
  expect(await told(lookAtMany("maren", { ...order, words: undefined }))).toContain("Say what is wrong");
  expect(await told(lookAtMany("mei", { ...order, filter: undefined, places: ["cranes"] }))).toContain("own or write");
  const { count, seen, title } = await lookAtMany("maren", order);
  expect(title).toBe(`Flag ${count} pages as out of date`);
  const { id } = await orderJob("maren", { order, count, note: "", seen });
  await runJob(id, KINDS);
  const done = await readJob("maren", id);
  const raised = await database().select().from(flags).where(eq(flags.note, order.words));
  expect([raised.length, done.done]).toEqual([count, count]);
  expect(new Set(raised.map(({ placeId }) => placeId)).size).toBe(raised.length);
  expect(raised.length).toBeGreaterThan(20);
  const letters = await database().select().from(notices).where(eq(notices.kind, "flagged"));
  expect(letters.filter(({ about }) => about.flags?.includes(raised.find(({ to }) => to === null)?.id ?? "-")).length).toBeLessThan(2);
  const again = await orderJob("maren", { order, ...(await lookAtMany("maren", order)), note: "" });
  await runJob(again.id, KINDS);
  expect((await readJob("maren", again.id)).done).toBe(0);
  const back = await takeBackJob("maren", id, { note: "" });
  await runJob(back.id, KINDS);
  expect(await database().select().from(flags).where(eq(flags.note, order.words))).toEqual([]);
});
