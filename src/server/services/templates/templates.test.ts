/** Templates: made from pages, written like pages, begun from; by whom, and what of them is nobody else's to know. */
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { MOST_TEMPLATE_PAGES } from "../../../contracts/templates.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { bodyText } from "../../../core/content/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { buffers, templatePages } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { lookAtSpace, startSpace } from "../spaces/startSpace.ts";
import { keepBuffer } from "../writing/buffers.ts";
import { publishPage } from "../writing/publishing.ts";
import { readWorking, startPage } from "../writing/writing.ts";
import { changeTemplate, listTemplates, makeTemplate } from "./templates.ts";
import { startOrdered } from "./using.ts";
import { addTemplatePage, readTemplatePage, removeTemplatePage, saveTemplatePage, shiftTemplatePage, writesTemplate } from "./writing.ts";

let keeper = "";
const id = { site: "", tides: "", other: "", tables: "", spring: "", hidden: "" };
const document = () => inSnapshot((tx) => loadDocument(tx));
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));
const body = (text: string) => ({ schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
const made = { name: "Minutes", about: "", below: false };
const pagesOf = async (place: string, template: string) =>
  (await listTemplates(keeper, { in: place })).templates.find((it) => it.id === template)?.pages ?? [];

async function live(parent: string, title: string, text: string): Promise<string> {
  const page = await startPage(keeper, { parent, as: "page", title, body: body(text) });
  await publishPage(keeper, page.id, { version: "0.1", note: "" });
  return page.id;
}

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await document()).people[0]?.id ?? "";
  await change(
    { kind: "person", person: "ben", put: { id: "ben", name: "Ben ‹space›", kind: "member", status: "active" } },
    { kind: "person", person: "cleo", put: { id: "cleo", name: "Cleo", kind: "member", status: "active" } },
  );
  const order = { purpose: "", keepers: [{ person: keeper }], publishers: [], writers: [] };
  id.site = (await document()).places.find(({ kind }) => kind === "site")?.id ?? "";
  id.tides = (await startSpace(keeper, { ...order, preset: "commonRoom", title: "Tides" })).id;
  id.other = (await startSpace(keeper, { ...order, preset: "closedRoom", title: "Other" })).id;
  id.tables = await live(id.tides, "Tables of ‹date›", "For ‹space›, by ‹who›.");
  id.spring = await live(id.tables, "Spring tides", "Twice a month.");
  id.hidden = await live(id.tables, "Kept close", "Nobody knows.");
  // Cleo keeps Tides, and reads all of it but one page.
  await change(
    { kind: "grant", place: id.tides, put: { to: { person: "cleo" }, abilities: ["read", "admit", "arrange", "retire", "govern"] } },
    { kind: "stance", place: id.hidden, from: "follow", to: "fresh" },
  );
});

describe("a template", () => {
  it("is made by whoever keeps the place, of what they read; what they cannot read does not come along", async () => {
    expect(await status(makeTemplate("ben", { ...made, in: id.tides }))).toBe(403);
    expect(await status(makeTemplate("cleo", { ...made, in: id.site }))).toBe(404);
    expect(await status(makeTemplate("cleo", { ...made, in: id.other }))).toBe(404);
    expect(await status(makeTemplate("cleo", { ...made, in: id.tides, from: "no-such-page" }))).toBe(404);
    // She oversees the page, and that is not reading it.
    expect(await status(makeTemplate("cleo", { ...made, in: id.tides, from: id.hidden }))).toBe(403);
    const { id: template } = await makeTemplate("cleo", { ...made, in: id.tides, from: id.tables, below: true });
    expect((await pagesOf(id.tides, template)).map(({ title, depth }) => `${depth} ${title}`)).toEqual([
      "0 Tables of ‹date›",
      "1 Spring tides",
    ]);
    // Of another space nobody begins with it; there it is as though it were not there.
    for (const it of [template, "no-such-template"])
      expect(await status(startOrdered(keeper, { parent: id.other, as: "page", template: it }))).toBe(404);
  });

  it("is begun from as drafts, filled in once; a name that looks like a blank is a name", async () => {
    const [row] = (await listTemplates("ben", { in: id.tides })).templates;
    expect(row?.blanks).toEqual(["date", "who", "space"]);
    const begun = await startOrdered("ben", { parent: id.tides, as: "page", template: row?.id ?? "", zone: "Pacific/Kiritimati" });
    const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "Pacific/Kiritimati" });
    const first = await readWorking("ben", begun.id);
    expect(first.title).toBe(`Tables of ${day.format(Date.now())}`);
    expect(bodyText(first.body)).toContain("For Tides, by Ben ‹space›.");
    const below = (await document()).places.filter(({ parent }) => parent === begun.id);
    expect(below.map(({ state, owner, grants }) => [state, owner, grants])).toEqual([["draft", "ben", []]]);
    const named = await startOrdered("ben", { parent: id.tides, as: "page", template: row?.id ?? "", title: "My own" });
    expect((await readWorking("ben", named.id)).title).toBe("My own");
    expect(await status(startOrdered("ben", { parent: id.tides, as: "bulletin", template: row?.id ?? "" }))).toBe(400);
    expect(await status(startOrdered("ben", { parent: id.tides, as: "page" }))).toBe(400);
    // Whoever cannot begin a page finds nothing to begin with.
    expect(await status(startOrdered("ben", { parent: id.hidden, as: "page", template: row?.id ?? "" }))).toBe(404);
    await change({ kind: "grant", place: id.hidden, put: { to: { person: "ben" }, abilities: ["read"] } });
    expect((await listTemplates("ben", { in: id.hidden })).templates).toEqual([]);
    expect(await status(startOrdered("ben", { parent: id.hidden, as: "page", template: row?.id ?? "" }))).toBe(403);
  });

  it("is written like a page: never over somebody's newer words, words kept meanwhile, and by nobody else", async () => {
    const { id: template } = await makeTemplate(keeper, { ...made, in: id.tides, name: "Blank" });
    const [first] = await pagesOf(id.tides, template);
    const page = first?.id ?? "";
    const save = (who: string, base: string) => saveTemplatePage(who, page, { title: "T", body: body(who), base, note: "" });
    expect(await save("cleo", "1.1")).toEqual({ version: "1.2" });
    expect(await status(save(keeper, "1.1"))).toBe(409);
    const words = { title: "T", body: body("typed"), base: "1.2", tab: "t", rev: 1, spent: [] };
    await keepBuffer("cleo", page, words, writesTemplate);
    expect((await readTemplatePage("cleo", page)).buffers).toHaveLength(1);
    expect((await readTemplatePage(keeper, page)).buffers).toEqual([]);
    for (const it of [page, "no-such-page"]) {
      expect(await status(readTemplatePage("ben", it))).toBe(404);
      expect(await status(keepBuffer("ben", it, words, writesTemplate))).toBe(404);
      expect(await status(removeTemplatePage("ben", it))).toBe(404);
    }
    // Pages are no pages of a template, and the other way round.
    expect(await status(keepBuffer(keeper, id.tables, words, writesTemplate))).toBe(404);
    expect(await status(keepBuffer(keeper, page, words))).toBe(404);
    const added = await addTemplatePage(keeper, template, { under: page, title: "Second" });
    await addTemplatePage(keeper, template, { under: page, title: "Third" });
    await addTemplatePage(keeper, template, { under: added.id, title: "Below" });
    await shiftTemplatePage(keeper, added.id, { to: "later" });
    expect((await pagesOf(id.tides, template)).map(({ title }) => title)).toEqual(["T", "Third", "Second", "Below"]);
    expect(await status(shiftTemplatePage(keeper, added.id, { to: "later" }))).toBe(400);
    await removeTemplatePage(keeper, added.id);
    expect((await pagesOf(id.tides, template)).map(({ title }) => title)).toEqual(["T", "Third"]);
    expect(await status(removeTemplatePage(keeper, page))).toBe(400);
    for (let i = 2; i < MOST_TEMPLATE_PAGES; i++) await addTemplatePage(keeper, template, { under: page, title: `${i}` });
    expect(await status(addTemplatePage(keeper, template, { under: page, title: "One too many" }))).toBe(400);
  });

  it("is taken away and put back; what was begun from it stays, and it goes with its space", async () => {
    const [row] = (await listTemplates(keeper, { in: id.tides })).templates;
    const of = { name: row?.name ?? "", about: row?.about ?? "" };
    expect(await status(changeTemplate("ben", row?.id ?? "", { ...of, gone: true }))).toBe(404);
    await changeTemplate("cleo", row?.id ?? "", { ...of, gone: true });
    expect(await status(startOrdered(keeper, { parent: id.tides, as: "page", template: row?.id ?? "" }))).toBe(404);
    expect(await status(listTemplates("ben", { in: id.tides, gone: "yes" }))).toBe(404);
    expect((await listTemplates("cleo", { in: id.tides, gone: "yes" })).templates.map((it) => it.id)).toEqual([row?.id]);
    await changeTemplate("cleo", row?.id ?? "", { ...of, gone: false });
    expect((await listTemplates("ben", { in: id.tides })).templates.map((it) => it.id)).toContain(row?.id);
  });

  it("gives a new space its first pages: the first is live and landed on, the others are drafts; all in one change", async () => {
    const { id: template } = await makeTemplate(keeper, { ...made, in: id.site, name: "Rooms", from: id.tables, below: true });
    const order = { preset: "commonRoom" as const, keepers: [{ person: keeper }], publishers: [], writers: [], template, title: "Ice" };
    const look = await lookAtSpace(keeper, order);
    expect(look.pages).toHaveLength(2);
    const { space, pages } = look;
    const wished = { ...order, purpose: "", note: "", space, pages, seen: look.preview.seen };
    await startSpace(keeper, wished);
    const inSpace = (await document()).places.filter(({ id: it }) => pages.includes(it));
    expect(inSpace.map(({ state }) => state).sort()).toEqual(["draft", "live"]);
    expect((await readWorking(keeper, pages[0] ?? "")).body.content[0]).toMatchObject({ content: [{ text: "For Ice, by Ada." }] });
    // A template of a space is none of the site's.
    const [ofSpace] = (await listTemplates(keeper, { in: id.tides })).templates.filter((it) => it.space !== null);
    expect(await status(lookAtSpace(keeper, { ...order, template: ofSpace?.id ?? "" }))).toBe(404);
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  });

  it("leaves nothing when its space is erased", async () => {
    await change({ kind: "house", from: { binDays: 90 }, to: { binDays: 0 } });
    await change({ kind: "state", place: id.tides, from: { state: "live" }, to: { state: "binned" } });
    await inChange((tx) =>
      makeChange(tx, { maker: keeper, edits: [], acts: [{ act: "erase", places: [id.tides], pages: 8 }], act: "erase", note: "" }),
    );
    const left = await database().select({ title: templatePages.title }).from(templatePages);
    expect(left.map(({ title }) => title).sort()).toEqual(["Spring tides", "Tables of ‹date›"]);
    expect(await database().select().from(buffers)).toEqual([]);
  });
});
