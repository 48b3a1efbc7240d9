/** Publishing from the sheet: where it goes, when, whose it is and who reads it, done as it was seen or not at all; and the places it can go. */
import { eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { publication } from "../../../../test/publication.ts";
import { status } from "../../../../test/status.ts";
import type { LookAtPublicationBody } from "../../../contracts/publication.ts";
import { effectiveSet } from "../../../core/access/decide/index.ts";
import { compile, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, instantAt, READ } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { readersThere } from "../../../core/lifecycle/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { pages, schedules, submissions } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { readSlip } from "../slip/slip.ts";
import { beginDraft } from "../workbench/beginning.ts";
import { listDraftVersions, readDraft, readDraftVersion, saveDraft, takeUpDraftVersion } from "../workbench/writing.ts";
import { runSchedules } from "../writing/scheduling.ts";
import { saveVersion, startPage } from "../writing/writing.ts";
import { listDestinations } from "./destinations.ts";
import { publishDraft, publishSeen } from "./publishing.ts";
import { lookAtDraftPublication, lookAtPublication } from "./sheet.ts";

onDatabase("demo");

const body = (text: string): PageBody => ({ schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
const change = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "So." }));
const document = () => inSnapshot((tx) => loadDocument(tx));
const placeNow = async (id: string) => (await document()).places.find((place) => place.id === id);
const page = async (parent = "quays", owner = "maren") =>
  (await startPage(owner, { parent, as: "page", title: "Tug rota", body: body("At six.") })).id;

async function through(maker: string, id: string, order: LookAtPublicationBody) {
  const { preview } = await lookAtPublication(maker, id, order);
  return publishSeen(maker, id, { ...order, note: "", seen: preview.seen, reason: "So it is." });
}

it("goes into another space in the same step, with owner, tags and readiness, and is archived at its time", async () => {
  const id = await page();
  const words = (await readSlip("ines", "pilotage")).life.readinessWords;
  const at = new Date(Date.now() + 3_600_000).toISOString();
  const order = publication("0.1", {
    to: "pilotage",
    owner: "jonas",
    tags: ["tugs"],
    ...(words[0] ? { readiness: words[0] } : {}),
    archive: { at, zone: "Europe/Lisbon" },
  });
  const sheet = await lookAtPublication("ines", id, order);
  expect(sheet).toMatchObject({ moves: true, path: ["Pilotage & Tides"], owner: { id: "jonas" }, tags: ["tugs"], mayHandOver: true });
  // Whoever may not add there hears so before, and does nothing.
  await expect(lookAtPublication("maren", id, order)).rejects.toThrow("You may not add pages here");
  expect(await status(publishSeen("maren", id, { ...order, note: "", seen: sheet.preview.seen }))).toBe(403);
  expect(await placeNow(id)).toMatchObject({ parent: "quays", state: "draft" });
  expect(await through("ines", id, order)).toMatchObject({ page: id, version: "1.0", newest: "1.0", at: null });
  expect(await placeNow(id)).toMatchObject({ parent: "pilotage", state: "live", owner: "jonas", tags: ["tugs"] });
  const [row] = await database().select().from(pages).where(eq(pages.placeId, id));
  expect(row?.readiness ?? null).toBe(words[0] ?? null);
  expect((await database().select().from(schedules).where(eq(schedules.placeId, id))).map(({ what, zone }) => [what, zone])).toEqual([
    ["archive", "Europe/Lisbon"],
  ]);
  expect(await runSchedules((Date.now() + 4_000_000) as never)).toContain(id);
  expect((await placeNow(id))?.state).toBe("archived");
});

it("a live page with newer words moves with them; scheduled elsewhere it moves now and goes live then", async () => {
  const id = await page();
  await through("ines", id, publication("0.1"));
  await saveVersion("ines", id, { title: "Tug rota", body: body("At seven."), base: "1.0", note: "" });
  expect(await through("ines", id, publication("1.1", { to: "pilotage" }))).toMatchObject({ version: "2.0" });
  expect(await placeNow(id)).toMatchObject({ parent: "pilotage", state: "live" });
  const other = await page();
  const at = { at: new Date(Date.now() + 60_000).toISOString(), zone: "UTC" };
  expect(await through("ines", other, publication("0.1", { what: "schedule", to: "pilotage", at, tags: ["later"] }))).toMatchObject({
    version: null,
    at: at.at,
  });
  expect(await placeNow(other)).toMatchObject({ parent: "pilotage", state: "scheduled", tags: ["later"] });
  expect(await status(through("ines", other, publication("0.1", { what: "schedule" })))).toBe(400);
  expect(await status(through("ines", other, publication("0.1", { what: "place" })))).toBe(400);
  expect(await status(through("ines", other, publication("0.1", { as: "bulletin" })))).toBe(400);
  expect(await status(through("ines", other, publication("9.9")))).toBe(409);
  // Where the time is past, or the destination is gone meanwhile, nothing is done.
  const past = { at: "2020-01-01T00:00:00Z", zone: "UTC" };
  const third = await page();
  expect(await status(through("ines", third, publication("0.1", { what: "schedule", to: "pilotage", at: past })))).toBe(400);
  expect(await placeNow(third)).toMatchObject({ parent: "quays", state: "draft" });
});

it("is not published as it was seen when the rules moved on, the destination went, or a pledge would break", async () => {
  const id = await page();
  const order = publication("0.1", { to: "berthplan" });
  const { preview } = await lookAtPublication("maren", id, order);
  const grant: Edit = { kind: "grant", place: "berthplan", put: { to: { person: "dora" }, abilities: ["read"] } };
  await change("maren", grant);
  expect(await status(publishSeen("maren", id, { ...order, note: "", seen: preview.seen }))).toBe(409);
  await change("maren", { ...grant, put: undefined, remove: { to: { person: "dora" }, abilities: ["read"] } } as Edit);
  expect(await status(lookAtPublication("maren", id, publication("0.1", { to: "patrols" })))).toBe(404);
  const wish = { principal: { group: "no-such-group" }, level: 1 as const };
  const strange = await lookAtPublication("maren", id, publication("0.1", { wishes: [wish] }));
  expect([strange.rules?.sentences, strange.preview.refusals.length]).toEqual([[], 0]);
  // Tagged so that the public must never read it, it goes nowhere the public reads.
  const tagged = await page();
  const open = await lookAtPublication("ines", tagged, publication("0.1", { to: "notices", tags: ["patrol-route"] }));
  expect(open.preview.refusals.map(({ code }) => code)).toContain("pledge");
  expect(open.readers.public).toBe(true);
});

it("a private draft is given in where its space asks for approval, and published there by nobody alone", async () => {
  const settings = (await readSlip("ines", "quays")).life.space?.settings;
  if (!settings) throw new Error("no settings");
  await change("ines", { kind: "settings", place: "quays", remove: settings, put: { ...settings, approval: true } });
  const { id } = await beginDraft("jonas", { title: "Lines" });
  expect((await lookAtDraftPublication("jonas", id, publication("0.1", { to: "quays" }))).unapproved).toBe(true);
  const order = publication("0.1", { what: "submit", to: "quays" });
  const { preview } = await lookAtDraftPublication("jonas", id, order);
  expect(await status(publishDraft("jonas", id, { ...publication("0.1", { to: "quays" }), note: "", seen: preview.seen }))).toBe(403);
  const { page: placed } = await publishDraft("jonas", id, { ...order, note: "Please", seen: preview.seen });
  expect((await database().select().from(submissions).where(eq(submissions.placeId, placed)))[0]).toMatchObject({
    by: "jonas",
    answer: null,
  });
  await change("ines", { kind: "settings", place: "quays", remove: { ...settings, approval: true }, put: settings });
});

it("a draft begins from a template of the site; its versions are read and taken up again", async () => {
  const [template] = await inSnapshot(async (tx) => {
    const { templates } = await import("../../db/schema/index.ts");
    return tx.select().from(templates).where(eq(templates.name, "Minutes"));
  });
  const { id } = await beginDraft("mei", { template: template?.id ?? "", zone: "Europe/Lisbon" });
  expect((await readDraft("mei", id)).title).toMatch(/^Minutes of \d+/);
  await saveDraft("mei", id, { title: "Other", body: body("x"), base: "0.1", note: "Shorter" });
  expect((await readDraftVersion("mei", id, "0.1")).title).toMatch(/^Minutes/);
  expect(await takeUpDraftVersion("mei", id, "0.1", { base: "0.2", note: "" })).toEqual({ version: "0.3" });
  expect((await listDraftVersions("mei", id, {})).versions.map(({ note }) => note)).toEqual([
    "Taken up again from version 0.1.",
    "Shorter",
    "",
  ]);
  expect((await listDraftVersions("mei", id, { before: "0.2" })).versions).toHaveLength(1);
  for (const odd of ["0.9", "1.1", "x"]) expect(await status(readDraftVersion("mei", id, odd))).toBe(404);
  expect(await status(beginDraft("mei", { template: "no-such", copy: "cranes" }))).toBe(400);
  expect(await status(beginDraft("mei", { template: "no-such" }))).toBe(404);
});

it("the places it can go to are those one may know of, each with its readers or with why it is none", async () => {
  const { places: spaces } = await listDestinations("maren", {});
  const named = new Map(spaces.map((it) => [it.id, it]));
  expect(named.has("portsecurity")).toBe(false);
  expect(named.get("quays")).toMatchObject({ off: "", onlyDraft: "", kind: "space", hasMore: true });
  expect(named.get("handbook")?.off).toContain("You may not add pages here");
  expect(named.get("handbook")?.readers).toBeNull();
  const index = compile(await document());
  const at = instantAt(Date.now());
  // Counted by classes as one by one: who reads by the rules of each place.
  for (const { id, readers } of (await listDestinations("ines", {})).places) {
    const place = placeOf(index, id);
    if (place?.place.state !== "live") continue;
    const one = (kind: string) =>
      index.subjects.filter((it) => it.class === kind && it.person && effectiveSet(index, it, place, at) & READ).length;
    expect([id, readers]).toEqual([
      id,
      {
        public: (effectiveSet(index, subjectOf(index, { public: true }) as never, place, at) & READ) !== 0,
        guests: one("guests"),
        members: one("members"),
      },
    ]);
    expect(readersThere(index, place.number, at)).toEqual(readers);
  }
  expect(siteOf(index).place.kind).toBe("site");
  const { places: inQuays } = await listDestinations("maren", { in: "quays", page: "berthplan" });
  expect(inQuays.map(({ id }) => id)).not.toContain("berthplan");
  expect(inQuays.length).toBeGreaterThan(2);
  const [first] = inQuays;
  expect((await listDestinations("maren", { in: "quays", page: "berthplan", after: first?.id ?? "" })).places[0]?.id).toBe(inQuays[1]?.id);
  expect((await listDestinations("maren", { in: "quays", as: "bulletin" })).places).toEqual([]);
  expect(await status(listDestinations("maren", { in: "quays", after: "nowhere" }))).toBe(400);
  for (const it of ["patrols", "portsecurity", "nowhere"]) {
    expect(await status(listDestinations("maren", { in: it }))).toBe(404);
    expect(await status(listDestinations("maren", { page: it }))).toBe(404);
  }
});
