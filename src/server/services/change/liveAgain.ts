/**
 * Going live without a new version, whichever door it comes by: readers get the live version there was, its words and its
 * title, and nothing of what was written since.
 */
import { and, eq, isNull } from "drizzle-orm";
import type { AccessIndex } from "../../../core/access/index/index.ts";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWordsOfMany } from "../../db/listing.ts";
import { pages, places, versions } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { badRequest } from "../../trouble.ts";
import { checkLicences } from "../approval/licences.ts";

/** Pages that edits of a state make live. */
const goingLive = (edits: readonly Edit[]): string[] =>
  edits.flatMap((edit) => (edit.kind === "state" && edit.to.state === "live" ? [edit.place] : []));

/**
 * Refuses what would make a page live that has no version for readers (publishing it makes one), or show one where it was never
 * approved; `writes`: pages that get a new live version in the same change.
 */
export async function checkLiveVersions(
  tx: Tx,
  { before, after }: { before: AccessIndex; after: AccessIndex },
  edits: readonly Edit[],
  writes: readonly string[],
): Promise<void> {
  await checkLicences(tx, before, after, edits, writes);
  const ids = goingLive(edits).filter((id) => !writes.includes(id));
  if (ids.length === 0) return;
  const rows = await tx.select({ liveMajor: pages.liveMajor }).from(pages).where(among(pages.placeId, ids));
  if (rows.some(({ liveMajor }) => liveMajor === null))
    throw badRequest("A page that never was live goes live by publishing one of its versions, not by a change of its state.");
}

/** Shows readers, their lists and their search the live version again. */
export async function showLiveAgain(
  tx: Tx,
  edits: readonly Edit[],
  { seq, at }: { seq: Seq; at: Date },
  writes: readonly string[],
): Promise<void> {
  const ids = goingLive(edits).filter((id) => !writes.includes(id));
  if (ids.length === 0) return;
  // A space has no words of its own, and is not found here.
  const found = await tx
    .select({ id: versions.placeId, title: versions.title, body: versions.body, shown: places.title })
    .from(versions)
    .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
    .innerJoin(places, and(eq(places.id, versions.placeId), isNull(places.toSeq)))
    .where(and(eq(versions.minor, 0), among(versions.placeId, ids)));
  for (const { id, title, shown } of found) if (title !== shown) await writeTitle(tx, id, title, seq);
  await writeWordsOfMany(tx, found, at);
}
