/** How many jobs there are at once, and whose. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openScratchDatabase } from "../../../../cli/demoSite.ts";
import { status, told } from "../../../../test/status.ts";
import { loadDemo } from "../../../demo/load.ts";
import { runJob, unfinished } from "../../jobs/running.ts";
import { goOnWithJob, listJobs, lookAtMany, orderJob, readJob, stopJob, takeBackJob } from "./jobs.ts";
import { KINDS } from "./kinds.ts";

let scratch: { close(): Promise<void> };
beforeAll(async () => {
  scratch = await openScratchDatabase();
  await loadDemo();
});
afterAll(() => scratch?.close());

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
