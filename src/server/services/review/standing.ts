/** How the review of one page stands, as far as an asker may know. */
import { eq } from "drizzle-orm";
import type { PageReview } from "../../../contracts/review.ts";
import { type Access, mayNot, mayRead, seenPlace, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { listing, pages, spaces } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { flagLines, flagsOf } from "./lines.ts";

/** What is kept of the review of a page. */
async function keptOf(tx: Tx, id: string) {
  const [row] = await tx
    .select({
      publishedAt: listing.publishedAt,
      due: listing.dueAt,
      own: pages.reviewDays,
      confirmedAt: pages.confirmedAt,
      confirmedBy: pages.confirmedBy,
      asideUntil: pages.asideUntil,
      ofSpace: spaces.reviewDays,
      flags: spaces.flags,
    })
    .from(listing)
    .leftJoin(pages, eq(pages.placeId, listing.placeId))
    .leftJoin(spaces, eq(spaces.placeId, listing.spaceId))
    .where(eq(listing.placeId, id));
  return row;
}

type Standing = Omit<PageReview, "title" | "address" | "html">;

/** How the review of a page stands for an asker, in a snapshot. */
export async function reviewIn(
  tx: Tx,
  access: Access,
  asker: string | null,
  id: string,
): Promise<Standing & { title: string; reads: boolean }> {
  const me = subjectFor(access, asker);
  const place = seenPlace(access, me, id);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  const row = await keptOf(tx, id);
  const rows = (await flagsOf(tx, { places: [id] })).get(id) ?? [];
  const member = me.class === "members";
  const gone = place.place.state === "archived" || place.place.state === "binned";
  return {
    title: place.place.title ?? "",
    reads: mayRead(access, me, place),
    publishedAt: row?.publishedAt?.toISOString() ?? null,
    confirmedAt: row?.confirmedAt?.toISOString() ?? null,
    confirmedBy: row?.confirmedBy && member ? namesFor(access, me).person(row.confirmedBy) : "",
    asideUntil: member ? (row?.asideUntil?.toISOString() ?? null) : null,
    due: member ? (row?.due?.toISOString() ?? null) : null,
    period: row?.own ?? null,
    ofSpace: row?.ofSpace ?? null,
    flags: flagLines(access, me, place, rows),
    mayConfirm: place.place.state === "live" && mayNot(access, me, "confirm", place) === null,
    mayFlag: !gone && mayNot(access, me, "raiseFlag", place, { allowed: row?.flags ?? false }) === null,
    maySetPeriod: mayNot(access, me, "setPeriod", place) === null,
  };
}
