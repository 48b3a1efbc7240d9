/** What went wrong by itself: routines that failed or stopped, schedules that could not be kept, jobs that stopped. */
import { and, desc, eq, gt, inArray, isNotNull, ne, sql } from "drizzle-orm";
import type { DeskRow } from "../../../contracts/desk.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { PUBLISH, RETIRE } from "../../../core/access/model/index.ts";
import { reachOf, within } from "../../db/listing.ts";
import { jobs, listing, routineRuns, routines, schedules } from "../../db/schema/index.ts";
import { keepsRoutines, maySetAs, whyNot } from "../routines/standing.ts";
import { type Asking, DAY, firstOf, go, NOTHING, named, slip, type Told, titled } from "./asking.ts";

/** Routines one keeps that are switched on and will not run, or whose last run stopped or did nothing since it could not. */
export async function routineRows(asking: Asking): Promise<Told> {
  const { tx, access, me } = asking;
  const kept = (await tx.select().from(routines).where(eq(routines.isOn, true))).filter(({ spaceId }) =>
    keepsRoutines(access, me, spaceId),
  );
  if (kept.length === 0) return NOTHING;
  const last = await tx
    .selectDistinctOn([routineRuns.routineId], { run: routineRuns, state: jobs.state, trouble: jobs.problem })
    .from(routineRuns)
    .leftJoin(jobs, eq(jobs.id, routineRuns.jobId))
    .where(
      inArray(
        routineRuns.routineId,
        kept.map(({ id }) => id),
      ),
    )
    .orderBy(routineRuns.routineId, desc(routineRuns.startedAt));
  const byRoutine = new Map(last.map((row) => [row.run.routineId, row]));
  const rows = kept.flatMap((routine): DeskRow[] => {
    const it = byRoutine.get(routine.id);
    const failing = whyNot(access, routine);
    const stopped = it?.state === "stopped";
    const problem = failing ?? it?.run.problem ?? (stopped ? it.trouble : null);
    if (failing === null && !stopped && !it?.run.problem) return [];
    const address = `/routines?routine=${encodeURIComponent(routine.id)}`;
    const goesOn = stopped && it?.run.jobId && maySetAs(access, me, routine.asId);
    return [
      {
        key: `routine:${routine.id}`,
        heading: "machinery",
        words: `The routine “${routine.name}” ${failing !== null ? "does not run" : stopped ? "stopped" : "did not run"}`,
        place: null,
        since: it?.run.startedAt.toISOString() ?? null,
        otherwise: stopped ? "what it did not come to is left for its next time" : "it goes on doing nothing",
        lines: problem ? [problem] : [],
        acts: [
          ...(goesOn ? [{ key: "g", name: "Go on", how: { do: "goOn" as const, job: it?.run.jobId ?? "" } }] : []),
          go("o", "Set it right …", address),
        ],
      },
    ];
  });
  return firstOf(asking, rows, { heading: "machinery", words: "more routines", address: "/routines" });
}

/** What was to go live, or into the archive, and was refused when its instant came. */
export async function heldRows(asking: Asking): Promise<Told> {
  const { tx, access, me, keepsSite } = asking;
  const reach = keepsSite ? undefined : within(await reachOf(tx, access.index, me.number, access.at, PUBLISH | RETIRE | OVERSEES));
  const found = await tx
    .select({ row: schedules })
    .from(schedules)
    .innerJoin(listing, eq(listing.placeId, schedules.placeId))
    .where(and(isNotNull(schedules.problem), reach))
    .orderBy(schedules.at)
    .limit(100);
  const rows = found.flatMap(({ row }): DeskRow[] => {
    const place = placeOf(access.index, row.placeId);
    if (!place) return [];
    return [
      {
        key: `held:${row.placeId}.${row.what}`,
        heading: "machinery",
        words: `${titled(place)} did not ${row.what === "live" ? "go live" : "go into the archive"} at its time`,
        place: named(place),
        since: row.at.toISOString(),
        otherwise: "it waits, and is never tried again by itself",
        lines: row.problem ? [row.problem] : [],
        acts: [go("o", "Set it right …", slip(row.placeId))],
      },
    ];
  });
  return firstOf(asking, rows, { heading: "machinery", words: "more that wait", address: "/pages?held=yes" });
}

const JOBS_STAND_DAYS = 14;

/** One's own long work that stopped and can go on. */
export async function jobRows(asking: Asking): Promise<Told> {
  const { tx, access, who } = asking;
  const found = await tx
    .select()
    .from(jobs)
    .where(
      and(
        eq(jobs.by, who),
        eq(jobs.state, "stopped"),
        ne(jobs.kind, "routine"),
        isNotNull(jobs.problem),
        gt(jobs.startedAt, new Date(access.at - JOBS_STAND_DAYS * DAY)),
        sql`exists (select 1 from job_items i where i.job_id = ${jobs}.id and i.state = 'waiting')`,
      ),
    )
    .orderBy(desc(jobs.startedAt))
    .limit(50);
  const rows = found.map(
    (job): DeskRow => ({
      key: `job:${job.id}`,
      heading: "machinery",
      words: "Long work of yours stopped before its end",
      place: null,
      since: job.endedAt?.toISOString() ?? job.startedAt.toISOString(),
      otherwise: "what it did not come to stays as it is",
      lines: job.problem ? [job.problem] : [],
      acts: [{ key: "g", name: "Go on", how: { do: "goOn", job: job.id } }, go("o", "What it did …", "/ledger")],
    }),
  );
  return firstOf(asking, rows, { heading: "machinery", words: "more jobs", address: "/pages" });
}
