/** Routines for tests of services: as they are sent, and run through once. */
import type { SaveRoutineBody } from "../src/contracts/routines.ts";
import { runJob, unfinished } from "../src/server/jobs/running.ts";
import { KINDS } from "../src/server/services/jobs/kinds.ts";
import { makeRoutine } from "../src/server/services/routines/routines.ts";
import { runRoutine } from "../src/server/services/routines/running.ts";
import { readRun } from "../src/server/services/routines/runs.ts";

/** Sound, and of the parts that are said. */
export const routineBody = (change: Partial<SaveRoutineBody> = {}): SaveRoutineBody => ({
  name: "By itself",
  space: null,
  which: { state: "live", spaces: ["quays"] },
  action: { what: "addTag", tag: "looked-at" },
  cron: "0 6 * * 1",
  zone: "Europe/Lisbon",
  most: 50,
  as: "ines",
  on: false,
  ...change,
});

/** Does all that waits to be done in steps. */
export async function allJobs(): Promise<void> {
  for (const id of await unfinished()) await runJob(id, KINDS);
}

let asked = 0;
export const once = (): string => `asked-${++asked}-once`;

/** Makes a routine and runs it through once. */
export async function ran(change: Partial<SaveRoutineBody>, maker = "ines") {
  const { id, rev } = await makeRoutine(maker, routineBody(change));
  const { run } = await runRoutine(maker, id, { rev, once: once() });
  await allJobs();
  return { id, run: await readRun(maker, run, {}) };
}
