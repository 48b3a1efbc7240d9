/** Columns that tables share. */
import { sql } from "drizzle-orm";
import { bigint, bigserial, customType, timestamp, uniqueIndex } from "drizzle-orm/pg-core";
import type { Seq } from "../../../core/access/model/index.ts";

export const instant = (name: string) => timestamp(name, { withTimezone: true, precision: 3, mode: "date" });
export const seqColumn = (name: string) => bigint(name, { mode: "number" }).$type<Seq>();

/** A key that sorts byte by byte, wherever the database stands. */
export const sortKey = customType<{ data: string }>({ dataType: () => 'text collate "C"' });

/** When a fact held: from one change (included) to another (excluded), or still. */
export const validity = () => ({
  rowId: bigserial("row_id", { mode: "number" }).primaryKey(),
  fromSeq: seqColumn("from_seq").notNull(),
  toSeq: seqColumn("to_seq"),
});

/** At most one row of a thing is valid now. */
export const current = (name: string) => uniqueIndex(name);
export const stillValid = sql`to_seq is null`;
