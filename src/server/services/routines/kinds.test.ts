/** Every kind of thing a routine does, whom it tells, and all that keeps it from running. */
import { and, desc, eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { allJobs, once, ran, routineBody } from "../../../../test/routine.ts";
import { status, told } from "../../../../test/status.ts";
import type { SaveRoutineBody } from "../../../contracts/routines.ts";
import { below, placeOf } from "../../../core/access/index/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { maySee, readAccess, subjectFor } from "../../access/current.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { flags, invitations, mails, notices, pageUses, routines } from "../../db/schema/index.ts";
import { runJob } from "../../jobs/running.ts";
import { makeChange } from "../change/apply.ts";
import { readDesk } from "../desk/desk.ts";
import { goOnWithJob, stopJob, takeBackJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { mailOf } from "../notices/kinds.ts";
import { changeRoutine, listRoutines, lookAtRoutine, makeRoutine, removeRoutine, switchRoutine } from "./routines.ts";
import { runDueRoutines, runRoutine } from "./running.ts";
import { readRun } from "./runs.ts";

onDatabase("demo");

const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "", reason: "x" }));
const lastOf = async (kind: string) => database().select().from(notices).where(eq(notices.kind, kind)).orderBy(desc(notices.id));

it("a group is told of what its people may read; hosts of guests who read nothing; letters name just that", async () => {
  const { run } = await ran({
    which: { state: "live", branch: "tidetables" },
    action: { what: "tellGroup", group: "pilots", note: "Tides." },
  });
  expect([run.touched, run.final]).toEqual([1, expect.stringContaining("Mail")]);
  expect((await lastOf("routine")).filter(({ about }) => about.note === "Tides.").length).toBeGreaterThan(2);
  const closed = await ran({ which: { state: "live", branch: "patrols" }, action: { what: "tellGroup", group: "cruise", note: "x" } });
  expect([closed.run.touched, closed.run.rows[0]?.message]).toEqual([0, expect.stringContaining("may read it")]);
  await database()
    .insert(invitations)
    .values({
      personId: "ade",
      email: "ade@x.invalid",
      message: "",
      by: "maren",
      at: new Date(0),
      until: new Date(),
      seq: 1,
      outcome: "taken",
    } as typeof invitations.$inferInsert);
  const shown = await lookAtRoutine("ines", routineBody({ which: { unusedGuests: 60 }, action: { what: "tellHosts", note: "Still?" } }));
  expect(shown.rows.find(({ id }) => id === "ade")).toMatchObject({ where: "Maren Lüders" });
  expect(shown.fits).toBeGreaterThan(shown.touches);
  const { run: hosts } = await ran({ which: { unusedGuests: 60 }, action: { what: "tellHosts", note: "Still?" } });
  expect(hosts.rows.find(({ id }) => id === "ade")?.state).toBe("done");
  expect(hosts.rows.map(({ message }) => message)).toContain("It is not known who brought them in.");
  while ((await mailOf()).length > 0);
  const sent = await database().select().from(mails).where(eq(mails.to, "maren@brinehaven.invalid"));
  expect(sent.some(({ body }) => body.includes("Still?") && !body.includes("Patrol"))).toBe(true);
  expect((await readDesk("maren")).rows.some(({ words }) => words.includes("your guest"))).toBe(true);
  // Somebody who does not keep the site is told of those alone whom they brought in.
  const mine = await lookAtRoutine(
    "maren",
    routineBody({ space: "quays", as: "maren", which: { unusedGuests: 60 }, action: { what: "tellHosts", note: "x" } }),
  );
  expect(mine.rows.map(({ id }) => id)).toEqual(["ade"]);
  await database()
    .insert(pageUses)
    .values({ personId: "ade", placeId: "landings", at: new Date() })
    .onConflictDoUpdate({ target: [pageUses.personId, pageUses.placeId], set: { at: new Date() } });
  expect(
    (await lookAtRoutine("ines", routineBody({ which: { unusedGuests: 60 }, action: { what: "tellHosts", note: "x" } }))).rows.some(
      ({ id }) => id === "ade",
    ),
  ).toBe(false);
});

it("pages are put in the bin, tags taken away, flags cleared, as far as its person may", async () => {
  const binned = await ran({ space: "quays", as: "maren", which: { state: "draft", unchanged: 1 }, action: { what: "bin" } }, "maren");
  expect(binned.run.touched).toBeGreaterThan(0);
  expect([binned.run.mayTakeBack, binned.run.sentence]).toEqual([true, expect.stringContaining("in “Quay Operations”")]);
  await takeBackJob("maren", binned.run.job ?? "", { note: "" });
  await allJobs();
  expect((await readRun("maren", binned.run.id, {})).mayTakeBack).toBe(false);
  const untagged = await ran({ which: { state: "live", tag: "tides" }, action: { what: "removeTag", tag: "tides" } });
  expect(untagged.run.state).toBe("done");
  const [sensitive] = await database()
    .select()
    .from(flags)
    .where(and(eq(flags.kind, "sensitive")));
  const cleared = await ran({ which: { state: "live", flagged: "yes" }, action: { what: "clearFlag", kind: "sensitive" } });
  expect(cleared.run.touched + cleared.run.skipped).toBeGreaterThanOrEqual(sensitive ? 1 : 0);
  const raised = await ran({
    which: { state: "live", outside: "public", flagged: "no", read: 30 },
    action: { what: "flag", kind: "doubtful", note: "n" },
    most: 3,
  });
  expect([raised.run.touched, raised.run.beyond > 0]).toEqual([3, true]);
});

it("what it says must be sound, name what is there, and be for its maker to say", async () => {
  const wrong: [Partial<SaveRoutineBody>, string][] = [
    [{ which: { state: "live", unusedGuests: 3 } }, "one of both"],
    [{ which: { state: "live", spaces: ["nowhere"] } }, "One of the spaces"],
    [{ which: { state: "live", spaces: ["cranes"] } }, "One of the spaces"],
    [{ which: { state: "live", owner: "nobody" } }, "no such owner"],
    [{ action: { what: "tellGroup", group: "nobody", note: "x" } }, "no such group"],
    [{ action: { what: "tellGroup", note: "x" } }, "Choose the group"],
    [{ action: { what: "flag", note: "x" } }, "what kind"],
    [{ action: { what: "addTag" } }, "which tag"],
    [{ action: { what: "tellOwner" } }, "what is to be told"],
    [{ as: "dora" }, "member who is let in"],
    [{ as: "gareth" }, "member who is let in"],
  ];
  for (const [it, said] of wrong) expect(await told(makeRoutine("ines", routineBody(it)))).toContain(said);
  expect(await status(makeRoutine("ines", routineBody({ space: "cranes" })))).toBe(404);
  expect(
    await told(makeRoutine("ines", routineBody({ most: 201, which: { state: "live" }, action: { what: "tellOwner", note: "x" } }))),
  ).toContain("1 to 200");
  const { id, rev } = await makeRoutine(
    "ines",
    routineBody({
      which: { state: "live", owner: "maren", branch: "quayhome" },
      action: { what: "tellGroup", group: "pilots", note: "x" },
    }),
  );
  const row = (await listRoutines("ines")).routines.find((it) => it.id === id);
  expect(row?.names).toMatchObject({ maren: "Maren Lüders", quayhome: "Quay operations", pilots: "Pilots" });
  expect((await switchRoutine("ines", id, { on: false, rev })).rev).toBe(rev);
  const changed = await changeRoutine("ines", id, { ...routineBody({ on: true, name: "Otherwise" }), rev });
  expect(changed.rev).toBe(rev + 1);
  expect(await status(changeRoutine("ines", id, { ...routineBody(), rev }))).toBe(409);
  await removeRoutine("ines", id);
  expect(await status(switchRoutine("ines", id, { on: true, rev: rev + 2 }))).toBe(404);
});

it("a page that went to another space since it was taken, or that whoever it runs as may not touch by now, is left as it is", async () => {
  const { id } = await makeRoutine(
    "maren",
    routineBody({ space: "quays", as: "maren", which: { state: "live" }, action: { what: "addTag", tag: "kept-here" }, most: 500 }),
  );
  const { run } = await runRoutine("maren", id, { rev: 1, once: once() });
  const taken = (await readRun("maren", run, {})).rows.map((row) => row.id);
  const access = await inSnapshot(readAccess);
  const leaves = taken.filter((page) => {
    const place = placeOf(access.index, page);
    return place && maySee(access, subjectFor(access, "ines"), place) && below(access.index, place).length === 1;
  });
  const [moved = "", fenced = ""] = leaves;
  await change(
    { kind: "move", place: moved, from: placeOf(access.index, moved)?.place.parent ?? "", to: "notices" },
    { kind: "fence", place: fenced, put: { kind: "read", admits: [{ person: "lena" }] } },
    { kind: "owner", place: fenced, from: placeOf(access.index, fenced)?.place.owner ?? null, to: "lena" },
  );
  await allJobs();
  const after = await readRun("ines", run, {});
  for (const page of [moved, fenced])
    expect(after.rows.find((row) => row.id === page)).toMatchObject({ state: "skipped", message: expect.any(String) });
  expect(after.touched).toBe(taken.length - after.skipped);
});

it("none is made or switched on in a space that is archived; what is kept there is not run", async () => {
  const { id, rev } = await makeRoutine("ines", routineBody({ space: "dredging" }));
  await change({ kind: "state", place: "dredging", from: { state: "live" }, to: { state: "archived", was: "live" } });
  expect(await told(makeRoutine("ines", routineBody({ space: "dredging" })))).toContain("Its space is archived.");
  expect(await status(switchRoutine("ines", id, { on: true, rev }))).toBe(400);
  expect(await status(runRoutine("ines", id, { rev, once: once() }))).toBe(400);
  expect((await listRoutines("ines")).routines.find((it) => it.id === id)?.problem).toContain("archived");
});

it("it does not run once its space is shut, its person keeps it no more, or it was taken away half-way; the desk says so", async () => {
  const { id } = await makeRoutine(
    "maren",
    routineBody({ space: "quays", as: "maren", on: true, action: { what: "addTag", tag: "seen" } }),
  );
  const { run } = await runRoutine("maren", id, { rev: 1, once: "half-way-once" });
  const job = (await readRun("maren", run, {})).job ?? "";
  await stopJob("maren", job);
  await runJob(job, KINDS);
  const stopped = (await readDesk("maren")).rows.find(({ key }) => key === `routine:${id}`);
  expect(stopped?.words).toContain("stopped");
  expect(stopped?.acts.map(({ key }) => key)).toEqual(["g", "o"]);
  await removeRoutine("maren", id);
  await goOnWithJob("maren", job);
  await runJob(job, KINDS);
  expect((await readRun("maren", run, {})).problem).toContain("taken away");
  const next = await makeRoutine("maren", routineBody({ space: "quays", as: "maren", on: true, action: { what: "addTag", tag: "seen" } }));
  const place = (await inSnapshot(readAccess)).index.document.places.find((it) => it.id === "quays");
  const grant = place?.grants.find(({ to }) => "person" in to && to.person === "maren");
  if (!grant) throw new Error("maren keeps the quays otherwise");
  await change({ kind: "grant", place: "quays", remove: grant });
  await database()
    .update(routines)
    .set({ nextAt: new Date(Date.now() - 60_000) })
    .where(eq(routines.id, next.id));
  await runDueRoutines();
  const row = (await listRoutines("ines")).routines.find((it) => it.id === next.id);
  expect([row?.problem, row?.runs[0]?.state]).toEqual([expect.stringContaining("does not keep"), "failed"]);
  expect((await readDesk("ines")).rows.find(({ key }) => key === `routine:${next.id}`)?.words).toContain("does not run");
  expect((await listRoutines("maren")).routines).toEqual([]);
});
