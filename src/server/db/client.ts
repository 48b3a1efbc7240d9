/** The one connection pool of a server process, and the two kinds of transaction everything runs in. */
import { sql } from "drizzle-orm";
import { drizzle, type PostgresJsDatabase } from "drizzle-orm/postgres-js";
import postgres from "postgres";
import * as schema from "./schema.ts";

export type Database = PostgresJsDatabase<typeof schema>;
export type Tx = Parameters<Parameters<Database["transaction"]>[0]>[0];

interface Pool {
  sql: postgres.Sql;
  db: Database;
}

let pool: Pool | undefined;

function connect(): Pool {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error("DATABASE_URL is not set: start Tesoro with `npm start`, or point DATABASE_URL at a PostgreSQL database.");
  const client = postgres(url, { max: 10, onnotice: () => {} });
  return { sql: client, db: drizzle(client, { schema }) };
}

export function database(): Database {
  pool ??= connect();
  return pool.db;
}

export async function closeDatabase(): Promise<void> {
  await pool?.sql.end({ timeout: 5 });
  pool = undefined;
}

/** Reads in one snapshot: rules and data of the same moment. */
export const inSnapshot = <T>(work: (tx: Tx) => Promise<T>): Promise<T> =>
  database().transaction(work, { isolationLevel: "repeatable read", accessMode: "read only" });

// An arbitrary number that stands for "a change to this site is being made".
const CHANGE_LOCK = 7_315_003;

/** Makes a change: one at a time on the whole site, from reading the rules to the commit. All of it happens, or nothing. */
export const inChange = <T>(work: (tx: Tx) => Promise<T>): Promise<T> =>
  database().transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(${CHANGE_LOCK})`);
    return work(tx);
  });

/**
 * Keeps a server process alive when the database goes away under it. The driver then throws from a timer of its own
 * (a write that was due on a socket that is gone); the query it belongs to is rejected and answered all the same.
 * Anything else that nobody caught ends the process, as it would without this.
 */
export function surviveLostConnections(): void {
  process.on("uncaughtException", (error) => {
    console.error(error);
    if (!/postgres[\\/]src[\\/]connection\.js/.test(error.stack ?? "")) process.exit(1);
  });
}
