/** Routines on the demo: what they find, what they do, once and no more, as whom, and taking it back. */
import { and, eq, sql } from "drizzle-orm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { holds } from "../../../../test/holds.ts";
import { allJobs, once, ran, routineBody } from "../../../../test/routine.ts";
import { status, told } from "../../../../test/status.ts";
import { type Edit, FLAG_KINDS, type PageState } from "../../../core/access/model/index.ts";
import { leftAlone, type RoutineAction, type RoutineFilter, reasonsOf } from "../../../core/routines/index.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { flags, jobItems, jobs, listing, notices, routineRuns, routines } from "../../db/schema/index.ts";
import { runJob } from "../../jobs/running.ts";
import { makeChange } from "../change/apply.ts";
import { goOnWithJob, readJob, stopJob, takeBackJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { changeRoutine, listRoutines, lookAtRoutine, makeRoutine, removeRoutine, switchRoutine } from "./routines.ts";
import { runDueRoutines, runRoutine } from "./running.ts";
import { readRun } from "./runs.ts";

onDatabase("demo");

const DAY = 86_400_000;
const due = (id: string, at = new Date(Date.now() - 60_000)) =>
  database().update(routines).set({ nextAt: at, isOn: true }).where(eq(routines.id, id));
const runsOf = (id: string) => database().select().from(routineRuns).where(eq(routineRuns.routineId, id));

describe("what a routine finds", () => {
  const days = fc.integer({ min: 1, max: 800 });
  const parts = fc.record(
    {
      spaces: fc.subarray(["quays", "notices", "handbook", "environs"], { minLength: 1 }),
      branch: fc.constantFrom("quays", "tariff", "berths", "no-such-page"),
      owner: fc.constantFrom("maren", "lena", "ines"),
      tag: fc.constantFrom("patrol-route", "safety", "tides"),
      outside: fc.constantFrom("public" as const, "guests" as const, "any" as const, "none" as const),
      flagged: fc.constantFrom("yes" as const, "no" as const),
      unchanged: days,
      unconfirmed: days,
      unread: days,
      changed: days,
      confirmed: days,
      read: days,
      due: days,
    },
    { requiredKeys: [] },
  );
  const states = fc.constantFrom<PageState>("live", "live", "draft", "archived", "binned");
  const actions: fc.Arbitrary<RoutineAction> = fc.oneof(
    fc.constantFrom(...FLAG_KINDS).map((kind) => ({ what: "flag" as const, kind, note: "n" })),
    fc.constantFrom(...FLAG_KINDS).map((kind) => ({ what: "clearFlag" as const, kind })),
    fc.constantFrom<RoutineAction>(
      { what: "addTag", tag: "safety" },
      { what: "removeTag", tag: "safety" },
      { what: "erase" },
      { what: "tellOwner", note: "n" },
    ),
  );

  it("is what the core says of each page, one by one, for whoever it runs as", async () => {
    const { select } = await import("./selecting.ts");
    const { factsOf, doneBefore } = await import("./pageFacts.ts");
    await inSnapshot(async (tx) => {
      const access = await readAccess(tx);
      const rows = await tx.select({ id: listing.placeId }).from(listing);
      const all = rows.map(({ id }) => id);
      const before = await doneBefore(tx, null, all);
      const known = new Map<string, Awaited<ReturnType<typeof factsOf>>>();
      for (const who of ["ines", "maren", "mei"]) known.set(who, await factsOf(tx, access, subjectFor(access, who), all));
      const closed = new Set(access.index.document.places.flatMap((it) => (it.kind === "space" && it.state !== "live" ? [it.id] : [])));
      const { maySee } = await import("../../access/current.ts");
      const { placeOf } = await import("../../../core/access/index/index.ts");
      await holds(
        fc.asyncProperty(parts, states, actions, fc.constantFrom("ines", "maren", "mei"), async (said, state, action, who) => {
          const as = subjectFor(access, who);
          const which: RoutineFilter = { state, ...said };
          const found = await select(tx, access, { routine: null, spaceId: null, which, action, most: 5_000, as });
          const pages = [...(known.get(who)?.values() ?? [])].filter((page) => {
            const place = placeOf(access.index, page.id);
            return place && maySee(access, as, place) && !closed.has(page.space) && reasonsOf(page, which, access.at) !== null;
          });
          expect([which, found.fits]).toEqual([which, pages.length]);
          const todo = pages.filter((page) => leftAlone(action, page, before(page.id), access.at) === null);
          expect([which, action, found.todo]).toEqual([which, action, todo.length]);
          expect(todo.map(({ id }) => id)).toEqual(expect.arrayContaining(found.ids));
        }),
        { runs: 150 },
      );
    });
  });

  it("is told beforehand, page by page with the reason, and changes nothing", async () => {
    const order = routineBody({ which: { state: "live", spaces: ["quays"], unchanged: 30 }, most: 3 });
    const before = await database().select({ count: sql<number>`count(*)::int` }).from(jobs);
    const shown = await lookAtRoutine("ines", order);
    expect(shown.troubles).toEqual([]);
    expect(shown.touches).toBe(3);
    expect(shown.beyond).toBe(shown.fits - shown.leftAlone - shown.notAllowed - 3);
    expect(shown.rows).toHaveLength(3);
    for (const { reasons, where } of shown.rows) {
      expect(reasons.join()).toMatch(/^not changed for \d/);
      expect(where).toBe("Quay Operations");
    }
    expect(shown.times).toHaveLength(5);
    expect(shown.sentence).toContain(
      "Mondays at 06:00, Europe/Lisbon: tag live pages in “Quay Operations”, not changed for 30 days with looked-at",
    );
    expect(await database().select({ count: sql<number>`count(*)::int` }).from(jobs)).toEqual(before);
  });
});

describe("what a routine does", () => {
  it("is page by page, in the ledger under whom it runs as, and taken back as one", async () => {
    const { run } = await ran({ as: "maren", most: 4 });
    expect([run.state, run.touched, run.waiting]).toEqual(["done", 4, 0]);
    const done = run.rows.filter(({ state }) => state === "done").map(({ id }) => id);
    const tagsOf = async () =>
      (await database().select({ id: listing.placeId, tags: listing.tags }).from(listing))
        .filter(({ tags }) => tags.includes("looked-at"))
        .map(({ id }) => id);
    expect((await tagsOf()).sort()).toEqual([...done].sort());
    const job = await readJob("ines", run.job ?? "");
    expect([job.by, job.mayTakeBack]).toEqual(["Maren Lüders", true]);
    const { id } = await takeBackJob("maren", run.job ?? "", { note: "" });
    await runJob(id, KINDS);
    expect(await tagsOf()).toEqual([]);
  });

  it("raises flags that their owners are told of, once: a second run leaves what is flagged already alone, and says so", async () => {
    const change = {
      name: "Stale",
      which: { state: "live" as const, spaces: ["quays"], unchanged: 20 },
      action: { what: "flag" as const, kind: "incomplete" as const, note: "Still so?" },
    };
    const { id, run } = await ran(change);
    expect(run.touched).toBeGreaterThan(0);
    const raised = await database()
      .select()
      .from(flags)
      .where(and(eq(flags.kind, "incomplete"), eq(flags.note, "Still so?")));
    expect(raised).toHaveLength(run.touched);
    const letters = await database().select().from(notices).where(eq(notices.kind, "flagged"));
    expect(letters.length).toBeGreaterThan(0);
    const [row] = await database().select().from(routines).where(eq(routines.id, id));
    const again = await runRoutine("ines", id, { rev: row?.rev ?? 0, once: once() });
    await allJobs();
    const second = await readRun("ines", again.run, {});
    expect([second.touched, second.state]).toEqual([0, "done"]);
    expect(second.rows.map(({ message }) => message)).toContain("It is flagged so already.");
    const { run: cleared } = await ran({ ...change, action: { what: "clearFlag", kind: "incomplete" } });
    expect(cleared.touched).toBeGreaterThanOrEqual(run.touched);
  });

  it("takes pages away only with what stands below them, never a landing page, and erases only what the bin has kept", async () => {
    const { run } = await ran({
      name: "Shut",
      which: { state: "live", spaces: ["quays"], unchanged: 1 },
      action: { what: "archive" },
      most: 500,
    });
    const whys = new Set(run.rows.flatMap(({ message }) => (message ? [message] : [])));
    expect(run.touched).toBeGreaterThan(3);
    expect([...whys].join(" ")).toMatch(/landing page/);
    const { id } = await takeBackJob("ines", run.job ?? "", { note: "" });
    await runJob(id, KINDS);
    const back = await readJob("ines", id);
    expect([back.state, back.skipped]).toEqual(["done", 0]);
    const { run: erased } = await ran({ name: "Empty", which: { state: "binned" }, action: { what: "erase" } });
    for (const { message, state } of erased.rows) if (state === "skipped") expect(message).toMatch(/long enough|below it/);
    expect(erased.mayTakeBack).toBe(false);
  });

  it("tells owners of what they may read, each once, and again only after a month", async () => {
    const change = {
      name: "Forgotten",
      which: { state: "draft" as const, unchanged: 1 },
      action: { what: "tellOwner" as const, note: "Go on?" },
    };
    const { id, run } = await ran(change);
    expect(run.touched).toBeGreaterThan(0);
    const sent = await database().select().from(notices).where(eq(notices.kind, "routine"));
    expect(new Set(sent.map(({ personId }) => personId)).size).toBe(sent.length);
    const { name: _, on: __, ...order } = routineBody(change);
    const shown = await lookAtRoutine("ines", { ...order, kept: id });
    expect([shown.touches, shown.leftAlone]).toEqual([0, shown.fits]);
    expect(shown.final).toContain("Mail");
    const { run: hosts } = await ran({ name: "Unused", which: { unusedGuests: 1 }, action: { what: "tellHosts", note: "Still?" } });
    expect(hosts.state).toBe("done");
  });

  it("looks at each page anew when it goes on after a stop: what does not fit any more is left as it is", async () => {
    const made = await makeRoutine(
      "ines",
      routineBody({
        name: "Interrupted",
        which: { state: "live", spaces: ["quays"], unchanged: 1 },
        action: { what: "addTag", tag: "stopped" },
        most: 10,
      }),
    );
    const { run } = await runRoutine("ines", made.id, { rev: 1, once: once() });
    const job = (await readRun("ines", run, {})).job ?? "";
    await stopJob("ines", job);
    await runJob(job, KINDS);
    const stopped = await readRun("ines", run, {});
    expect([stopped.state, stopped.touched, stopped.mayGoOn]).toEqual(["stopped", 0, true]);
    expect(stopped.problem).toContain("Stopped by");
    await database()
      .update(listing)
      .set({ changedAt: new Date() })
      .where(eq(listing.placeId, stopped.rows[0]?.id ?? ""));
    await goOnWithJob("ines", job);
    await allJobs();
    const after = await readRun("ines", run, {});
    expect([after.state, after.touched + after.skipped]).toEqual(["done", stopped.waiting + stopped.skipped]);
    expect(after.rows[0]).toMatchObject({ state: "skipped", message: "It does not fit any more." });
  });
});

describe("when a routine runs", () => {
  it("each time once, however many servers look at once; what was missed is caught up on once", async () => {
    const made = await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        makeRoutine("ines", routineBody({ name: `Due ${i}`, most: 1, action: { what: "addTag", tag: `due-${i}` }, on: true })),
      ),
    );
    for (const { id } of made) await due(id, new Date(Date.now() - 90 * DAY));
    await Promise.all([runDueRoutines(), runDueRoutines(), runDueRoutines()]);
    await runDueRoutines();
    await Promise.all([allJobs(), allJobs()]);
    for (const { id } of made) {
      const runs = await runsOf(id);
      expect(runs).toHaveLength(1);
      const items = await database()
        .select()
        .from(jobItems)
        .where(and(eq(jobItems.jobId, runs[0]?.jobId ?? ""), eq(jobItems.state, "done")));
      expect(items).toHaveLength(1);
      const [row] = await database().select().from(routines).where(eq(routines.id, id));
      expect(row?.nextAt?.getTime()).toBeGreaterThan(Date.now());
      await removeRoutine("ines", id);
    }
  });

  it("asked for twice by one name it runs once; a time that a wrong clock put far ahead is put right", async () => {
    const made = await makeRoutine("ines", routineBody({ name: "Twice", on: true }));
    const order = { rev: 1, once: once() };
    const [one, two] = await Promise.all([runRoutine("ines", made.id, order), runRoutine("ines", made.id, order)]);
    expect(one).toEqual(two);
    expect(await runsOf(made.id)).toHaveLength(1);
    await due(made.id, new Date(Date.now() + 4_000 * DAY));
    await runDueRoutines();
    const [row] = await database().select().from(routines).where(eq(routines.id, made.id));
    expect(row?.nextAt?.getTime()).toBeLessThan(Date.now() + 8 * DAY);
    await allJobs();
  });

  it("not as somebody who is suspended, or keeps the space no more: it says so and does nothing", async () => {
    const { id } = await makeRoutine(
      "viktor",
      routineBody({
        name: "Patrol notes",
        space: "portsecurity",
        which: { state: "live" },
        action: { what: "addTag", tag: "seen" },
        as: "viktor",
        on: true,
      }),
    );
    const viktor = (await inSnapshot(readAccess)).index.document.people.find((it) => it.id === "viktor");
    if (!viktor) throw new Error("no viktor");
    const edits: Edit[] = [{ kind: "person", person: "viktor", remove: viktor, put: { ...viktor, status: "suspended" } }];
    await inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "" }));
    await due(id);
    await runDueRoutines();
    const [run] = await runsOf(id);
    expect([run?.jobId, run?.problem]).toEqual([null, expect.stringContaining("no longer let in")]);
    const row = (await listRoutines("ines")).routines.find((it) => it.id === id);
    expect(row?.problem).toContain("no longer let in");
    expect(row?.runs[0]?.state).toBe("failed");
    expect(await told(runRoutine("ines", id, { rev: row?.rev ?? 0, once: once() }))).toContain("no longer let in");
  });
});

describe("who sets a routine", () => {
  it("those who keep the space or the site, each as themselves; only site keepers as somebody else", async () => {
    const mine = routineBody({ space: "quays", as: "maren", name: "Maren's" });
    expect(await status(makeRoutine("mei", { ...mine, as: "mei" }))).toBe(403);
    expect(await status(makeRoutine("maren", { ...mine, as: "ines" }))).toBe(403);
    expect(await status(makeRoutine("maren", { ...mine, space: null }))).toBe(403);
    expect(await status(makeRoutine("mei", { ...mine, as: "mei", space: "portsecurity" }))).toBe(404);
    expect(await status(makeRoutine("mei", { ...mine, as: "mei", space: "no-such-space" }))).toBe(404);
    const { id, rev } = await makeRoutine("ines", { ...mine, as: "tomasz", on: true });
    expect((await listRoutines("maren")).routines.find((it) => it.id === id)?.mayChange).toBe(false);
    expect(await status(changeRoutine("maren", id, { ...mine, rev }))).toBe(403);
    expect(await status(runRoutine("maren", id, { rev, once: once() }))).toBe(403);
    expect(await status(switchRoutine("mei", id, { on: false, rev }))).toBe(404);
    const off = await switchRoutine("maren", id, { on: false, rev });
    expect(await status(switchRoutine("maren", id, { on: true, rev: off.rev }))).toBe(403);
    expect(await status(switchRoutine("ines", id, { on: true, rev }))).toBe(409);
    expect((await listRoutines("lena")).routines.some((it) => it.id === id)).toBe(false);
    expect((await listRoutines("mei")).scopes).toEqual([]);
    expect(await status(lookAtRoutine("dora", mine))).toBeGreaterThanOrEqual(400);
  });

  it("is confined to its space, whatever its filter names, and names nothing that is hidden", async () => {
    const { run } = await ran(
      { space: "quays", as: "maren", name: "Far", which: { state: "live", spaces: ["notices"] }, action: { what: "addTag", tag: "far" } },
      "maren",
    );
    expect([run.touched, run.skipped]).toEqual([0, 0]);
    const named = { ...routineBody({ space: "quays", as: "maren" }), which: { state: "live" as const, branch: "patrols" } };
    const missing = { ...named, which: { state: "live" as const, branch: "no-such-page" } };
    expect((await lookAtRoutine("maren", named)).troubles).toEqual((await lookAtRoutine("maren", missing)).troubles);
    expect(await told(makeRoutine("maren", { ...named, name: "N" }))).toBe(await told(makeRoutine("maren", { ...missing, name: "N" })));
    expect(await status(makeRoutine("ines", routineBody({ cron: "0 6 31 2 *" })))).toBe(400);
    expect(await status(makeRoutine("ines", routineBody({ which: { unusedGuests: 3 } })))).toBe(400);
    expect(await status(makeRoutine("ines", routineBody({ which: {} })))).toBe(400);
  });
});
