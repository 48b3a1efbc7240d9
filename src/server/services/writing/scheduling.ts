/**
 * What happens to a page by itself at an instant (lifecycle.md, "Schedules"): it goes live with the version that was
 * scheduled, or is archived. It is done as the person who scheduled it: if they no longer may, or a pledge would break,
 * it waits and says why. A missed instant is caught up on.
 */

import { and, eq, isNull, lte } from "drizzle-orm";
import type { Edit, Instant } from "../../../core/access/model/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { presentInstant } from "../../clock.ts";
import { afterCommit, database, inChange, type Tx } from "../../db/client.ts";
import { schedules } from "../../db/schema/index.ts";
import { handOut } from "../../jobs/boss.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest, notThere, Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { chosenVersion, needApproved, publishIn } from "./publishing.ts";
import { versionName } from "./versions.ts";

const LATEST_DAYS = 3 * 366;
const DAY = 86_400_000;

export type Scheduled = "live" | "archive";
const ACT_OF = { live: "publish", archive: "retire" } as const;

export interface ScheduleOrder {
  what: Scheduled;
  /** ISO 8601 instant, and the zone it was chosen in. */
  at: string;
  zone: string;
  note: string;
  /** The version that goes live. */
  version: string;
  /** Whether all helpers on the draft keep what they have. */
  keepHelpers: boolean;
  /** Those who keep it, where it is some of them, as "person:mei". */
  keep?: readonly string[];
  below?: "along" | "handUp";
  now?: Instant;
}

const ofPage = (placeId: string, what: Scheduled) => and(eq(schedules.placeId, placeId), eq(schedules.what, what));

/** What of a page is scheduled, for those who may know. */
export async function schedulesOf(tx: Tx, placeId: string) {
  const rows = await tx.select().from(schedules).where(eq(schedules.placeId, placeId));
  const told = (what: Scheduled) => {
    const row = rows.find((it) => it.what === what);
    if (!row) return null;
    const version = row.major === null || row.minor === null ? null : versionName({ major: row.major, minor: row.minor });
    return { at: row.at.toISOString(), zone: row.zone, version, problem: row.problem };
  };
  return { live: told("live"), archive: told("archive") };
}

function instantAhead(text: string, now: Instant): Date {
  const due = new Date(text);
  if (Number.isNaN(due.getTime()) || due.getTime() <= now) throw badRequest("The instant must lie ahead.");
  if (due.getTime() > now + LATEST_DAYS * DAY) throw badRequest("The instant must lie within three years.");
  return due;
}

/** Schedules a page to go live, or to be archived, at an instant; or at another instant than before. */
export const schedulePage = (maker: string, placeId: string, order: ScheduleOrder): Promise<{ at: string }> =>
  inChange((tx) => scheduleIn(tx, maker, placeId, order));

/** The same inside a change. */
export async function scheduleIn(tx: Tx, maker: string, placeId: string, order: ScheduleOrder): Promise<{ at: string }> {
  const now = order.now ?? presentInstant();
  const due = instantAhead(order.at, now);
  const { what, zone, note } = order;
  const access = await readAccess(tx, now);
  const me = subjectFor(access, maker);
  const place = seenPlace(access, me, placeId);
  const { state, kind } = place.place;
  if (kind !== "page" && kind !== "bulletin") throw notThere();
  need(access, me, ACT_OF[what], place);
  if (state === "archived" || state === "binned") throw badRequest(`This page is ${state}: nothing can be scheduled for it.`);
  const chosen = what === "live" ? (await chosenVersion(tx, placeId, { version: order.version })).chosen : null;
  if (chosen && state === "live" && chosen.minor === 0) throw badRequest("There is nothing newer than the live version to schedule.");
  if (chosen) await needApproved(tx, access, { me, place, chosen });
  const detail = { what, at: due.toISOString(), ...(what === "live" ? { version: order.version } : {}) };
  if (what === "live" && state === "draft") {
    const edit: Edit = { kind: "state", place: placeId, from: { state: "draft" }, to: { state: "scheduled" } };
    await makeChange(tx, { maker, edits: [edit], act: "schedule", note, detail, now });
  } else await appendEntry(tx, { maker, act: "schedule", places: [placeId], detail, note }, access.at);
  const row = {
    placeId,
    what,
    below: what === "archive" ? (order.below ?? null) : null,
    major: chosen?.major ?? null,
    minor: chosen?.minor ?? null,
    at: due,
    zone,
    by: maker,
    helpersKept: what === "live" && order.keepHelpers,
    kept: what === "live" && order.keep ? [...order.keep] : null,
    problem: null,
  };
  await tx
    .insert(schedules)
    .values(row)
    .onConflictDoUpdate({ target: [schedules.placeId, schedules.what], set: row });
  afterCommit(tx, () => void handOut("due", {}, due));
  return { at: due.toISOString() };
}

/** Ends a schedule: the page does not go live, or is not archived, by itself. What was a scheduled draft is a draft. */
export async function unschedulePage(maker: string, placeId: string, what: Scheduled): Promise<Record<string, never>> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, placeId);
    need(access, me, ACT_OF[what], place);
    const [row] = await tx.select().from(schedules).where(ofPage(placeId, what));
    if (!row) throw badRequest("This page is not scheduled.");
    if (what === "live" && place.place.state === "scheduled") {
      const edit: Edit = { kind: "state", place: placeId, from: { state: "scheduled" }, to: { state: "draft" } };
      await makeChange(tx, { maker, edits: [edit], act: "unschedule", note: "", detail: { what } });
    } else {
      await appendEntry(tx, { maker, act: "unschedule", places: [placeId], detail: { what } }, access.at);
      await tx.delete(schedules).where(ofPage(placeId, what));
    }
    return {};
  });
}

type Row = typeof schedules.$inferSelect;

/** Does what was scheduled, as who scheduled it. */
async function carryOut(tx: Tx, { placeId, what, by, major, minor, helpersKept, kept, below }: Row, now: Instant): Promise<void> {
  const note = "At the scheduled time.";
  if (what === "live") {
    const version = versionName({ major: major ?? 0, minor: minor ?? 0 });
    await publishIn(tx, by, placeId, { version, note, keep: kept ?? helpersKept, scheduled: true, now });
    return;
  }
  const act: LifeAct = { act: "archive", places: [placeId], ...(below ? { below } : {}) };
  await makeChange(tx, { maker: by, edits: [], acts: [act], act: "archive", note, now });
}

/** Carries out one schedule, unless another server did, or it is another one by now. */
async function runOne(row: Row, now: Instant): Promise<boolean> {
  const still = async (tx: Tx) => {
    const [it] = await tx.select().from(schedules).where(ofPage(row.placeId, row.what));
    return it && it.problem === null && it.at.getTime() === row.at.getTime() ? it : null;
  };
  try {
    return await inChange(async (tx) => {
      const it = await still(tx);
      if (it) await carryOut(tx, it, now);
      return it !== null;
    });
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    const problem = error.status === 404 ? "Whoever scheduled this may not do it any more." : error.message;
    await inChange(async (tx) => {
      if (await still(tx)) await tx.update(schedules).set({ problem }).where(ofPage(row.placeId, row.what));
    });
    return false;
  }
}

/** Carries out every schedule whose instant has come; returns the ids of the pages it was done to. */
export async function runSchedules(now = presentInstant()): Promise<string[]> {
  const due = await database()
    .select()
    .from(schedules)
    .where(and(lte(schedules.at, new Date(now)), isNull(schedules.problem)))
    .orderBy(schedules.at);
  const done: string[] = [];
  for (const row of due) if (await runOne(row, now)) done.push(row.placeId);
  return done;
}
