/** Keeps which page links to which: whenever a version comes, what that says. */

import { and, eq } from "drizzle-orm";
import { linksOf, type PageBody } from "../../../core/content/index.ts";
import { insertMany } from "../../db/bulk.ts";
import type { Tx } from "../../db/client.ts";
import { countLinksIn, targetsOf } from "../../db/deriving.ts";
import { links } from "../../db/schema/index.ts";

/** The links of a body as rows. */
export const linkRows = (placeId: string, live: boolean, body: PageBody) =>
  linksOf(body).map(({ page, block }) => ({ placeId, live, targetId: page, block }));

async function replace(tx: Tx, placeId: string, live: boolean, body: PageBody | null): Promise<void> {
  await tx.delete(links).where(and(eq(links.placeId, placeId), eq(links.live, live)));
  const rows = body ? linkRows(placeId, live, body) : [];
  if (rows.length > 0) await insertMany(tx, links, rows);
}

/** A newer version than the live one was saved. */
export const keepWorkingLinks = (tx: Tx, placeId: string, body: PageBody): Promise<void> => replace(tx, placeId, false, body);

/** A version went live; `waiting` is what stands on top of it, if anything does. */
export async function keepLiveLinks(tx: Tx, placeId: string, live: PageBody, waiting: PageBody | null): Promise<void> {
  const before = await targetsOf(tx, [placeId]);
  await replace(tx, placeId, true, live);
  await replace(tx, placeId, false, waiting);
  await countLinksIn(tx, [...new Set([...before, ...linksOf(live).map(({ page }) => page)])]);
}
