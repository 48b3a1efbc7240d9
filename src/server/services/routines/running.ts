/**
 * Running routines (lifecycle.md, "Routines"): at their times, each time once however many servers there are, a missed one
 * caught up on once; and by hand. A run is a job, whose items are what it takes: so it is stopped, gone on with and taken
 * back like any other.
 */
import { and, eq, lte } from "drizzle-orm";
import type { RunBegun, RunRoutineBody } from "../../../contracts/routines.ts";
import { pathOf, placeOf } from "../../../core/access/index/index.ts";
import { isFinal, nextTimes } from "../../../core/routines/index.ts";
import { type Access, readAccess } from "../../access/current.ts";
import { presentInstant } from "../../clock.ts";
import { afterCommit, database, inChange, inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { routineRuns, routines } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { handOut } from "../../jobs/boss.ts";
import { enterJob } from "../../jobs/running.ts";
import { noteTrouble } from "../../log.ts";
import { badRequest } from "../../trouble.ts";
import { checkAs, checkRev, keptRoutine } from "./routines.ts";
import { type RoutineRecord, runnerOf, whyNot } from "./standing.ts";
import { type Taking, takingOf } from "./taking.ts";

/** What a run's job knows of its work. */
export interface RoutineOrder extends Record<string, unknown> {
  note: string;
  run: string;
  routine: string;
  name: string;
  /** What it does cannot be taken back. */
  final: boolean;
}

/** So many that are due are begun at one look: the next look, within a minute, begins the others. */
const AT_ONE_LOOK = 500;

/** What it would take, or why it does not run; worked out before anybody waits in the line of changes. */
async function prepared(tx: Tx, access: Access, record: RoutineRecord): Promise<Taking | string> {
  const why = whyNot(access, record);
  const as = runnerOf(access, record.asId);
  if (why !== null || !as) return why ?? "";
  return takingOf(tx, access, { ...record, routine: record.id, as }, 0);
}

/** Deepest first: what stands in a page is done before the page. */
const byDepth = ({ index }: Access, ids: readonly string[]): string[] => {
  const depth = new Map(ids.map((id) => [id, pathOf(index, placeOf(index, id) as never).length]));
  return [...ids].sort((a, b) => (depth.get(b) ?? 0) - (depth.get(a) ?? 0));
};

const TREE: ReadonlySet<RoutineRecord["action"]["what"]> = new Set(["archive", "bin", "erase"]);

/** Enters a run with its job; of one that cannot run, why. */
async function enter(
  tx: Tx,
  access: Access,
  record: RoutineRecord,
  { taking, slot, by, once }: { taking: Taking | string; slot: Date; by?: string; once?: string },
): Promise<string | null> {
  const id = newId();
  const { which, action } = record;
  const common = { id, routineId: record.id, slot, startedAt: new Date(access.at), by, once, which, action };
  const failed =
    typeof taking === "string" ? { problem: taking } : { fits: taking.fits, beyond: taking.todo - taking.notAllowed - taking.taken.length };
  const entered = await tx
    .insert(routineRuns)
    .values({ ...common, ...failed })
    .onConflictDoNothing()
    .returning({ id: routineRuns.id });
  if (entered.length === 0) return null;
  if (typeof taking === "string") return id;
  const ids = taking.taken.map((it) => it.id).filter((it) => !TREE.has(action.what) || placeOf(access.index, it));
  const order: RoutineOrder = {
    note: `By the routine “${record.name}”`,
    run: id,
    routine: record.id,
    name: record.name,
    final: isFinal(action),
  };
  const items = [
    ...(TREE.has(action.what) ? byDepth(access, ids) : ids).map((placeId) => ({
      placeId,
      state: "waiting" as const,
      message: null,
      seq: null,
    })),
    ...taking.spared.map(({ id: placeId, why }) => ({ placeId, state: "skipped" as const, message: why, seq: null })),
  ];
  const job = await enterJob(tx, { kind: "routine", by: record.asId, order, items, always: true });
  await tx.update(routineRuns).set({ jobId: job }).where(eq(routineRuns.id, id));
  afterCommit(tx, () => void handOut("job", { id: job }));
  return id;
}

/** Begins one whose time has come, unless another server did meanwhile; the times it missed besides are not made up for. */
async function beginDue(id: string): Promise<void> {
  const found = await inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const [record] = await tx.select().from(routines).where(eq(routines.id, id));
    return record ? { record, taking: await prepared(tx, access, record) } : null;
  });
  if (!found) return;
  await inChange(async (tx) => {
    const [record] = await tx.select().from(routines).where(eq(routines.id, id));
    const { nextAt, rev, isOn, cron, zone } = record ?? {};
    const access = await readAccess(tx);
    // Set otherwise, switched off or begun by another server since it was looked at.
    if (!record || !isOn || !nextAt || rev !== found.record.rev || nextAt.getTime() > access.at) return;
    await enter(tx, access, record, { taking: whyNot(access, record) ?? found.taking, slot: nextAt });
    const [next] = nextTimes({ cron: cron ?? "", zone: zone ?? "" }, access.at, 1);
    await tx
      .update(routines)
      .set({ nextAt: next === undefined ? null : new Date(next) })
      .where(eq(routines.id, id));
  });
}

/** Times that lie further ahead than the next one is, since a clock went wrong for a while, are put right. */
async function mendTimes(now: number): Promise<void> {
  const rows = await database().select().from(routines).where(eq(routines.isOn, true));
  for (const { id, nextAt, cron, zone, rev } of rows) {
    const [next] = nextTimes({ cron, zone }, now, 1);
    if (next !== undefined && (nextAt === null || nextAt.getTime() > next))
      await database()
        .update(routines)
        .set({ nextAt: new Date(next) })
        // Set otherwise meanwhile: then its time was set with it.
        .where(and(eq(routines.id, id), eq(routines.rev, rev), eq(routines.isOn, true)));
  }
}

/** Begins every routine whose time has come. One that cannot be begun keeps no other from it. */
export async function runDueRoutines(): Promise<void> {
  const now = presentInstant();
  await mendTimes(now);
  const due = await database()
    .select({ id: routines.id })
    .from(routines)
    .where(and(eq(routines.isOn, true), lte(routines.nextAt, new Date(now))))
    .orderBy(routines.nextAt)
    .limit(AT_ONE_LOOK);
  for (const { id } of due) await beginDue(id).catch((error) => noteTrouble("A routine was not begun", error));
}

/** Runs a routine now, whatever its time. Asked for twice by the same name, it runs once. */
export async function runRoutine(maker: string, id: string, { rev, once }: RunRoutineBody): Promise<RunBegun> {
  const taking = await inSnapshotOfLists(async (tx) => {
    const { access, me, record } = await keptRoutine(tx, maker, id);
    checkAs(access, me, record);
    checkRev(record, rev);
    return prepared(tx, access, record);
  });
  return inChange(async (tx) => {
    const { access, me, record } = await keptRoutine(tx, maker, id);
    checkAs(access, me, record);
    checkRev(record, rev);
    const why = whyNot(access, record) ?? (typeof taking === "string" ? taking : null);
    if (why !== null) throw badRequest(why);
    const known = await askedBefore(tx, id, once);
    if (known) return { run: known };
    const run = await enter(tx, access, record, { taking, slot: new Date(access.at), by: maker, once });
    if (!run) throw badRequest("It was begun at this very moment already.");
    return { run };
  });
}

async function askedBefore(tx: Tx, routineId: string, once: string): Promise<string | null> {
  const [row] = await tx
    .select({ id: routineRuns.id })
    .from(routineRuns)
    .where(and(eq(routineRuns.routineId, routineId), eq(routineRuns.once, once)));
  return row?.id ?? null;
}
