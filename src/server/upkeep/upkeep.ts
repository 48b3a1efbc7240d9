/** What a server process does beside answering: pages whose instant has come, jobs, counts. One of many servers does each. */

import { inChange } from "../db/client.ts";
import { countViews } from "../db/deriving.ts";
import { handOut, startBoss } from "../jobs/boss.ts";
import { runJob, unfinished } from "../jobs/running.ts";
import { noteTrouble } from "../log.ts";
import { KINDS } from "../services/jobs/kinds.ts";
import { runSchedules } from "../services/writing/scheduling.ts";

/** What is due by now, and jobs that a server which went away left behind. */
async function catchUp(): Promise<void> {
  await runSchedules();
  for (const id of await unfinished()) await handOut("job", { id });
}

/** So many counts at once: nobody's change waits for long. */
const AT_ONCE = 200;

/** Brings counts up to date in pieces, each a change of its own turn: two that write the same rows never meet halfway. */
async function recount(): Promise<void> {
  while ((await inChange((tx) => countViews(tx, AT_ONCE))) > 0);
}

const AGAIN = 30_000;

/** Begins, and tries again where the database does not answer yet; what was missed while nobody served is caught up on. */
export function startUpkeep(): void {
  const begin = async () => {
    await startBoss(process.env.DATABASE_URL ?? "", {
      due: catchUp,
      job: async ({ id }) => (id ? runJob(id, KINDS) : undefined),
      counts: recount,
    });
    await catchUp();
  };
  void begin().catch((error) => {
    noteTrouble("Upkeep", error);
    setTimeout(startUpkeep, AGAIN).unref();
  });
}
