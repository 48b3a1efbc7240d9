/** What sheets tell whom: passes, guests, pledges, landing pages, what comes back how; and what stops a job when rules moved on. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { runJob, unfinished } from "../../jobs/running.ts";
import { applyChange } from "../change/apply.ts";
import { previewChange } from "../change/preview.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { lookAtMany, orderJob, readJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { readSlip } from "../slip/slip.ts";
import { startPage } from "../writing/writing.ts";
import { lookAtAct } from "./sheet.ts";

onDatabase("demo");

const document = () => inSnapshot((tx) => loadDocument(tx));

async function does(maker: string, act: LifeAct): Promise<Seq> {
  const { seen } = await lookAtAct(maker, act);
  return (await applyChange(maker, { edits: [], acts: [act], note: "", seen, ...(maker === "ines" ? { reason: "a test" } : {}) })).seq;
}

async function edits(maker: string, list: Edit[]): Promise<Seq> {
  const { seen } = await previewChange(maker, list);
  return (await applyChange(maker, { edits: list, note: "", seen })).seq;
}

const line = async (asker: string, act: LifeAct, which: string) => (await lookAtAct(asker, act)).breaks.find((it) => it.line === which);

it("passes that stop are told to those who may make them, guests with nothing left by name to who knows others, pledges to site keepers", async () => {
  const bin = (id: string): LifeAct => ({ act: "bin", places: [id], below: "along" });
  expect(await line("elif", bin("landings"), "passes")).toMatchObject({ count: 1, items: [{ id: "landings" }] });
  expect(await line("ruth", bin("inquiry13"), "guests")).toMatchObject({ count: 1, items: [{ title: expect.stringContaining("Greer") }] });
  const archive: LifeAct = { act: "archive", places: ["portsecurity"] };
  const [keeper, site] = [await line("viktor", archive, "pledges"), await line("ines", archive, "pledges")];
  expect(keeper?.count).toBeGreaterThan(0);
  expect(keeper?.items).toEqual([]);
  expect(site?.items.length).toBe(site?.count);
  expect((await lookAtAct("jonas", { act: "archive", places: ["quayhome"] })).choices).toMatchObject([{ choose: "landing", may: false }]);
});

it("passes on what comes back work again where they are chosen, by who may; the others are withdrawn for good", async () => {
  await does("elif", { act: "bin", places: ["landings"] });
  const restore: LifeAct = { act: "restore", places: ["landings"] };
  const chosen = { ...restore, passes: ["passlandings", "nobody's"] };
  expect((await lookAtAct("elif", chosen)).returning).toMatchObject([{ pass: "passlandings", works: true }]);
  expect((await lookAtAct("elif", restore)).returning).toMatchObject([{ pass: "passlandings", works: false }]);
  const seq = await does("elif", restore);
  expect((await document()).passes.find(({ id }) => id === "passlandings")?.revoked).toBe(true);
  const back = await previewTakeBack("elif", seq);
  await takeBack("elif", seq, { note: "", seen: back.seen });
  expect((await document()).passes.find(({ id }) => id === "passlandings")?.revoked).toBe(true);
});

it("what comes back says where it will be otherwise: elsewhere, moved since, no landing page any more, no place to come back to", async () => {
  const start = async (parent: string, title: string) => (await startPage("maren", { parent, as: "page", title })).id;
  const parent = await start("quays", "Old lists");
  const inner = await start(parent, "Older lists");
  await does("maren", { act: "bin", places: [inner] });
  await does("maren", { act: "bin", places: [parent] });
  expect((await lookAtAct("maren", { act: "restore", places: [inner] })).returning).toMatchObject([
    { what: "elsewhere", sentence: expect.stringContaining("Quay Operations") },
  ]);
  await does("maren", { act: "restore", places: [inner] });
  expect((await document()).places.find(({ id }) => id === inner)).toMatchObject({ parent: "quays", state: "draft" });

  const above = await start("quays", "Rota");
  const below = await start(above, "Rota of spring");
  await does("maren", { act: "bin", places: [above], below: "handUp" });
  await does("maren", { act: "move", places: [below], to: "cranes", after: null });
  expect((await lookAtAct("maren", { act: "restore", places: [above], back: true })).returning).toMatchObject([{ what: "movedSince" }]);
  await does("maren", { act: "restore", places: [above], below: "stay" });

  await does("maren", { act: "archive", places: ["quayhome"], landings: [{ space: "quays", page: "cranes" }] });
  expect((await lookAtAct("maren", { act: "unarchive", places: ["quayhome"] })).returning).toMatchObject([{ what: "notLanding" }]);

  await does("ines", { act: "bin", places: ["handbook"] });
  const lost = await lookAtAct("ines", { act: "restore", places: ["faxes"] });
  expect(lost.choices).toMatchObject([{ choose: "destination", pages: { count: 1 } }]);
  expect(await status(applyChange("ines", { edits: [], acts: [{ act: "restore", places: ["faxes"] }], note: "", seen: "x" }))).toBe(400);
  expect(
    await status(applyChange("ines", { edits: [], acts: [{ act: "restore", places: ["faxes"], to: "bl8" }], note: "", seen: "x" })),
  ).not.toBe(200);
  expect((await lookAtAct("maren", { act: "move", places: ["cranes"] })).choices).toMatchObject([{ choose: "destination" }]);
});

it("marks that were set meanwhile, or that a space has no word for, are refused; set, they are told, and taken back", async () => {
  const word = (from: string | null, to: string | null): Edit => ({ kind: "readiness", place: "shorepower", from, to });
  expect(await status(previewChange("maren", [word("outline", null)]))).toBe(409);
  expect(await status(previewChange("maren", [word(null, "no such word")]))).toBe(400);
  expect(await status(previewChange("mei", [word(null, "outline")]))).toBe(403);
  expect(await status(previewChange("maren", [{ kind: "readiness", place: "quays", from: null, to: "outline" }]))).toBe(400);
  expect(await status(previewChange("maren", [{ kind: "arranged", place: "quays", from: "name", to: "hand" }]))).toBe(409);
  expect(await status(previewChange("maren", [{ kind: "readinessWords", place: "quays", from: [], to: ["x"] }]))).toBe(409);
  expect(await status(previewChange("jonas", [{ kind: "arranged", place: "quays", from: "hand", to: "name" }]))).toBe(403);
  const seq = await edits("maren", [word(null, "outline"), { kind: "arranged", place: "quays", from: "hand", to: "name" }]);
  expect((await readSlip("maren", "shorepower")).life).toMatchObject({ readiness: "outline" });
  expect((await readSlip("maren", "quays")).life).toMatchObject({ arranged: "name", mayChangeSpace: true });
  const { seen } = await previewTakeBack("maren", seq);
  await takeBack("maren", seq, { note: "", seen });
  expect((await readSlip("maren", "shorepower")).life.readiness).toBe(null);
  expect(await status(applyChange("maren", { edits: [], acts: [], note: "", seen: "x" }))).toBe(400);
});

it("several acts and edits of one change are planned one after another, are one entry, and are told each", async () => {
  const acts: LifeAct[] = [
    { act: "move", places: ["timberyard"], to: "cranes" },
    { act: "archive", places: ["cranes"], below: "handUp", landings: [{ space: "quays", page: "mooring" }] },
  ];
  const list: Edit[] = [{ kind: "tags", place: "mooring", from: [], to: ["ropes"] }];
  const { seen } = await previewChange("maren", list, [], acts);
  const { seq } = await applyChange("maren", { edits: list, acts, note: "", seen });
  const after = new Map((await document()).places.map((place) => [place.id, place]));
  expect(after.get("timberyard")).toMatchObject({ parent: "quays", state: "live" });
  expect(after.get("cranes")).toMatchObject({ state: "archived" });
  const [entry] = (await readLedger("maren", {})).lines;
  expect(entry).toMatchObject({ seq, act: "Rules changed", canTakeBack: true });
  expect(entry?.what.map(({ text }) => text).join(" | ")).toMatch(/moved.*archived.*tags: ropes/);
});

it("a job stops where somebody would gain more than was shown, and what was done is done", async () => {
  const order = { act: "unarchive" as const, places: ["cranes"] };
  const { count, seen } = await lookAtMany("maren", order);
  const { id } = await orderJob("maren", { order, count, note: "", seen });
  await edits("maren", [{ kind: "grant", place: "cranes", put: { to: { person: "dora" }, abilities: ["read"] } }]);
  for (const it of await unfinished()) await runJob(it, KINDS);
  expect(await readJob("maren", id)).toMatchObject({
    state: "stopped",
    done: 0,
    problem: expect.stringContaining("gain more than was shown"),
  });
  const inside = { act: "move" as const, places: ["berthplan", "berthdisputes"], to: "berthdisputes" };
  expect(await status(lookAtMany("maren", inside))).toBe(400);
  const marked = { act: "tag" as const, remove: ["ropes"], places: ["mooring", "shorepower"] };
  const look = await lookAtMany("maren", marked);
  const job = await orderJob("maren", { order: marked, count: look.count, note: "", seen: look.seen });
  await edits("maren", [{ kind: "tags", place: "mooring", from: ["ropes"], to: [] }]);
  for (const it of await unfinished()) await runJob(it, KINDS);
  expect(await readJob("maren", job.id)).toMatchObject({
    state: "done",
    done: 0,
    skipped: 2,
    skippedItems: [{ message: expect.stringContaining("so already") }, {}],
  });
});
