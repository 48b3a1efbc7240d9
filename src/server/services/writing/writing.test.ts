/** Words on their way into versions: kept by tab, in order however late they come, never another's; where a page may be started. */

import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { bodyText } from "../../../core/content/index.ts";
import { Dice } from "../../../demo/large/dice.ts";
import { bodyOfMarkdown } from "../../content/markdown.ts";
import type { Trouble } from "../../trouble.ts";
import { dropBuffers, keepBuffer } from "./buffers.ts";
import { publishPage } from "./publishing.ts";
import { readStartPlace, readWorking, saveVersion, startPage } from "./writing.ts";

onDatabase("demo");

const keep = (who: string, id: string, text: string, tab: string, rev: number, spent: { tab: string; rev: number }[] = []) =>
  keepBuffer(who, id, { title: "Mine", body: bodyOfMarkdown(text), base: "0.1", tab, rev, spent });
const save = (who: string, id: string, base: string, text: string, spent: { tab: string; rev: number }[] = []) =>
  saveVersion(who, id, { title: "Tug rota", body: bodyOfMarkdown(text), base, note: "", spent });
const keptBy = async (who: string, id: string) => new Map((await readWorking(who, id)).buffers.map((it) => [it.tab, bodyText(it.body)]));

it("of each tab the newest words are kept, in whatever order they come; what a version holds is forgotten, what came after stays", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Tug rota" });
  const dice = new Dice(20270412);
  const newest = new Map<string, number>();
  let version = "0.1";
  for (let i = 0; i < 80; i++) {
    const tab = dice.pick(["a", "b", "c"]);
    if (dice.chance(0.15)) {
      const rev = dice.between(1, 40);
      if (dice.chance(0.5)) version = (await save("maren", id, version, `Saved ${i}`, [{ tab, rev }])).version;
      else await dropBuffers("maren", id, [{ tab, rev }]);
      if ((newest.get(tab) ?? 0) <= rev) newest.delete(tab);
    } else {
      const rev = dice.between(1, 40);
      await keep("maren", id, `${tab}${rev}`, tab, rev);
      newest.set(tab, Math.max(rev, newest.get(tab) ?? 0));
    }
    expect(await keptBy("maren", id)).toEqual(new Map([...newest].map(([it, rev]) => [it, `${it}${rev}`])));
    // Another writer's words are theirs alone.
    if (i === 40) await keep("jonas", id, "Jonas's own", "a", 99);
  }
  expect(await keptBy("jonas", id)).toEqual(new Map([["a", "Jonas's own"]]));
});

it("so many tabs and no more, told before anything is lost; nothing is kept for who may not write, or may not know", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Many tabs" });
  for (let i = 0; i < 30; i++) await keep("maren", id, "x", `t${i}`, 1);
  expect(await status(keep("maren", id, "x", "one more", 1))).toBe(400);
  expect(await status(keep("maren", id, "again", "t3", 2))).toBe(200);
  expect(await status(keep("maren", id, "instead", "one more", 1, [{ tab: "t0", rev: 1 }]))).toBe(200);
  expect((await keptBy("maren", id)).size).toBe(30);
  const refused = [
    keep("viktor", id, "x", "t", 1),
    keep("viktor", "nowhere", "x", "t", 1),
    dropBuffers("viktor", id, []),
    save("viktor", id, "0.1", "x"),
  ];
  expect(await Promise.all(refused.map((it) => status(it)))).toEqual([404, 404, 404, 404]);
  expect(await status(keep("maren", "quays", "x", "t", 1))).toBe(404);
  expect(
    await status(
      keepBuffer("maren", id, {
        title: "x",
        body: { schema: 1, content: [{ type: "script" }] },
        base: "0.1",
        tab: "t1",
        rev: 2,
        spent: [],
      }),
    ),
  ).toBe(400);
});

it("a save over a newer version holds both, whoever made that one; a page is published from what was seen only", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Tug rota" });
  await save("jonas", id, "0.1", "Of Jonas");
  const over = await save("maren", id, "0.1", "Of Maren").catch((error: Trouble) => error as Trouble);
  expect(over).toMatchObject({
    status: 409,
    message: expect.stringContaining("Jonas Brandt saved version 0.2"),
    details: { version: "0.2", title: "Tug rota" },
  });
  await save("maren", id, "0.2", "Both");
  const again = await save("maren", id, "0.2", "Both, once more").catch((error: Trouble) => error as Trouble);
  expect(again).toMatchObject({ status: 409, message: expect.stringContaining("You, in another window, saved version 0.3") });
  expect(await status(publishPage("maren", id, { version: "0.2", note: "" }))).toBe(409);
  for (const odd of ["9.9", "x", "1", "99999999999.1", ""])
    expect(await status(publishPage("maren", id, { version: odd, note: "" }))).toBeGreaterThanOrEqual(400);
  await publishPage("maren", id, { version: "0.3", note: "" });
  expect(await readWorking("jonas", id)).toMatchObject({
    version: "1.0",
    liveVersion: "1.0",
    state: "live",
    savedBy: "Maren Lüders",
    above: "Quay Operations",
  });
});

it("a page is started where one may add, and what stands in the way is said beforehand; elsewhere there is nothing", async () => {
  expect(await readStartPlace("maren", "quays")).toEqual({ title: "Quay Operations", isSpace: true, refusal: "" });
  expect(await readStartPlace("maren", "berthplan")).toEqual({ title: "Berth plan", isSpace: false, refusal: "" });
  expect((await readStartPlace("mei", "quays")).refusal).toContain("You may not add pages here");
  expect(await status(startPage("mei", { parent: "quays", as: "page", title: "No" }))).toBe(403);
  for (const nowhere of ["site", "nowhere"]) expect(await status(readStartPlace("maren", nowhere))).toBe(404);
});
