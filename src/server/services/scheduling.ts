/**
 * Publishing at an instant (lifecycle.md, "schedule"). A due publication is made as the person who scheduled it: if they
 * no longer may, or a pledge would break, the page stays scheduled and says why. A missed instant is caught up on.
 */
import { and, eq, isNull, lte } from "drizzle-orm";
import type { Edit } from "../../core/access/edits.ts";
import { readAccess, seenPlace, subjectFor } from "../access/current.ts";
import { database, inChange } from "../db/client.ts";
import { pages, places } from "../db/schema.ts";
import { badRequest, refused, Trouble } from "../http/trouble.ts";
import { appendEntry } from "../ledger/append.ts";
import { makeChange } from "./change.ts";
import { mayPublish } from "./writable.ts";
import { newestVersion, publishPage, versionName } from "./writing.ts";

const LATEST_DAYS = 3 * 366;
const DAY = 86_400_000;

/** Schedules a draft to go live at an instant, or a scheduled one at another. */
export async function schedulePage(
  maker: string,
  placeId: string,
  order: { at: string; note: string; now?: number },
): Promise<{ at: string }> {
  const now = order.now ?? Date.now();
  const due = new Date(order.at);
  if (Number.isNaN(due.getTime()) || due.getTime() <= now) throw badRequest("The instant to publish at must lie ahead.");
  if (due.getTime() > now + LATEST_DAYS * DAY) throw badRequest("The instant to publish at must lie within three years.");
  return inChange(async (tx) => {
    const access = await readAccess(tx, now);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, placeId);
    const { state } = place.place;
    const detail = { at: due.toISOString() };
    const { note } = order;
    if (state === "draft") {
      const edit: Edit = { kind: "state", place: placeId, from: { state: "draft" }, to: { state: "scheduled" } };
      await makeChange(tx, { maker, edits: [edit], act: "schedule", note, detail, now });
    } else if (state === "scheduled") {
      if (!mayPublish(access, me, place)) throw refused("You may not publish this: that needs Publisher.");
      await appendEntry(
        tx,
        { maker, act: "schedule", places: [placeId], edits: [], detail, ripple: null, note, touchesAccess: false },
        access.at,
      );
    } else throw badRequest(`Only a draft can be scheduled; this page is ${state}.`);
    await tx.update(pages).set({ dueAt: due, scheduledBy: maker, dueProblem: null }).where(eq(pages.placeId, placeId));
    return { at: due.toISOString() };
  });
}

/** A scheduled page is a draft again, and does not go live by itself. */
export async function unschedulePage(maker: string, placeId: string): Promise<{ at: null }> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    const { state } = seenPlace(access, subjectFor(access, maker), placeId).place;
    if (state !== "scheduled") throw badRequest("This page is not scheduled.");
    const edit: Edit = { kind: "state", place: placeId, from: { state: "scheduled" }, to: { state: "draft" } };
    await makeChange(tx, { maker, edits: [edit], act: "unschedule", note: "" });
    await tx.update(pages).set({ dueAt: null, scheduledBy: null, dueProblem: null }).where(eq(pages.placeId, placeId));
    return { at: null };
  });
}

/** Publishes every scheduled page whose instant has come; returns the ids of those that went live. */
export async function publishDue(now = Date.now()): Promise<string[]> {
  const due = await database()
    .select({ id: pages.placeId, by: pages.scheduledBy })
    .from(pages)
    .innerJoin(places, and(eq(places.id, pages.placeId), isNull(places.toSeq), eq(places.state, "scheduled")))
    .where(and(lte(pages.dueAt, new Date(now)), isNull(pages.dueProblem)))
    .orderBy(pages.dueAt);
  const published: string[] = [];
  for (const { id, by } of due) {
    try {
      const version = versionName(await database().transaction((tx) => newestVersion(tx, id)));
      await publishPage(by ?? "", id, { version, note: "At the scheduled time.", now });
      published.push(id);
    } catch (error) {
      // Another server may have been quicker: then the page is live, and there is nothing to say.
      if (!(error instanceof Trouble)) throw error;
      if (error.status !== 409) await database().update(pages).set({ dueProblem: error.message }).where(eq(pages.placeId, id));
    }
  }
  return published;
}

const EVERY = 20_000;

/** Looks for due publications from now on, in this server process. Several servers may: the change lock lets one through. */
export function startClock(): void {
  const look = () => void publishDue().catch((error) => console.error("Due publications:", error));
  setInterval(look, EVERY).unref();
  look();
}
