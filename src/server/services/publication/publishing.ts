/**
 * Publishing as it was seen on the sheet: where it goes, whose it is, who reads it and which helpers stay, in one step. A
 * private draft is placed first; what is scheduled moves now and goes live at its instant (lifecycle.md, "Schedules").
 */
import { asc, eq } from "drizzle-orm";
import type { LookAtPublicationBody, PublishBody, Published } from "../../../contracts/publication.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { subjectFor } from "../../access/current.ts";
import { toldRefusals } from "../../access/known.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { benchDrafts, benchVersions, buffers } from "../../db/schema/index.ts";
import { badRequest, changedMeanwhile, refused } from "../../trouble.ts";
import { answerIn } from "../approval/answering.ts";
import { makeChange } from "../change/apply.ts";
import type { OpenDraft } from "../workbench/opening.ts";
import { publishIn } from "../writing/publishing.ts";
import { scheduleIn } from "../writing/scheduling.ts";
import { writeStarted } from "../writing/starting.ts";
import { newestVersion, versionName } from "../writing/versions.ts";
import { type PublicationPlan, planPublication, type Subject } from "./planning.ts";
import { draftToPublish, pageToPublish, reachOfDraft, reachOfPublication, readinessOf } from "./sheet.ts";

/** Puts a private draft where it is to stand, with its versions and the words its writers have typed; nothing of it stays on the workbench. */
async function placeIn(tx: Tx, maker: string, { draft }: OpenDraft, order: PublishBody, plan: PublicationPlan): Promise<void> {
  const entry = await makeChange(tx, { maker, edits: plan.first, act: "place", note: order.note });
  const rows = await tx.select().from(benchVersions).where(eq(benchVersions.draftId, draft.id)).orderBy(asc(benchVersions.rev));
  const newest = rows.at(-1);
  if (!newest) throw badRequest("This draft has no version: save one first.");
  await writeStarted(tx, entry, {
    id: plan.page,
    parent: order.to ?? "",
    as: order.as ?? "page",
    maker,
    title: newest.title,
    body: newest.body,
    history: rows.map(({ rev, title, body, authorId, at, note }) => ({ minor: rev, title, body, authorId, at, note })),
  });
  await tx.update(buffers).set({ placeId: plan.page }).where(eq(buffers.placeId, draft.id));
  await tx.delete(benchVersions).where(eq(benchVersions.draftId, draft.id));
  // What is left says where it went, to those who had it.
  await tx.update(benchDrafts).set({ placedAt: entry.at, title: "" }).where(eq(benchDrafts.id, draft.id));
}

const withReason = ({ reason }: PublishBody) => (reason === undefined ? {} : { reason });

/** What stands beside going live: an instant at which it is archived. */
async function archiveThen(tx: Tx, maker: string, page: string, { archive, note }: PublishBody): Promise<void> {
  if (archive) await scheduleIn(tx, maker, page, { what: "archive", ...archive, note, version: "0.0", keepHelpers: false });
}

function checkInstants({ at, archive }: LookAtPublicationBody): void {
  if (at && archive && Date.parse(archive.at) <= Date.parse(at.at))
    throw badRequest("It would be archived before it goes live: choose a later instant for that.");
}

async function change(tx: Tx, maker: string, edits: Edit[], act: "move" | "rules", order: PublishBody): Promise<void> {
  if (edits.length > 0) await makeChange(tx, { maker, edits, act, note: order.note, ...withReason(order) });
}

async function done(tx: Tx, page: string, version: string | null, at: string | null): Promise<Published> {
  return { page, version, newest: versionName(await newestVersion(tx, page)), at };
}

async function carryOut(tx: Tx, maker: string, subject: Subject, order: PublishBody): Promise<Published> {
  checkInstants(order);
  const readiness = await readinessOf(tx, subject);
  const plan = await planPublication(tx, { maker, subject, order, readiness, reason: order.reason, look: false });
  const { page, preview, before } = plan;
  const [first] = preview.refusals;
  if (first) throw refused(first.message, toldRefusals(before, subjectFor(before, maker), preview.refusals));
  if (preview.seen !== order.seen)
    throw changedMeanwhile("The rules changed after you looked, and with them what this would do. Look at it again, then publish.");
  if (subject.kind === "draft") await placeIn(tx, maker, subject.open, order, plan);
  else await change(tx, maker, plan.first, "move", order);
  if (order.what === "live") {
    const { note, version, keep } = order;
    const published = await publishIn(tx, maker, page, { version, note, keep, besides: plan.then, ...withReason(order) });
    await archiveThen(tx, maker, page, order);
    return done(tx, page, published.version, null);
  }
  await change(tx, maker, plan.then, "rules", order);
  if (order.what === "submit") await answerIn(tx, maker, page, { act: "submit", version: order.version, note: order.note });
  const at = order.at
    ? await scheduleIn(tx, maker, page, {
        what: "live",
        ...order.at,
        note: order.note,
        version: order.version,
        keepHelpers: false,
        keep: order.keep,
      })
    : null;
  await archiveThen(tx, maker, page, order);
  return done(tx, page, null, at?.at ?? null);
}

/** Publishes a page as it was seen: now, or at an instant. */
export const publishSeen = (maker: string, id: string, order: PublishBody): Promise<Published> =>
  whereItFits("publishSeenHere", [maker, id, order], reachOfPublication(maker, id, order), () => publishSeenHere(maker, id, order));

export const publishSeenHere = (maker: string, id: string, order: PublishBody): Promise<Published> =>
  inChange(async (tx) => carryOut(tx, maker, await pageToPublish(tx, maker, id, order), order));

/** Places a private draft as it was seen, and publishes or schedules it, or gives it in. */
export const publishDraft = (maker: string, id: string, order: PublishBody): Promise<Published> =>
  whereItFits("publishDraftHere", [maker, id, order], reachOfDraft(maker, id, order), () => publishDraftHere(maker, id, order));

export const publishDraftHere = (maker: string, id: string, order: PublishBody): Promise<Published> =>
  inChange(async (tx) => carryOut(tx, maker, await draftToPublish(tx, maker, id, order, true), order));
