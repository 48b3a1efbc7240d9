/** The kinds of jobs: an act to many, marks set alike, entries taken back. Each batch is judged anew, under the rights of who started it. */
import { and, eq } from "drizzle-orm";
import type { ManyBody } from "../../../contracts/jobs.ts";
import { isActive } from "../../../core/access/index/index.ts";
import { type Edit, maskOf, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { placesOf, type RippleLines, unpack } from "../../../core/access/ripple/index.ts";
import type { LedgerAct } from "../../../core/ledger/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { type Access, readAccess, subjectFor } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { jobItems } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { type Item, type Job, type JobOrder, type Kind, type Results, Stop } from "../../jobs/running.ts";
import { Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { takeBackIn } from "../change/takeBack.ts";
import { crawlJob } from "../crawl/crawl.ts";
import { findingsJob } from "../findings/looking.ts";
import { landingsOf } from "../life/facts.ts";
import { tellAnswerers } from "../review/settling.ts";
import { routineJob } from "../routines/routineJob.ts";
import { fitness } from "./fitness.ts";
import { markEdit, marksOf, mayNotMark } from "./marks.ts";

/** Who gains what where, as it was shown before the job began. */
export type Shown = ReturnType<typeof shownOf>;

export interface ManyOrder extends JobOrder {
  many: ManyBody;
  shown: Shown;
}

export const shownOf = ({ places, entries }: RippleLines) => {
  const gaining = entries.filter(({ gains }) => gains.length > 0).map(({ subjects, groups, gains }) => ({ subjects, groups, gains }));
  const about = new Set(gaining.flatMap(({ groups }) => groups));
  return { places: places.map((group, number) => (about.has(number) ? group : [])), entries: gaining };
};

/** Whether somebody gains what was not shown. */
function gainsMore(lines: RippleLines, shown: Shown): boolean {
  const groupsOf = new Map<string, number[]>();
  for (const [number, group] of shown.places.entries()) for (const id of group) groupsOf.set(id, [...(groupsOf.get(id) ?? []), number]);
  const told = new Map<string, { mask: number; groups: Set<number> }[]>();
  for (const { subjects, groups, gains } of shown.entries) {
    const it = { mask: maskOf(gains), groups: new Set(groups) };
    for (const subject of subjects) told.set(subject, [...(told.get(subject) ?? []), it]);
  }
  const knownGains = (subject: string, place: string): number => {
    const numbers = groupsOf.get(place) ?? [];
    return (told.get(subject) ?? []).reduce((known, { mask, groups }) => (numbers.some((it) => groups.has(it)) ? known | mask : known), 0);
  };
  return lines.entries.some((entry) => {
    const mask = maskOf(entry.gains);
    const places = mask === 0 ? [] : placesOf(lines, entry);
    return entry.subjects.some((subject) => places.some((place) => (mask & ~knownGains(subject, place)) !== 0));
  });
}

/** The act on some of the places, as it is planned. */
export const actOn = ({ act, below, to, arrive, back }: ManyBody, places: string[], pages?: number): LifeAct => ({
  act: act as LifeAct["act"],
  places,
  ...(below === undefined ? {} : { below }),
  ...(to === undefined ? {} : { to }),
  ...(arrive === undefined ? {} : { arrive }),
  ...(back === undefined ? {} : { back }),
  ...(pages === undefined ? {} : { pages }),
});

async function stillActive(tx: Tx, by: string): Promise<{ access: Access; me: ReturnType<typeof subjectFor> }> {
  const access = await readAccess(tx);
  const me = subjectFor(access, by);
  if (!isActive(me, access.at)) throw new Stop("Whoever started this may not do it any more.");
  return { access, me };
}

/** A refusal that stops a job and is not about one page: a pledge. */
function stops(error: unknown): never {
  const pledge =
    error instanceof Trouble && Array.isArray(error.details) && error.details.some((it) => (it as { code?: string }).code === "pledge");
  throw pledge ? new Stop((error as Trouble).message) : error;
}

const LANDING = "It is the landing page of its space: another has to be chosen in the same step, on its own sheet.";
const LOSES_LANDING: ReadonlySet<string> = new Set(["archive", "bin", "takeDown", "move"]);

const actJob: Kind = {
  batch: 100,
  async run(tx: Tx, job: Job, items: readonly Item[]): Promise<Results> {
    const { many, note, reason, shown } = job.order as unknown as ManyOrder;
    const { access, me } = await stillActive(tx, job.by);
    const results: Results = [];
    const fit: Item[] = [];
    const landings = new Set((await landingsOf(tx)).values());
    for (const item of items) {
      const landing = LOSES_LANDING.has(many.act) && landings.has(item.placeId);
      const { unfit, refusal } = landing
        ? { unfit: LANDING, refusal: null }
        : fitness(access, me, many.act as LifeAct["act"], item.placeId);
      if (unfit) results.push({ nth: item.nth, state: "skipped", message: unfit });
      else if (refusal) throw new Stop(`Whoever started this may not do it any more: ${refusal}`);
      else fit.push(item);
    }
    if (fit.length === 0) return results;
    const places = fit.map(({ placeId }) => placeId);
    const acts = [actOn(many, places, many.act === "erase" ? fit.length : undefined)];
    const order = { maker: job.by, edits: [], acts, act: many.act as LedgerAct, note, job: job.id, ...(reason ? { reason } : {}) };
    const entry = await makeChange(tx, order).catch(stops);
    if (entry.ripple && gainsMore(unpack(entry.ripple), shown))
      throw new Stop("Somebody would gain more than was shown when this began: the rules changed meanwhile.");
    // What went along is done with it, wherever in the job it waits.
    const touched = entry.edits.flatMap((edit) => placeOfEdit(edit) ?? []);
    await tx
      .update(jobItems)
      .set({ state: "done", seq: entry.seq })
      .where(and(eq(jobItems.jobId, job.id), eq(jobItems.state, "waiting"), among(jobItems.placeId, touched)));
    return results;
  },
};

const markJob: Kind = {
  batch: 100,
  async run(tx: Tx, job: Job, items: readonly Item[]): Promise<Results> {
    const { many, note, reason } = job.order as unknown as ManyOrder;
    const { access, me } = await stillActive(tx, job.by);
    const ids = items.map(({ placeId }) => placeId);
    const marks = await marksOf(tx, job.by, many, ids);
    const results: Results = [];
    const edits: Edit[] = [];
    const done: Item[] = [];
    for (const item of items) {
      const edit = mayNotMark(access, me, many, item.placeId) === null ? markEdit(access, job.by, many, item.placeId, marks) : null;
      if (!edit) results.push({ nth: item.nth, state: "skipped", message: "It is so already, or not there or yours to mark any more." });
      else {
        edits.push(edit);
        done.push(item);
      }
    }
    if (edits.length === 0) return results;
    const act = many.act === "flag" ? ("flag" as const) : ("marks" as const);
    const order = { maker: job.by, edits, act, note, job: job.id, ...(reason ? { reason } : {}) };
    const entry = await makeChange(tx, order).catch(stops);
    if (act === "flag") await tellAnswerers(tx, access, me, edits);
    return [...results, ...done.map(({ nth }) => ({ nth, state: "done" as const, seq: entry.seq }))];
  },
};

const backJob: Kind = {
  batch: 1,
  async run(tx: Tx, job: Job, [item]: readonly Item[]): Promise<Results> {
    if (!item) return [];
    await stillActive(tx, job.by);
    const { note, reason } = job.order as JobOrder;
    const { seq } = await takeBackIn(tx, job.by, Number(item.placeId) as Seq, { note, job: job.id, ...(reason ? { reason } : {}) }).catch(
      stops,
    );
    return [{ nth: item.nth, state: "done", seq }];
  },
};

export const KINDS: Readonly<Record<string, Kind>> = {
  act: actJob,
  marks: markJob,
  takeBack: backJob,
  crawl: crawlJob,
  findings: findingsJob,
  routine: routineJob,
};
