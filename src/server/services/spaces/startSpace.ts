/** Starting a space: live, with no rules of its own, last among the spaces. */
import { eq, sql } from "drizzle-orm";
import { siteOf } from "../../../core/access/index/index.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { listing, spaces } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { makeChange } from "../change/apply.ts";
import { slugOf } from "../reading/addresses.ts";

/** An address for a title that no other space has. */
async function freeSlug(tx: Tx, title: string): Promise<string> {
  const wanted = slugOf(title);
  for (let i = 1; ; i++) {
    const slug = i === 1 ? wanted : `${wanted}-${i}`;
    const [taken] = await tx.select({ id: spaces.placeId }).from(spaces).where(eq(spaces.slug, slug));
    if (!taken) return slug;
  }
}

export async function startSpace(maker: string, order: { title: string; purpose: string }): Promise<{ id: string }> {
  return inChange(async (tx) => {
    const id = newId();
    const title = order.title.trim();
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "makeSpace");
    const parent = siteOf(access.index).place.id;
    const edit = { kind: "start" as const, place: id, parent, as: "space" as const };
    const entry = await makeChange(tx, { maker, edits: [edit], act: "startSpace", note: "" });
    const [last] = await tx.select({ position: sql<number>`coalesce(max(${spaces.position}), -1)` }).from(spaces);
    const position = (last?.position ?? -1) + 1;
    await tx.insert(spaces).values({ placeId: id, slug: await freeSlug(tx, title), purpose: order.purpose.trim(), position });
    await writeTitle(tx, id, title, entry.seq);
    await tx.update(listing).set({ title }).where(eq(listing.placeId, id));
    return { id };
  });
}
