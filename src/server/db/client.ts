/** The connections of a server process, and the two kinds of transaction everything runs in. */

import { sql } from "drizzle-orm";
import { drizzle, type PostgresJsDatabase } from "drizzle-orm/postgres-js";
import postgres from "postgres";
import { noteTrouble } from "../log.ts";
import * as schema from "./schema/index.ts";

export type Database = PostgresJsDatabase<typeof schema>;
export type Tx = Parameters<Parameters<Database["transaction"]>[0]>[0];

interface Pool {
  end(): Promise<void>;
  db: Database;
  /** The same connections, where a transaction is a snapshot that nothing is written in. */
  snapshots: Database;
}

/** So many different statements are prepared on a connection; what comes after them is not. */
const MOST_PREPARED = 600;
const preparedQueries = new Set<string>();

/** Whether a statement comes again and again: one that is long has a list of its own in it. */
function worthPreparing(query: string): boolean {
  if (preparedQueries.has(query)) return true;
  if (query.length > 4_000 || preparedQueries.size >= MOST_PREPARED) return false;
  preparedQueries.add(query);
  return true;
}

/**
 * A client whose statements are prepared once for each connection, which saves a round trip each time, and whose
 * transactions begin as `mode` says, on connections of their own. The library above asks for none of it.
 */
function quick<T extends postgres.Sql | postgres.TransactionSql>(client: T, mode: string, transactions?: postgres.Sql): T {
  return new Proxy(client, {
    get(target, name) {
      if (name === "unsafe")
        return (query: string, parameters?: never[]) => target.unsafe(query, parameters, { prepare: worthPreparing(query) });
      if (name === "begin" && transactions)
        return (work: (tx: postgres.TransactionSql) => Promise<unknown>) => transactions.begin(mode, (tx) => work(quick(tx, mode)));
      return Reflect.get(target, name);
    },
  });
}

let pool: Pool | undefined;

function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error("DATABASE_URL is not set: start Tesoro with `npm start`, or point DATABASE_URL at a PostgreSQL database.");
  return url;
}

function connect(): Pool {
  const clientOf = (max: number): postgres.Sql => {
    const client = postgres(databaseUrl(), { max, max_lifetime: 15 * 60, onnotice: () => {} });
    // Tells the client to leave dates and JSON to the library above, which it does for the one it is given only.
    drizzle(client);
    return client;
  };
  // The driver sends statements ahead on a busy connection, and loses track of a transaction that begins behind too many
  // of them: it fails, and its connection, still in it, is given to others. So no transaction ever shares with a statement.
  const transactions = clientOf(10);
  const statements = clientOf(5);
  const clients = (mode: string) => drizzle(quick(statements, mode, transactions), { schema });
  return {
    end: async () => void (await Promise.all([transactions.end({ timeout: 5 }), statements.end({ timeout: 5 })])),
    db: clients("read write"),
    snapshots: clients("isolation level repeatable read read only"),
  };
}

function opened(): Pool {
  pool ??= connect();
  return pool;
}

export const database = (): Database => opened().db;

const forgetting: (() => void)[] = [];

/** What a process keeps of a database between requests is forgotten when it leaves that: beside another it would be wrong. */
export const onLeavingDatabase = (forget: () => void): void => void forgetting.push(forget);

/** Ends the connections, and with them what was kept of this database. */
export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = undefined;
  for (const forget of forgetting) forget();
}

/** Reads in one snapshot: rules and data of the same moment. */
export const inSnapshot = <T>(work: (tx: Tx) => Promise<T>): Promise<T> => opened().snapshots.transaction(work);

/**
 * The same for lists: how a statement is best done depends on what it is given, three classes of places or three thousand,
 * so each is planned anew.
 */
export const inSnapshotOfLists = <T>(work: (tx: Tx) => Promise<T>): Promise<T> =>
  inSnapshot(async (tx) => {
    await tx.execute(sql`set local plan_cache_mode = force_custom_plan`);
    return work(tx);
  });

// An arbitrary number that stands for "a change to this site is being made".
const CHANGE_LOCK = 7_315_003;

/** What is to be done once a transaction is committed; never, where it comes to nothing. */
const waiting = new WeakMap<Tx, (() => void)[]>();

export const afterCommit = (tx: Tx, work: () => void): void => {
  waiting.set(tx, [...(waiting.get(tx) ?? []), work]);
};

/** Takes the turn of whoever makes a change, until this transaction ends. */
export const takeTurn = (tx: Tx): Promise<unknown> => tx.execute(sql`select pg_advisory_xact_lock(${CHANGE_LOCK})`);

/**
 * Takes the turn of whoever counts something before adding to it, until this transaction ends: without it, many at once would
 * each find room for one.
 */
export const takeTurnOf = (tx: Pick<Tx, "execute">, what: string): Promise<unknown> =>
  tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${what}, 0))`);

/** Makes a change: one at a time on the whole site, from reading the rules to the commit. All of it happens, or nothing. */
export async function inChange<T>(work: (tx: Tx) => Promise<T>): Promise<T> {
  const { result, later } = await database().transaction(async (tx) => {
    await takeTurn(tx);
    return { result: await work(tx), later: waiting.get(tx) ?? [] };
  });
  for (const it of later) it();
  return result;
}

/**
 * Does work that one process at a time does, of all that share the database; whoever comes second leaves it. The lock is
 * that of a connection of its own: it goes with it, whatever becomes of process, database or network.
 */
export async function withLock(name: string, work: () => Promise<void>): Promise<void> {
  const own = postgres(databaseUrl(), { max: 1, onnotice: () => {} });
  try {
    const [row] = await own`select pg_try_advisory_lock(hashtextextended(${name}, 0)) as got`;
    if (row?.got) await work();
  } finally {
    await own.end({ timeout: 1 });
  }
}

/**
 * Keeps a server process alive when the database goes away under it. The driver then throws from a timer of its own
 * (a write that was due on a socket that is gone); the query it belongs to is rejected and answered all the same.
 * Anything else that nobody caught ends the process, as it would without this.
 */
export function surviveLostConnections(): void {
  process.on("uncaughtException", (error) => {
    noteTrouble("The database went away", error);
    if (!/postgres[\\/]src[\\/]connection\.js/.test(error.stack ?? "")) process.exit(1);
  });
}
