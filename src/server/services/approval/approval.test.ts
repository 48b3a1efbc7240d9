/** Approval where a space asks for it: who gives in, answers, publishes; through every door, after rights were lost, and with nobody else able. */
import { eq, inArray } from "drizzle-orm";
import fc from "fast-check";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { holds } from "../../../../test/holds.ts";
import { publication } from "../../../../test/publication.ts";
import { status } from "../../../../test/status.ts";
import { type CompiledPlace, placeOf, spaceIdOf } from "../../../core/access/index/index.ts";
import type { Ability, Edit, SpaceSettings, StateMark } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import type { Arrival, LifeAct } from "../../../core/lifecycle/index.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { pages, spaces, submissions } from "../../db/schema/index.ts";
import { runJob } from "../../jobs/running.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { Trouble } from "../../trouble.ts";
import { applyChange, makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { lookAtMany, orderJob, readJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { landingsOf } from "../life/facts.ts";
import { actsFor } from "../life/planning.ts";
import { lookAtAct } from "../life/sheet.ts";
import { countPages, readPages } from "../pages/pages.ts";
import { lookAtPublication } from "../publication/sheet.ts";
import { readSlip } from "../slip/slip.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { publishPage } from "../writing/publishing.ts";
import { runSchedules, schedulePage } from "../writing/scheduling.ts";
import { readWorking, saveVersion, startPage } from "../writing/writing.ts";
import { answerApproval } from "./answering.ts";
import { unapprovedIn } from "./licences.ts";

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

/** A page live in the handbook, which asks for nothing, of Ines. */
async function liveElsewhere(title: string): Promise<string> {
  const { id } = await startPage("ines", { parent: "handbook", as: "page", title, body: body(title) });
  await publishPage("ines", id, { version: "0.1", note: "" });
  return id;
}

it("is asked of what is so: words nobody approved there go live by no way of moving in, alone or below another page, and back out of archive or bin", async () => {
  await asking("handbook", false);
  await asking("quays", true);
  const [above, below] = [await liveElsewhere("Above"), await liveElsewhere("Below")];
  await change("ines", { kind: "move", place: below, from: "handbook", to: above });
  const into: Edit = { kind: "move", place: above, from: "handbook", to: "quays" };
  const state = (place: string, from: StateMark, to: StateMark): Edit => ({ kind: "state", place, from, to });
  const live: StateMark = { state: "live" };
  const archived: StateMark = { state: "archived", was: "live" };
  expect(await message(change("ines", into))).toContain("2 pages whose words were never approved there");
  // Published on the way, its own words would be asked about; those below it are as well.
  expect(await message(publishAt("ines", above, "quays"))).toContain("never approved there");
  // In pieces: archived, moved, taken out again.
  await change("ines", state(below, live, archived), state(above, live, archived));
  await change("ines", into);
  for (const id of [above, below]) expect(await message(change("ines", state(id, archived, live)))).toContain("never approved there");
  // What was live there before it began to ask stays what it shows; also what was archived then.
  await asking("quays", false);
  await change("ines", state(above, archived, live));
  await asking("quays", true);
  await change("ines", state(below, archived, live));
  await change("ines", state(below, live, archived));
  await change("ines", state(below, archived, live));
  // Approved for one space is not approved for another.
  await asking("handbook", true);
  const own = await startPage("jonas", { parent: "quays", as: "page", title: "Own", body: body("Own") });
  await act("jonas", own.id, "submit", "0.1");
  await act("maren", own.id, "approve", "0.1");
  await change("ines", { kind: "move", place: own.id, from: "quays", to: "handbook" });
  expect(await message(publishPage("ines", own.id, { version: "0.1", note: "" }))).toContain("not approved");
  await asking("handbook", false);
});

it("moved in, what was never approved there arrives as is chosen: as drafts, or given in, with all below; taken back it is live where it was", async () => {
  await asking("handbook", false);
  await asking("quays", true);
  const [above, below] = [await liveElsewhere("Arrives"), await liveElsewhere("Arrives below")];
  await change("ines", { kind: "move", place: below, from: "handbook", to: above });
  const moving = (arrive?: Arrival): LifeAct => ({ act: "move", places: [above], to: "quays", ...(arrive ? { arrive } : {}) });
  const move = (maker: string, act: LifeAct) =>
    inChange((tx) => makeChange(tx, { maker, edits: [], acts: [act], act: "move", note: "", reason: "As agreed." }));
  const shown = async () => {
    const { index } = await inSnapshot((tx) => readAccess(tx));
    return [above, below].map((id) => [placeOf(index, id)?.place.state, spaceIdOf(index, placeOf(index, id) as CompiledPlace)]);
  };
  const waiting = async () =>
    (await Promise.all([above, below].map((id) => readWorking("ines", id)))).map(({ approval }) => approval?.submission?.answer);
  const sheet = await lookAtAct("ines", moving());
  expect(sheet.choices).toMatchObject([{ choose: "arrival", pages: { count: 2 } }]);
  expect(await message(move("ines", moving()))).toContain("whether it arrives as a draft or is given in");
  const first = await move("ines", moving("draft"));
  expect([await shown(), await waiting()]).toEqual([Array(2).fill(["draft", "quays"]), [undefined, undefined]]);
  await takeBack("ines", first.seq, { note: "", seen: (await previewTakeBack("ines", first.seq)).seen, reason: "So." });
  expect(await shown()).toEqual(Array(2).fill(["live", "handbook"]));
  const given = await move("ines", moving("submit"));
  expect([await shown(), await waiting()]).toEqual([Array(2).fill(["draft", "quays"]), [null, null]]);
  // Taken back and moved in again, what waits already and what was approved there meanwhile hold nothing up.
  await act("maren", below, "approve", "1.0");
  await takeBack("ines", given.seq, { note: "", seen: (await previewTakeBack("ines", given.seq)).seen, reason: "So." });
  await move("ines", moving("submit"));
  expect([await shown(), await waiting()]).toEqual([Array(2).fill(["draft", "quays"]), [null, "approved"]]);
  // What one act puts below another page comes along with the next one.
  const [upper, lower] = [await liveElsewhere("First"), await liveElsewhere("Second")];
  const chain: LifeAct[] = [
    { act: "move", places: [lower], to: upper },
    { act: "move", places: [upper], to: "quays", arrive: "draft" },
  ];
  await inChange((tx) => makeChange(tx, { maker: "ines", edits: [], acts: chain, act: "move", note: "", reason: "As agreed." }));
  const chained = (await inSnapshot((tx) => readAccess(tx))).index;
  expect([upper, lower].map((id) => placeOf(chained, id)?.place.state)).toEqual(["draft", "draft"]);
  // Given in on arrival, somebody else approves it there and publishes it.
  await act("maren", above, "approve", "1.0");
  await publishPage("maren", above, { version: "1.0", note: "" });
  expect((await shown())[0]).toEqual(["live", "quays"]);
  // What goes along and its mover may not know of is not given in by them, and holds nothing up.
  const [open, fenced] = [await liveElsewhere("Open"), await liveElsewhere("Fenced")];
  const abilities: Ability[] = ["read", "discuss", "revise", "add", "publish", "arrange", "retire"];
  await change("ines", { kind: "move", place: fenced, from: "handbook", to: open });
  await change("ines", { kind: "grant", place: open, put: { to: { person: "maren" }, abilities } });
  await change("ines", { kind: "fence", place: fenced, put: { kind: "read", admits: [{ person: "ines" }, { person: "jonas" }] } });
  const order = { purpose: "", preset: "closedRoom" as const, writers: [], title: "Asks", keepers: [{ person: "ines" }] };
  const { id: asks } = await startSpace("ines", { ...order, publishers: [{ person: "maren" }] });
  await asking(asks, true);
  const byMaren: LifeAct = { act: "move", places: [open], to: asks, arrive: "submit" };
  expect((await lookAtAct("maren", byMaren)).choices).toMatchObject([{ pages: { count: 2, hidden: 1 } }]);
  await move("maren", byMaren);
  const arrived = await Promise.all([open, fenced].map((id) => readWorking("ines", id)));
  expect(arrived.map(({ state, approval }) => [state, approval?.submission?.answer])).toEqual([
    ["draft", null],
    ["draft", undefined],
  ]);
  // Into a space that does not ask, nothing is to be chosen.
  expect((await lookAtAct("ines", { act: "move", places: [below], to: "handbook" })).choices).toEqual([]);
});

it("of a branch that is moved in as many are asked about as there are, and few enough are given in", async () => {
  await asking("quays", true);
  const many = Array.from({ length: 70_000 }, (_, nth) => `page-${nth}`);
  expect((await inSnapshot((tx) => unapprovedIn(tx, "quays", many)))?.size).toBe(many.length);
  const access = await inSnapshot((tx) => readAccess(tx));
  const me = subjectFor(access, "ines");
  const landings = new Set((await inSnapshot(landingsOf)).values());
  const pages = access.index.places.filter(
    (it) => !landings.has(it.place.id) && it.place.kind === "page" && actsFor(access, me, it).includes("move"),
  );
  const tops = pages
    .filter((it) => it.place.parent === spaceIdOf(access.index, it) && it.place.parent !== "quays")
    .map(({ place }) => place.id);
  // Several moves of a change come to one number.
  const halves = [tops.slice(0, tops.length / 2), tops.slice(tops.length / 2)];
  const acts = halves.map((places): LifeAct => ({ act: "move", places, to: "quays", arrive: "submit" }));
  const apply = () => message(applyChange("ines", { edits: [], acts, note: "", reason: "As agreed.", seen: "" }));
  expect(await apply()).toContain("a move gives in at most");
  // A job gives in as many as there are, batch by batch, or page by page where a batch would be too many.
  const order = { act: "move" as const, places: tops, to: "quays", arrive: "submit" as const };
  const { count, seen, choices } = await lookAtMany("ines", order);
  expect(choices).toMatchObject([{ choose: "arrival" }]);
  const { id } = await orderJob("ines", { order, count, seen, note: "", reason: "As agreed." });
  await runJob(id, KINDS);
  expect(await readJob("ines", id)).toMatchObject({ state: "done" });
  const after = await inSnapshot((tx) => readAccess(tx));
  const arrived = pages.filter(({ place }) => {
    const now = placeOf(after.index, place.id) as CompiledPlace;
    return place.state === "live" && now.place.state === "draft" && spaceIdOf(after.index, now) === "quays";
  });
  const given = await inSnapshot((tx) => tx.select({ id: submissions.placeId }).from(submissions));
  expect(arrived.length).toBeGreaterThan(tops.length / 2);
  expect(given.map((row) => row.id)).toEqual(expect.arrayContaining(arrived.map(({ place }) => place.id)));
});

const publishAt = async (who: string, id: string, to: string) => {
  const { preview } = await lookAtPublication(who, id, { ...publication("1.0"), to });
  if (preview.refusals.length > 0) throw new Error(preview.refusals.map((it) => it.message).join(" "));
};

const SPACES = ["quays", "handbook"];
const doing = fc.oneof(
  { weight: 3, arbitrary: fc.record({ what: fc.constantFrom("save", "approve", "publish"), nth: fc.nat(2) }) },
  {
    weight: 3,
    arbitrary: fc.record({
      what: fc.constantFrom("move", "arrive", "archive", "unarchive", "bin", "restore", "down", "up", "takeBack"),
      nth: fc.nat(2),
    }),
  },
  { weight: 2, arbitrary: fc.record({ what: fc.constantFrom("ask"), nth: fc.nat(1) }) },
);

it("over random sequences nothing is live where approval is asked that was neither approved there nor live there before", async () => {
  let shown = 0;
  await holds(
    fc.asyncProperty(fc.array(doing, { minLength: 6, maxLength: 16 }), async (steps) => {
      for (const space of SPACES) await asking(space, false);
      const ids: string[] = [];
      for (const space of ["quays", "handbook", "quays"]) {
        const { id } = await startPage("ines", { parent: space, as: "page", title: "World", body: body("World") });
        await publishPage("ines", id, { version: "0.1", note: "" });
        ids.push(id);
      }
      /** "page version space": approved there, or live there when the space began to ask. */
      const fine = new Set<string>();
      const now = () =>
        inSnapshot(async (tx) => {
          const access = await readAccess(tx);
          const rows = await tx.select().from(pages).where(inArray(pages.placeId, ids));
          const asks = new Set((await tx.select().from(spaces).where(eq(spaces.approval, true))).map((it) => it.placeId));
          return ids.map((id) => {
            const place = placeOf(access.index, id) as CompiledPlace;
            const space = access.index.places[place.space]?.place.id ?? "";
            return { id, space, asks: asks.has(space), mark: place.place, live: rows.find((it) => it.placeId === id)?.liveMajor ?? null };
          });
        });
      for (const { what, nth } of steps) {
        const before = (await now())[nth] as Awaited<ReturnType<typeof now>>[number];
        const { id, space, mark } = before;
        const moved = (to: StateMark): Edit => ({
          kind: "state",
          place: id,
          from: { state: mark.state, ...(mark.was ? { was: mark.was } : {}), ...(mark.binnedFrom ? { binnedFrom: mark.binnedFrom } : {}) },
          to,
        });
        const version = () => readWorking("ines", id).then((it) => it.version);
        const doors: Record<string, () => Promise<unknown>> = {
          save: async () => saveVersion("jonas", id, { title: "World", body: body(`${Math.random()}`), base: await version(), note: "" }),
          approve: async () => {
            await act("ines", id, "submit", await version());
            await act("ines", id, "approve", await version());
          },
          publish: async () => {
            const { approval } = await readWorking("ines", id);
            await publishPage("ines", id, { version: approval?.approved ?? (await version()), note: "" });
            const after = (await now())[nth];
            if (before.asks && after?.live) fine.add(`${id} ${after.live} ${space}`);
            // Published where it is asked for means approved.
            if (before.asks) expect(approval?.approved).not.toBe(null);
          },
          move: () => change("ines", { kind: "move", place: id, from: mark.parent ?? "", to: SPACES.find((it) => it !== space) ?? "" }),
          arrive: () => {
            const to = SPACES.find((it) => it !== space) ?? "";
            const acts: LifeAct[] = [{ act: "move", places: [id], to, arrive: nth === 0 ? "submit" : "draft" }];
            return inChange((tx) => makeChange(tx, { maker: "ines", edits: [], acts, act: "move", note: "", reason: "As agreed." }));
          },
          archive: () => change("ines", moved({ state: "archived", was: mark.state as "live" })),
          unarchive: () => change("ines", moved({ state: mark.was ?? "live" } as StateMark)),
          bin: () => change("ines", moved({ state: "binned", was: mark.state as "live" })),
          restore: () => change("ines", moved({ state: mark.was ?? "live" } as StateMark)),
          down: () => change("ines", moved({ state: "draft" })),
          up: () => change("ines", moved({ state: "live" })),
          takeBack: async () => {
            const [last] = (await readLedger("ines", { place: id })).lines.filter((line) => line.canTakeBack);
            if (last) await takeBack("ines", last.seq, { note: "", seen: (await previewTakeBack("ines", last.seq)).seen, reason: "So." });
          },
          ask: async () => {
            const which = SPACES[nth] ?? "";
            const was = (await now()).some((it) => it.space === which && it.asks);
            await asking(which, !was);
            if (!was) for (const it of await now()) if (it.space === which && it.live) fine.add(`${it.id} ${it.live} ${which}`);
          },
        };
        await (doors[what] as () => Promise<unknown>)().catch((error) => {
          if (!(error instanceof Trouble)) throw error;
        });
        for (const it of await now())
          if (it.mark.state === "live" && it.asks) {
            shown++;
            expect([what, it.id, it.live, it.space, fine.has(`${it.id} ${it.live} ${it.space}`)]).toEqual([
              what,
              it.id,
              it.live,
              it.space,
              true,
            ]);
          }
      }
    }),
    { runs: 25, asDrawn: true },
  );
  expect(shown).toBeGreaterThan(10);
}, 240_000);
