/**
 * Jobs, the mechanism (lifecycle.md, "Many at once"): a register, batches of which each is one transaction with its results, a
 * stop between two of them, going on after a restart. A lock of the database keeps a job to one server at a time; a server
 * that goes away lets go of it.
 */
import { and, asc, eq, inArray, ne, or, sql } from "drizzle-orm";
import type { ManyBody } from "../../contracts/jobs.ts";
import { database, inChange, type Tx, withLock } from "../db/client.ts";
import { jobItems, jobs } from "../db/schema/index.ts";
import { newId } from "../ids.ts";
import { noteTrouble } from "../log.ts";
import { badRequest, Trouble } from "../trouble.ts";

export type Job = typeof jobs.$inferSelect;
export type Item = typeof jobItems.$inferSelect;

/** What a job knows of its work. */
export interface JobOrder extends Record<string, unknown> {
  many?: ManyBody;
  note: string;
  reason?: string;
}

/** The results of a batch: what became of each item; those not named wait on. */
export type Results = { nth: number; state: "done" | "skipped"; message?: string; seq?: number }[];

/** Why a job must stop, for its starter to read. */
export class Stop extends Error {}

interface Changing {
  /** So many items at once. */
  batch: number;
  /** Does a batch in a transaction, in the line of changes; what it throws leaves nothing behind. */
  run(tx: Tx, job: Job, items: readonly Item[]): Promise<Results>;
}

/** Work that changes nothing of the site and takes its time: it keeps no change waiting. */
interface Looking {
  batch: number;
  /** Does a batch; what it comes back with writes what was found, and answers with the results. It may add items. */
  look(job: Job, items: readonly Item[]): Promise<(tx: Tx) => Promise<Results>>;
}

export type Kind = Changing | Looking;

/** So many jobs of one person wait or run at most: they are done one after the other, and others have some, too. */
const MOST_UNDER_WAY = 5;

/** Refuses one more job of somebody who has many under way. */
export async function checkRoom(tx: Tx, by: string): Promise<void> {
  const underWay = await tx
    .select({ id: jobs.id })
    .from(jobs)
    .where(and(eq(jobs.by, by), ne(jobs.kind, "routine"), inArray(jobs.state, ["waiting", "running"])));
  if (underWay.length >= MOST_UNDER_WAY)
    throw badRequest(`${underWay.length} of your jobs are under way already. Let one come to its end, or stop one, then try this again.`);
}

/** Enters a job with its items. */
export async function enterJob(
  tx: Tx,
  {
    kind,
    by,
    order,
    items,
    always = false,
  }: {
    kind: string;
    by: string;
    order: JobOrder;
    items: readonly Pick<Item, "placeId" | "state" | "message" | "seq">[];
    /** Nobody ordered it: it is entered however many others are under way. */
    always?: boolean;
  },
): Promise<string> {
  if (!always) await checkRoom(tx, by);
  const id = newId();
  await tx.insert(jobs).values({ id, kind, by, order, state: "waiting", startedAt: new Date() });
  for (let i = 0; i < items.length; i += 2_000)
    await tx.insert(jobItems).values(items.slice(i, i + 2_000).map((item, j) => ({ ...item, jobId: id, nth: i + j })));
  return id;
}

async function write(tx: Tx, job: Job, results: Results): Promise<void> {
  const rows = JSON.stringify(results.map(({ nth, state, message = null, seq = null }) => ({ nth, state, message, seq })));
  await tx.execute(sql`
    update job_items as i set state = r.state, message = r.message, seq = r.seq
    from jsonb_to_recordset(${rows}::text::jsonb) as r(nth int, state text, message text, seq bigint)
    where i.job_id = ${job.id} and i.nth = r.nth and i.state = 'waiting'`);
}

const setState = (id: string, change: Partial<Job>) => database().update(jobs).set(change).where(eq(jobs.id, id));

/** Whether a job still runs, and nobody wants it to stop. */
async function stillRuns(tx: Tx, { id }: Job): Promise<boolean> {
  const [still] = await tx.select({ state: jobs.state, stopAsked: jobs.stopAsked }).from(jobs).where(eq(jobs.id, id));
  return still?.state === "running" && still.stopAsked === null;
}

/** One batch as a whole; where something in it is refused, item by item. */
async function batchOf(job: Job, kind: Kind, items: readonly Item[]): Promise<void> {
  if ("look" in kind) {
    const found = await kind.look(job, items);
    return database().transaction(async (tx) => {
      if (await stillRuns(tx, job)) await write(tx, job, await found(tx));
    });
  }
  const once = (list: readonly Item[]) =>
    inChange(async (tx) => {
      // While this one waited for the lock, another server may have done it, or somebody wanted it to stop.
      if (!(await stillRuns(tx, job))) return;
      await write(tx, job, await kind.run(tx, job, list));
    });
  try {
    return await once(items);
  } catch (error) {
    if (!(error instanceof Trouble) || items.length === 1) throw error;
  }
  for (const item of items) {
    try {
      await once([item]);
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      await inChange((tx) => write(tx, job, [{ nth: item.nth, state: "skipped", message: error.message }]));
    }
  }
}

async function work(id: string, kinds: Readonly<Record<string, Kind>>): Promise<void> {
  await database()
    .update(jobs)
    .set({ state: "running" })
    .where(and(eq(jobs.id, id), eq(jobs.state, "waiting")));
  for (;;) {
    const [job] = await database().select().from(jobs).where(eq(jobs.id, id));
    const kind = job && kinds[job.kind];
    if (!job || !kind || job.state !== "running") return;
    if (job.stopAsked !== null) return void (await setState(id, { state: "stopped", endedAt: new Date() }));
    const items = await database()
      .select()
      .from(jobItems)
      .where(and(eq(jobItems.jobId, id), eq(jobItems.state, "waiting")))
      .orderBy(asc(jobItems.nth))
      .limit(kind.batch);
    if (items.length === 0) return void (await setState(id, { state: "done", endedAt: new Date() }));
    try {
      await batchOf(job, kind, items);
    } catch (error) {
      if (error instanceof Trouble && items.length === 1) {
        await inChange((tx) => write(tx, job, [{ nth: items[0]?.nth ?? 0, state: "skipped", message: error.message }]));
        continue;
      }
      if (!(error instanceof Stop)) noteTrouble("A job", error);
      const problem =
        error instanceof Stop
          ? error.message
          : "Something broke on the server. What was done is done; go on with it, or tell the site keeper.";
      return void (await setState(id, { state: "stopped", problem, endedAt: new Date() }));
    }
  }
}

/** Works a job through, unless another server is at it. */
export const runJob = (id: string, kinds: Readonly<Record<string, Kind>>): Promise<void> => withLock(`job ${id}`, () => work(id, kinds));

/** Jobs that are not at their end: those of a server that went away are among them. */
export async function unfinished(): Promise<string[]> {
  const rows = await database()
    .select({ id: jobs.id })
    .from(jobs)
    .where(or(eq(jobs.state, "waiting"), eq(jobs.state, "running")));
  return rows.map(({ id }) => id);
}

/** How many items of jobs are in each state. */
export async function tally(tx: Tx, ids: readonly string[]): Promise<Map<string, { total: number; done: number; skipped: number }>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({
      id: jobItems.jobId,
      total: sql<number>`count(*)::int`,
      done: sql<number>`(count(*) filter (where state = 'done'))::int`,
      skipped: sql<number>`(count(*) filter (where state = 'skipped'))::int`,
    })
    .from(jobItems)
    .where(inArray(jobItems.jobId, [...ids]))
    .groupBy(jobItems.jobId);
  return new Map(rows.map(({ id, ...rest }) => [id, rest]));
}
