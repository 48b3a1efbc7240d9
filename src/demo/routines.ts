/** What Tesoro does by itself in Brinehaven, and what it did in the weeks before: notices sent, nights with nothing to do, one that failed. */
import { eq } from "drizzle-orm";
import { nextTimes, type Routine, STARTING } from "../core/routines/index.ts";
import { database } from "../server/db/client.ts";
import { jobItems, jobs, routineRuns, routines } from "../server/db/schema/index.ts";
import { makeRoutine } from "../server/services/routines/routines.ts";

const DAY = 86_400_000;
const ZONE = "Europe/Lisbon";

interface Made extends Omit<Routine, "schedule"> {
  id: string;
  name: string;
  cron: string;
  as: string;
  space: string | null;
  on: boolean;
  setBy: string;
  /** Runs so far: how many, and of which pages each told by turns. */
  runs: { count: number; touched: readonly string[]; failed?: string };
}

const started = (nth: number) => {
  const it = STARTING[nth];
  if (!it) throw new Error(`There is no routine ${nth} to start from.`);
  const { cron, ...routine } = it.routine;
  return { ...routine, cron };
};

const MADE: Made[] = [
  {
    id: "yearold",
    name: "Untouched for a year",
    ...started(0),
    as: "ines",
    setBy: "ines",
    space: null,
    on: true,
    runs: { count: 12, touched: [] },
  },
  {
    id: "duesoon",
    name: "Due in two weeks",
    ...started(1),
    as: "ines",
    setBy: "ines",
    space: null,
    on: true,
    runs: { count: 14, touched: ["cranes", "mooring", "shorepower", "tidetables", "dangerous", "weighbridge"] },
  },
  {
    id: "forgotten",
    name: "Drafts forgotten",
    ...started(2),
    as: "ines",
    setBy: "tomasz",
    space: null,
    on: true,
    runs: { count: 5, touched: ["oldnumbers", "berthdisputes"] },
  },
  {
    id: "emptybin",
    name: "Empty the bin",
    ...started(3),
    cron: "30 3 * * 0",
    as: "ines",
    setBy: "ines",
    space: null,
    on: true,
    runs: { count: 20, touched: [] },
  },
  {
    id: "unusedguests",
    name: "Guests unused",
    ...started(4),
    as: "ines",
    setBy: "ines",
    space: null,
    on: false,
    runs: { count: 0, touched: [] },
  },
  {
    id: "quaydrafts",
    name: "Quay drafts at rest",
    which: { state: "draft", unchanged: 30 },
    action: { what: "tellOwner", note: "It rests for a month. Finish it, or say that it is not needed." },
    cron: "30 7 * * 5",
    most: 20,
    as: "maren",
    setBy: "maren",
    space: "quays",
    on: true,
    runs: { count: 6, touched: ["berthdisputes"] },
  },
  {
    id: "nightround",
    name: "Pages of the night round",
    which: { state: "live", branch: "nightkeys", unconfirmed: 90 },
    action: { what: "tellOwner", note: "The round changed in spring: is this still how it goes?" },
    cron: "0 5 * * 1",
    most: 20,
    as: "gareth",
    setBy: "gareth",
    space: null,
    on: true,
    runs: { count: 3, touched: [], failed: "Gareth Pugh, as whom it runs, is no longer let in. Let it run as somebody else." },
  },
];

/** Times before now at which it ran, the newest first. */
function timesBefore(cron: string, now: number, count: number): number[] {
  const times = nextTimes({ cron, zone: ZONE }, now - 190 * DAY, 400).filter((at) => at < now);
  return times.reverse().slice(0, count);
}

async function loadRuns({ id, cron, as, name, which, action, runs }: Made, now: number): Promise<void> {
  for (const [i, at] of timesBefore(cron, now, runs.count).entries()) {
    const when = new Date(at);
    const run = `${id}-run-${i}`;
    const common = { id: run, routineId: id, slot: when, startedAt: when, which, action };
    if (runs.failed !== undefined) {
      await database()
        .insert(routineRuns)
        .values({ ...common, problem: runs.failed });
      continue;
    }
    // By turns: some weeks one or two, some none.
    const touched = runs.touched.filter((_, nth) => (nth + i) % 4 === 0);
    const job = `${id}-job-${i}`;
    const order = { note: `By the routine “${name}”`, run, routine: id, name, final: true };
    await database().insert(jobs).values({ id: job, kind: "routine", by: as, order, state: "done", startedAt: when, endedAt: when });
    if (touched.length > 0)
      await database()
        .insert(jobItems)
        .values(touched.map((placeId, nth) => ({ jobId: job, nth, placeId, state: "done" as const, message: null, seq: null })));
    await database()
      .insert(routineRuns)
      .values({ ...common, jobId: job, fits: touched.length });
  }
}

/** Sets the routines there are, with what they did until now (milliseconds since the epoch). */
export async function loadRoutines(now: number): Promise<void> {
  for (const it of MADE) {
    const { id, name, which, action, cron, most, as, setBy, space, on } = it;
    const known = setBy !== "gareth";
    const maker = known ? setBy : "ines";
    const made = await makeRoutine(maker, { name, space, which, action, cron, zone: ZONE, most, as: known ? as : "ines", on } as Parameters<
      typeof makeRoutine
    >[1]);
    await database()
      .update(routines)
      .set({ id, asId: as, setBy, setAt: new Date(now - 100 * DAY) })
      .where(eq(routines.id, made.id));
    await loadRuns(it, now);
  }
}
