/** Approval where a space asks for it: who gives in, answers, publishes; through every door, after rights were lost, and with nobody else able. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { publication } from "../../../../test/publication.ts";
import { status } from "../../../../test/status.ts";
import type { Edit, SpaceSettings } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import type { Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { countPages, readPages } from "../pages/pages.ts";
import { lookAtPublication } from "../publication/sheet.ts";
import { readSlip } from "../slip/slip.ts";
import { publishPage } from "../writing/publishing.ts";
import { runSchedules, schedulePage } from "../writing/scheduling.ts";
import { readWorking, saveVersion, startPage } from "../writing/writing.ts";
import { answerApproval } from "./answering.ts";

onDatabase("demo");

const body = (text: string): PageBody => ({ schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
const change = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "As agreed." }));
const saved = (who: string, id: string, base: string, text: string) =>
  saveVersion(who, id, { title: "Ice watch", body: body(text), base, note: "" });
const act = (who: string, id: string, what: "submit" | "withdraw" | "approve" | "sendBack", version: string, note = "") =>
  answerApproval(who, id, { act: what, version, note });
const message = (work: Promise<unknown>) =>
  work.then(
    () => "done",
    (error: Trouble) => error.message,
  );

async function asking(space: string, approval: boolean): Promise<void> {
  const settings = (await readSlip("ines", space)).life.space?.settings as SpaceSettings;
  if (settings.approval !== approval)
    await change("ines", { kind: "settings", place: space, remove: settings, put: { ...settings, approval } });
}

/** A draft of Jonas's in the quays, which Maren keeps. */
async function draft(text = "First"): Promise<string> {
  await asking("quays", true);
  return (await startPage("jonas", { parent: "quays", as: "page", title: "Ice watch", body: body(text) })).id;
}

it("sent back, changed, approved, published: each by whom it is for, each once, all in the ledger", async () => {
  const id = await draft();
  expect(await message(publishPage("maren", id, { version: "0.1", note: "" }))).toContain("not approved");
  expect(await status(act("maren", id, "approve", "0.1"))).toBe(409);
  await act("jonas", id, "submit", "0.1", "Please look");
  expect(await status(act("jonas", id, "submit", "0.1"))).toBe(409);
  expect(await status(act("jonas", id, "approve", "0.1"))).toBe(403);
  expect(await status(act("maren", id, "sendBack", "0.1", " "))).toBe(400);
  await act("maren", id, "sendBack", "0.1", "Say when the ice is measured.");
  expect((await readWorking("jonas", id)).approval).toMatchObject({
    submission: { answer: "sentBack", answerNote: "Say when the ice is measured.", answeredBy: "Maren Lüders" },
    mayApprove: false,
    approved: null,
  });
  await saved("jonas", id, "0.1", "Measured at six.");
  await act("jonas", id, "submit", "0.2");
  expect(await status(act("maren", id, "approve", "0.1"))).toBe(409);
  await act("maren", id, "approve", "0.2");
  // A newer version is not approved; the approved one can still go live, and the newer words wait on top of it.
  await saved("jonas", id, "0.2", "Measured at seven.");
  expect(await message(publishPage("maren", id, { version: "0.3", note: "" }))).toContain("0.3 is not approved");
  expect(await publishPage("maren", id, { version: "0.2", note: "" })).toMatchObject({ version: "1.0", newest: "1.1" });
  expect((await readWorking("jonas", id)).approval).toMatchObject({ submission: null, approved: null });
  expect(await status(act("jonas", id, "submit", "1.0"))).toBe(409);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("nobody approves words of their own, whoever wrote others beside them; only once none of theirs are new", async () => {
  await asking("quays", true);
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Ice watch", body: body("Mine") });
  await act("maren", id, "submit", "0.1");
  expect(await message(act("maren", id, "approve", "0.1"))).toContain("Words of yours are new");
  expect((await countPages("maren", {})).toApprove).toBe(0);
  await saved("jonas", id, "0.1", "Mine, and a word of his");
  await act("jonas", id, "submit", "0.2");
  expect((await readWorking("maren", id)).approval?.mayApprove).toBe(false);
  expect(await message(act("maren", id, "approve", "0.2"))).toContain("Words of yours are new");
  expect((await countPages("maren", {})).toApprove).toBe(0);
  await act("ines", id, "approve", "0.2");
  // What was approved is not new any more: of what came since, she wrote nothing.
  await saved("jonas", id, "0.2", "Mine, and two words of his");
  await act("jonas", id, "submit", "0.3");
  expect((await readPages("maren", { approval: "mine" })).rows.map((row) => row.id)).toEqual([id]);
  expect((await countPages("maren", {})).toApprove).toBe(1);
  await act("maren", id, "approve", "0.3");
  expect((await countPages("maren", {})).toApprove).toBe(0);
});

it("is told to those who write or publish the page, and to nobody else", async () => {
  const id = await draft();
  await act("jonas", id, "submit", "0.1");
  const waiting = async (who: string) => (await readPages(who, { approval: "waiting" })).rows.map((row) => row.id);
  expect(await waiting("jonas")).toContain(id);
  expect(await waiting("ines")).toContain(id);
  expect(await waiting("mei")).not.toContain(id);
  expect(await waiting("viktor")).not.toContain(id);
  for (const what of ["submit", "withdraw", "approve", "sendBack"] as const) {
    const [hidden, missing] = [
      await message(act("viktor", id, what, "0.1", "x")),
      await message(act("viktor", "nowhere", what, "0.1", "x")),
    ];
    expect(hidden).toBe(missing);
  }
  expect(await status(act("maren", "quays", "submit", "0.1"))).toBe(404);
  await asking("quays", false);
  expect(await message(act("maren", id, "approve", "0.1"))).toContain("asks for no approval");
});

it("holds at every other door: schedules, a bare change of the state, what was live before, another space", async () => {
  const id = await draft();
  const at = new Date(Date.now() + 60_000).toISOString();
  const order = { what: "live", at, zone: "Europe/Lisbon", note: "", version: "0.1", keepHelpers: false } as const;
  expect(await message(schedulePage("maren", id, order))).toContain("not approved");
  await act("jonas", id, "submit", "0.1");
  await act("maren", id, "approve", "0.1");
  await schedulePage("maren", id, order);
  // Approved no more when its time comes: it waits, and says why.
  await act("maren", id, "sendBack", "0.1", "Not after all.");
  expect(await runSchedules((Date.now() + 120_000) as never)).toEqual([]);
  expect((await readWorking("maren", id)).due?.problem).toContain("not approved");
  // Live from another space and taken down, it comes back by no bare edit.
  const elsewhere = await startPage("ines", { parent: "handbook", as: "page", title: "Brought in", body: body("Elsewhere") });
  await publishPage("ines", elsewhere.id, { version: "0.1", note: "" });
  const down: Edit = { kind: "state", place: elsewhere.id, from: { state: "live" }, to: { state: "draft" } };
  const up: Edit = { kind: "state", place: elsewhere.id, from: { state: "draft" }, to: { state: "live" } };
  await change("ines", down, { kind: "move", place: elsewhere.id, from: "handbook", to: "quays" });
  expect(await message(change("ines", up))).toContain("never approved");
  // What was live when the space began to ask for approval stands, taken down and taken up again.
  await asking("quays", false);
  const stood = await startPage("ines", { parent: "quays", as: "page", title: "Stood", body: body("Stood") });
  await publishPage("ines", stood.id, { version: "0.1", note: "" });
  await asking("quays", true);
  await change("ines", { ...down, place: stood.id });
  await change("ines", { ...up, place: stood.id });
});

it("where nobody else is able a site keeper publishes with a reason; not while somebody is", async () => {
  await asking("handbook", true);
  const { id } = await startPage("ines", { parent: "handbook", as: "page", title: "Alone", body: body("Alone") });
  expect((await lookAtPublication("ines", id, publication("0.1"))).preview.refusals.map(({ code }) => code)).toEqual(["notAllowed"]);
  expect(await status(publishPage("ines", id, { version: "0.1", note: "", reason: "Nobody is here." }))).toBe(400);
  // Fenced for writing to herself and one who may not publish, nobody else is able.
  await change("ines", { kind: "fence", place: id, put: { kind: "write", admits: [{ person: "ines" }] } });
  expect((await lookAtPublication("ines", id, publication("0.1"))).preview.refusals.map(({ code }) => code)).toEqual(["reasonNeeded"]);
  expect(await status(publishPage("ines", id, { version: "0.1", note: "" }))).toBe(400);
  await publishPage("ines", id, { version: "0.1", note: "", reason: "Nobody is here." });
});
