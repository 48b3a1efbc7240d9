/** Measures the desk of a site keeper, and what a routine would touch, on the large set. */
import { readDesk } from "../src/server/services/desk/desk.ts";
import { lookAtRoutine } from "../src/server/services/routines/routines.ts";
import { now, quantile } from "./measuring.ts";

export interface DeskFigures {
  /** The desk of who keeps the site, and of who keeps three spaces. */
  deskP95: number;
  deskThreeP95: number;
  /** How many things wait on it. */
  waiting: number;
  /** What a routine over all live pages would touch, by its slowest filter. */
  routineWorst: number;
  /** How many pages fit it. */
  routineFits: number;
}

const TIMES = 15;

async function timed(work: () => Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < TIMES + 2; i++) {
    const start = now();
    await work();
    if (i >= 2) times.push(now() - start);
  }
  return times;
}

const ROUTINE = {
  space: null,
  action: { what: "flag", kind: "outOfDate", note: "x" },
  cron: "0 6 * * 1",
  zone: "UTC",
  most: 50,
  as: "p0",
} as const;
const FILTERS = [
  { state: "live", unchanged: 1 },
  { state: "live", unread: 30 },
  { state: "live", unconfirmed: 30, outside: "any" },
  { state: "live", flagged: "no", due: 30 },
] as const;

export async function measureDesk(keeperOfThree: string): Promise<DeskFigures> {
  const desk = await timed(() => readDesk("p0"));
  const three = await timed(() => readDesk(keeperOfThree));
  const worst: number[] = [];
  let fits = 0;
  for (const which of FILTERS) {
    worst.push(quantile(await timed(() => lookAtRoutine("p0", { ...ROUTINE, which } as never)), 0.95));
    fits = Math.max(fits, (await lookAtRoutine("p0", { ...ROUTINE, which } as never)).fits);
  }
  return {
    deskP95: quantile(desk, 0.95),
    deskThreeP95: quantile(three, 0.95),
    waiting: (await readDesk("p0")).count,
    routineWorst: Math.max(...worst),
    routineFits: fits,
  };
}
