/**
 * Erasing (lifecycle.md, "Erasing"): versions, texts, buffers, counts and links go, titles are blanked in every row of the
 * history. The rules stay for *as of*, and the ledger keeps that something was there.
 */
import { sql } from "drizzle-orm";
import type { Edit } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { textArray } from "../../db/textArray.ts";
import { eraseWordsOfEdits } from "../../ledger/words.ts";

/** Tables whose rows about a place go with it, and the column that names it. */
const GOING = [
  "space_addresses",
  "versions",
  "buffers",
  "links",
  "pages",
  "schedules",
  "submissions",
  "pens",
  "slots",
  "view_counts",
  "page_uses",
  "reader_marks",
  "step_ins",
  "listing",
  "exposures",
  "meant_outside",
  "findings",
  "findings_aside",
  "flags",
  "spaces",
] as const;

export async function eraseWords(tx: Tx, edits: readonly Edit[]): Promise<void> {
  const ids = edits.flatMap((edit) => (edit.kind === "erase" ? [edit.place] : []));
  if (ids.length === 0) return;
  const list = textArray(ids);
  for (const table of GOING) await tx.execute(sql`delete from ${sql.identifier(table)} where place_id = any(${list})`);
  const among = sql`select p.id from template_pages p join templates t on t.id = p.template_id where t.space_id = any(${list})`;
  await tx.execute(sql`delete from buffers where place_id in (${among})`);
  await tx.execute(sql`delete from template_pages where id in (${among})`);
  await tx.execute(sql`delete from templates where space_id = any(${list})`);
  await tx.execute(sql`delete from routines where space_id = any(${list})`);
  await tx.execute(sql`delete from routine_told where about = any(${list})`);
  await tx.execute(sql`delete from saved_filters where space_id = any(${list})`);
  // What spaces were called and were for stands in the ledger's words where it was changed.
  await eraseWordsOfEdits(tx, { kind: "settings", ids });
  await eraseWordsOfEdits(tx, { kind: "contents", ids });
  await eraseWordsOfEdits(tx, { kind: "flag", ids });
  await tx.execute(sql`update places set title = '' where id = any(${list})`);
}
