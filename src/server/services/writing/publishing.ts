/** Publishing: a version becomes what readers get, and the page goes live if it was not (lifecycle.md, "States and acts"). */
import { and, eq, not } from "drizzle-orm";
import type { PublishedVersion } from "../../../contracts/writing.ts";
import { type CompiledPlace, type CompiledSubject, placeOf, spaceIdOf } from "../../../core/access/index/index.ts";
import { type Edit, type Instant, principalKey, type Seq } from "../../../core/access/model/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { helpersKept } from "../../../core/lifecycle/index.ts";
import { hasWords } from "../../../core/words.ts";
import { type Access, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { deriveListing } from "../../db/deriving.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWords } from "../../db/listing.ts";
import { pages, schedules, submissions, versions } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { tellOf } from "../../live/listening.ts";
import { badRequest, changedMeanwhile, notThere } from "../../trouble.ts";
import { license } from "../approval/licences.ts";
import { approvedVersion, asksApproval, isApprovedIn, publishesWithReason } from "../approval/standing.ts";
import { makeChange } from "../change/apply.ts";
import { keepFindings } from "../findings/keeping.ts";
import { keepLiveLinks } from "../links/keepLinks.ts";
import { newestVersion, versionName, versionNamed } from "./versions.ts";

export interface PublishOrder {
  /** Name of the version to publish. By hand it is the newest; a schedule names the one that was seen then. */
  version: string;
  note: string;
  seen?: string;
  reason?: string;
  /** Which helpers on the draft keep what they have: all, none, or these, as "person:mei". */
  keep?: Kept;
  /** What else the same change does: where it goes, whose it is, who reads it. */
  besides?: readonly Edit[];
  /** Made by the clock, for a schedule: newer words wait. */
  scheduled?: true;
  now?: Instant;
}

type Version = typeof versions.$inferSelect;

/**
 * The version that goes live. By hand it is the newest, whose words were seen; or an older one that was approved. The clock
 * has the one that was scheduled.
 */
export async function chosenVersion(
  tx: Tx,
  placeId: string,
  order: Pick<PublishOrder, "version" | "scheduled">,
): Promise<{ chosen: Version; newest: Version }> {
  const newest = await newestVersion(tx, placeId);
  if (versionName(newest) === order.version) return { chosen: newest, newest };
  const named = await versionNamed(tx, placeId, order.version);
  const chosen = order.scheduled || (await approvedVersion(tx, placeId)) === order.version ? named : undefined;
  if (!chosen)
    throw changedMeanwhile(`Version ${versionName(newest)} was saved meanwhile. Look at it, then publish.`, {
      version: versionName(newest),
    });
  return { chosen, newest };
}

/** Refuses words that were not approved where their space asks for that (lifecycle.md, "Approval"). */
export async function needApproved(
  tx: Tx,
  access: Access,
  { me, place, chosen, reason }: { me: CompiledSubject; place: CompiledPlace; chosen: Version; reason?: string | undefined },
): Promise<void> {
  if (isApprovedIn(chosen, spaceIdOf(access.index, place)) || !(await asksApproval(tx, access.index, place))) return;
  if (hasWords(reason ?? "") && (await publishesWithReason(tx, access, me, place))) return;
  throw badRequest(UNAPPROVED(versionName(chosen)));
}

export const UNAPPROVED = (version: string): string =>
  `Version ${version} is not approved. This space publishes what somebody else who may publish it has approved: give it in first.`;

/** Helpers who are kept: all, none, or some, as "person:mei". */
export type Kept = boolean | readonly string[];

/** The edits that make a page live. */
export function publishEdits(access: Pick<Access, "index">, placeId: string, keep: Kept): Edit[] {
  const place = placeOf(access.index, placeId);
  if (!place || (place.place.state !== "draft" && place.place.state !== "scheduled")) return [];
  const goesLive: Edit = { kind: "state", place: placeId, from: { state: place.place.state }, to: { state: "live" } };
  const kept = helpersKept(place).filter(
    (edit) => keep === true || (keep && edit.kind === "grant" && edit.put && keep.includes(principalKey(edit.put.to))),
  );
  return [goesLive, ...kept];
}

/** Writes the live version and, where newer words wait, carries them on as a working version on top of it. */
export async function writeLive(
  tx: Tx,
  placeId: string,
  maker: string,
  note: string,
  { chosen, newest }: { chosen: Version; newest: Version },
  entry: { seq: Seq; at: Date },
) {
  const live = { major: newest.major + 1, minor: 0 };
  const row = { placeId, seq: entry.seq, at: entry.at };
  await tx.insert(versions).values({
    ...row,
    ...live,
    title: chosen.title,
    body: chosen.body,
    authorId: maker,
    note,
    approvedBy: chosen.approvedBy,
    approvedIn: chosen.approvedIn,
  });
  if (chosen !== newest) {
    const carriedFrom = versionName(newest);
    const { title, body, authorId, approvedBy, approvedIn } = newest;
    const carried = { ...row, major: live.major, minor: 1, title, body, authorId, note: newest.note, carriedFrom, approvedBy, approvedIn };
    await tx.insert(versions).values(carried);
  }
  await carrySubmission(tx, placeId, newest, chosen === newest ? null : { major: live.major, minor: 1 });
  await keepLiveLinks(tx, placeId, chosen.body, chosen === newest ? null : newest.body);
  await tx.update(pages).set({ liveMajor: live.major, publishedAt: entry.at, changedAt: entry.at }).where(eq(pages.placeId, placeId));
  await tx.delete(schedules).where(and(eq(schedules.placeId, placeId), eq(schedules.what, "live")));
  await writeTitle(tx, placeId, chosen.title, entry.seq);
  await writeWords(tx, placeId, chosen, entry.at);
  await deriveListing(tx, [placeId]);
  await keepFindings(tx, [{ id: placeId, body: chosen.body }]);
}

/** What was given in is answered by the publication; newer words that wait for approval go on waiting under their new name. */
async function carrySubmission(tx: Tx, placeId: string, newest: Version, carried: { major: number; minor: number } | null): Promise<void> {
  const ofNewest = and(eq(submissions.placeId, placeId), eq(submissions.major, newest.major), eq(submissions.minor, newest.minor));
  if (carried) await tx.update(submissions).set(carried).where(ofNewest);
  const stays = carried && and(eq(submissions.major, carried.major), eq(submissions.minor, carried.minor));
  await tx.delete(submissions).where(and(eq(submissions.placeId, placeId), stays ? not(stays) : undefined));
}

/** Access with a page where the same change moves it. */
function spaceThen(access: Access, placeId: string, edits: readonly Edit[]): Access {
  const move = edits.filter((edit) => edit.kind === "move" && edit.place === placeId);
  const moved = move.length === 0 ? null : update(access.index, move);
  return moved?.ok ? { ...access, index: moved.index } : access;
}

/** Publishes inside a change. */
export async function publishIn(tx: Tx, maker: string, placeId: string, order: PublishOrder): Promise<PublishedVersion> {
  const access = await readAccess(tx, order.now);
  const me = subjectFor(access, maker);
  const place = seenPlace(access, me, placeId);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  const to = order.besides?.find((edit) => edit.kind === "move" && edit.place === placeId);
  const into = to?.kind === "move" ? placeOf(access.index, to.to) : undefined;
  need(access, me, "publish", place, into ? { moves: true, there: standing(access, me, into).set } : {});
  const { state } = place.place;
  const words = await chosenVersion(tx, placeId, order);
  const { reason } = order;
  const version = versionName({ major: words.newest.major + 1, minor: 0 });
  const { note, now } = order;
  if (state === "archived" || state === "binned") throw badRequest(`A page that is ${state} cannot be published. Restore it first.`);
  if (state === "live" && words.chosen.minor === 0) throw badRequest("There is nothing newer than the live version to publish.");
  const edits = [...(order.besides ?? []), ...publishEdits(access, placeId, order.keep ?? false)];
  // Where it goes to another space, that space asks.
  const then = spaceThen(access, placeId, order.besides ?? []);
  await needApproved(tx, then, { me, place: placeOf(then.index, placeId) ?? place, chosen: words.chosen, reason });
  const common = { maker, act: "publish" as const, note, detail: { version }, ...(reason === undefined ? {} : { reason }) };
  const entry =
    edits.length === 0
      ? await appendEntry(tx, { ...common, places: [placeId] }, access.at)
      : await makeChange(tx, {
          ...common,
          writesLive: [placeId],
          edits,
          ...(order.seen === undefined ? {} : { seen: order.seen }),
          ...(now === undefined ? {} : { now }),
        });
  await writeLive(tx, placeId, maker, note, words, entry);
  const stands = placeOf(then.index, placeId) ?? place;
  if (await asksApproval(tx, then.index, stands)) await license(tx, placeId, words.newest.major + 1, spaceIdOf(then.index, stands));
  await tellOf(tx, placeId);
  const newest = words.chosen === words.newest ? version : versionName({ major: words.newest.major + 1, minor: 1 });
  return { version, newest, seq: entry.seq };
}

/** Publishes the newest version: readers get it, and the page goes live if it was not. */
export const publishPage = (maker: string, placeId: string, order: PublishOrder): Promise<PublishedVersion> =>
  inChange((tx) => publishIn(tx, maker, placeId, order));
