/**
 * What a run of a routine does, batch by batch. Each page is looked at anew at that moment: whether it still fits, whether
 * something is still to be done to it, whether whoever it runs as may; what is skipped says why.
 */
import { and, asc, eq } from "drizzle-orm";
import { rowOfPlace } from "../../../core/access/decide/index.ts";
import {
  below,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  peopleOf,
  placeOf,
  subjectOf,
} from "../../../core/access/index/index.ts";
import { type Edit, READ } from "../../../core/access/model/index.ts";
import { raised } from "../../../core/review/index.ts";
import {
  type DoneBefore,
  isAboutGuests,
  isTelling,
  leftAlone,
  type PageFacts,
  type RoutineAction,
  reasonsOf,
} from "../../../core/routines/index.ts";
import { type Access, mayRead, readAccess } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { jobItems, routineRuns, routines, routineTold } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { type Item, type Job, type Kind, type Results, Stop } from "../../jobs/running.ts";
import { addNotices } from "../../notices/notices.ts";
import { makeChange } from "../change/apply.ts";
import { landingsOf } from "../life/facts.ts";
import { flagsOf } from "../review/lines.ts";
import { endFlags, tellAnswerers } from "../review/settling.ts";
import { idleGuests } from "./idleGuests.ts";
import { doneBefore, factsOf } from "./pageFacts.ts";
import type { RoutineOrder } from "./running.ts";
import { runnerOf, whyNot } from "./standing.ts";
import { mayNotTouch } from "./taking.ts";

interface Doing {
  tx: Tx;
  access: Access;
  /** Whom it runs as. */
  me: CompiledSubject;
  who: string;
  now: string;
  job: Job;
  order: RoutineOrder;
  run: typeof routineRuns.$inferSelect;
  /** The space it is confined to. */
  spaceId: string | null;
}

/** A page that something is left to be done to. */
interface Fit {
  item: Item;
  page: PageFacts;
}

const LANDING = "It is the landing page of its space: another has to be chosen in the same step, by hand.";

async function begin(tx: Tx, job: Job): Promise<Doing> {
  const access = await readAccess(tx);
  const [found] = await tx
    .select({ run: routineRuns, record: routines })
    .from(routineRuns)
    .innerJoin(routines, eq(routines.id, routineRuns.routineId))
    .where(eq(routineRuns.jobId, job.id));
  if (!found || found.record.gone) throw new Stop("The routine it belongs to was taken away.");
  const { run, record } = found;
  const why = whyNot(access, { ...record, asId: job.by });
  const me = runnerOf(access, job.by);
  if (why !== null || !me) throw new Stop(why ?? "Whoever it runs as may not any more.");
  const order = job.order as RoutineOrder;
  return { tx, access, me, who: job.by, now: new Date(access.at).toISOString(), job, order, run, spaceId: record.spaceId };
}

/** Why a page is left as it is at this moment; null: it is not. */
function leftWith(
  { access, me, run, spaceId }: Doing,
  page: PageFacts | undefined,
  before: DoneBefore,
  landings: ReadonlySet<string>,
): string | null {
  const fits = page && !isAboutGuests(run.which) && reasonsOf(page, run.which, access.at) !== null;
  // It may have gone to another space since it was taken.
  if (!fits || (spaceId !== null && page.space !== spaceId)) return "It does not fit any more.";
  return (
    leftAlone(run.action, page, before, access.at) ?? mayNotTouch(access, me, run.action, page) ?? (landings.has(page.id) ? LANDING : null)
  );
}

/** What of a batch is done at this moment. */
async function fitting(doing: Doing, items: readonly Item[]): Promise<{ fit: Fit[]; skipped: Results }> {
  const { tx, access, me, run } = doing;
  const ids = items.map(({ placeId }) => placeId);
  const facts = await factsOf(tx, access, me, ids);
  const before = await doneBefore(tx, run.routineId, ids);
  const landings = new Set(run.action.what === "archive" || run.action.what === "bin" ? (await landingsOf(tx)).values() : []);
  const fit: Fit[] = [];
  const skipped: Results = [];
  for (const item of items) {
    const page = facts.get(item.placeId);
    const why = leftWith(doing, page, before(item.placeId), landings);
    if (why !== null || !page) skipped.push({ nth: item.nth, state: "skipped", message: why ?? "" });
    else fit.push({ item, page });
  }
  return { fit, skipped };
}

const done = (fit: readonly Fit[], seq?: number): Results =>
  fit.map(({ item }) => ({ nth: item.nth, state: "done", ...(seq === undefined ? {} : { seq }) }));

/** One change of edits for some pages, and who is told of it. */
async function change(doing: Doing, fit: readonly Fit[], act: "flag" | "review" | "marks", edits: Edit[]): Promise<Results> {
  const { tx, access, me, job, order } = doing;
  if (edits.length === 0) return [];
  const entry = await makeChange(tx, { maker: job.by, edits, act, note: order.note, job: job.id, detail: { routine: order.routine } });
  if (act === "flag") await tellAnswerers(tx, access, me, edits);
  return done(fit, entry.seq);
}

function raise(doing: Doing, fit: readonly Fit[], action: Extract<RoutineAction, { what: "flag" }>): Promise<Results> {
  const { access, job } = doing;
  const put = raised({ kind: action.kind, by: job.by, note: action.note }, access.at);
  return change(
    doing,
    fit,
    "flag",
    fit.map(({ page }): Edit => ({ kind: "flag", place: page.id, flag: newId(), put })),
  );
}

async function clear(doing: Doing, fit: readonly Fit[], action: Extract<RoutineAction, { what: "clearFlag" }>): Promise<Results> {
  const { tx, access, order } = doing;
  const open = await flagsOf(tx, { places: fit.map(({ page }) => page.id), open: true });
  const edits = fit.flatMap(({ page }) => {
    const ofKind = (open.get(page.id) ?? []).filter(({ kind }) => kind === action.kind);
    return endFlags(doing, placeOf(access.index, page.id) as CompiledPlace, ofKind, "setAside", order.note);
  });
  return change(doing, fit, "review", edits);
}

function tag(doing: Doing, fit: readonly Fit[], action: Extract<RoutineAction, { what: "addTag" | "removeTag" }>): Promise<Results> {
  const edits = fit.map(({ page }): Edit => {
    const from = [...page.tags];
    const to = action.what === "addTag" ? [...from, action.tag] : from.filter((it) => it !== action.tag);
    return { kind: "tags", place: page.id, from, to };
  });
  return change(doing, fit, "marks", edits);
}

const BELOW = "Pages stand below it that this does not take: do it by hand.";

/** What takes pages away goes page by page: none takes others along that the routine is not about. */
async function takeAway(doing: Doing, fit: readonly Fit[], act: "archive" | "bin" | "erase"): Promise<Results> {
  const { tx, access, job, order } = doing;
  const gone = act === "archive" ? ["archived", "binned"] : act === "bin" ? ["binned"] : [];
  const going = new Set(fit.map(({ page }) => page.id));
  const alone = ({ page }: Fit) =>
    below(access.index, placeOf(access.index, page.id) as CompiledPlace).every(
      ({ place }) => going.has(place.id) || gone.includes(place.state),
    );
  const fits = fit.filter(alone);
  const skipped: Results = fit.filter((it) => !fits.includes(it)).map(({ item }) => ({ nth: item.nth, state: "skipped", message: BELOW }));
  if (fits.length === 0) return skipped;
  const places = fits.map(({ page }) => page.id);
  const acts = [{ act, places, ...(act === "erase" ? { pages: places.length } : { below: "along" as const }) }];
  const detail = { routine: order.routine };
  const entry = await makeChange(tx, { maker: job.by, edits: [], acts, act, note: order.note, job: job.id, detail });
  return [...skipped, ...done(fits, entry.seq)];
}

/** Notes that they were told of, so that they are not told again and again. */
async function noteTold({ tx, access, order }: Doing, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const at = new Date(access.at);
  await tx
    .insert(routineTold)
    .values(ids.map((about) => ({ routineId: order.routine, about, at })))
    .onConflictDoUpdate({ target: [routineTold.routineId, routineTold.about], set: { at } });
}

/** A notice to each person, of what concerns them, as one. */
async function tell(doing: Doing, note: string, to: ReadonlyMap<string, readonly string[]>, about: "pages" | "guests"): Promise<void> {
  const { tx, access, order } = doing;
  const common = { routine: order.routine, name: order.name, note };
  await addNotices(
    tx,
    [...to].map(([personId, ids]) => ({
      kind: "routine",
      personId,
      about: { ...common, [about]: ids.join(",") },
      at: new Date(access.at),
    })),
  );
  await noteTold(doing, [...new Set([...to.values()].flat())]);
}

/** Whether somebody of these reads a page: by classes, however many they are; own drafts are in none. */
function isReadByAny(access: Access, people: readonly CompiledSubject[], place: CompiledPlace): boolean {
  const { row, tables } = rowOfPlace(access.index, place.number, access.at);
  const inRow = (it: CompiledSubject) => ((row[tables.classOf[it.number] as number] as number) & READ) !== 0;
  return people.some((it) => inRow(it) || (it.person?.id === place.place.owner && mayRead(access, it, place)));
}

/** Everybody in a group, of all that somebody of them reads; what each may know of is seen to when it is told. */
async function tellGroup(
  doing: Doing,
  fit: readonly Fit[],
  { group, note }: Extract<RoutineAction, { what: "tellGroup" }>,
): Promise<Results> {
  const { access } = doing;
  const people = peopleOf(access.index, { group }, access.at);
  const read = fit.filter(({ page }) => isReadByAny(access, people, placeOf(access.index, page.id) as CompiledPlace));
  const ids = read.map(({ page }) => page.id);
  await tell(doing, note, new Map(ids.length === 0 ? [] : people.map(({ person }) => [person?.id ?? "", ids])), "pages");
  return [...unsent(fit, read), ...done(read)];
}

async function tellOwners(doing: Doing, fit: readonly Fit[], { note }: Extract<RoutineAction, { what: "tellOwner" }>): Promise<Results> {
  const { access } = doing;
  const to = new Map<string, string[]>();
  const read = fit.filter(({ page }) => {
    const owner = page.owner === null ? undefined : subjectOf(access.index, { person: page.owner });
    const place = placeOf(access.index, page.id) as CompiledPlace;
    return owner !== undefined && isActive(owner, access.at) && mayRead(access, owner, place);
  });
  for (const { page } of read) to.set(page.owner as string, [...(to.get(page.owner as string) ?? []), page.id]);
  await tell(doing, note, to, "pages");
  return [...unsent(fit, read), ...done(read)];
}

const unsent = (fit: readonly Fit[], read: readonly Fit[]): Results =>
  fit
    .filter((it) => !read.includes(it))
    .map(({ item }) => ({ nth: item.nth, state: "skipped", message: "Nobody of those to be told is here and may read it." }));

async function tellHosts(doing: Doing, days: number, items: readonly Item[], note: string): Promise<Results> {
  const { tx, access, me, run } = doing;
  const guests = new Map((await idleGuests(tx, access, me, days, run.routineId)).map((guest) => [guest.id, guest]));
  const to = new Map<string, string[]>();
  const results = items.map(({ nth, placeId }): Results[number] => {
    const guest = guests.get(placeId);
    if (!guest) return { nth, state: "skipped", message: "They read something meanwhile, or are not let in any more." };
    if (guest.spared !== null || guest.host === null) return { nth, state: "skipped", message: guest.spared ?? "" };
    to.set(guest.host, [...(to.get(guest.host) ?? []), guest.id]);
    return { nth, state: "done" };
  });
  await tell(doing, note, to, "guests");
  return results;
}

/** All that waits in a job: what is told goes out as one notice to each, not as one a batch. */
const allWaiting = (tx: Tx, { id }: Job): Promise<Item[]> =>
  tx
    .select()
    .from(jobItems)
    .where(and(eq(jobItems.jobId, id), eq(jobItems.state, "waiting")))
    .orderBy(asc(jobItems.nth));

async function run(tx: Tx, job: Job, batch: readonly Item[]): Promise<Results> {
  const doing = await begin(tx, job);
  const { action, which } = doing.run;
  const items = isTelling(action) ? await allWaiting(tx, job) : batch;
  if (action.what === "tellHosts") return isAboutGuests(which) ? tellHosts(doing, which.unusedGuests, items, action.note) : [];
  const { fit, skipped } = await fitting(doing, items);
  return [...skipped, ...(await act(doing, fit, action))];
}

function act(doing: Doing, fit: readonly Fit[], action: Exclude<RoutineAction, { what: "tellHosts" }>): Promise<Results> {
  switch (action.what) {
    case "flag":
      return raise(doing, fit, action);
    case "clearFlag":
      return clear(doing, fit, action);
    case "addTag":
    case "removeTag":
      return tag(doing, fit, action);
    case "tellOwner":
      return tellOwners(doing, fit, action);
    case "tellGroup":
      return tellGroup(doing, fit, action);
    default:
      return takeAway(doing, fit, action.what);
  }
}

export const routineJob: Kind = { batch: 100, run };
