/**
 * Going live without a new version, whichever door it comes by: readers get the live version there was, its words and its
 * title, and nothing of what was written since.
 */
import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWordsOfMany } from "../../db/listing.ts";
import { pages, places, versions } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { badRequest } from "../../trouble.ts";
import { asksApproval } from "../approval/standing.ts";

/** Pages that edits of a state make live. */
const goingLive = (edits: readonly Edit[]): string[] =>
  edits.flatMap((edit) => (edit.kind === "state" && edit.to.state === "live" ? [edit.place] : []));

/** Refuses what would make a page live that has no version for readers: publishing it makes one. */
export async function checkLiveVersions(tx: Tx, after: AccessIndex, edits: readonly Edit[]): Promise<void> {
  const ids = goingLive(edits);
  if (ids.length === 0) return;
  await checkApproved(tx, after, edits);
  const rows = await tx.select({ liveMajor: pages.liveMajor }).from(pages).where(inArray(pages.placeId, ids));
  if (rows.some(({ liveMajor }) => liveMajor === null))
    throw badRequest("A page that never was live goes live by publishing one of its versions, not by a change of its state.");
}

/** Refuses to show readers again what was never approved, where its space asks for that; what comes out of archive or bin was live there. */
async function checkApproved(tx: Tx, after: AccessIndex, edits: readonly Edit[]): Promise<void> {
  const published = edits.flatMap((edit) =>
    edit.kind === "state" && edit.to.state === "live" && (edit.from.state === "draft" || edit.from.state === "scheduled")
      ? [edit.place]
      : [],
  );
  if (published.length === 0) return;
  const rows = await tx
    .select({ id: versions.placeId })
    .from(versions)
    .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
    .where(and(eq(versions.minor, 0), isNull(versions.approvedBy), inArray(versions.placeId, published)));
  for (const { id } of rows) {
    const place = placeOf(after, id);
    if (place && (await asksApproval(tx, after, place)))
      throw badRequest(
        "Its space asks for approval, and what it would show readers was never approved there. Give a version in, then publish it.",
      );
  }
}

/** Shows readers, their lists and their search the live version again. */
export async function showLiveAgain(tx: Tx, edits: readonly Edit[], { seq, at }: { seq: Seq; at: Date }): Promise<void> {
  const ids = goingLive(edits);
  if (ids.length === 0) return;
  // A space has no words of its own, and is not found here.
  const found = await tx
    .select({ id: versions.placeId, title: versions.title, body: versions.body, shown: places.title })
    .from(versions)
    .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
    .innerJoin(places, and(eq(places.id, versions.placeId), isNull(places.toSeq)))
    .where(and(eq(versions.minor, 0), sql`${versions.placeId} = any(${textArray(ids)})`));
  for (const { id, title, shown } of found) if (title !== shown) await writeTitle(tx, id, title, seq);
  await writeWordsOfMany(tx, found, at);
}
