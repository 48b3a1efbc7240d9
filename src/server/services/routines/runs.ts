/** Runs of routines: each as a line, and page by page. */
import { and, asc, count, desc, eq, inArray, not } from "drizzle-orm";
import { RUNS_SHOWN, type RunLine, type RunQuery, type RunView } from "../../../contracts/routines.ts";
import { type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { actionWords, filterWords, finalWords, isAboutGuests, isFinal } from "../../../core/routines/index.ts";
import { type Access, isKeeper, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { knowsPeople, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { jobItems, jobs, ledger, routineRuns, routines } from "../../db/schema/index.ts";
import { tally } from "../../jobs/running.ts";
import { isTakenBack } from "../../ledger/takenBack.ts";
import { notThere } from "../../trouble.ts";
import { keepsRoutines } from "./standing.ts";

type RunRecord = typeof routineRuns.$inferSelect;

async function linesOf(tx: Tx, access: Access, me: CompiledSubject, records: readonly RunRecord[]): Promise<RunLine[]> {
  const ids = records.flatMap(({ jobId }) => jobId ?? []);
  const counts = await tally(tx, ids);
  const rows = ids.length === 0 ? [] : await tx.select().from(jobs).where(inArray(jobs.id, ids));
  const byId = new Map(rows.map((job) => [job.id, job]));
  const names = namesFor(access, me);
  return records.map((run) => {
    const job = run.jobId === null ? undefined : byId.get(run.jobId);
    const { total = 0, done = 0, skipped = 0 } = counts.get(run.jobId ?? "") ?? {};
    const asked = job?.stopAsked && job.state === "stopped" ? `Stopped by ${names.person(job.stopAsked)}.` : null;
    return {
      id: run.id,
      slot: run.slot.toISOString(),
      at: run.startedAt.toISOString(),
      by: run.by === null ? null : names.person(run.by),
      state: job?.state ?? "failed",
      problem: run.problem ?? job?.problem ?? asked,
      touched: done,
      skipped,
      waiting: total - done - skipped,
      beyond: run.beyond,
      unlisted: Math.max(0, run.fits - run.beyond - total),
      job: run.jobId,
    };
  });
}

/** The latest runs of a routine, the newest first. */
export async function runsOf(tx: Tx, access: Access, me: CompiledSubject, routineId: string): Promise<RunLine[]> {
  const records = await tx
    .select()
    .from(routineRuns)
    .where(eq(routineRuns.routineId, routineId))
    .orderBy(desc(routineRuns.startedAt), desc(routineRuns.id))
    .limit(RUNS_SHOWN);
  return linesOf(tx, access, me, records);
}

const ROWS = 200;

/** A run, page by page; for those who keep the routine. */
export const readRun = (asker: string, id: string, { from = 0 }: RunQuery): Promise<RunView> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const [found] = await tx
      .select({ run: routineRuns, routine: routines })
      .from(routineRuns)
      .innerJoin(routines, eq(routines.id, routineRuns.routineId))
      .where(eq(routineRuns.id, id));
    if (!found || !keepsRoutines(access, me, found.routine.spaceId)) throw notThere();
    const { run, routine } = found;
    const [line] = await linesOf(tx, access, me, [run]);
    const items = await tx
      .select()
      .from(jobItems)
      .where(eq(jobItems.jobId, run.jobId ?? ""))
      .orderBy(asc(jobItems.nth))
      .offset(from)
      .limit(ROWS);
    const rows = items.flatMap(({ placeId, state, message }) => {
      const title = titleOf(access, me, run, placeId);
      return title === null ? [] : [{ id: placeId, title, state: state as "waiting" | "done" | "skipped", message: message ?? "" }];
    });
    const [job] = await tx
      .select()
      .from(jobs)
      .where(eq(jobs.id, run.jobId ?? ""));
    const [left] = await tx
      .select({ count: count() })
      .from(ledger)
      .where(and(eq(ledger.job, run.jobId ?? ""), not(isTakenBack)));
    const names = namesFor(access, me);
    const { verb, after } = actionWords(run.action, names);
    const { touched = 0, skipped = 0, waiting = 0 } = line ?? {};
    const ended = line?.state === "done" || line?.state === "stopped";
    // A job is there for whom it runs as, and for site keepers.
    const mine = job?.by === asker || isKeeper(access, me);
    return {
      ...(line as RunLine),
      routine: routine.id,
      name: routine.name,
      sentence: `${verb} ${filterWords(run.which, names, routine.spaceId)}${after}`,
      final: finalWords(run.action),
      mayStop: !ended && job !== undefined && mine,
      mayTakeBack: ended && mine && !isFinal(run.action) && (left?.count ?? 0) > 0,
      mayGoOn: line?.state === "stopped" && waiting > 0 && mine,
      rows,
      more: Math.max(0, touched + skipped + waiting - from - items.length),
      hidden: items.length - rows.length,
    };
  });

/** How what a run was about is called, for whoever may know of it; null for others. */
function titleOf(access: Access, me: CompiledSubject, { which }: RunRecord, id: string): string | null {
  if (isAboutGuests(which)) {
    const person = knowsPeople(access, me) ? subjectOf(access.index, { person: id })?.person : undefined;
    return person ? (person.name ?? person.id) : null;
  }
  const place = placeOf(access.index, id);
  return place && maySee(access, me, place) ? (place.place.title ?? "") : null;
}
