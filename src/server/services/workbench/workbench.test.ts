/** The workbench: drafts that are nobody else's to know of, whoever looks and through whatever door; helpers; where they go. */
import { eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { publication } from "../../../../test/publication.ts";
import { status } from "../../../../test/status.ts";
import type { LookAtPublicationBody } from "../../../contracts/publication.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { benchDrafts, benchVersions, buffers, versions } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import type { Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { lookAtLeaving } from "../leaving/leaving.ts";
import { publishDraft } from "../publication/publishing.ts";
import { lookAtDraftPublication } from "../publication/sheet.ts";
import { listVersions } from "../versions/list.ts";
import { keepBuffer } from "../writing/buffers.ts";
import { runSchedules } from "../writing/scheduling.ts";
import { readWorking } from "../writing/writing.ts";
import { beginDraft } from "./beginning.ts";
import { draftsOf, forgetThrown, readWorkbench } from "./bench.ts";
import { letHelperIn } from "./helpers.ts";
import { writesDraft } from "./opening.ts";
import { listDraftVersions, readDraft, readDraftVersion, saveDraft, takeUpDraftVersion, throwDraft } from "./writing.ts";

onDatabase("demo");

const body = (text: string): PageBody => ({ schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
const change = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "So." }));
const placeNow = async (id: string) => (await inSnapshot((tx) => loadDocument(tx))).places.find((place) => place.id === id);
const trouble = (work: Promise<unknown>) =>
  work.then(
    () => null,
    (error: Trouble) => error,
  );

async function draft(owner = "maren", title = "Ice watch"): Promise<string> {
  const { id } = await beginDraft(owner, { title });
  await saveDraft(owner, id, { title, body: body("At six."), base: "0.1", note: "" });
  return id;
}

/** Looks, and does what was seen. */
async function through(owner: string, id: string, order: LookAtPublicationBody) {
  const { preview } = await lookAtDraftPublication(owner, id, order);
  return publishDraft(owner, id, { ...order, note: "", seen: preview.seen });
}

it("is there for its owner and whom they let in, as far as they were; for everybody else as though it were not", async () => {
  const id = await draft();
  await letHelperIn("maren", id, { person: "jonas", level: "write" });
  await letHelperIn("maren", id, { person: "mei", level: "read" });
  const save = (who: string, base: string) => saveDraft(who, id, { title: "Ice", body: body(who), base, note: "" });
  expect(await save("jonas", "0.2")).toEqual({ version: "0.3" });
  expect(await status(save("mei", "0.3"))).toBe(403);
  expect(await status(save("maren", "0.2"))).toBe(409);
  expect((await readDraft("mei", id)).helpers).toEqual([]);
  expect((await readDraft("maren", id)).helpers.map(({ name, level }) => [name, level])).toEqual([
    ["Jonas Brandt", "write"],
    ["Mei Lin", "read"],
  ]);
  const doors = (who: string, it: string) => [
    readDraft(who, it),
    saveDraft(who, it, { title: "x", body: body("x"), base: "0.1", note: "" }),
    keepBuffer(who, it, { title: "x", body: body("x"), base: "0.1", tab: "t", rev: 1, spent: [] }, writesDraft),
    letHelperIn(who, it, { person: who, level: "write" }),
    throwDraft(who, it, true),
    listDraftVersions(who, it, {}),
    readDraftVersion(who, it, "0.1"),
    takeUpDraftVersion(who, it, "0.1", { base: "0.3", note: "" }),
    lookAtDraftPublication(who, it, publication("0.3", { to: "quays" })),
    publishDraft(who, it, { ...publication("0.3", { to: "quays" }), note: "", seen: "" }),
    // A page's doors are none of a draft's.
    readWorking(who, it),
    listVersions(who, it, {}),
  ];
  // Site keepers too, a guest, a keeper of another space.
  for (const who of ["ines", "viktor", "dora"]) {
    const hidden = await Promise.all(doors(who, id).map(trouble));
    const missing = await Promise.all(doors(who, "nowhere").map(trouble));
    expect(hidden.map((it) => [it?.status, it?.message])).toEqual(missing.map((it) => [it?.status, it?.message]));
    expect(hidden.every((it) => it?.status === 404)).toBe(true);
    expect(JSON.stringify(await readWorkbench(who))).not.toContain("Ice");
  }
  expect((await readWorkbench("jonas")).letInto.find((it) => it.id === id)).toMatchObject({ title: "Ice", level: "write", helpers: 0 });
  await letHelperIn("maren", id, { person: "jonas", level: "none" });
  expect(await status(readDraft("jonas", id))).toBe(404);
  await letHelperIn("maren", id, { person: "jonas", level: "write" });
  // Suspended, nobody is let in anywhere; the word is with its owner.
  const jonas = (await inSnapshot((tx) => loadDocument(tx))).people.find((it) => it.id === "jonas");
  await change("ines", { kind: "person", person: "jonas", remove: jonas, put: { ...jonas, status: "suspended" } as never });
  expect(await status(readDraft("jonas", id))).toBe(404);
  expect((await readDraft("maren", id)).helpers.find((it) => it.id === "jonas")?.shutOut).toBe(true);
  await change("ines", { kind: "person", person: "jonas", remove: { ...jonas, status: "suspended" } as never, put: jonas });
});

it("guests are let in no further than their ceiling; groups, nobody and oneself not at all; workbenches are for members", async () => {
  const id = await draft();
  expect(await status(letHelperIn("maren", id, { person: "dora", level: "write" }))).toBe(200);
  const document = await inSnapshot((tx) => loadDocument(tx));
  const site = document.places.find(({ kind }) => kind === "site")?.id ?? "";
  const lower = { ...document.ceilings, guests: ["read" as const] };
  await change("ines", { kind: "ceilings", place: site, from: document.ceilings, to: lower });
  expect((await readDraft("dora", id)).mayWrite).toBe(false);
  expect(await status(saveDraft("dora", id, { title: "x", body: body("x"), base: "0.2", note: "" }))).toBe(403);
  expect(await status(letHelperIn("maren", id, { person: "greer", level: "comment" }))).toBe(400);
  await change("ines", { kind: "ceilings", place: site, from: lower, to: document.ceilings });
  for (const person of ["pilots", "nobody", "maren", ""])
    expect(await status(letHelperIn("maren", id, { person, level: "read" }))).toBe(400);
  expect(await status(beginDraft("dora", { title: "x" }))).toBe(403);
  // What one may not read is copied onto no workbench; what is hidden and what is not there are told alike.
  for (const copy of ["patrols", "nowhere", "portsecurity"]) expect(await status(beginDraft("mei", { copy }))).toBe(404);
  expect(await status(beginDraft("mei", { copy: "quays" }))).toBe(404);
  const copied = await beginDraft("mei", { copy: "cranes" });
  expect((await readDraft("mei", copied.id)).title).toBe((await readWorking("maren", "cranes")).title);
});

it("published into a space in one go, helpers leave, but one who is kept; versions and words that were typed come along", async () => {
  const id = await draft();
  for (const person of ["jonas", "mei"]) await letHelperIn("maren", id, { person, level: "write" });
  await saveDraft("jonas", id, { title: "Ice", body: body("At seven."), base: "0.2", note: "Later" });
  await keepBuffer("mei", id, { title: "Ice", body: body("At eight?"), base: "0.3", tab: "m", rev: 5, spent: [] }, writesDraft);
  const order = publication("0.3", { to: "quays", keep: ["person:jonas"], tags: ["ice"] });
  const sheet = await lookAtDraftPublication("maren", id, order);
  expect(sheet).toMatchObject({ path: ["Quay Operations"], moves: true, mayKeepHelpers: true, owner: { id: "maren" }, tags: ["ice"] });
  expect(sheet.helpers.map(({ key }) => key)).toEqual(["person:jonas", "person:mei"]);
  expect(sheet.preview.refusals).toEqual([]);
  expect(await status(publishDraft("maren", id, { ...order, note: "", seen: "stale" }))).toBe(409);
  expect(await status(publishDraft("jonas", id, { ...order, note: "", seen: sheet.preview.seen }))).toBe(403);
  const { page, version, newest } = await through("maren", id, order);
  expect([version, newest]).toEqual(["1.0", "1.0"]);
  expect(await placeNow(page)).toMatchObject({
    parent: "quays",
    state: "live",
    title: "Ice",
    tags: ["ice"],
    grants: [{ to: { person: "jonas" }, abilities: ["read", "discuss", "revise"] }],
  });
  expect((await listVersions("maren", page, {})).versions.map(({ name, who }) => `${name} ${who}`)).toEqual([
    "1.0 Maren Lüders",
    "0.3 Jonas Brandt",
    "0.2 Maren Lüders",
    "0.1 Maren Lüders",
  ]);
  expect((await database().select().from(buffers).where(eq(buffers.placeId, page))).map(({ personId }) => personId)).toEqual(["mei"]);
  // To those who had it, it says where it went; nothing of it is left.
  expect(await trouble(readDraft("jonas", id))).toMatchObject({ status: 409, details: { page } });
  expect(await status(readDraft("viktor", id))).toBe(404);
  expect(await database().select().from(benchVersions).where(eq(benchVersions.draftId, id))).toEqual([]);
  expect(await status(publishDraft("maren", id, { ...order, note: "", seen: sheet.preview.seen }))).toBe(409);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("placed as a draft its helpers write on; scheduled, it goes live at its instant and they leave, those kept aside", async () => {
  const id = await draft();
  for (const person of ["jonas", "mei", "amara"]) await letHelperIn("maren", id, { person, level: "write" });
  const at = { at: new Date(Date.now() + 3_600_000).toISOString(), zone: "Pacific/Kiritimati" };
  const order = publication("0.2", { what: "schedule", to: "quays", at, keep: ["person:mei"] });
  const archive = { ...at, at: new Date(Date.now() + 60_000).toISOString() };
  expect(await status(through("maren", id, { ...order, archive }))).toBe(400);
  const { page, version } = await through("maren", id, order);
  expect(version).toBeNull();
  expect(await placeNow(page)).toMatchObject({ state: "scheduled", grants: [{ draft: true }, { draft: true }, { draft: true }] });
  expect(await status(readWorking("amara", page))).toBe(200);
  expect(await runSchedules((Date.now() + 4_000_000) as never)).toEqual([page]);
  expect(await placeNow(page)).toMatchObject({
    state: "live",
    grants: [{ to: { person: "mei" }, abilities: ["read", "discuss", "revise"] }],
  });
  const other = await draft("maren", "Placed");
  await letHelperIn("maren", other, { person: "jonas", level: "read" });
  const placed = await through("maren", other, publication("0.2", { what: "place", to: "berthplan" }));
  expect(await placeNow(placed.page)).toMatchObject({
    state: "draft",
    parent: "berthplan",
    grants: [{ to: { person: "jonas" }, abilities: ["read"], draft: true }],
  });
});

it("goes nowhere its owner may not add or publish, is told so beforehand, and nothing of it is done by halves", async () => {
  const id = await draft("mei", "Mine");
  for (const to of ["patrols", "portsecurity", "nowhere"]) expect(await status(through("mei", id, publication("0.2", { to })))).toBe(404);
  const { preview } = await lookAtDraftPublication("mei", id, publication("0.2", { to: "quays" }));
  expect(preview.refusals[0]?.message).toContain("You may not add pages here");
  expect(await status(through("mei", id, publication("0.2", { to: "quays" })))).toBe(403);
  // Who reads it is a matter for whoever admits people there.
  const wish = { principal: { audience: "public" as const }, level: 1 as const };
  const jonas = await draft("jonas", "His");
  expect(await status(through("jonas", jonas, publication("0.2", { to: "quays", wishes: [wish] })))).toBe(403);
  expect((await readWorkbench("jonas")).drafts.map(({ title }) => title)).toContain("His");
  // Elsewhere in the meantime.
  const mine = await draft();
  const order = publication("0.2", { to: "berthplan" });
  const { preview: seen } = await lookAtDraftPublication("maren", mine, order);
  await change("maren", { kind: "fence", place: "berthplan", put: { kind: "read", admits: [{ person: "maren" }] } });
  expect(await trouble(publishDraft("maren", mine, { ...order, note: "", seen: seen.seen }))).toMatchObject({ status: 409 });
  expect((await readDraft("maren", mine)).version).toBe("0.2");
  for (const it of [publication("0.2"), publication("0.2", { to: "quays", what: "schedule" }), publication("0.2", { to: "site" })])
    expect([400, 404]).toContain(await status(through("maren", mine, it)));
});

it("who reads it is widened and narrowed with the publication: what was wished is so, and is said before", async () => {
  const id = await draft();
  const wishes = [
    { principal: { audience: "members" as const }, level: 0 as const },
    { principal: { group: "pilots" }, level: 1 as const },
  ];
  const order = publication("0.2", { to: "quays", wishes });
  const sheet = await lookAtDraftPublication("maren", id, order);
  expect(sheet.rules?.reason).toBe("");
  expect(sheet.rules?.sentences.length).toBeGreaterThan(0);
  expect(sheet.readers.public).toBe(false);
  const { page } = await through("maren", id, order);
  expect(await status(readDraftLike("mei", page))).toBe(404);
});
const readDraftLike = (who: string, page: string) => listVersions(who, page, {});

it("is handed over by number alone, to oneself with a reason; thrown away it is kept a while, for its owner", async () => {
  const id = await draft("amara", "Secret plans");
  const thrown = await draft("amara", "Not this one");
  await throwDraft("amara", thrown, true);
  expect(await status(readDraft("maren", thrown))).toBe(404);
  const order = { to: null, lines: [{ key: "drafts", to: "ines" }], until: null };
  const look = await lookAtLeaving("ines", "amara", order as never).catch((error: Trouble) => error);
  expect(JSON.stringify(look)).not.toContain("Secret plans");
  const handles = await database()
    .select({ handle: benchDrafts.handle, id: benchDrafts.id })
    .from(benchDrafts)
    .where(eq(benchDrafts.ownerId, "amara"));
  expect(await inSnapshot((tx) => draftsOf(tx, "amara"))).toBe(2);
  const edit: Edit = { kind: "handOver", what: "drafts", from: "amara", to: "ines", ids: handles.map(({ handle }) => handle) };
  const hand = (reason?: string) =>
    inChange((tx) => makeChange(tx, { maker: "ines", edits: [edit], act: "leave", note: "", ...(reason ? { reason } : {}) }));
  expect(await status(hand())).toBe(403);
  expect(await status(inChange((tx) => makeChange(tx, { maker: "maren", edits: [edit], act: "leave", note: "" })))).toBe(403);
  await hand("She left, and the plans are needed.");
  expect((await readDraft("ines", id)).title).toBe("Secret plans");
  expect(await status(readDraft("amara", id))).toBe(404);
  await forgetThrown(Date.now() + 400 * 86_400_000);
  expect(await status(readDraft("ines", thrown))).toBe(404);
  expect(await database().select().from(versions).where(eq(versions.placeId, thrown))).toEqual([]);
});
