/** Databases for tests: each a copy of a template, which is made when it is first asked for and kept while what makes it stays. */
import { spawn } from "node:child_process";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { copyDatabase, onConnection, startCluster } from "../postgres.ts";
import { openTestCluster } from "./cluster.ts";
import { fingerprint, ROOT } from "./fingerprint.ts";
import { INSTANT, type Kind, MADE_BEFORE, type Made, SECRET } from "./kinds.ts";

export interface TestDatabase {
  url: string;
  /** Address from which others are made in the same cluster. */
  admin: string;
  close(): Promise<void>;
}

/** What each kind is begun from, and the files that make it what it is. */
const MAKING: Record<Made, { from: Made | null; entry: string }> = {
  schema: { from: null, entry: "src/server/db/migrate.ts" },
  empty: { from: "schema", entry: "src/server/services/accounts/founding.ts" },
  demo: { from: "schema", entry: "src/demo/load.ts" },
};
const DATA = ["src/server/db/migrations", "package-lock.json", "cli/testing/kinds.ts", "cli/testing/fill.ts"];
const TEXTS = ["src/demo/texts", "src/demo/people.csv"];

const nameOf = (kind: Made): string =>
  `${kind}_${fingerprint([MAKING.schema.entry, MAKING[kind].entry], kind === "demo" ? [...DATA, ...TEXTS] : DATA, String(INSTANT)).slice(0, 16)}`;

const within = (admin: string, database: string): string => admin.replace(/\/postgres$/, `/${database}`);

/** Does something that one process at a time does, of all that use this cluster. */
export const oneAtATime = <T>(admin: string, what: string, work: () => Promise<T>): Promise<T> =>
  onConnection(admin, async (sql) => {
    await sql`select pg_advisory_lock(hashtextextended(${what}, 0))`;
    return work();
  });

/** Fills a database in a process of its own, whose clock stands a little before the instant at which tests begin. */
async function fill(kind: Made, url: string): Promise<void> {
  const shift = INSTANT - MADE_BEFORE - (globalThis.RealDate ?? Date).now();
  const env = {
    ...process.env,
    DATABASE_URL: url,
    TESORO_SECRET: SECRET,
    TESORO_CLOCK_SHIFT: String(shift),
    NODE_OPTIONS: `--import=${new URL("./clock.mjs", import.meta.url).href}`,
  };
  const child = spawn(process.execPath, ["--import", "tsx", join(ROOT, "cli/testing/fill.ts"), kind], {
    cwd: ROOT,
    env,
    stdio: ["ignore", "ignore", "inherit"],
  });
  const status = await new Promise((ended) => child.once("exit", ended).once("error", ended));
  if (status !== 0) throw new Error(`The database "${kind}" for tests could not be made; see above.`);
}

/** The name of the template of a kind, made first where there is none for the code as it is. */
export async function templateOf(admin: string, kind: Made): Promise<string> {
  const name = nameOf(kind);
  const known = () => onConnection(admin, (sql) => sql`select 1 from pg_database where datname = ${name}`);
  if ((await known()).length > 0) return name;
  const { from } = MAKING[kind];
  const begunFrom = from ? await templateOf(admin, from) : "template0";
  return oneAtATime(admin, kind, async () => {
    if ((await known()).length > 0) return name;
    const making = `making_${kind}`;
    await onConnection(admin, async (sql) => {
      await sql.unsafe(`drop database if exists ${making} with (force)`);
      await sql.unsafe(`create database ${making} template ${begunFrom}`);
    });
    await fill(kind, within(admin, making));
    // The planner knows the template as it would know a database that has been in use.
    await onConnection(within(admin, making), (sql) => sql`vacuum analyze`);
    await onConnection(admin, async (sql) => {
      const old = await sql<{ datname: string }[]>`select datname from pg_database where datname like ${`${kind}\\_%`}`;
      for (const { datname } of old) await sql.unsafe(`drop database if exists "${datname}"`).catch(() => {});
      await sql.unsafe(`alter database ${making} rename to ${name}`);
    });
    return name;
  });
}

let made = 0;

const becomeOurs = (url: string) => Object.assign(process.env, { DATABASE_URL: url, TESORO_SECRET: SECRET });
const leave = async () => (await import("../../src/server/db/client.ts")).closeDatabase();

/** A database of one's own with what one asks for; it becomes the one of this process until it is closed. */
export async function openTestDatabase(kind: Kind): Promise<TestDatabase> {
  // A run of tests has started the cluster; pictures and measurements start it themselves.
  const own = process.env.TESORO_TEST_CLUSTER ? null : await openTestCluster();
  const admin = process.env.TESORO_TEST_CLUSTER ?? own?.admin ?? "";
  const template = kind === "bare" ? "template0" : await templateOf(admin, kind);
  const name = `of_${process.pid}_${++made}`;
  await onConnection(admin, (sql) => sql.unsafe(`create database ${name} template ${template}`));
  // What a file before this one left running may have opened its database again.
  await leave();
  const url = within(admin, name);
  becomeOurs(url);
  return {
    url,
    admin,
    close: async () => {
      await leave();
      await onConnection(admin, (sql) => sql.unsafe(`drop database if exists ${name} with (force)`));
      await own?.close();
    },
  };
}

/** The same in a cluster of its own, for tests that end the database's processes under those who use it. */
export async function openDatabaseAlone(kind: Made): Promise<TestDatabase> {
  const folder = mkdtempSync(join(tmpdir(), "tesoro-alone-"));
  // The database's own user must be able to enter it.
  chmodSync(folder, 0o755);
  const cluster = await startCluster(join(folder, "pg"), { fast: true });
  // Nobody may use a template while others copy it: what is read for long is a copy itself.
  const model = await openTestDatabase(kind);
  await copyDatabase(model.url, cluster.url);
  await model.close();
  becomeOurs(cluster.url);
  return {
    url: cluster.url,
    admin: cluster.url.replace(/\/tesoro$/, "/postgres"),
    close: async () => {
      await leave();
      await cluster.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
