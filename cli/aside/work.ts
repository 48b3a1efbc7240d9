/** The thread that does what may take long: it has its own connections and its own index, and answers one task after another. */
import { parentPort } from "node:worker_threads";
import { noteTrouble } from "../../src/server/log.ts";
import { TASKS } from "../../src/server/services/change/tasks.ts";
import { Trouble } from "../../src/server/trouble.ts";

export interface Asked {
  id: number;
  task: string;
  args: never[];
}

export type Answered =
  | { id: number; value: unknown }
  | { id: number; trouble: { status: number; code: string; message: string; details?: unknown } };

parentPort?.on("message", async ({ id, task, args }: Asked) => {
  let answer: Answered;
  try {
    const work = TASKS[task];
    if (!work) throw new Error(`there is no task "${task}"`);
    answer = { id, value: await work(...args) };
  } catch (error) {
    if (!(error instanceof Trouble)) noteTrouble(`Aside, ${task}`, error);
    const { status, code, message, details } =
      error instanceof Trouble
        ? error
        : new Trouble(500, "broken", "Something broke on the server. Nothing was changed. Try again, or tell the site keeper.");
    answer = { id, trouble: { status, code, message, details } };
  }
  parentPort?.postMessage(answer);
});
