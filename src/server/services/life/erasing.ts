/**
 * Erasing (lifecycle.md, "Erasing"): versions, texts, buffers, counts and links go, titles are blanked in every row of the
 * history. The rules stay for *as of*, and the ledger keeps that something was there.
 */
import { sql } from "drizzle-orm";
import type { Edit } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { textArray } from "../../db/textArray.ts";

/** Tables whose rows about a place go with it, and the column that names it. */
const GOING = ["versions", "buffers", "links", "pages", "schedules", "slots", "view_counts", "step_ins", "listing", "spaces"] as const;

export async function eraseWords(tx: Tx, edits: readonly Edit[]): Promise<void> {
  const ids = edits.flatMap((edit) => (edit.kind === "erase" ? [edit.place] : []));
  if (ids.length === 0) return;
  const list = textArray(ids);
  for (const table of GOING) await tx.execute(sql`delete from ${sql.identifier(table)} where place_id = any(${list})`);
  await tx.execute(sql`delete from saved_filters where space_id = any(${list})`);
  await tx.execute(sql`update places set title = '' where id = any(${list})`);
}
