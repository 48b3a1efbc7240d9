/** Order among siblings, held to plain lists: given anew, moved away and back, taken back, one list for each parent. */

import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import { Dice } from "../../../demo/large/dice.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { pagesIn, slotsOf } from "../change/order.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readGrid } from "../grid/grid.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { readReaderPage } from "../reading/reading.ts";
import { readSlip } from "../slip/slip.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { publishPage } from "../writing/publishing.ts";
import { startPage } from "../writing/writing.ts";
import { reorder } from "./reorder.ts";

let keeper = "";
let space = "";
const pages: string[] = [];
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));
const listOf = async (parent: string) => (await inSnapshot((tx) => pagesIn(tx, parent))).map(({ id }) => id);
const undo = async (seq: Seq) => takeBack(keeper, seq, { note: "", seen: (await previewTakeBack(keeper, seq)).seen });

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
  space = (
    await startSpace(keeper, {
      title: "Harbour",
      purpose: "",
      preset: "closedRoom",
      keepers: [{ person: keeper }],
      publishers: [],
      writers: [],
    })
  ).id;
  for (let i = 0; i < 6; i++) pages.push((await startPage(keeper, { parent: space, as: "page", title: `Page ${i}` })).id);
  const person = (id: string): Edit => ({ kind: "person", person: id, put: { id, name: id, kind: "member", status: "active" } });
  await change(person("wim"), person("pia"), person("out"));
  await change(
    { kind: "grant", place: space, put: { to: { person: "wim" }, abilities: ["read", "discuss", "revise", "add"] } },
    {
      kind: "grant",
      place: space,
      put: { to: { person: "pia" }, abilities: ["read", "discuss", "revise", "add", "publish", "arrange", "retire"] },
    },
  );
  for (const id of pages) await publishPage(keeper, id, { version: "0.1", note: "" });
});

it("is that of the pages' start, and is seen in the grid, the slip and by readers alike once it is another", async () => {
  const [a, b, c, ...rest] = pages as [string, string, string, ...string[]];
  expect(await listOf(space)).toEqual(pages);
  const { seq } = await reorder("pia", { place: c, after: null });
  expect(await listOf(space)).toEqual([c, a, b, ...rest]);
  expect((await readGrid(keeper, { columns: [] })).rows.filter(({ kind }) => kind === "page").map(({ id }) => id)).toEqual([
    c,
    a,
    b,
    ...rest,
  ]);
  const { navigation } = await readReaderPage({ me: "wim", viewpoint: null }, "harbour", a);
  expect(navigation.map(({ title }) => title).slice(0, 3)).toEqual(["Page 2", "Page 0", "Page 1"]);
  const { order } = (await readSlip("pia", a)).life;
  expect(order).toEqual({ nth: 2, of: 6, earlier: { after: null }, later: { after: b } });
  expect((await readSlip("wim", a)).life.order).toEqual({ nth: 2, of: 6, earlier: null, later: null });
  expect((await readLedger(keeper, { act: "order" })).lines[0]).toMatchObject({ seq, canTakeBack: true });
  await undo(seq);
  expect(await listOf(space)).toEqual(pages);
});

it("is for who may move the page, tells nothing of what is hidden, and takes only a page beside it", async () => {
  const [a, b] = pages as [string, string];
  const inner = await startPage(keeper, { parent: a, as: "page", title: "Inside" });
  const bulletin = await startPage(keeper, { parent: space, as: "bulletin", title: "News" });
  expect(await status(reorder("wim", { place: b, after: null }))).toBe(403);
  expect(await status(reorder("out", { place: b, after: null }))).toBe(404);
  expect(await status(reorder("out", { place: "nowhere", after: null }))).toBe(404);
  const elsewhere = await startSpace(keeper, {
    title: "Elsewhere",
    purpose: "",
    preset: "closedRoom",
    keepers: [{ person: keeper }],
    publishers: [],
    writers: [],
  });
  const hidden = await startPage(keeper, { parent: elsewhere.id, as: "page", title: "Hidden" });
  // What one may not see is as what does not exist, also to who may move the page itself.
  expect([
    await status(reorder("pia", { place: b, after: hidden.id })),
    await status(reorder("pia", { place: b, after: "nowhere" })),
  ]).toEqual([404, 404]);
  expect(await status(reorder(keeper, { place: b, after: inner.id }))).toBe(400);
  expect(await status(reorder(keeper, { place: b, after: b }))).toBe(400);
  expect(await status(reorder(keeper, { place: b, after: a }))).toBe(400);
  expect(await status(reorder(keeper, { place: bulletin.id, after: null }))).toBe(400);
  expect(await status(change({ kind: "order", place: b, from: "a0", to: "a1" }))).toBe(409);
});

it("holds one list for each parent through whatever moves, and going back step by step leads to the start", async () => {
  const dice = new Dice(20270411);
  const model = new Map<string, string[]>();
  for (const parent of [space, ...pages]) model.set(parent, await listOf(parent));
  const first = structuredClone(model);
  const parentOf = (id: string) => [...model.keys()].find((parent) => model.get(parent)?.includes(id)) as string;
  const made: Seq[] = [];
  const [, ...movable] = pages;
  for (let i = 0; i < 60; i++) {
    const place = dice.pick(movable);
    const from = parentOf(place);
    const list = model.get(from) as string[];
    if (dice.chance(0.4)) {
      // Into the first page or up into the space: it goes to the end of its new list.
      const to = from === space ? (pages[0] as string) : space;
      model.set(
        from,
        list.filter((id) => id !== place),
      );
      model.set(to, [...(model.get(to) as string[]), place]);
      made.push((await change({ kind: "move", place, from, to })).seq);
      continue;
    }
    const others = list.filter((id) => id !== place);
    const at = dice.between(0, others.length);
    if (list[at] === place) continue;
    model.set(from, [...others.slice(0, at), place, ...others.slice(at)]);
    made.push((await reorder(keeper, { place, after: others[at - 1] ?? null })).seq);
    for (const [parent, ids] of model) expect(await listOf(parent)).toEqual(ids);
  }
  const slots = await inSnapshot((tx) => slotsOf(tx, model.get(space) as string[]));
  expect(new Set(slots.values()).size).toBe(slots.size);
  for (const seq of made.reverse()) await undo(seq);
  for (const [parent, ids] of first) expect(await listOf(parent)).toEqual(ids);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("gives a slot that was taken meanwhile to nobody twice: who comes back stands directly after", async () => {
  const [a, b, c] = pages as [string, string, string];
  const away = await reorder(keeper, { place: b, after: c });
  // Between the first and the third there is one key in the middle: the next one put there gets what the second had.
  await reorder(keeper, { place: pages[5] as string, after: a });
  await undo(away.seq);
  const list = await inSnapshot((tx) => pagesIn(tx, space));
  expect(new Set(list.map(({ slot }) => slot)).size).toBe(list.length);
  expect(list.map(({ id }) => id).slice(0, 2)).toContain(a);
  expect(list.findIndex(({ id }) => id === b)).toBeLessThan(list.findIndex(({ id }) => id === c));
});
