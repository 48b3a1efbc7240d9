/**
 * What waits for an instant, and long work: handed out through the database, so that one of many servers does each. A server
 * process starts it once; where it was not started, as in tests of services, what is handed out waits for whoever starts it.
 */
import PgBoss from "pg-boss";
import { noteTrouble } from "../log.ts";

/** What is handed out: pages whose instant has come, jobs, counts that are brought up to date. */
export type Task = "due" | "job" | "counts";
type Handlers = Record<Task, (data: { id?: string }) => Promise<unknown>>;

let boss: PgBoss | undefined;
/** Who of this process takes what is handed out, by the library's name for them. */
const takers: Partial<Record<Task, string>> = {};

const MINUTE = 60_000;
/** What comes round by itself, and after how many seconds: of all servers that ask for it then, one does it. */
const ROUND: Partial<Record<Task, number>> = { due: 60, counts: 3_600 };

/** Starts handing out, in this server process, and looks every minute for what a server that went away left behind. */
export async function startBoss(url: string, handlers: Handlers): Promise<void> {
  const started = new PgBoss({
    connectionString: url,
    schema: "handing_out",
    max: 3,
    deleteAfterDays: 2,
    archiveCompletedAfterSeconds: 3600,
    schedule: false,
  });
  started.on("error", (error) => noteTrouble("Handing out work", error));
  await started.start();
  for (const task of Object.keys(handlers) as Task[]) {
    await started.createQueue(task);
    const options = { pollingIntervalSeconds: 1, batchSize: 1 };
    takers[task] = await started.work<{ id?: string }>(task, options, async ([it]) => {
      await handlers[task](it?.data ?? {}).catch((error) => noteTrouble(`The task "${task}"`, error));
      // There may be more: it is looked for at once, not after a second.
      lookNow(task);
    });
  }
  boss = started;
  // By a clock of this process rather than the library's, which goes by the hours of two clocks and misses a turn where the
  // database goes away in it.
  setInterval(comeRound, MINUTE).unref();
}

function comeRound(): void {
  for (const [task, singletonSeconds] of Object.entries(ROUND))
    void boss?.send(task, {}, { singletonSeconds }).catch((error) => noteTrouble("Handing out work", error));
}

/** This process looks at once for what is handed out; others do within a second. */
function lookNow(task: Task): void {
  const taker = takers[task];
  if (taker) boss?.notifyWorker(taker);
}

/** Hands something out, now or at an instant. What cannot be handed out is found by the look every minute. */
export async function handOut(task: Task, data: { id?: string } = {}, at?: Date): Promise<void> {
  // In seconds from now: the database's clock may go otherwise than ours.
  const seconds = at ? Math.max(0, Math.ceil((at.getTime() - Date.now()) / 1000)) : 0;
  const options = { ...(seconds > 0 ? { startAfter: seconds } : {}), retryLimit: 3, expireInHours: 12 };
  await boss?.send(task, data, options).catch((error) => noteTrouble("Handing out work", error));
  if (seconds === 0) lookNow(task);
}
