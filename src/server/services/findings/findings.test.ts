/** Findings: of pages outsiders read, told to whoever answers for them, kept with every publication, set aside with a reason. */
import { eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { publication } from "../../../../test/publication.ts";
import { status, told } from "../../../../test/status.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { bodyOfMarkdown } from "../../content/markdown.ts";
import { database, inChange } from "../../db/client.ts";
import { findings, jobItems, jobs, ledger } from "../../db/schema/index.ts";
import { type Kind, runJob } from "../../jobs/running.ts";
import { makeChange } from "../change/apply.ts";
import { KINDS } from "../jobs/kinds.ts";
import { lookAtPublication } from "../publication/sheet.ts";
import { publishPage } from "../writing/publishing.ts";
import { readWorking, saveVersion } from "../writing/writing.ts";
import { setFindingsAside } from "./aside.ts";
import { readFindings } from "./findings.ts";
import { findingsJob, lookForFindings } from "./looking.ts";
import { readFindingsAround } from "./passages.ts";

onDatabase("demo");

const change = (...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "", reason: "To see what is told." }));
const rowOf = async (asker: string, id: string, show?: "aside") =>
  (await readFindings(asker, show ? { show } : {})).rows.find((row) => row.id === id);
const kinds = async (id: string) => (await database().select().from(findings).where(eq(findings.placeId, id))).map(({ kind }) => kind);

async function publish(id: string, maker: string, words: string): Promise<void> {
  const page = await readWorking(maker, id);
  const { version } = await saveVersion(maker, id, { title: page.title, body: bodyOfMarkdown(words), base: page.version, note: "" });
  await publishPage(maker, id, { version, note: "" });
}

it("are told to whoever may see rules there, with the passage where they may read it, the worst first; of others nothing is said", async () => {
  const all = await readFindings("ines", {});
  expect(all.rows.map(({ id, counts, readers }) => [id, counts, readers])).toEqual([
    ["bl5", { word: 1 }, "public"],
    ["crowdwatch", { word: 1 }, "public"],
    ["lessonramp", { email: 1, phone: 1 }, "public"],
  ]);
  const [passage] = all.rows[2]?.passages ?? [];
  expect(passage?.finds.map(({ start, end }) => passage.text.slice(start, end))).toEqual(["d.okafor@rampways.invalid", "+351 210 000 417"]);
  // The page of an open inquiry holds an address, too; no outsider reads it.
  expect([await kinds("inquiry12"), await status(readFindingsAround("ines", "inquiry12"))]).toEqual([["email"], 404]);
  const ruth = await readFindings("ruth", {});
  expect([ruth.rows.map(({ id }) => id), ruth.spaces, ruth.mayLook]).toEqual([
    ["lessonramp"],
    [{ id: "inquiries", name: "Safety & Inquiries", open: 2, aside: 0 }],
    false,
  ]);
  for (const asker of ["viktor", "mei"]) expect(await readFindings(asker, {})).toMatchObject({ rows: [], spaces: [], total: 0 });
  expect(await readFindings("viktor", { space: "inquiries" })).toMatchObject({ rows: [], total: 0 });
  expect([await told(readFindingsAround("mei", "lessonramp")), await told(readFindingsAround("viktor", "none"))]).toEqual([
    expect.stringMatching(/^403/),
    expect.stringMatching(/^404/),
  ]);
});

it("hide their passages from an overseer who does not read the page; a pass alone makes it read from outside", async () => {
  const fresh: Edit = { kind: "stance", place: "lessonramp", from: "follow", to: "fresh" };
  await change({ kind: "pass", pass: "passramp", put: { id: "passramp", place: "lessonramp", below: false, revoked: false } });
  expect((await rowOf("ruth", "lessonramp"))?.readers).toBe("public");
  // Now the pass alone opens it, and neither Ruth nor Ines has anything here but oversight.
  await change(fresh);
  for (const asker of ["ruth", "ines"]) {
    expect(await rowOf(asker, "lessonramp")).toMatchObject({ readers: "passes", passages: null, counts: { email: 1, phone: 1 } });
    expect(await status(readFindingsAround(asker, "lessonramp"))).toBe(403);
  }
  await change({ ...fresh, from: "fresh", to: "follow" });
  expect((await rowOf("ruth", "lessonramp"))?.passages).toHaveLength(1);
});

it("are set aside once, with a reason, by whoever answers for the page; open again with other words", async () => {
  const finds = (await rowOf("ruth", "lessonramp"))?.passages?.[0]?.finds ?? [];
  const [mail, phone] = finds.map(({ sign }) => sign);
  const order = { place: "lessonramp", signs: [mail ?? ""], aside: true, reason: "He asked for it to stand here." };
  expect(await status(setFindingsAside("ruth", { ...order, reason: "  " }))).toBe(400);
  expect(await status(setFindingsAside("ruth", { ...order, signs: ["none"] }))).toBe(409);
  const hidden = await told(setFindingsAside("ruth", { ...order, place: "patrols" }));
  expect([hidden, await status(setFindingsAside("mei", order))]).toEqual([
    await told(setFindingsAside("ruth", { ...order, place: "none" })),
    403,
  ]);
  await Promise.all([setFindingsAside("ruth", order), setFindingsAside("ines", { ...order, reason: "Twice." })]);
  const entries = await database().select().from(ledger).where(eq(ledger.act, "setAside"));
  expect(entries.map(({ places, detail }) => [places, detail])).toEqual([[["lessonramp"], { aside: true, findings: 1 }]]);
  expect(await rowOf("ruth", "lessonramp")).toMatchObject({ counts: { phone: 1 }, passages: [{ finds: [{ sign: phone }] }] });
  expect((await rowOf("ruth", "lessonramp", "aside"))?.counts).toEqual({ email: 1 });
  await publish("lessonramp", "ruth", "Write to d.okafor@rampways.invalid.\n\nPay to DE89 3704 0044 0532 0130 00.");
  expect(await rowOf("ruth", "lessonramp")).toMatchObject({ counts: { account: 1 } });
  expect((await rowOf("ruth", "lessonramp", "aside"))?.counts).toEqual({ email: 1 });
  await publish("lessonramp", "ruth", "Nobody to write to.");
  await publish("lessonramp", "ruth", "Write to d.okafor@rampways.invalid.");
  expect([(await rowOf("ruth", "lessonramp"))?.counts, await rowOf("ruth", "lessonramp", "aside")]).toEqual([{ email: 1 }, undefined]);
  await setFindingsAside("ruth", order);
  await setFindingsAside("ruth", { ...order, aside: false, reason: "" });
  expect((await rowOf("ruth", "lessonramp"))?.counts).toEqual({ email: 1 });
});

it("are told with so much of a long passage as stands around them, whole signs, and with three passages on either side", async () => {
  const long = `${"\u{1f6a2} ".repeat(400)}write to a@b.invalid or c@d.invalid ${"\u{1f6a2} ".repeat(400)}`;
  await publish(
    "lessonramp",
    "ruth",
    [
      ...Array.from({ length: 6 }, (_, i) => `Before ${i}.`),
      long,
      ...Array.from({ length: 6 }, (_, i) => `After ${i}.`),
      "e@f.invalid",
    ].join("\n\n"),
  );
  const { passages } = await readFindingsAround("ruth", "lessonramp");
  expect(passages.map(({ text, gap }) => [text.slice(0, 8), gap])).toEqual([
    ["Before 3", true],
    ["Before 4", false],
    ["Before 5", false],
    [expect.stringMatching(/^… /), false],
    ["After 0.", false],
    ["After 1.", false],
    ["After 2.", false],
    ["After 3.", false],
    ["After 4.", false],
    ["After 5.", false],
    ["e@f.inva", false],
  ]);
  const told_ = passages[3];
  expect(told_?.finds.map(({ start, end }) => told_.text.slice(start, end))).toEqual(["a@b.invalid", "c@d.invalid"]);
  expect([told_?.text.length ?? 0, /\p{Surrogate}/u.test(told_?.text ?? "")]).toEqual([expect.any(Number), false]);
  const many = Array.from({ length: 9 }, (_, i) => `Write to m${i}@b.invalid.`).join("\n\n");
  await publish("lessonramp", "ruth", many);
  expect(await rowOf("ruth", "lessonramp")).toMatchObject({ more: 5, passages: { length: 4 } });
  const { next, total } = await readFindings("ines", { space: "inquiries" });
  expect([next, total]).toEqual([null, 1]);
});

it("are looked for in the whole site, one at a time; what is published meanwhile is not written over; of the house's words only those that stand there are told", async () => {
  await change({ kind: "house", from: { sensitiveWords: ["white gate", "sluice code"] }, to: { sensitiveWords: ["orange"] } });
  expect((await readFindings("ines", {})).wordsChanged).toBe(true);
  expect(await status(lookForFindings("ruth"))).toBe(403);
  const both = await Promise.allSettled([lookForFindings("tomasz"), lookForFindings("ines")]);
  expect(both.map((it) => it.status).sort()).toEqual(["fulfilled", "rejected"]);
  const [job] = await database().select().from(jobs).where(eq(jobs.state, "waiting"));
  const id = job?.id ?? "";
  const [first] = await database().select().from(jobItems).where(eq(jobItems.jobId, id));
  expect(first?.placeId).toContain("..");
  const look = findingsJob as Extract<Kind, { look: unknown }>;
  const between: Kind = {
    batch: 1,
    async look(...it) {
      const write = await look.look(...it);
      await publish("lessonramp", "ruth", "Orange, and a@b.invalid.");
      return write;
    },
  };
  await runJob(id, { ...KINDS, findings: between });
  expect((await kinds("lessonramp")).sort()).toEqual(["email", "word"]);
  expect(await readFindings("ines", {})).toMatchObject({ wordsChanged: false, job: null });
  expect((await readFindings("ines", {})).rows.flatMap(({ counts }) => Object.keys(counts))).toContain("word");
  const page = await readWorking("ruth", "lessonline");
  await saveVersion("ruth", "lessonline", { title: page.title, body: bodyOfMarkdown("An ORANGE buoy."), base: page.version, note: "" });
  expect(
    (await lookAtPublication("ruth", "lessonline", publication((await readWorking("ruth", "lessonline")).version))).houseWords,
  ).toEqual(["ORANGE"]);
});
