/** Two servers on one database, and two hundred routines whose time has come: each is done once, whoever does it. */
import { and, eq, inArray, lt, sql } from "drizzle-orm";
import { afterAll, beforeAll, expect, it } from "vitest";
import { freePort } from "../../cli/postgres.ts";
import { serve } from "../../cli/serving.ts";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { closeDatabase, database } from "../../src/server/db/client.ts";
import { jobItems, jobs, notices, routineRuns, routines } from "../../src/server/db/schema/index.ts";
import { runDueRoutines } from "../../src/server/services/routines/running.ts";

const DUE = 200;
let site: TestSite;
let second: Awaited<ReturnType<typeof serve>> | undefined;

beforeAll(async () => {
  site = await openSite();
});
afterAll(async () => {
  await second?.stop();
  await closeDatabase();
  await site?.close();
});

it("each of two hundred due runs is done once by two servers and a third that looks at the same moment", async () => {
  const long = new Date(Date.now() - 40 * 86_400_000);
  await database()
    .insert(routines)
    .values(
      Array.from({ length: DUE }, (_, i) => ({
        id: `many${i}`,
        name: `Many ${i}`,
        spaceId: "quays",
        which: { state: "live" as const, branch: i % 2 === 0 ? "cranes" : "mooring" },
        action: { what: "tellOwner" as const, note: `${i}` },
        cron: "0 6 * * *",
        zone: "Europe/Lisbon",
        most: 5,
        asId: "maren",
        setBy: "maren",
        setAt: long,
        isOn: true,
        nextAt: long,
      })),
    );
  second = await serve(site.databaseUrl, "127.0.0.1", await freePort(), process.env.TESORO_SECRET ?? "");
  await Promise.all([runDueRoutines(), runDueRoutines()]);
  const mine = sql`${routineRuns.routineId} like 'many%'`;
  const done = async () =>
    (
      await database()
        .select({ id: jobs.id })
        .from(jobs)
        .innerJoin(routineRuns, eq(routineRuns.jobId, jobs.id))
        .where(and(mine, eq(jobs.state, "done")))
    ).length;
  for (let waited = 0; (await done()) < DUE && waited < 300; waited++) await new Promise((later) => setTimeout(later, 1_000));
  const runs = await database().select().from(routineRuns).where(mine);
  expect(runs.map(({ routineId }) => routineId).sort()).toEqual(Array.from({ length: DUE }, (_, i) => `many${i}`).sort());
  const ids = runs.flatMap(({ jobId }) => jobId ?? []);
  const items = await database().select().from(jobItems).where(inArray(jobItems.jobId, ids));
  expect(items.filter(({ state }) => state === "done")).toHaveLength(DUE);
  // Whoever is told is told once of each.
  const told = await database()
    .select({ routine: sql<string>`${notices.about}->>'routine'` })
    .from(notices)
    .where(and(eq(notices.kind, "routine"), sql`${notices.about}->>'routine' like 'many%'`));
  expect(told).toHaveLength(DUE);
  expect(new Set(told.map(({ routine }) => routine)).size).toBe(DUE);
  const late = await database()
    .select({ id: routines.id })
    .from(routines)
    .where(and(sql`${routines.id} like 'many%'`, lt(routines.nextAt, new Date())));
  expect(late).toEqual([]);
}, 400_000);
