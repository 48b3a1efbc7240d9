/** Review: what is due, flags through their life, who may do what, and that nothing of it leaks. */
import { desc, sql } from "drizzle-orm";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { MOST_FLAGS_AN_HOUR, type RaiseFlagBody } from "../../../contracts/review.ts";
import { type Edit, instantAt, type Seq, type SpaceSettings } from "../../../core/access/model/index.ts";
import { dueAt } from "../../../core/review/index.ts";
import { readAccess } from "../../access/current.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { flags, ledger, listing, mails, pages, spaces } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { lookAtMany } from "../jobs/jobs.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { mailOf } from "../notices/kinds.ts";
import { readPages } from "../pages/pages.ts";
import { readSlip } from "../slip/slip.ts";
import { publishPage } from "../writing/publishing.ts";
import { readWorking, saveVersion } from "../writing/writing.ts";
import { readPageReview } from "./pageReview.ts";
import { readQueue } from "./queue.ts";
import { handFlags, raiseFlag, settleReview } from "./settling.ts";

onDatabase("demo");
// What the demo says of its pages is in the way here.
beforeAll(async () => void (await database().delete(flags)));

const DAY = 86_400_000;
const change = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "As agreed." }));
const setSpace = async (space: string, put: Partial<SpaceSettings>, without?: "review") => {
  const settings = (await readSlip("ines", space)).life.space?.settings as SpaceSettings;
  const after = { ...settings, ...put };
  if (without) delete after[without];
  await change("ines", { kind: "settings", place: space, remove: settings, put: after });
};
const period = (maker: string, place: string, from: number | null, to: number | null) =>
  change(maker, { kind: "reviewPeriod", place, from, to });
const raise = (who: string, place: string, rest: object = {}) =>
  raiseFlag(who, { places: [place], kind: "doubtful", note: "Crane 4 is gone.", ...rest });
const flagsOn = async (who: string, place: string) => (await readPageReview(who, place)).flags;
const queued = async (who: string, query: object = {}) => (await readQueue(who, query)).rows.map(({ id }) => id);
const row = (place: string, ids: string[] = [], due = false) => ({ place, flags: ids, due });
const settle = (who: string, rows: ReturnType<typeof row>[], outcome: "confirmed" | "revised" | "setAside", rest: object = {}) =>
  settleReview(who, { rows, outcome, reason: "", ...rest });
const back = async (who: string, seq: number | null) => {
  const { seen } = await previewTakeBack(who, seq as Seq);
  await takeBack(who, seq as Seq, { note: "", seen });
};
/** Its last publication, moved back by so many days. */
const publishedBefore = async (place: string, days: number) => {
  await database().execute(
    sql`update pages set published_at = ${new Date().toISOString()}::timestamptz - ${days} * interval '24 hours' where place_id = ${place}`,
  );
  await database().execute(
    sql`update listing set published_at = (select published_at from pages p where p.place_id = listing.place_id) where place_id = ${place}`,
  );
};

it("pages are due as the core says, whatever changes it: periods of theirs and of their space, confirming, setting aside, moving", async () => {
  for (const place of ["cranes", "berthplan", "timberyard"]) await publishedBefore(place, 100);
  const agree = async () => {
    const rows = await database()
      .select({ id: listing.placeId, due: listing.dueAt, state: listing.state, page: pages, ofSpace: spaces.reviewDays })
      .from(listing)
      .innerJoin(pages, sql`${pages.placeId} = ${listing.placeId}`)
      .innerJoin(spaces, sql`${spaces.placeId} = ${listing.spaceId}`);
    const at = (date: Date | null) => (date ? instantAt(date.getTime()) : null);
    for (const { id, due, state, page, ofSpace } of rows) {
      const facts = {
        published: at(page.publishedAt),
        confirmed: at(page.confirmedAt),
        asideUntil: at(page.asideUntil),
        period: page.reviewDays,
        ofSpace,
      };
      expect([id, due?.getTime() ?? Number.POSITIVE_INFINITY]).toEqual([id, state === "live" ? dueAt(facts) : Number.POSITIVE_INFINITY]);
    }
    return rows.filter(({ due }) => due && due.getTime() <= Date.now()).map(({ id }) => id);
  };
  await setSpace("quays", {}, "review");
  expect(await agree()).not.toContain("cranes");
  await setSpace("quays", { review: 90 });
  expect(await agree()).toEqual(expect.arrayContaining(["cranes", "berthplan", "timberyard"]));
  await period("maren", "cranes", null, 365);
  expect(await agree()).not.toContain("cranes");
  const { seq } = await settle("maren", [row("berthplan", [], true)], "confirmed");
  expect(await agree()).not.toContain("berthplan");
  await back("maren", seq);
  expect(await agree()).toContain("berthplan");
  // Before it is due, too; not what somebody else confirmed while one looked at it as due.
  expect(await settle("maren", [row("shorepower")], "confirmed")).toMatchObject({ done: 1 });
  expect(await settle("maren", [row("shorepower", [], true)], "confirmed")).toMatchObject({ done: 0 });
  expect(await status(settle("maren", [row("timberyard", [], true)], "setAside"))).toBe(400);
  await settle("maren", [row("timberyard", [], true)], "setAside", {
    reason: "Rebuilt in May.",
    until: new Date(Date.now() + 30 * DAY).toISOString(),
  });
  expect(await agree()).not.toContain("timberyard");
  await setSpace("quays", { review: 30 });
  await agree();
  for (const [to, from] of [
    [0, 365],
    [4_000, 365],
    [12, 30],
  ] as const)
    expect(await status(period("maren", "cranes", from, to))).not.toBe(200);
  expect(await status(period("mei", "cranes", 365, 30))).toBe(403);
});

it("a flag is raised by who reads, told to who answers, handed on, settled once, and back again by taking that back", async () => {
  await raise("mei", "cranes");
  expect(await raise("mei", "cranes")).toMatchObject({ done: 0, skipped: [{ why: expect.stringContaining("already") }] });
  const [flag] = await flagsOn("maren", "cranes");
  expect(flag).toMatchObject({ by: "Mei Lin", kind: "doubtful", note: "Crane 4 is gone.", outcome: null, maySettle: true });
  expect(await flagsOn("mei", "cranes")).toMatchObject([{ maySettle: false }]);
  await mailOf();
  expect((await database().select().from(mails)).map(({ subject }) => subject)).toContain("A page is for you to look at again");
  const id = flag?.id ?? "";
  expect(await queued("maren")).toContain("cranes");
  expect(await settle("mei", [row("cranes", [id])], "confirmed")).toMatchObject({ done: 0, seq: null });
  expect(await status(handFlags("maren", { rows: [row("cranes", [id])], to: "dora", note: "" }))).toBe(400);
  await handFlags("maren", { rows: [row("cranes", [id])], to: "jonas", note: "You moved it." });
  expect(await queued("jonas", { whose: "mine" })).toContain("cranes");
  expect(await settle("jonas", [row("cranes", [id])], "revised")).toMatchObject({
    done: 0,
    skipped: [{ why: expect.stringContaining("published") }],
  });
  const both = await Promise.all([1, 2].map(() => settle("jonas", [row("cranes", [id])], "confirmed")));
  expect(both.map(({ done }) => done).sort()).toEqual([0, 1]);
  expect(await queued("jonas", { whose: "mine" })).not.toContain("cranes");
  expect((await readPageReview("mei", "cranes")).confirmedBy).toBe("Jonas Brandt");
  await back("jonas", both.find((it) => it.seq !== null)?.seq ?? null);
  expect(await flagsOn("maren", "cranes")).toMatchObject([{ outcome: null }]);
  expect((await readPageReview("mei", "cranes")).confirmedBy).toBe("");
  const { version: base } = await readWorking("maren", "cranes");
  const saved = await saveVersion("maren", "cranes", {
    title: "Cranes",
    body: { schema: 1, content: [{ type: "paragraph" }] },
    base,
    note: "",
  });
  await publishPage("maren", "cranes", { version: saved.version, note: "" });
  expect(await settle("jonas", [row("cranes", [id])], "revised")).toMatchObject({ done: 1 });
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("sensitive flags are for those who write or keep the page; guests flag where the space lets them; hidden pages are as none", async () => {
  await raise("mei", "berthplan", { kind: "sensitive", note: "It names the night crew." });
  expect(await flagsOn("mei", "berthplan")).toEqual([]);
  expect((await flagsOn("maren", "berthplan")).map(({ note }) => note)).toEqual(["It names the night crew."]);
  const [{ id = "" } = {}] = await flagsOn("maren", "berthplan");
  for (const who of ["mei", "ruth"])
    expect(await told(settle(who, [row("berthplan", [id])], "confirmed"))).toBe(
      await told(settle(who, [row("berthplan", ["none"])], "confirmed")),
    );
  expect(await queued("mei")).not.toContain("berthplan");
  const guest = "dora";
  const open = "berthplan";
  await change("ines", { kind: "grant", place: open, put: { to: { person: guest }, abilities: ["read"] } });
  expect(await status(raise(guest, open))).toBe(403);
  expect(await flagsOn(guest, open)).toEqual([]);
  await setSpace("quays", { flags: true });
  expect(await status(raise(guest, open))).toBe(200);
  expect(await status(raise(guest, open, { to: "maren" }))).toBe(403);
  for (const who of ["mei", guest])
    for (const attempt of [
      (it: string) => raise(who, it),
      (it: string) => readPageReview(who, it),
      (it: string) => settle(who, [row(it)], "confirmed"),
      (it: string) => handFlags(who, { rows: [row(it)], to: "mei", note: "" }),
    ])
      expect(await told(attempt("patrols"))).toBe(await told(attempt("nowhere")));
  expect(await status(raise("mei", "quays"))).toBe(404);
  // A flag of one page cannot be settled, or read, as one of another.
  expect(await told(settle("maren", [row("cranes", [id])], "confirmed"))).toBe(
    await told(settle("maren", [row("cranes", ["none"])], "confirmed")),
  );
});

it("the public flags what it reads where a space takes that, known to nobody and within bounds; all else is as none to it", async () => {
  const place = "tidetables";
  const said = (id: string, change: Partial<RaiseFlagBody> = {}) =>
    raiseFlag(null, { places: [id], kind: "doubtful", note: "High water is later.", ...change });
  expect(await status(said(place))).toBe(403);
  await setSpace("notices", { flags: true });
  await setSpace("pilotage", { flags: true });
  for (const hidden of ["patrols", "cranes"]) expect(await told(said(hidden))).toBe(await told(said("nowhere")));
  for (const change of [{ to: "maren" }, { to: "nobody" }]) expect(await status(said(place, change))).toBe(403);
  const quote = "tables of the tides";
  const { seq } = await said(place, { quote });
  const mark = (await flagsOn("anouk", place)).find(({ note }) => note === "High water is later.");
  expect(mark).toMatchObject({ by: "", quote, maySettle: true });
  const entry = (await readLedger("ines", {})).lines.find((it) => it.seq === seq);
  expect(entry?.who).toBe("The public");
  for (let i = 1; i < 5; i++) expect((await said(place)).done).toBe(1);
  expect((await said(place)).skipped[0]?.why).toContain("Several readers");
  // Whoever sees the page without reading it is told that it is flagged, not the words of its text.
  const { index } = await inSnapshot(readAccess);
  const fence: Edit = { kind: "fence", place, put: { kind: "read", admits: [{ person: "anouk" }] } };
  await change("ines", fence);
  for (const { id } of index.document.people)
    for (const flag of await flagsOn(id, place).catch(() => [])) {
      const reads = (await readPageReview(id, place)).html !== null;
      expect([id, flag.quote !== "" && !reads]).toEqual([id, false]);
    }
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  await change("ines", { ...fence, put: undefined, remove: fence.put } as Edit);
});

it("writes no letter about a page to whoever owns it and may not read it any more", async () => {
  await raise("maren", "weighbridge", { note: "Closed to its owner soon." });
  const fence: Edit = { kind: "fence", place: "weighbridge", put: { kind: "read", admits: [{ person: "maren" }] } };
  await change("ines", fence);
  await mailOf();
  expect((await database().select().from(mails)).filter(({ body }) => body.includes("Closed to its owner soon."))).toEqual([]);
  await change("ines", { kind: "fence", place: "weighbridge", remove: fence.put } as Edit);
});

it("is bounded: so many an hour for readers; none on what is in the bin; what was binned or answered meanwhile is said, page by page", async () => {
  await raise("petr", "timberyard", { note: "x" });
  const kinds = ["doubtful", "outOfDate", "incomplete", "noOwner"] as const;
  const tries = Array.from({ length: MOST_FLAGS_AN_HOUR }, (_, i) =>
    ["cranes", "mooring", "shorepower", "weighbridge", "dangerous"].map((place) => [place, kinds[i % 4]] as const),
  ).flat();
  const answers: number[] = [];
  for (const [place, kind] of tries.slice(0, MOST_FLAGS_AN_HOUR + 2)) answers.push(await status(raise("mei", place, { kind })));
  expect(new Set(answers)).toEqual(new Set([200, 429]));
  // Taking back what one said leaves no room for more.
  const [last] = await database()
    .select({ seq: ledger.seq })
    .from(ledger)
    .where(sql`maker = 'mei' and act = 'flag'`)
    .orderBy(desc(ledger.seq))
    .limit(1);
  await back("mei", last?.seq ?? null);
  expect(await status(raise("mei", "timberyard"))).toBe(429);
  const [{ id = "" } = {}] = await flagsOn("maren", "timberyard");
  await inChange((tx) =>
    makeChange(tx, { maker: "maren", edits: [], acts: [{ act: "bin", places: ["timberyard"], below: "handUp" }], act: "bin", note: "" }),
  );
  expect(await queued("maren")).not.toContain("timberyard");
  expect(await settle("maren", [row("timberyard", [id])], "confirmed")).toMatchObject({
    done: 0,
    skipped: [{ why: expect.stringContaining("binned") }],
  });
  expect(await raise("maren", "timberyard")).toMatchObject({ done: 0, skipped: [{ why: "It is binned." }] });
  await inChange((tx) =>
    makeChange(tx, { maker: "maren", edits: [], acts: [{ act: "restore", places: ["timberyard"] }], act: "restore", note: "" }),
  );
  expect(await queued("maren")).toContain("timberyard");
});

it("says of each row why it is left as it is, hands on what is due by flagging it, and is filtered in the table of pages", async () => {
  await database().delete(flags);
  await publishedBefore("dangerous", 900);
  await period("maren", "dangerous", null, 10);
  const twice = [row("dangerous", [], true), row("dangerous", [], true)];
  expect(await status(settle("maren", twice, "confirmed"))).toBe(400);
  const past = new Date(Date.now() - DAY).toISOString();
  expect(await status(settle("maren", [row("dangerous", [], true)], "setAside", { reason: "x", until: past }))).toBe(400);
  expect(await status(raise("maren", "dangerous", { due: past }))).toBe(400);
  expect(await status(raise("maren", "dangerous", { to: "nobody" }))).toBe(400);
  expect(await settle("maren", [row("dangerous", [], true)], "revised")).toMatchObject({
    done: 0,
    skipped: [{ why: expect.stringContaining("Nothing is said") }],
  });
  expect((await readPages("maren", { review: "due", sort: "review" })).rows.map(({ id }) => id)).toContain("dangerous");
  const due = new Date(Date.now() + 5 * DAY).toISOString();
  expect(await handFlags("maren", { rows: [row("dangerous", [], true)], to: "jonas", note: "", due })).toMatchObject({ done: 1 });
  const [flag] = await flagsOn("jonas", "dangerous");
  expect(flag).toMatchObject({ kind: "outOfDate", note: "It is due to be looked at again.", due });
  const seen = [row("dangerous", [flag?.id ?? ""], true)];
  expect(await handFlags("maren", { rows: seen, to: "jonas", note: "" })).toMatchObject({ done: 0 });
  for (const who of ["mei", "maren"])
    expect((await readPages(who, { review: "flagged" })).rows.find(({ id }) => id === "dangerous")?.flags).toBe(1);
  await raise("maren", "cranes", { kind: "incomplete", to: "jonas" });
  await mailOf();
  expect(await settle("maren", seen, "setAside", { reason: "The rules change in May." })).toMatchObject({ done: 1 });
  expect(await readPageReview("maren", "dangerous")).toMatchObject({ asideUntil: expect.any(String), period: 10 });
  expect((await readQueue("maren", { space: "quays", from: 1 })).count).toBeGreaterThan(0);
  expect(await queued("maren", { space: "nowhere" })).toEqual([]);
  const order = { act: "period" as const, period: 60, places: ["dangerous", "mooring"] };
  expect((await lookAtMany("maren", order)).title).toContain("every 60 days");
  expect((await lookAtMany("maren", { ...order, period: null })).title).toContain("as their space has it");
  expect(await status(lookAtMany("mei", order))).toBe(403);
});
