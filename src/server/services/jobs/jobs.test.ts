/** How many jobs there are at once, and whose. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openScratchDatabase } from "../../../../cli/demoSite.ts";
import { told } from "../../../../test/status.ts";
import { loadDemo } from "../../../demo/load.ts";
import { runJob, unfinished } from "../../jobs/running.ts";
import { goOnWithJob, lookAtMany, orderJob, readJob, stopJob } from "./jobs.ts";
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
