/** The pen: one person has it, along any doings of several people at once; who may take it, and what becomes of it when rights are lost. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { holds } from "../../../../test/holds.ts";
import { status } from "../../../../test/status.ts";
import { PEN_ACTS } from "../../../contracts/pen.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { inChange } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { keepBuffer } from "../writing/buffers.ts";
import { startPage } from "../writing/writing.ts";
import { actOnPen, layDownAll, readPen } from "./pen.ts";

onDatabase("demo");

const START = Date.now();
const at = (seconds: number) => new Date(START + seconds * 1000);
const change = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "So." }));
const page = async () => (await startPage("maren", { parent: "quays", as: "page", title: "Tug rota" })).id;

it("whatever several people do with it, at most one has it, and everybody is told the same", async () => {
  const id = await page();
  const people = ["maren", "jonas", "ines"];
  await holds(
    fc.asyncProperty(
      fc.array(fc.record({ who: fc.constantFrom(...people), act: fc.constantFrom(...PEN_ACTS), wait: fc.nat(90) }), {
        minLength: 5,
        maxLength: 25,
      }),
      async (doings) => {
        let seconds = 0;
        for (const { who, act, wait } of doings) {
          seconds += wait;
          await actOnPen(who, id, act, at(seconds)).catch(() => null);
          const told = await Promise.all(people.map((it) => readPen(it, id, at(seconds))));
          const names = new Set(told.map(({ holder }) => holder?.name ?? null));
          expect(names.size).toBe(1);
          expect(told.filter(({ holder }) => holder?.mine).length).toBe(names.has(null) ? 0 : 1);
        }
      },
    ),
    { runs: 15 },
  );
});

it("two who pick it up at once: one has it, the other is told who", async () => {
  const id = await page();
  await Promise.all(["maren", "jonas"].map((who) => actOnPen(who, id, "take", at(0)).catch(() => null)));
  const [maren, jonas] = [await readPen("maren", id, at(0)), await readPen("jonas", id, at(0))];
  expect([maren.holder?.mine, jonas.holder?.mine].filter(Boolean)).toHaveLength(1);
});

it("is taken after two idle minutes, at once by the owner or a Publisher; asked for, handed over, never forced from its words", async () => {
  const id = await page();
  const writer = { to: { person: "mei" }, abilities: ["read" as const, "discuss" as const, "revise" as const], draft: true };
  await change("maren", { kind: "grant", place: id, put: writer });
  await actOnPen("jonas", id, "take", at(0));
  expect(await status(actOnPen("mei", id, "take", at(10)))).toBe(403);
  expect((await readPen("mei", id, at(10))).untakable).toContain("two idle minutes");
  await actOnPen("mei", id, "ask", at(11));
  expect((await readPen("jonas", id, at(12))).asking).toEqual({ name: "Mei Lin", mine: false });
  expect((await readPen("ines", id, at(12))).asking).toBeNull();
  expect((await actOnPen("jonas", id, "hand", at(13))).holder).toMatchObject({ name: "Mei Lin", mine: false });
  expect(await status(actOnPen("jonas", id, "hand", at(14)))).toBe(409);
  // The owner takes it at once; what she typed is kept for her all the same.
  expect((await actOnPen("maren", id, "take", at(15))).holder?.mine).toBe(true);
  const body = { schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text: "Mei's" }] }] };
  await keepBuffer("mei", id, { title: "x", body, base: "0.1", tab: "t", rev: 1, spent: [] });
  expect((await readPen("mei", id, at(16))).holder?.name).toBe("Maren Lüders");
  // Still there for two minutes, and nothing typed: now it can be taken.
  for (const seconds of [50, 90, 130]) await actOnPen("maren", id, "stay", at(seconds));
  expect((await actOnPen("mei", id, "take", at(140))).holder?.mine).toBe(true);
  // Not heard of for a minute, it lies there.
  expect((await readPen("jonas", id, at(201))).holder).toBeNull();
});

it("is nobody's who may not write any more; to whoever may not, hidden and missing are alike; laid down with signing out", async () => {
  const id = await page();
  const grant = { to: { person: "mei" }, abilities: ["read" as const, "revise" as const], draft: true };
  await change("maren", { kind: "grant", place: id, put: grant });
  await actOnPen("mei", id, "take", at(0));
  await actOnPen("maren", id, "ask", at(1));
  await change("maren", { kind: "grant", place: id, remove: { ...grant, abilities: ["read", "revise"] } });
  expect((await readPen("maren", id, at(2))).holder).toBeNull();
  for (const act of PEN_ACTS) for (const it of [id, "nowhere", "patrols"]) expect(await status(actOnPen("mei", it, act))).toBe(404);
  await actOnPen("maren", id, "take", at(3));
  await layDownAll("maren");
  expect((await readPen("jonas", id, at(4))).holder).toBeNull();
});
