/**
 * What a run of a routine does, batch by batch. Each page is looked at anew at that moment: whether it still fits, whether
 * something is still to be done to it, whether whoever it runs as may; what is skipped says why.
 */
import { eq } from "drizzle-orm";
import {
  below,
  type CompiledPlace,
  type CompiledSubject,
  groupsAbove,
  isActive,
  placeOf,
  subjectOf,
} from "../../../core/access/index/index.ts";
import type { Edit, PageFlag } from "../../../core/access/model/index.ts";
import { answerBy, ended } from "../../../core/review/index.ts";
import { isAboutGuests, leftAlone, type PageFacts, type RoutineAction, reasonsOf } from "../../../core/routines/index.ts";
import { type Access, mayRead, readAccess } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { routineRuns, routines, routineTold } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { type Item, type Job, type Kind, type Results, Stop } from "../../jobs/running.ts";
import { addNotice } from "../../notices/notices.ts";
import { makeChange } from "../change/apply.ts";
import { landingsOf } from "../life/facts.ts";
import { flagsOf, mayNotSettle } from "../review/lines.ts";
import { flagOf } from "../review/reviewEdits.ts";
import { tellAnswerers } from "../review/settling.ts";
import { idleGuests } from "./idleGuests.ts";
import { doneBefore, factsOf } from "./pageFacts.ts";
import type { RoutineOrder } from "./running.ts";
import { runnerOf, whyNot } from "./standing.ts";
import { mayNotTouch } from "./taking.ts";

interface Doing {
  tx: Tx;
  access: Access;
  as: CompiledSubject;
  job: Job;
  order: RoutineOrder;
  action: RoutineAction;
  now: string;
}

/** What is left to be done of a batch, and what is skipped, with why. */
interface Fit {
  item: Item;
  page: PageFacts;
}

const LANDING = "It is the landing page of its space: another has to be chosen in the same step, by hand.";

async function begin(tx: Tx, job: Job): Promise<Doing & { run: typeof routineRuns.$inferSelect }> {
  const { access, run, record } = await known(tx, job);
  const why = whyNot(access, record);
  const as = runnerOf(access, job.by);
  if (why !== null || !as) throw new Stop(why ?? "Whoever it runs as may not any more.");
  return { tx, access, as, job, order: job.order as RoutineOrder, action: run.action, now: new Date(access.at).toISOString(), run };
}

async function known(tx: Tx, job: Job) {
  const access = await readAccess(tx);
  const [found] = await tx
    .select({ run: routineRuns, record: routines })
    .from(routineRuns)
    .innerJoin(routines, eq(routines.id, routineRuns.routineId))
    .where(eq(routineRuns.jobId, job.id));
  if (!found || found.record.gone) throw new Stop("The routine it belongs to was taken away.");
  return { access, ...found, record: { ...found.record, asId: job.by } };
}

/** What of a batch is done at this moment. */
async function fitting(
  doing: Doing,
  run: typeof routineRuns.$inferSelect,
  items: readonly Item[],
): Promise<{ fit: Fit[]; skipped: Results }> {
  const { tx, access, as, action } = doing;
  const ids = items.map(({ placeId }) => placeId);
  const facts = await factsOf(tx, access, as, ids);
  const before = await doneBefore(tx, run.routineId, ids);
  const landings = new Set(action.what === "archive" || action.what === "bin" ? (await landingsOf(tx)).values() : []);
  const fit: Fit[] = [];
  const skipped: Results = [];
  for (const item of items) {
    const page = facts.get(item.placeId);
    const why =
      !page || isAboutGuests(run.which) || reasonsOf(page, run.which, access.at) === null
        ? "It does not fit any more."
        : (leftAlone(action, page, before(item.placeId), access.at) ??
          mayNotTouch(access, as, action, page) ??
          (landings.has(item.placeId) ? LANDING : null));
    if (why !== null || !page) skipped.push({ nth: item.nth, state: "skipped", message: why ?? "" });
    else fit.push({ item, page });
  }
  return { fit, skipped };
}

const done = (fit: readonly Fit[], seq?: number): Results =>
  fit.map(({ item }) => ({ nth: item.nth, state: "done", ...(seq === undefined ? {} : { seq }) }));

/** One change of edits for some pages, and who is told of it. */
async function change(doing: Doing, fit: readonly Fit[], act: "flag" | "review" | "marks", edits: Edit[]): Promise<Results> {
  const { tx, access, as, job, order } = doing;
  if (edits.length === 0) return [];
  const entry = await makeChange(tx, { maker: job.by, edits, act, note: order.note, job: job.id, detail: { routine: order.routine } });
  if (act === "flag") await tellAnswerers(tx, access, as, edits);
  return done(fit, entry.seq);
}

function raise(doing: Doing, fit: readonly Fit[], action: Extract<RoutineAction, { what: "flag" }>): Promise<Results> {
  const { access, job, now } = doing;
  const put: PageFlag = { kind: action.kind, by: job.by, at: now, due: answerBy(action.kind, access.at), note: action.note };
  return change(
    doing,
    fit,
    "flag",
    fit.map(({ page }): Edit => ({ kind: "flag", place: page.id, flag: newId(), put })),
  );
}

async function clear(doing: Doing, fit: readonly Fit[], action: Extract<RoutineAction, { what: "clearFlag" }>): Promise<Results> {
  const { tx, access, as, job, now, order } = doing;
  const open = await flagsOf(tx, { places: fit.map(({ page }) => page.id), open: true });
  const edits = fit.flatMap(({ page }): Edit[] => {
    const place = placeOf(access.index, page.id) as CompiledPlace;
    return (open.get(page.id) ?? [])
      .filter((row) => row.kind === action.kind && mayNotSettle(access, as, place, row) === null)
      .map((row) => {
        const remove = flagOf(row);
        return {
          kind: "flag",
          place: page.id,
          flag: row.id,
          remove,
          put: ended(remove, "setAside", { by: job.by, at: now, reason: order.note }),
        };
      });
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
  const left = fit.filter((it) => !alone(it));
  const skipped: Results = left.map(({ item }) => ({ nth: item.nth, state: "skipped", message: BELOW }));
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
  for (const [personId, ids] of to)
    await addNotice(tx, {
      kind: "routine",
      personId,
      about: { routine: order.routine, name: order.name, note, [about]: ids.join(",") },
      at: new Date(access.at),
    });
  await noteTold(doing, [...new Set([...to.values()].flat())]);
}

async function tellOfPages(
  doing: Doing,
  fit: readonly Fit[],
  action: Extract<RoutineAction, { what: "tellOwner" | "tellGroup" }>,
): Promise<Results> {
  const { access } = doing;
  const people = action.what === "tellGroup" ? membersOf(access, action.group) : null;
  const to = new Map<string, string[]>();
  const skipped: Results = [];
  for (const { item, page } of fit) {
    const place = placeOf(access.index, page.id) as CompiledPlace;
    const whom = (people ?? (page.owner === null ? [] : [page.owner])).filter((id) => reads(access, id, place));
    if (whom.length === 0)
      skipped.push({ nth: item.nth, state: "skipped", message: "Nobody of those to be told is here and may read it." });
    for (const id of whom) to.set(id, [...(to.get(id) ?? []), page.id]);
  }
  await tell(doing, action.note, to, "pages");
  const unsent = new Set(skipped.map(({ nth }) => nth));
  return [...skipped, ...done(fit.filter(({ item }) => !unsent.has(item.nth)))];
}

function reads(access: Access, id: string, place: CompiledPlace): boolean {
  const subject = subjectOf(access.index, { person: id });
  return subject !== undefined && isActive(subject, access.at) && mayRead(access, subject, place);
}

const membersOf = ({ index, at }: Access, group: string): string[] =>
  index.subjects.flatMap((subject) =>
    subject.person && isActive(subject, at) && groupsAbove(index.holders, subject.key).has(group) ? [subject.person.id] : [],
  );

async function tellHosts(doing: Doing, days: number, items: readonly Item[], note: string, routine: string): Promise<Results> {
  const { tx, access, as } = doing;
  const guests = new Map((await idleGuests(tx, access, as, days, routine)).map((guest) => [guest.id, guest]));
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

async function run(tx: Tx, job: Job, items: readonly Item[]): Promise<Results> {
  const { run: it, ...doing } = await begin(tx, job);
  const { action } = doing;
  if (action.what === "tellHosts")
    return isAboutGuests(it.which) ? tellHosts(doing, it.which.unusedGuests, items, action.note, it.routineId) : [];
  const { fit, skipped } = await fitting(doing, it, items);
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
    case "tellGroup":
      return tellOfPages(doing, fit, action);
    default:
      return takeAway(doing, fit, action.what);
  }
}

export const routineJob: Kind = { batch: 100, run };
