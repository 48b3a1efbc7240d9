/** Schedules, whatever becomes of their page: a page has those it may have, and what goes live is what was scheduled. */

import { and, eq, inArray, isNull } from "drizzle-orm";
import fc from "fast-check";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { drawn } from "../../../../test/holds.ts";
import { publication } from "../../../../test/publication.ts";
import { status } from "../../../../test/status.ts";
import { type Edit, instantAt, leadsTo, markOf, type Place, STATE_ACTS } from "../../../core/access/model/index.ts";
import { bodyText } from "../../../core/content/index.ts";
import { loadDemo } from "../../../demo/load.ts";
import { bodyOfMarkdown } from "../../content/markdown.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { places, schedules } from "../../db/schema/index.ts";
import { Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { lookAtPublication } from "../publication/sheet.ts";
import { readReaderPage } from "../reading/reading.ts";
import { readSlip } from "../slip/slip.ts";
import { keepBuffer } from "./buffers.ts";
import { publishPage } from "./publishing.ts";
import { runSchedules, type Scheduled, schedulePage, unschedulePage } from "./scheduling.ts";
import { readWorking, saveVersion, startPage } from "./writing.ts";

const start = Date.now();
const DAY = 86_400_000;

onDatabase("schema");
beforeAll(async () => {
  await loadDemo(start);
});

const order = (version: string, what: Scheduled = "live", days = 1) => ({
  what,
  at: new Date(start + days * DAY).toISOString(),
  zone: "Europe/Berlin",
  note: "",
  version,
  keepHelpers: false,
});
const words = (text: string) => bodyOfMarkdown(text);
const save = (id: string, base: string, text: string, who = "maren") =>
  saveVersion(who, id, { title: "Tug rota", body: words(text), base, note: "" });
const textOf = async (id: string, me: string | null) => (await readReaderPage({ me, viewpoint: null }, "quay-operations", id)).html ?? "";

it("what goes live is the version that was scheduled; newer words wait, and whoever writes them goes on without a conflict", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Tug rota", body: words("First words.") });
  await schedulePage("maren", id, order("0.1"));
  await save(id, "0.1", "Second words.");
  expect((await readWorking("maren", id)).due).toMatchObject({ version: "0.1", problem: null });
  expect(await runSchedules(instantAt(start + 2 * DAY))).toContain(id);
  expect(await textOf(id, "jonas")).toContain("First words.");
  const working = await readWorking("maren", id);
  expect([working.version, working.liveVersion, bodyText(working.body)]).toEqual(["1.1", "1.0", "Second words."]);
  expect(await save(id, "0.2", "Second words, and more.")).toEqual({ version: "1.2" });
  // A live page with newer words is scheduled as well, and stays live meanwhile.
  await schedulePage("maren", id, order("1.2", "live", 3));
  expect((await readSlip("maren", id)).state).toBe("live");
  await runSchedules(instantAt(start + 4 * DAY));
  expect(await textOf(id, "jonas")).toContain("and more");
  expect((await readWorking("maren", id)).due).toBeNull();
});

it("is for those who may: publishing by publish, archiving by retire; it needs the newest version, and an instant ahead", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Fenders", body: words("Fenders.") });
  for (const who of ["mei", "dora"]) expect(await status(schedulePage(who, id, order("0.1")))).toBe(404);
  expect(await status(schedulePage("maren", id, order("0.7")))).toBe(409);
  expect(await status(schedulePage("maren", id, order("0.1", "live", -1)))).toBe(400);
  expect(await status(unschedulePage("maren", id, "live"))).toBe(400);
  await schedulePage("maren", id, order("0.1"));
  await schedulePage("maren", id, order("0.1", "archive", 5));
  // Publishing by hand ends going live only; archiving still happens by itself.
  await publishPage("maren", id, { version: "0.1", note: "" });
  const { due, archives } = (await readSlip("maren", id)).life;
  expect([due, archives?.problem]).toEqual([null, null]);
  expect(await runSchedules(instantAt(start + 6 * DAY))).toEqual([id]);
  expect((await readSlip("maren", id)).state).toBe("archived");
});

it("helpers on a draft leave when it goes live, unless whoever publishes keeps them; the sheet is for those who may publish", async () => {
  const helped = async (keepHelpers: boolean) => {
    const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Helped", body: words("Help.") });
    const put = { to: { person: "mei" }, abilities: ["read" as const, "discuss" as const, "revise" as const], draft: true };
    await inChange((tx) => makeChange(tx, { maker: "maren", edits: [{ kind: "grant", place: id, put }], act: "rules", note: "" }));
    expect(await status(keepBuffer("mei", id, { title: "x", body: words("x"), base: "0.1", tab: "t", rev: 1, spent: [] }))).toBe(200);
    expect(await status(lookAtPublication("mei", id, publication("0.1")))).toBe(403);
    expect(await lookAtPublication("maren", id, publication("0.1"))).toMatchObject({
      helpers: [{ key: "person:mei", name: "Mei Lin", can: "reads and writes" }],
      mayKeepHelpers: true,
    });
    await publishPage("maren", id, { version: "0.1", note: "", keep: keepHelpers });
    return (await inSnapshot((tx) => loadDocument(tx))).places.find((place) => place.id === id)?.grants;
  };
  expect(await helped(false)).toEqual([]);
  expect(await helped(true)).toEqual([{ to: { person: "mei" }, abilities: ["read", "discuss", "revise"] }]);
});

/** What holds between states and schedules, whatever was done (lifecycle.md, "Schedules"). */
async function checkSchedules(): Promise<void> {
  const rows = await database()
    .select({ id: places.id, state: places.state })
    .from(places)
    .where(and(isNull(places.toSeq), inArray(places.kind, ["page", "bulletin"])));
  const scheduled = await database().select().from(schedules);
  const goingLive = new Set(scheduled.filter(({ what }) => what === "live").map(({ placeId }) => placeId));
  for (const { id, state } of rows) {
    if (state === "scheduled") expect([id, goingLive.has(id)]).toEqual([id, true]);
    else if (state !== "live") expect([id, state, goingLive.has(id)]).toEqual([id, state, false]);
    if (state === "archived" || state === "binned") expect([id, scheduled.some(({ placeId }) => placeId === id)]).toEqual([id, false]);
  }
}

it("are those a page may have, along any history of states, moves and schedules", async () => {
  const ids: string[] = [];
  for (let i = 0; i < 4; i++)
    ids.push((await startPage("ines", { parent: "quays", as: "page", title: `Random ${i}`, body: words("Words.") })).id);
  const draw = fc.tuple(fc.nat(3), fc.nat(11), fc.nat(7));
  let made = 0;
  for (const [which, what, how] of drawn(draw, { runs: 250, seed: 88 })) {
    const id = ids[which] as string;
    const place = (await inSnapshot((tx) => loadDocument(tx))).places.find((it) => it.id === id) as Place;
    const newest = (await readWorking("ines", id).catch(() => null))?.version ?? "0.1";
    const change = (edit: Edit) =>
      inChange((tx) => makeChange(tx, { maker: "ines", edits: [edit], act: "rules", note: "", reason: "Tried." }));
    const act = STATE_ACTS[how % STATE_ACTS.length] as (typeof STATE_ACTS)[number];
    const to = leadsTo(act, place.kind, place);
    const tries: (() => Promise<unknown>)[] = [
      () => schedulePage("ines", id, order(newest, "live", 10)),
      () => schedulePage("ines", id, order(newest, "archive", 12)),
      () => unschedulePage("ines", id, how % 2 ? "live" : "archive"),
      () => publishPage("ines", id, { version: newest, note: "" }),
      () => save(id, newest, `Words ${made}.`, "ines"),
      () => change({ kind: "move", place: id, from: place.parent ?? "", to: how % 2 ? "quays" : "pilotage" }),
      () => runSchedules(instantAt(start + (9 + (how % 5)) * DAY)),
    ];
    // A bare edit to `scheduled` has no door at all; every other act of state is tried as it would come from a screen.
    const work =
      what < tries.length
        ? tries[what]
        : to && act !== "schedule"
          ? () => change({ kind: "state", place: id, from: markOf(place), to })
          : null;
    if (!work) continue;
    try {
      await work();
      made++;
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
    }
    await checkSchedules();
  }
  expect(made).toBeGreaterThan(60);
  expect((await database().select().from(schedules).where(eq(schedules.placeId, "nothing"))).length).toBe(0);
});
