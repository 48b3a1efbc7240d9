/** Acts on a real database: what they say beforehand is what comes of them, they are taken back field by field, and nothing is said of what is hidden. */
import { sql } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { parseAccessDocument } from "../../../core/access/exchange/index.ts";
import { type Edit, instantAt, type Seq, type SpaceSettings } from "../../../core/access/model/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { countLinksIn, deriveListing } from "../../db/deriving.ts";
import { loadDocument } from "../../db/document.ts";
import { runJob, unfinished } from "../../jobs/running.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { applyChange, makeChange } from "../change/apply.ts";
import { previewChange } from "../change/preview.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { goOnWithJob, listJobs, lookAtMany, orderJob, readJob, takeBackJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { countPages, readPages } from "../pages/pages.ts";
import { readReaderPage } from "../reading/reading.ts";
import { readSlip } from "../slip/slip.ts";
import { runSchedules, schedulePage, unschedulePage } from "../writing/scheduling.ts";
import { readWorking, saveVersion, startPage } from "../writing/writing.ts";
import { copyPage } from "./copying.ts";
import { lookAtAct } from "./sheet.ts";

onDatabase("demo");

const document = () => inSnapshot((tx) => loadDocument(tx));
const places = async () => new Map((await document()).places.map((place) => [place.id, place]));

/** Everything about pages that somebody could miss: what the document holds, slots, landing pages, versions, what lists hold. */
async function everything() {
  const all = async (query: string) => [...(await database().execute(sql.raw(query)))];
  return {
    document: await document(),
    slots: await all("select place_id, slot from slots where to_seq is null order by 1"),
    spaces: await all("select place_id, landing_id, readiness, arranged from spaces order by 1"),
    versions: await all("select place_id, major, minor, title from versions order by 1, 2, 3"),
    listing: await all(
      "select place_id, class_id, space_id, state, title, body, owner_id, tags, readiness, links_in, versions from listing order by 1",
    ),
  };
}

async function does(maker: string, act: LifeAct, note = ""): Promise<Seq> {
  const { seen } = await lookAtAct(maker, act);
  // A pledge that the demo breaks already is broken anew by coming back.
  const reason = maker === "ines" ? { reason: "a test" } : {};
  return (await applyChange(maker, { edits: [], acts: [act], note, seen, ...reason })).seq;
}

async function takesBack(maker: string, seq: Seq, reason?: string): Promise<Seq> {
  const { seen } = await previewTakeBack(maker, seq);
  return (await takeBack(maker, seq, { note: "", seen, ...(reason ? { reason } : {}) })).seq;
}

it("a page with pages below and links from other spaces: the sheet names what breaks, binned it breaks just that, restored all is as before", async () => {
  const before = await everything();
  const sheet = await lookAtAct("maren", { act: "bin", places: ["berthplan"] });
  expect(sheet.choices).toMatchObject([{ choose: "below", pages: { count: 3, hidden: 0 } }]);
  expect(sheet.ripple.summary[0]?.class).toBe("guests");
  const links = sheet.breaks.find(({ line }) => line === "links");
  expect(links?.items.map(({ id }) => id)).toContain("closures");
  expect(links?.items.find(({ id }) => id === "closures")?.note).toContain("Harbour Notices");
  expect(await status(applyChange("maren", { edits: [], acts: [{ act: "bin", places: ["berthplan"] }], note: "", seen: sheet.seen }))).toBe(
    400,
  );
  for (const below of ["along", "handUp"] as const) {
    await does("maren", { act: "bin", places: ["berthplan"], below });
    const binned = await places();
    expect(binned.get("berthplan")).toMatchObject({ state: "binned", was: "live" });
    const inner = binned.get("berthdisputes");
    expect(inner).toMatchObject(below === "along" ? { state: "binned", parent: "berthplan" } : { state: "live", parent: "quays" });
    const back = await lookAtAct("maren", { act: "restore", places: ["berthplan"] });
    expect(back.mayBringBack).toBe(below === "along" ? 0 : 3);
    expect(back.newReaders).toMatchObject({ names: [] });
    const dora: Edit = { kind: "grant", place: "berthplan", put: { to: { person: "dora" }, abilities: ["read"] } };
    const { seq: entry } = await applyChange("maren", { edits: [dora], note: "", seen: (await previewChange("maren", [dora])).seen });
    expect((await lookAtAct("maren", { act: "restore", places: ["berthplan"] })).newReaders).toMatchObject({
      sentence: "One reads it then who could not when it left, 1 of them from outside.",
      names: [expect.stringContaining("Dóra")],
    });
    await takesBack("maren", entry);
    await does("maren", { act: "restore", places: ["berthplan"], back: true });
    expect(await everything()).toEqual(before);
  }
});

it("handed up, pages stand directly after the page they were under; taken back from the ledger they stand where they stood", async () => {
  const before = await everything();
  const seq = await does("maren", { act: "archive", places: ["berthplan"], below: "handUp" });
  const order = await database().execute<{ id: string }>(
    sql`select s.place_id as id from slots s join places p on p.id = s.place_id and p.to_seq is null where s.to_seq is null and p.parent_id = 'quays' order by s.slot`,
  );
  const ids = order.map(({ id }) => id);
  const at = ids.indexOf("berthplan");
  expect(
    ids
      .slice(at, at + 4)
      .slice(1)
      .sort(),
  ).toEqual(["berth5works", "berthdisputes", "berthrequests"]);
  const [line] = (await readLedger("maren", { act: "archive" })).lines;
  expect(line).toMatchObject({ seq, canTakeBack: true });
  await takesBack("maren", seq);
  expect(await everything()).toEqual(before);
});

it("a landing page goes only with another chosen, by who keeps the space; readers land on that one at once", async () => {
  const before = await everything();
  expect(await status(does("jonas", { act: "archive", places: ["quayhome"], landings: [{ space: "quays", page: "cranes" }] }))).toBe(403);
  expect(await told(applyChange("maren", { edits: [], acts: [{ act: "archive", places: ["quayhome"] }], note: "", seen: "x" }))).toContain(
    "landing page",
  );
  // A bare edit through the tray goes by the same choice.
  const bare: Edit = { kind: "state", place: "quayhome", from: { state: "live" }, to: { state: "archived", was: "live" } };
  expect(await told(applyChange("maren", { edits: [bare], note: "", seen: "x" }))).toContain("landing page");
  const seq = await does("maren", { act: "archive", places: ["quayhome"], landings: [{ space: "quays", page: "cranes" }] });
  const slug = (await database().execute<{ slug: string }>(sql`select slug from spaces where place_id = 'quays'`))[0]?.slug ?? "";
  expect((await readReaderPage({ me: "maren", viewpoint: null }, slug, null)).id).toBe("cranes");
  await takesBack("maren", seq);
  expect(await everything()).toEqual(before);
});

it("a page below that one may not know of goes along, is counted and never named, and comes back with taking back", async () => {
  const parent = (await startPage("jonas", { parent: "quays", as: "page", title: "Shift lists" })).id;
  const inner = (await startPage("maren", { parent, as: "page", title: "Heronwords of the keeper" })).id;
  const sheet = await lookAtAct("jonas", { act: "bin", places: [parent] });
  expect(sheet.choices).toMatchObject([{ choose: "below", pages: { count: 1 } }]);
  const seesIt = JSON.stringify(sheet).includes("Heronwords");
  const fenced: Edit[] = [{ kind: "stance", place: inner, from: "follow", to: "fresh" }];
  await applyChange("ines", { edits: fenced, note: "", reason: "a test", seen: (await previewChange("ines", fenced)).seen });
  const hidden = await lookAtAct("jonas", { act: "bin", places: [parent] });
  expect(hidden.choices).toMatchObject([{ choose: "below", pages: { count: 1, hidden: 1, items: [] } }]);
  expect(JSON.stringify(hidden)).not.toContain("Heronwords");
  expect(JSON.stringify(hidden)).not.toContain(inner);
  expect(seesIt).toBe(true);
  const before = await everything();
  const seq = await does("jonas", { act: "bin", places: [parent], below: "along" });
  expect((await places()).get(inner)?.state).toBe("binned");
  expect(JSON.stringify(await readLedger("jonas", {}))).not.toContain(inner);
  await takesBack("jonas", seq);
  expect(await everything()).toEqual(before);
});

it("a whole space: archived, binned and restored by who keeps it, its pages as they were; erased by site keepers, after its time", async () => {
  const before = await everything();
  expect(await status(lookAtAct("jonas", { act: "archive", places: ["cruise2027"] }))).not.toBe(200);
  const archived = await does("ines", { act: "archive", places: ["cruise2027"] });
  await does("ines", { act: "bin", places: ["cruise2027"] });
  expect((await places()).get("cruise2027")).toMatchObject({ state: "binned", binnedFrom: "archived" });
  const inBin = async (asker: string, filter = {}) => (await countPages(asker, { part: "bin", ...filter })).spaces;
  expect(await inBin("ines")).toMatchObject([{ id: "cruise2027", left: { by: "Ines Carvalho" }, acts: ["restore", "erase"] }]);
  // To whoever cannot know of it, and where something else is asked for, it is not there.
  for (const [asker, filter] of [
    ["jonas", {}],
    ["mei", {}],
    // A publisher there, who may restore pages, and not the space.
    ["emeka", {}],
    ["ines", { space: "quay" }],
    ["ines", { words: "cruise" }],
  ] as const)
    expect([asker, await inBin(asker, filter)]).toEqual([asker, []]);
  expect(await told(does("ines", { act: "erase", places: ["cruise2027"], pages: 1 }))).toMatch(/the bin keeps it until|Erasing is final/);
  const passes = (await document()).passes.map(({ id }) => id);
  await does("ines", { act: "restore", places: ["cruise2027"], passes });
  await does("ines", { act: "unarchive", places: ["cruise2027"], passes });
  expect(await everything()).toEqual(before);
  expect(await status(takesBack("ines", archived))).toBe(409);
});

it("erasing: only after its time, by those who may, with the number typed; words and versions go, the chain verifies, the past still counts it", async () => {
  const erase = (pages: number): LifeAct => ({ act: "erase", places: ["faxes"], pages });
  expect(await status(lookAtAct("mei", erase(1)))).toBe(404);
  expect(await told(does("ines", { act: "erase", places: ["papercharts"], pages: 3 }))).toContain("the bin keeps it until");
  expect(await told(does("ines", erase(2)))).toContain("type how many go, 1");
  const { next = 0 } = { next: (await document()).places.length };
  const seq = await does("ines", erase(1));
  const after = await document();
  expect(after.places.length).toBe(next - 1);
  expect(parseAccessDocument(JSON.parse(JSON.stringify(after))).ok).toBe(true);
  for (const table of ["versions", "pages", "slots", "listing", "view_counts", "links"])
    expect([table, (await database().execute(sql`select 1 from ${sql.identifier(table)} where place_id = 'faxes'`)).length]).toEqual([
      table,
      0,
    ]);
  const titles = await database().execute<{ title: string }>(sql`select title from places where id = 'faxes'`);
  expect(titles.length).toBeGreaterThan(0);
  expect(titles.every(({ title }) => title === "")).toBe(true);
  const past = await inSnapshot((tx) => loadDocument(tx, (seq - 1) as Seq));
  expect(past.places.find(({ id }) => id === "faxes")).toMatchObject({ state: "binned", parent: "handbook" });
  expect(await inSnapshot((tx) => verifyLedger(tx))).toMatchObject({ breaks: [] });
  expect(await told(previewTakeBack("ines", seq))).toContain("cannot be taken back");
  // That something went is told to who keeps the site, without a word of what; to all others there never was anything.
  const line = await readLedger("ines", { act: "erase" });
  expect(JSON.stringify(line)).not.toContain("Sending a fax");
  expect(line.lines[0]).toMatchObject({ what: [{ place: null, title: "a page or space that was erased" }], canTakeBack: false });
  for (const who of ["maren", "wanda", "mei"]) expect([who, (await readLedger(who, { act: "erase" })).lines]).toEqual([who, []]);
});

it("what does not fit any more says what happened and by whom, a move into itself or into the bin is refused, and nothing is half-done", async () => {
  await does("maren", { act: "archive", places: ["timberyard"] });
  const before = await everything();
  expect(await told(applyChange("ines", { edits: [], acts: [{ act: "archive", places: ["timberyard"] }], note: "", seen: "x" }))).toMatch(
    /archive.*Maren/,
  );
  const refused: LifeAct[] = [
    { act: "move", places: ["berthplan"], to: "berthdisputes" },
    { act: "move", places: ["cranes", "berthplan"], to: "berthplan" },
    { act: "restore", places: ["cranes"] },
  ];
  for (const act of refused)
    expect([act.act, await status(applyChange("maren", { edits: [], acts: [act], note: "", seen: "x" }))]).toEqual([act.act, 409]);
  const [first, second] = await Promise.allSettled(["a", "b"].map(() => does("maren", { act: "unarchive", places: ["timberyard"] })));
  expect([first?.status, second?.status].sort()).toEqual(["fulfilled", "rejected"]);
  const cycle: LifeAct[] = [
    { act: "move", places: ["cranes"], to: "mooring" },
    { act: "move", places: ["mooring"], to: "cranes" },
  ];
  expect(await status(applyChange("maren", { edits: [], acts: cycle, note: "", seen: "x" }))).toBe(409);
  await does("maren", { act: "archive", places: ["timberyard"] });
  expect(await everything()).toEqual(before);
  await does("maren", { act: "unarchive", places: ["timberyard"] });
});

it("moved to another space, a page keeps its address: the old one leads on", async () => {
  // That space asks for approval: what readers would get there nobody approved for it, and how it arrives is to be chosen.
  expect(await told(does("maren", { act: "move", places: ["weighbridge"], to: "cruise2027" }).then(() => {}))).toContain(
    "whether it arrives as a draft or is given in",
  );
  const remove = (await readSlip("ines", "cruise2027")).life.space?.settings as SpaceSettings;
  const edits: Edit[] = [{ kind: "settings", place: "cruise2027", remove, put: { ...remove, approval: false } }];
  await inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "" }));
  const seq = await does("maren", { act: "move", places: ["weighbridge"], to: "cruise2027" });
  const page = await readReaderPage({ me: "maren", viewpoint: null }, "quay-operations", "weighbridge");
  expect(page.address).toMatch(/^\/read\/cruise[^/]*\/weighbridge-and-tickets-weighbridge$/);
  // Whoever may not move it any more where it is now does not take it back either.
  expect(await status(takesBack("maren", seq))).toBe(403);
});

/** Works through what waits, as a server would. */
async function work(): Promise<void> {
  for (const id of await unfinished()) await runJob(id, KINDS);
}

it("a job: from a filter, stopped half-way, gone on with, taken back as one; each batch an entry with its number", async () => {
  const made: string[] = [];
  for (let i = 0; i < 250; i++) made.push((await startPage("maren", { parent: "quays", as: "page", title: `Herring list ${i}` })).id);
  const before = await everything();
  const order = { act: "archive" as const, filter: { part: "drafts" as const, words: "herring LIST" } };
  const sheet = await lookAtMany("maren", order);
  expect(sheet.count).toBe(250);
  expect(await status(orderJob("maren", { order, count: 249, note: "", seen: sheet.seen }))).toBe(409);
  const { id } = await orderJob("maren", { order, count: 250, note: "Old lists", seen: sheet.seen });
  expect(await status(readJob("jonas", id))).toBe(404);
  const archive = KINDS.act;
  if (!archive || !("run" in archive)) throw new Error("no such kind");
  const halfway = {
    ...KINDS,
    act: {
      ...archive,
      run: async (...it: Parameters<typeof archive.run>) => {
        const results = await archive.run(...it);
        // As when somebody presses Stop while a batch is under way.
        await database().execute(sql`update jobs set stop_asked = 'maren' where id = ${id}`);
        return results;
      },
    },
  };
  await runJob(id, halfway);
  const stopped = await readJob("maren", id);
  expect(stopped).toMatchObject({ state: "stopped", total: 250, mayGoOn: true });
  expect(stopped.done).toBeGreaterThan(0);
  expect(stopped.done).toBeLessThan(250);
  await goOnWithJob("maren", id);
  await work();
  const done = await readJob("maren", id);
  expect(done).toMatchObject({ state: "done", done: 250, skipped: 0 });
  expect(done.entries.length).toBe(3);
  expect((await countPages("maren", { part: "archive", words: "herring" })).total).toBe(250);
  const back = await takeBackJob("maren", id, { note: "" });
  await work();
  expect(await readJob("maren", back.id)).toMatchObject({ state: "done", done: 3 });
  expect(await everything()).toEqual(before);
  expect((await listJobs("maren", {})).jobs.length).toBe(2);
  expect(await inSnapshot((tx) => verifyLedger(tx))).toMatchObject({ breaks: [] });
  expect(made.length).toBe(250);
});

it("a job stops where its starter lost the right, and where more would be gained than was shown; what is skipped says why", async () => {
  const order = { act: "takeDown" as const, places: ["cranes", "mooring", "faxes2"].slice(0, 2) };
  const sheet = await lookAtMany("jonas", order);
  const { id } = await orderJob("jonas", { order, count: 2, note: "", seen: sheet.seen });
  const suspended = (await document()).people.find((person) => person.id === "jonas");
  if (!suspended) throw new Error("nobody");
  const edit: Edit = { kind: "person", person: "jonas", remove: suspended, put: { ...suspended, status: "suspended" } };
  await inChange(async (tx) => void (await makeChange(tx, { maker: "ines", edits: [edit], act: "rules", note: "" })));
  await work();
  expect(await readJob("ines", id)).toMatchObject({
    state: "stopped",
    done: 0,
    problem: expect.stringContaining("may not do it any more"),
  });
  expect((await places()).get("cranes")?.state).toBe("live");
  const mixed = { act: "archive" as const, places: ["mooring", "timberyard", "quayhome"] };
  const many = await lookAtMany("maren", mixed);
  const job = await orderJob("maren", { order: mixed, count: many.count, note: "", seen: many.seen });
  await work();
  const view = await readJob("maren", job.id);
  expect(view).toMatchObject({
    state: "done",
    done: 2,
    skipped: 1,
    skippedItems: [{ id: "quayhome", message: expect.stringContaining("landing page") }],
  });
  await takeBackJob("maren", job.id, { note: "" });
  await work();
});

it("marks are set in bulk, and what the listing holds is what the other tables say, whatever was done before", async () => {
  const order = { act: "readiness" as const, readiness: "outline", filter: { space: "quays", part: "live" as const } };
  const sheet = await lookAtMany("maren", order);
  await orderJob("maren", { order, count: sheet.count, note: "", seen: sheet.seen });
  await work();
  expect((await readPages("maren", { readiness: "outline", space: "quays" })).rows.length).toBeGreaterThan(5);
  expect(await status(lookAtMany("maren", { ...order, readiness: "nobody's word" }))).toBe(400);
  const tags = { act: "tag" as const, add: ["herring"], filter: { readiness: "outline" } };
  const look = await lookAtMany("maren", tags);
  await orderJob("maren", { order: tags, count: look.count, note: "", seen: look.seen });
  await work();
  expect((await readPages("ines", { tag: "herring" })).rows.map(({ tags: has }) => has.includes("herring"))).not.toContain(false);
  const kept = await everything();
  await inChange(async (tx) => {
    await deriveListing(tx, null);
    await countLinksIn(tx, null);
  });
  expect(await everything()).toEqual(kept);
});

it("copied, a page is an own draft with the text one may read, with what is below in its order; no rules, versions or hidden words come along", async () => {
  expect(await status(copyPage("mei", "berthplan", { to: "quays", below: false }))).toBe(403);
  expect(await status(copyPage("maren", "patrols", { to: "quays", below: false }))).toBe(404);
  expect(await status(copyPage("maren", "berthplan", { to: "patrols", below: false }))).toBe(404);
  expect(await status(copyPage("maren", "bl8", { to: "berthplan", below: false }))).toBe(400);
  const before = await places();
  const { id, pages } = await copyPage("maren", "berthplan", { to: "quays", below: true });
  const after = await places();
  const made = [...after.values()].filter((it) => !before.has(it.id));
  expect(made.length).toBe(pages);
  expect(after.get(id)).toMatchObject({
    state: "draft",
    parent: "quays",
    owner: "maren",
    title: "Berth plan (copy)",
    grants: [],
    fences: [],
    tags: [],
  });
  const order = async (parent: string) =>
    (
      await database().execute<{ title: string }>(sql`
        select p.title from slots s join places p on p.id = s.place_id and p.to_seq is null
        where s.to_seq is null and p.parent_id = ${parent} and p.state in ('live', 'draft') order by s.slot`)
    ).map(({ title }) => title);
  expect(await order(id)).toEqual((await order("berthplan")).filter((title) => made.some((it) => it.title === title)));
  const versions = await database().execute(sql`select major, minor from versions where place_id = ${id}`);
  expect([...versions]).toMatchObject([{ major: 0, minor: 1 }]);
  // A live page's working words stay where they are.
  const working = await readWorking("maren", "cranes");
  const words = { schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text: "Quillwords under work" }] }] };
  await saveVersion("maren", "cranes", { title: "Quilltitle", body: words, base: working.version, note: "" });
  const copy = await copyPage("maren", "cranes", { to: "berthplan", below: false });
  expect(JSON.stringify(await readWorking("maren", copy.id))).not.toMatch(/Quill/);
  const [line] = (await readLedger("maren", { act: "copy" })).lines;
  await takesBack("maren", (line?.seq ?? 0) as Seq);
  expect((await places()).get(copy.id)?.state).toBe("binned");
});

it("an archive at a date: done when its instant has come, with what was chosen of the pages below; what may not happen waits and says why", async () => {
  const at = new Date(Date.now() + 86_400_000).toISOString();
  const order = { what: "archive" as const, at, zone: "Europe/Berlin", note: "", version: "0.0", keepHelpers: false };
  await schedulePage("maren", "berthplan", { ...order, below: "along" });
  await schedulePage("maren", "quayhome", order);
  const later = instantAt(Date.parse(at) + 1000);
  expect(await runSchedules(later)).toEqual(["berthplan"]);
  expect((await places()).get("berthrequests")?.state).toBe("archived");
  const held = (await readPages("maren", { held: "yes", space: "quays" })).rows;
  expect(held.map(({ id, due }) => [id, due?.problem])).toEqual([["quayhome", expect.stringContaining("landing page")]]);
  expect(await runSchedules(later)).toEqual([]);
  await unschedulePage("maren", "quayhome", "archive");
});
