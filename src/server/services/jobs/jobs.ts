/** Ordering jobs, looking at them, stopping them, going on, taking them back. */
import { and, desc, eq, inArray, isNotNull, ne, not } from "drizzle-orm";
import {
  type JobList,
  type JobView,
  type ManyBody,
  type ManySheet,
  MOST_IN_JOB,
  type Ordered,
  type OrderJobBody,
  type TakeBackJobBody,
} from "../../../contracts/jobs.ts";
import { below, type CompiledPlace, type CompiledSubject, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, FLAG_WORDS, type Seq } from "../../../core/access/model/index.ts";
import { type LifeActName, labelOfAct } from "../../../core/lifecycle/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, isKeeper, mayNot, need, readAccess, subjectFor } from "../../access/current.ts";
import { knowsPlace, namesFor } from "../../access/known.ts";
import { afterCommit, database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { jobItems, jobs, ledger } from "../../db/schema/index.ts";
import { handOut } from "../../jobs/boss.ts";
import { checkRoom, enterJob, type Job, tally } from "../../jobs/running.ts";
import { isTakenBack } from "../../ledger/takenBack.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { type Planned, type PlanOrder, planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { fingerprint } from "../change/rippleView.ts";
import { misfitsTold } from "../life/planning.ts";
import { planToLook, sheetOf } from "../life/sheet.ts";
import { idsThatFit } from "../pages/pages.ts";
import { fitness } from "./fitness.ts";
import { actOn, shownOf } from "./kinds.ts";
import { isMark, markEdit, marksOf, mayNotMark } from "./marks.ts";

/** Places with all that is in them, each once: what is erased goes with what is below it, one by one. */
const withBelow = (access: Access, ids: readonly string[]): string[] => [
  ...new Set(ids.flatMap((id) => below(access.index, placeOf(access.index, id) as CompiledPlace).map(({ place }) => place.id))),
];

/** The places an order means, each once: parents before what is in them, or (erasing) the other way round. */
async function meant(tx: Tx, access: Access, me: CompiledSubject, { places, filter, act, kind, words }: ManyBody): Promise<string[]> {
  if (act === "flag" && (kind === undefined || words === undefined)) throw badRequest("Say what is wrong: of what kind, and in words.");
  if ((places === undefined) === (filter === undefined)) throw badRequest("Say which pages: name them, or give a filter; one of both.");
  if (places?.some((id) => !knowsPlace(access, me, id))) throw notThere();
  const named = places ?? (await idsThatFit(tx, access, me, filter ?? {}, MOST_IN_JOB));
  const ids = act === "erase" ? withBelow(access, named) : [...named];
  if (ids.length > MOST_IN_JOB) throw badRequest(`At most ${MOST_IN_JOB.toLocaleString("en")} pages in one job. Narrow the filter.`);
  if (ids.length === 0) throw badRequest("No page fits this.");
  const deep = new Map(ids.map((id) => [id, pathOf(access.index, placeOf(access.index, id) as never).length]));
  const sign = act === "erase" ? -1 : 1;
  return ids.sort((a, b) => sign * ((deep.get(a) ?? 0) - (deep.get(b) ?? 0)) || (a < b ? -1 : 1));
}

interface Sorted {
  fit: string[];
  /** It could be done to all of them, but not by whoever asks. */
  refused: boolean;
  items: { placeId: string; state: "waiting" | "skipped"; message: string | null; seq: null }[];
}

/** What of it can be done, and why the rest cannot. */
function sorted(access: Access, me: CompiledSubject, many: ManyBody, ids: readonly string[]): Sorted {
  let mayNone = ids.length > 0;
  const items = ids.map((placeId) => {
    const of = isMark(many)
      ? { unfit: null, refusal: mayNotMark(access, me, many, placeId) }
      : fitness(access, me, many.act as LifeActName, placeId);
    mayNone &&= of.refusal !== null;
    const message = of.unfit ?? of.refusal;
    return { placeId, state: message ? ("skipped" as const) : ("waiting" as const), message, seq: null };
  });
  const fit = items.filter(({ state }) => state === "waiting").map(({ placeId }) => placeId);
  return { fit, items, refused: mayNone };
}

/** The whole order as one change, planned as it is to be looked at: with what it breaks, or for its ripple alone. */
async function lookedAt<T extends Planned>(
  tx: Tx,
  { maker, many, fit }: { maker: string; many: ManyBody; fit: readonly string[] },
  plan: (tx: Tx, order: PlanOrder) => Promise<T>,
): Promise<T> {
  if (!isMark(many)) {
    const planned = await plan(tx, { maker, edits: [], acts: [actOn(many, [...fit])], look: true });
    const [first] = planned.acts?.plans ?? [];
    if (first && first.edits.length === 0 && first.misfits.length > 0)
      throw badRequest(`Nothing of this can be done: ${misfitsTold(planned.access, planned.me, first).join("; ")}.`);
    return planned;
  }
  const access = await readAccess(tx);
  const marks = await marksOf(tx, maker, many, fit);
  const edits = fit.flatMap((id): Edit | Edit[] => markEdit(access, maker, many, id, marks) ?? []);
  return plan(tx, { maker, edits, look: true });
}

const titleOf = (many: ManyBody, count: number): string => {
  const pages = `${count.toLocaleString("en")} ${count === 1 ? "page" : "pages"}`;
  if (many.act === "readiness") return many.readiness ? `Set “${many.readiness}” on ${pages}` : `Clear readiness of ${pages}`;
  if (many.act === "period")
    return many.period ? `Look at ${pages} again every ${many.period} days` : `Look at ${pages} again as their space has it`;
  if (many.act === "flag") return `Flag ${pages} as ${FLAG_WORDS[many.kind ?? "doubtful"]}`;
  if (many.act === "tag") return `Change tags of ${pages}`;
  return `${labelOfAct(many.act as LifeActName)} ${pages}`;
};

/** Jobs that change nothing, by what they do. */
const LOOKS: Readonly<Record<string, string>> = {
  crawl: "Walk the site as the public",
  findings: "Look through all live pages for what looks sensitive",
};

/** Nothing may be done to any of them: the reason of the first is told. */
function checkSome({ fit, items, refused: mayNone }: Sorted): void {
  if (fit.length > 0) return;
  const said = items[0]?.message ?? "No page fits.";
  throw mayNone ? refused(said) : badRequest(`Nothing of this can be done: ${said}`);
}

/** What is asked first, before it goes where it keeps others waiting; many pages are worked out aside. */
const reach = (asker: string, many: ManyBody) => ({
  ...(many.places && many.places.length <= 200 ? { places: many.places } : { whole: true }),
  first: () =>
    inSnapshot(async (tx) => {
      const access = await readAccess(tx);
      const me = subjectFor(access, asker);
      checkSome(sorted(access, me, many, await meant(tx, access, me, many)));
    }),
});

/** What an order would do in all; changes nothing. */
export const lookAtMany = (asker: string, many: ManyBody): Promise<ManySheet> =>
  whereItFits("lookAtManyHere", [asker, many], reach(asker, many), () => lookAtManyHere(asker, many));

export const lookAtManyHere = (asker: string, many: ManyBody): Promise<ManySheet> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const ids = await meant(tx, access, me, many);
    const whole = sorted(access, me, many, ids);
    checkSome(whole);
    const planned = await lookedAt(tx, { maker: asker, many, fit: whole.fit }, planToLook);
    const title = titleOf(many, whole.fit.length);
    const skipped = ids.length - whole.fit.length;
    const sheet = isMark(many) ? { ...EMPTY, ...previewOf(planned) } : await sheetOf(tx, planned, actOn(many, whole.fit));
    return {
      ...sheet,
      title,
      label: isMark(many) ? (many.act === "flag" ? "Flag" : "Set") : sheet.label,
      count: whole.fit.length,
      misfits: [
        ...(skipped > 0
          ? [
              `${skipped.toLocaleString("en")} of ${ids.length.toLocaleString("en")} are left out: it cannot be done to them, or not by you.`,
            ]
          : []),
        ...sheet.misfits,
      ],
    };
  });

const NOTHING = { count: 0, hidden: 0, items: [] };
const EMPTY = {
  title: "",
  label: "",
  places: NOTHING,
  kinds: [],
  along: NOTHING,
  handedUp: NOTHING,
  breaks: [],
  views30: null,
  choices: [],
  returning: [],
  newReaders: null,
  misfits: [] as string[],
  mayBringBack: 0,
  back: "It can be taken back from the ledger, as one.",
  erased: 0,
};

/** Starts a job, if it would still do what was shown. */
export async function orderJob(maker: string, order: OrderJobBody): Promise<Ordered> {
  const made = await whereItFits("enterJobHere", [maker, order], reach(maker, order.order), () => enterJobHere(maker, order));
  await handOut("job", made);
  return made;
}

export const enterJobHere = (maker: string, { order: many, count, note, reason, seen }: OrderJobBody): Promise<Ordered> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const ids = await meant(tx, access, me, many);
    const whole = sorted(access, me, many, ids);
    checkSome(whole);
    if (whole.fit.length !== count)
      throw changedMeanwhile(`${whole.fit.length.toLocaleString("en")} pages fit this now, not ${count.toLocaleString("en")}. Look again.`);
    if (many.act === "erase" && many.pages !== whole.fit.length)
      throw badRequest(`Erasing is final: type how many go, ${whole.fit.length}, to do it. Nothing was erased.`);
    const { verdict } = await lookedAt(tx, { maker, many, fit: whole.fit }, planChange);
    if (fingerprint(verdict.ripple) !== seen)
      throw changedMeanwhile("The rules changed after you looked, and with them what this would do. Look again.");
    const order = { many: { ...many, places: undefined }, shown: shownOf(verdict.ripple), note, ...(reason ? { reason } : {}) };
    const kept = JSON.parse(JSON.stringify(order));
    return { id: await enterJob(tx, { kind: isMark(many) ? "marks" : "act", by: maker, order: kept, items: whole.items }) };
  });

/** A job as one asker may see it: its starter, and site keepers; for others there is none. */
async function seenJob(tx: Tx, asker: string, id: string): Promise<{ job: Job; access: Access; me: CompiledSubject }> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const [job] = await tx.select().from(jobs).where(eq(jobs.id, id));
  if (!job || (job.by !== asker && !isKeeper(access, me))) throw notThere();
  return { job, access, me };
}

function jobTitle({ kind, order }: Job, total: number): string {
  const { many, name } = order as { many?: ManyBody; name?: string };
  if (kind === "routine") return `Routine “${name}”`;
  return many ? titleOf(many, total) : (LOOKS[kind] ?? `Take back ${total} ${total === 1 ? "entry" : "entries"} of the ledger`);
}

/** Who goes on with a job: its starter, since it is done under their rights; a run of a routine, site keepers, too, who might let it run as anybody. */
const goesOn = (access: Access, me: CompiledSubject, job: Job): boolean =>
  job.by === me.person?.id || (job.kind === "routine" && isKeeper(access, me));

async function viewOf(tx: Tx, access: Access, me: CompiledSubject, job: Job, whole: boolean): Promise<JobView> {
  const { total = 0, done = 0, skipped = 0 } = (await tally(tx, [job.id])).get(job.id) ?? {};
  const names = namesFor(access, me);
  const entries = await tx
    .select({ seq: ledger.seq, back: isTakenBack })
    .from(ledger)
    .where(eq(ledger.job, job.id))
    .orderBy(desc(ledger.seq))
    .limit(500);
  const rows = whole
    ? await tx
        .select()
        .from(jobItems)
        .where(and(eq(jobItems.jobId, job.id), eq(jobItems.state, "skipped"), isNotNull(jobItems.message)))
        .orderBy(jobItems.nth)
        .limit(100)
    : [];
  const { many, final } = job.order as { many?: ManyBody; final?: boolean };
  const ended = job.state === "stopped" || job.state === "done";
  const mine = mayNot(access, me, "stopJob", undefined, { theirs: job.by === me.person?.id }) === null;
  return {
    id: job.id,
    title: jobTitle(job, total),
    by: names.person(job.by),
    state: job.state,
    problem: job.problem ?? (job.state === "stopped" && job.stopAsked !== null ? `Stopped by ${names.person(job.stopAsked)}.` : null),
    total,
    done,
    skipped,
    startedAt: job.startedAt.toISOString(),
    endedAt: job.endedAt?.toISOString() ?? null,
    mayStop: mine && !ended,
    mayGoOn: goesOn(access, me, job) && job.state === "stopped" && done + skipped < total,
    entries: entries.map(({ seq }) => seq),
    mayTakeBack:
      ended && entries.some(({ back }) => !back) && (job.kind === "routine" ? !final : many !== undefined && many.act !== "erase"),
    skippedItems: rows.map(({ placeId, message }) => {
      const known = knowsPlace(access, me, placeId);
      return {
        id: known ? placeId : "",
        title: known
          ? (placeOf(access.index, placeId)?.place.title ?? "")
          : job.kind === "takeBack"
            ? `entry ${placeId}`
            : "something you cannot see",
        message: message ?? "",
      };
    }),
  };
}

export const readJob = (asker: string, id: string): Promise<JobView> =>
  inSnapshot(async (tx) => {
    const { job, access, me } = await seenJob(tx, asker, id);
    return viewOf(tx, access, me, job, true);
  });

const LISTED = 20;

export const listJobs = (asker: string, { mine }: { mine?: "yes" }): Promise<JobList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const all = isKeeper(access, me) && !mine;
    const rows = await tx
      .select()
      .from(jobs)
      // What routines did stands with them.
      .where(and(ne(jobs.kind, "routine"), all ? undefined : eq(jobs.by, asker)))
      .orderBy(desc(jobs.startedAt), desc(jobs.id))
      .limit(LISTED);
    const views: JobView[] = [];
    for (const job of rows) views.push(await viewOf(tx, access, me, job, false));
    return { jobs: views };
  });

export async function stopJob(asker: string, id: string): Promise<Record<string, never>> {
  await inSnapshot(async (tx) => {
    const { job, access, me } = await seenJob(tx, asker, id);
    need(access, me, "stopJob", undefined, { theirs: job.by === asker });
  });
  // Not in the line of changes: whoever stops a job does not wait for its next batch.
  const asked = await database()
    .update(jobs)
    .set({ stopAsked: asker })
    .where(and(eq(jobs.id, id), inArray(jobs.state, ["waiting", "running"])))
    .returning({ id: jobs.id });
  if (asked.length === 0) throw changedMeanwhile("This job is not running any more.");
  return {};
}

/** Goes on where it stopped; its own starter does that, since it is done under their rights. */
export const goOnWithJob = (asker: string, id: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const { job, access, me } = await seenJob(tx, asker, id);
    if (!goesOn(access, me, job)) throw badRequest("A job goes on under the rights of who started it: that person goes on with it.");
    if (job.state !== "stopped") throw changedMeanwhile("This job did not stop.");
    if (job.kind !== "routine") await checkRoom(tx, asker);
    await tx.update(jobs).set({ state: "waiting", stopAsked: null, problem: null, endedAt: null }).where(eq(jobs.id, id));
    afterCommit(tx, () => void handOut("job", { id }));
    return {};
  });

/** Takes every entry of a job back, the newest first, as far as none was taken back alone. */
export const takeBackJob = (asker: string, id: string, { note, reason }: TakeBackJobBody): Promise<Ordered> =>
  inChange(async (tx) => {
    const { job } = await seenJob(tx, asker, id);
    if (job.state !== "done" && job.state !== "stopped") throw changedMeanwhile("This job is still running: stop it first.");
    const rows = await tx
      .select({ seq: ledger.seq })
      .from(ledger)
      .where(and(eq(ledger.job, id), not(isTakenBack)))
      .orderBy(desc(ledger.seq));
    if (rows.length === 0 || job.kind === "takeBack") throw badRequest("There is nothing of this job left to be taken back.");
    const items = rows.map(({ seq }) => ({ placeId: String(seq satisfies Seq), state: "waiting" as const, message: null, seq: null }));
    const made = await enterJob(tx, { kind: "takeBack", by: asker, order: { note, ...(reason ? { reason } : {}) }, items });
    afterCommit(tx, () => void handOut("job", { id: made }));
    return { id: made };
  });
