/** What a server process does beside answering: pages whose instant has come, jobs, counts. One of many servers does each. */

import { inChange } from "../db/client.ts";
import { countViews } from "../db/deriving.ts";
import { handOut, startBoss } from "../jobs/boss.ts";
import { runJob, unfinished } from "../jobs/running.ts";
import { noteTrouble } from "../log.ts";
import { forgetAsked } from "../services/asked/asking.ts";
import { endUnused } from "../services/inviting/inviting.ts";
import { KINDS } from "../services/jobs/kinds.ts";
import { sendDaily } from "../services/notices/daily.ts";
import { mailOf } from "../services/notices/kinds.ts";
import { turnByClock } from "../services/pledges/turns.ts";
import { forgetUses } from "../services/reading/uses.ts";
import { forgetReaders } from "../services/reads/noting.ts";
import { runDueRoutines } from "../services/routines/running.ts";
import { forgetThrown } from "../services/workbench/bench.ts";
import { runSchedules } from "../services/writing/scheduling.ts";

/** What is due by now, and jobs that a server which went away left behind. */
async function catchUp(): Promise<void> {
  await catchUpOnActs();
  // Worked out aside, where there may be no room: then in a minute.
  await turnByClock().catch((error) => noteTrouble("Pledges were not looked at", error));
}

/** What somebody waits for. A server that starts does this alone: what pledges came to by the clock waits for its first minute. */
async function catchUpOnActs(): Promise<void> {
  await runSchedules();
  await runDueRoutines().catch((error) => noteTrouble("Routines were not begun", error));
  await endUnused();
  await mailOf();
  await sendDaily().catch((error) => noteTrouble("Daily mail was not sent", error));
  for (const id of await unfinished()) await handOut("job", { id });
}

/** So many counts at once: nobody's change waits for long. */
const AT_ONCE = 200;

/** Brings counts up to date, and forgets what is kept no longer. */
async function hourly(): Promise<void> {
  await recount();
  await forgetUses();
  await forgetReaders();
  await forgetAsked();
  await forgetThrown();
}

/** Brings counts up to date in pieces, each a change of its own turn: two that write the same rows never meet halfway. */
async function recount(): Promise<void> {
  while ((await inChange((tx) => countViews(tx, AT_ONCE))) > 0);
}

/** Works a job through; where the database goes away under it, as soon as it is back. (What is left waiting is found by the look every minute.) */
async function workThrough(id: string): Promise<void> {
  for (let left = TRIES; ; left--) {
    try {
      return await runJob(id, KINDS);
    } catch (error) {
      if (left === 0) throw error;
      noteTrouble("A job waits for the database", error);
      await new Promise((later) => setTimeout(later, SOON));
    }
  }
}

const SOON = 2_000;
const TRIES = 10;
const AGAIN = 30_000;

/** Begins, and tries again where the database does not answer yet; what was missed while nobody served is caught up on. */
export function startUpkeep(): void {
  const begin = async () => {
    await startBoss(process.env.DATABASE_URL ?? "", {
      due: catchUp,
      job: async ({ id }) => (id ? workThrough(id) : undefined),
      counts: hourly,
    });
    await catchUpOnActs();
  };
  void begin().catch((error) => {
    noteTrouble("Upkeep", error);
    setTimeout(startUpkeep, AGAIN).unref();
  });
}
