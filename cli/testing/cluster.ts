/**
 * The one PostgreSQL of test runs: quick rather than safe, in memory where there is room. It is kept between runs with
 * the templates in it, started by the first run that needs it and stopped by the last.
 */
import { createHash } from "node:crypto";
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import postgres from "postgres";
import { clusterRuns, startCluster } from "../postgres.ts";
import { ROOT } from "./fingerprint.ts";

const MEMORY = "/dev/shm";
/** What a run takes at most, its copies of the demo side by side. */
const ROOM = 3 * 2 ** 30;
const PREFIX = "tesoro-tests-";

/** An arbitrary number: whoever uses the cluster shares this lock, and only whoever has it alone may stop the cluster. */
const USERS = 7_315_101;

export interface TestCluster {
  /** Address of its database `postgres`, from which others are made. */
  admin: string;
  /** Stops the cluster, unless another run uses it. */
  close(): Promise<void>;
}

function hasRoom(folder: string): boolean {
  if (!existsSync(folder)) return false;
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize > ROOM;
}

/** Clusters in memory whose checkout is gone are nobody's any more. */
function sweep(): void {
  for (const name of readdirSync(MEMORY).filter((it) => it.startsWith(PREFIX))) {
    const folder = join(MEMORY, name);
    const note = join(folder, "checkout");
    if (!existsSync(note) || existsSync(readFileSync(note, "utf8")) || clusterRuns(join(folder, "pg"))) continue;
    rmSync(folder, { recursive: true, force: true });
  }
}

function folderOfCluster(): string {
  const inMemory = join(MEMORY, PREFIX + createHash("sha256").update(ROOT).digest("hex").slice(0, 16));
  if (existsSync(MEMORY)) sweep();
  if (!existsSync(inMemory) && !hasRoom(MEMORY)) return join(ROOT, ".data", "tests");
  return inMemory;
}

/** A connection that shares the lock of users as long as it is open. */
async function shared(admin: string): Promise<postgres.Sql> {
  const sql = postgres(admin, { max: 1, onnotice: () => {}, idle_timeout: 0, max_lifetime: null });
  await sql`select pg_advisory_lock_shared(${USERS})`;
  return sql;
}

/** Whether nobody else uses the cluster; nobody gets in any more, then. False where it went away by itself. */
async function isAlone(sql: postgres.Sql): Promise<boolean> {
  try {
    await sql`select pg_advisory_unlock_shared(${USERS})`;
    const [row] = await sql`select pg_try_advisory_lock(${USERS}) as alone`;
    return row?.alone === true;
  } catch {
    return false;
  }
}

/** Databases that a killed run left behind: their names hold the number of the process that made them. */
async function dropLeftovers(sql: postgres.Sql): Promise<void> {
  for (const { datname } of await sql<{ datname: string }[]>`select datname from pg_database where datname like 'of\\_%'`)
    if (!existsSync(`/proc/${datname.split("_")[1]}`)) await sql.unsafe(`drop database if exists "${datname}" with (force)`);
}

export async function openTestCluster(): Promise<TestCluster> {
  const folder = folderOfCluster();
  mkdirSync(folder, { recursive: true });
  // The database's own user must be able to enter it.
  chmodSync(folder, 0o755);
  writeFileSync(join(folder, "checkout"), ROOT);
  const cluster = await startCluster(join(folder, "pg"), { fast: true });
  const admin = cluster.url.replace(/\/tesoro$/, "/postgres");
  const sql = await shared(admin);
  await dropLeftovers(sql);
  return {
    admin,
    close: async () => {
      if (await isAlone(sql)) await cluster.stop();
      // Not before: it would let somebody in again, just before the cluster stops under them.
      await sql.end({ timeout: 1 }).catch(() => {});
    },
  };
}
