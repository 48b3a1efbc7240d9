/** Inserting many rows at once: one parameter for a whole batch, taken apart by the database. */
import { getTableColumns, getTableName, type SQL, sql } from "drizzle-orm";
import type { PgTable } from "drizzle-orm/pg-core";
import type { Tx } from "./client.ts";

const BATCH = 5_000;

/**
 * Inserts rows whose fields are named as in the schema; fields that no row has are left to their defaults. `onConflict`
 * is what follows the rows, as in `on conflict do nothing`.
 */
export async function insertMany(tx: Tx, table: PgTable, rows: readonly object[], onConflict: SQL = sql``): Promise<void> {
  const given = new Set(rows.flatMap((row) => Object.keys(row)));
  const columns = Object.entries(getTableColumns(table)).filter(([field]) => given.has(field));
  const names = sql.join(
    columns.map(([, column]) => sql.identifier(column.name)),
    sql`, `,
  );
  const types = sql.join(
    columns.map(([, column]) => sql`${sql.identifier(column.name)} ${sql.raw(column.getSQLType())}`),
    sql`, `,
  );
  for (let i = 0; i < rows.length; i += BATCH) {
    const batch = rows.slice(i, i + BATCH) as Record<string, unknown>[];
    const data = batch.map((row) => Object.fromEntries(columns.map(([field, column]) => [column.name, row[field] ?? null])));
    await tx.execute(sql`
      insert into ${sql.identifier(getTableName(table))} (${names})
      select ${names} from jsonb_to_recordset(${JSON.stringify(data)}::text::jsonb) as it(${types}) ${onConflict}`);
  }
}
