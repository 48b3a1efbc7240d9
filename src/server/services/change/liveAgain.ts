/**
 * Going live without a new version, whichever door it comes by: readers get the live version there was, its words and its
 * title, and nothing of what was written since.
 */
import { and, eq, inArray } from "drizzle-orm";
import type { Edit, Seq } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWords } from "../../db/listing.ts";
import { pages, versions } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";

/** Pages that edits of a state make live. */
const goingLive = (edits: readonly Edit[]): string[] =>
  edits.flatMap((edit) => (edit.kind === "state" && edit.to.state === "live" ? [edit.place] : []));

/** Refuses what would make a page live that has no version for readers: publishing it makes one. */
export async function checkLiveVersions(tx: Tx, edits: readonly Edit[]): Promise<void> {
  const ids = goingLive(edits);
  if (ids.length === 0) return;
  const rows = await tx.select({ liveMajor: pages.liveMajor }).from(pages).where(inArray(pages.placeId, ids));
  if (rows.some(({ liveMajor }) => liveMajor === null))
    throw badRequest("A page that never was live goes live by publishing one of its versions, not by a change of its state.");
}

/** Shows readers, their lists and their search the live version again. */
export async function showLiveAgain(tx: Tx, edits: readonly Edit[], { seq, at }: { seq: Seq; at: Date }): Promise<void> {
  for (const id of goingLive(edits)) {
    const [live] = await tx
      .select({ title: versions.title, body: versions.body })
      .from(versions)
      .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
      .where(and(eq(versions.placeId, id), eq(versions.minor, 0)));
    // A space has no words of its own.
    if (!live) continue;
    await writeTitle(tx, id, live.title, seq);
    await writeWords(tx, id, live, at);
  }
}
