/** Services on a real PostgreSQL, second half: scheduling, helpers on drafts, many at once, and trouble half-way. */

import { eq, sql } from "drizzle-orm";
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../test/database.ts";
import { publication } from "../../test/publication.ts";
import { status } from "../../test/status.ts";
import { BEFORE_ALL, type Edit, instantAt, type Seq } from "../core/access/model/index.ts";
import { bodyText } from "../core/content/index.ts";
import { loadDemo } from "../demo/load.ts";
import { bodyOfMarkdown } from "./content/markdown.ts";
import { database, inChange, inSnapshot } from "./db/client.ts";
import { loadDocument } from "./db/document.ts";
import { ledger, ledgerWords, pages, viewCounts } from "./db/schema/index.ts";
import { applyChange, makeChange } from "./services/change/apply.ts";
import { previewChange } from "./services/change/preview.ts";
import { readProposal } from "./services/change/proposals.ts";
import { previewTakeBack, takeBack } from "./services/change/takeBack.ts";
import { readGrid } from "./services/grid/grid.ts";
import { applyDocument, planDocument } from "./services/house/exchange.ts";
import { checkLedger, readLedger } from "./services/ledger/ledgerView.ts";
import { lookAtPublication } from "./services/publication/sheet.ts";
import { countView, readReaderPage } from "./services/reading/reading.ts";
import { findPlaces, searchPages } from "./services/search/search.ts";
import { readSlip } from "./services/slip/slip.ts";
import { readWho } from "./services/slip/who.ts";
import { readWhy } from "./services/slip/why.ts";
import { keepBuffer } from "./services/writing/buffers.ts";
import { publishPage } from "./services/writing/publishing.ts";
import { runSchedules, schedulePage, unschedulePage } from "./services/writing/scheduling.ts";
import { readWorking, saveVersion, startPage } from "./services/writing/writing.ts";

const start = instantAt(Date.now());
const DAY = 86_400_000;

onDatabase("schema");
beforeAll(async () => {
  await loadDemo(start);
});

const entries = async () => (await database().select({ n: sql<number>`count(*)::int` }).from(ledger))[0]?.n ?? 0;
const reads = (me: string | null, id: string, space = "quay-operations") =>
  readReaderPage({ me, viewpoint: null }, space, id).then(
    (page) => page.html !== null,
    () => false,
  );
const stateOf = async (id: string) => (await inSnapshot((tx) => loadDocument(tx))).places.find((place) => place.id === id)?.state;

const goingLive = (at: number, version = "0.1") => ({
  what: "live" as const,
  at: new Date(at).toISOString(),
  zone: "Europe/Berlin",
  note: "",
  version,
  keepHelpers: false,
});

describe("a scheduled page", () => {
  it("goes live when its instant has come, as who scheduled it, and once only", async () => {
    expect(await stateOf("bl6")).toBe("scheduled");
    expect(await runSchedules(instantAt(start + 11 * DAY))).toEqual([]);
    expect(
      await Promise.all([runSchedules(instantAt(start + 13 * DAY)), runSchedules(instantAt(start + 13 * DAY))]).then((both) => both.flat()),
    ).toEqual(["bl6"]);
    expect(await stateOf("bl6")).toBe("live");
    expect(await reads(null, "bl6", "harbour-notices")).toBe(true);
    const [line] = (await readLedger("lena", { place: "bl6" })).lines;
    expect([line?.act, line?.who]).toEqual(["Published", "Lena Okafor"]);
  });

  it("stays scheduled and says why where its scheduler no longer may; a draft is not scheduled for the past", async () => {
    const { id } = await startPage("jonas", { parent: "quays", as: "page", title: "Ice watch" });
    expect(await status(schedulePage("jonas", id, goingLive(start - DAY)))).toBe(400);
    expect(await status(schedulePage("aisha", id, goingLive(start + DAY)))).toBe(403);
    await schedulePage("jonas", id, goingLive(start + DAY));
    const grant = (await inSnapshot((tx) => loadDocument(tx))).places
      .find((place) => place.id === "quays")
      ?.grants.find(({ to }) => "person" in to && to.person === "jonas");
    const edits: Edit[] = [{ kind: "grant", place: "quays", ...(grant ? { remove: grant } : {}) }];
    await applyChange("maren", { edits, note: "", seen: (await previewChange("maren", edits, [])).seen });
    expect(await runSchedules(instantAt(start + 2 * DAY))).toEqual([]);
    expect(await stateOf(id)).toBe("scheduled");
    expect((await readSlip("maren", id)).life.due?.problem).toContain("Publisher");
  });
});

describe("no other door", () => {
  it("makes a page scheduled without saying when: not the tray, not taking back, not a document brought in", async () => {
    const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Tug rota" });
    const schedules: Edit[] = [{ kind: "state", place: id, from: { state: "draft" }, to: { state: "scheduled" } }];
    expect(await status(previewChange("maren", schedules, []))).toBe(400);
    expect(await status(applyChange("maren", { edits: schedules, note: "", seen: "" }))).toBe(400);
    const document = await inSnapshot((tx) => loadDocument(tx));
    const edited = { ...document, places: document.places.map((it) => (it.id === id ? { ...it, state: "scheduled" } : it)) };
    expect((await planDocument("ines", edited)).errors).toMatchObject([
      { message: expect.stringContaining("by saying when it goes live") },
    ]);
    expect(await status(applyDocument("ines", { document: edited, note: "", seen: "" }))).toBe(400);

    const last = async () => (await readLedger("maren", { place: id })).lines[0];
    await schedulePage("maren", id, goingLive(start + DAY));
    await unschedulePage("maren", id, "live");
    const ended = await last();
    expect(ended?.canTakeBack).toBe(false);
    expect(await status(previewTakeBack("maren", ended?.seq ?? BEFORE_ALL))).toBe(400);
    expect(await status(takeBack("maren", ended?.seq ?? BEFORE_ALL, { note: "", seen: "" }))).toBe(400);

    // Binned while it was scheduled: it comes back as a draft.
    await schedulePage("maren", id, goingLive(start + DAY));
    const bins: Edit[] = [{ kind: "state", place: id, from: { state: "scheduled" }, to: { state: "binned", was: "scheduled" } }];
    await applyChange("maren", { edits: bins, note: "", seen: (await previewChange("maren", bins, [])).seen });
    const binned = (await last())?.seq ?? BEFORE_ALL;
    await takeBack("maren", binned, { note: "", seen: (await previewTakeBack("maren", binned)).seen });
    expect(await stateOf(id)).toBe("draft");
    expect(await runSchedules(instantAt(start + 2 * DAY))).not.toContain(id);
  });
});

describe("going live by a bare change of state", () => {
  it("shows readers the live version there was, by no door the words and the title written since, and nothing that never was live", async () => {
    const { id } = await startPage("lena", { parent: "notices", as: "page", title: "Buoys", body: bodyOfMarkdown("Redwords for all.") });
    const move = (from: "draft" | "live", to: "draft" | "live"): Edit[] => [
      { kind: "state", place: id, from: { state: from }, to: { state: to } },
    ];
    expect(await status(previewChange("lena", move("draft", "live"), []))).toBe(400);
    expect(await status(applyChange("lena", { edits: move("draft", "live"), note: "", seen: "" }))).toBe(400);
    await publishPage("lena", id, { version: "0.1", note: "" });
    const apply = async (edits: Edit[]) => applyChange("lena", { edits, note: "", seen: (await previewChange("lena", edits, [])).seen });
    const down = await apply(move("live", "draft"));
    await saveVersion("lena", id, { title: "Secrettitle", body: bodyOfMarkdown("Secretwords not yet."), base: "1.0", note: "" });
    const shown = async () => [
      (await searchPages(null, "secretwords")).total + (await searchPages(null, "secrettitle")).total,
      (await searchPages(null, "redwords")).total,
      (await readReaderPage({ me: null, viewpoint: null }, "harbour-notices", id)).title,
    ];
    const edited = JSON.parse(JSON.stringify(await inSnapshot((tx) => loadDocument(tx))));
    edited.places.find((it: { id: string }) => it.id === id).state = "live";
    const doors = [
      () => apply(move("draft", "live")),
      async () => takeBack("lena", down.seq, { note: "", seen: (await previewTakeBack("lena", down.seq)).seen }),
      async () =>
        applyDocument("ines", {
          document: edited,
          note: "",
          reason: "Tried.",
          seen: (await planDocument("ines", edited)).preview?.seen ?? "",
        }),
    ];
    for (const door of doors) {
      await door();
      expect(await shown()).toEqual([0, 1, "Buoys"]);
      await apply(move("live", "draft"));
      const { version } = await readWorking("lena", id);
      await saveVersion("lena", id, { title: "Secrettitle", body: bodyOfMarkdown("Secretwords not yet."), base: version, note: "" });
    }
  });
});

describe("a draft", () => {
  it("opens to a helper its owner lets in, as far as said, and to nobody else; other grants wait until it is live", async () => {
    const { id } = await startPage("teun", { parent: "pilotage", as: "page", title: "Fog drill" });
    const place = id;
    const lets = (put: object): Edit => ({ kind: "grant", place, put: put as never });
    const apply = async (maker: string, edits: Edit[]) =>
      applyChange(maker, { edits, note: "", seen: (await previewChange(maker, edits, [])).seen });
    expect(await reads("mei", id, "pilotage-tides")).toBe(false);
    await apply("teun", [lets({ to: { person: "mei" }, abilities: ["read"], draft: true })]);
    expect(await reads("mei", id, "pilotage-tides")).toBe(true);
    expect(await status(readWorking("mei", id))).toBe(403);
    await apply("anouk", [lets({ to: { person: "dora" }, abilities: ["read"] })]);
    expect(await reads("dora", id, "pilotage-tides")).toBe(false);
    await publishPage("teun", id, { version: "0.1", note: "" });
    expect([await reads("dora", id, "pilotage-tides"), await reads("bert", id, "pilotage-tides")]).toEqual([true, false]);
  });

  it("keeps one writer's unsaved words apart from another's, and out of what readers see", async () => {
    const kept = (body: string, tab: string, rev: number, spent: { tab: string; rev: number }[] = []) =>
      keepBuffer("maren", "cranes", { title: "Mine", body: bodyOfMarkdown(body), base: "1.0", tab, rev, spent });
    const texts = async () => (await readWorking("maren", "cranes")).buffers.map((it) => `${it.tab} ${bodyText(it.body)}`).sort();
    await kept("Half a sentence", "a", 2);
    await kept("Another", "b", 1);
    expect((await readWorking("katya", "cranes")).buffers).toEqual([]);
    // What comes late, after newer words of the same tab, changes nothing; what was taken up elsewhere goes, up to that change.
    await kept("Hal", "a", 1);
    expect(await texts()).toEqual(["a Half a sentence", "b Another"]);
    await kept("Another, and more", "b", 2, [{ tab: "a", rev: 1 }]);
    expect(await texts()).toEqual(["a Half a sentence", "b Another, and more"]);
    await kept("Half a sentence and more", "b", 3, [{ tab: "a", rev: 2 }]);
    expect(await texts()).toEqual(["b Half a sentence and more"]);
    expect((await readReaderPage({ me: "maren", viewpoint: null }, "quay-operations", "cranes")).html).not.toContain("Half a sentence");
  });
});

describe("many at once", () => {
  it("make one sound chain without gaps, and no change is lost", async () => {
    const before = await entries();
    const places = ["tugs", "boarding", "entrance", "ukc", "pilotroster", "groundinglog"];
    await Promise.all(
      places.map(async (place) => {
        const edits: Edit[] = [{ kind: "grant", place, put: { to: { group: "traffic" }, abilities: ["read", "discuss"] } }];
        // The others' changes do not touch this one's ripple: nobody has to look again.
        await applyChange("anouk", { edits, note: place, seen: (await previewChange("anouk", edits, [])).seen });
      }),
    );
    expect(await entries()).toBe(before + places.length);
    const document = await inSnapshot((tx) => loadDocument(tx));
    for (const id of places)
      expect(document.places.find((place) => place.id === id)?.grants).toContainEqual({
        to: { group: "traffic" },
        abilities: ["read", "discuss"],
      });
    expect(await checkLedger("ines")).toMatchObject({ sound: true, entries: before + places.length });
  });

  it("leave nothing behind of a change that fails half-way", async () => {
    const edits: Edit[] = [{ kind: "stance", place: "tugs", from: "follow", to: "fresh" }];
    const before = [await entries(), JSON.stringify(await inSnapshot((tx) => loadDocument(tx)))];
    const broken = inChange(async (tx) => {
      await makeChange(tx, { maker: "anouk", edits, act: "rules", note: "" });
      throw new Error("half-way");
    });
    await expect(broken).rejects.toThrow("half-way");
    expect([await entries(), JSON.stringify(await inSnapshot((tx) => loadDocument(tx)))]).toEqual(before);
  });

  it("are noticed by the hash chain wherever somebody rewrites the past: entries, words, links, and what is gone", async () => {
    await database()
      .update(ledgerWords)
      .set({ text: "It was not me." })
      .where(eq(ledgerWords.seq, 12 as Seq));
    await database()
      .update(ledger)
      .set({ maker: "mei" })
      .where(eq(ledger.seq, 20 as Seq));
    await database()
      .update(ledger)
      .set({ previousHash: "0" })
      .where(eq(ledger.seq, 30 as Seq));
    await database()
      .delete(ledger)
      .where(eq(ledger.seq, 40 as Seq));
    expect(await checkLedger("ines")).toMatchObject({
      sound: false,
      breaks: [
        { seq: 12, what: "words" },
        { seq: 20, what: "content" },
        { seq: 30, what: "link" },
        { seq: 30, what: "content" },
        { seq: 40, what: "missing" },
      ],
    });
  });
});

describe("what is told", () => {
  it("a why names every obstacle and source, to those who may ask", async () => {
    const why = await readWhy("ruth", { place: "inquiry12", viewpoint: "person:mei", ability: "read" });
    expect([why.abilities.some((it) => it.has), why.answer]).toEqual([false, expect.stringContaining("Mei Lin cannot read “Inquiry 12")]);
    expect(
      (await readWhy("maren", { place: "berthdisputes", viewpoint: "members", ability: "read" })).steps.map((step) => step.text).join(" "),
    ).toContain("read fence");
    expect((await readWhy("mei", { place: "handbookhome", viewpoint: "person:mei", ability: "read" })).answer).toContain(
      "all members are Reader",
    );
    expect(await status(readWhy("mei", { place: "handbookhome", viewpoint: "person:greta" }))).toBe(403);
  });

  it("a slip names the outside first, and tells those without rights about nobody else", async () => {
    const slip = await readSlip("maren", "berthrequests");
    expect((await readWho("maren", "berthrequests", {})).lines[0]).toMatchObject({
      kind: "guest",
      through: expect.stringContaining("Shipping Agents"),
    });
    expect(slip.rules.above.map((rule) => rule.text)).toContain("all members are Commenter");
    const other = await readSlip("mei", "berthrequests");
    expect(await status(readWho("mei", "berthrequests", {}))).toBe(403);
    expect([other.knowsOthers, other.rules.grants, other.life.lastChange]).toEqual([false, [], null]);
  });

  it("a proposal says why nothing achieves a wish, and what else the best one does", async () => {
    const guest = await readProposal("elif", ["landings"], [{ principal: { person: "linnea" }, level: 4 }], []);
    expect([guest.best, guest.reason]).toEqual([null, expect.stringContaining("ceiling for guests")]);
    const shut = await readProposal("maren", ["dangerous"], [{ principal: { person: "yusuf" }, level: 0 }], []);
    expect(shut.best?.sentences.join()).toContain("grant taken away: Yusuf Karaca");
    expect((await readProposal("maren", ["dangerous"], [{ principal: { person: "maren" }, level: 1 }], [])).exceptions).toEqual([
      "Maren Lüders",
    ]);
  });

  it("a publish sheet counts readers and names links they cannot follow; a search finds only what one may see", async () => {
    const sheet = await lookAtPublication("lena", "bl4", publication((await readWorking("lena", "bl4")).version));
    expect([sheet.readers.public, sheet.deadLinks]).toEqual([
      true,
      [expect.objectContaining({ title: expect.any(String), outside: true })],
    ]);
    expect((await findPlaces("mei", "patrol")).map((page) => page.id)).toEqual(["crowdwatch"]);
    expect((await findPlaces("viktor", "patrol")).map((page) => page.id).sort()).toEqual(["crowdwatch", "patrols"]);
    expect(await findPlaces("dora", "inquiry")).toEqual([]);
    // In one space: only what stands in it; in one that is not there, or may not be seen, nothing.
    const quays = await findPlaces("ines", "", "quays");
    expect([...new Set(quays.map(({ space }) => space))]).toEqual(["Quay Operations"]);
    expect((await findPlaces("ines", "berth", "quays")).map(({ title }) => title)).toContain("Berth plan");
    for (const nowhere of ["nowhere", "cranes"]) expect(await findPlaces("ines", "berth", nowhere)).toEqual([]);
    expect(await findPlaces("mei", "", "portsecurity")).toEqual([]);
  });

  it("a grid shows each viewpoint what it has, by the numbers, and views are counted by kind of reader", async () => {
    const grid = await readGrid("ines", { columns: ["public", "guests", "members", "group:operations", "person:dora"] });
    expect(grid.columns.map((column) => column.people)).toEqual([1, 18, 59, 24, 1]);
    const row = grid.rows.find((it) => it.id === "crowdwatch");
    expect([row?.outside, row?.cells?.[0]?.level]).toEqual(["public", 1]);
    expect(grid.rows.find((it) => it.id === "welcome")?.cells?.[2]).toMatchObject({ level: 2, more: 4 });
    const count = () =>
      database()
        .select({ views: viewCounts.views })
        .from(viewCounts)
        .where(sql`place_id = 'nightkeys' and reader = 'guest' and day = ${new Date().toISOString().slice(0, 10)}`);
    await countView("nightkeys", "guest");
    await countView("nightkeys", "guest");
    expect((await count())[0]?.views).toBe(2);
    expect((await database().select().from(pages).where(eq(pages.placeId, "nightkeys"))).length).toBe(1);
  });
});
