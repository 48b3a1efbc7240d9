/** A demo site of its own, for browser tests and pictures: a fresh cluster in a temporary folder, built and served. */
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { freePort, startCluster } from "./postgres.ts";
import { buildIfNeeded, serve } from "./serving.ts";

export interface DemoSite {
  base: string;
  databaseUrl: string;
  /** Number of the server's process. */
  pid: number;
  close(): Promise<void>;
}

/** A cluster that is thrown away at the end: quick rather than safe, migrated and empty. */
export async function openScratchDatabase(): Promise<{ url: string; close(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), "tesoro-"));
  // The database's own user must be able to enter it.
  chmodSync(folder, 0o755);
  const cluster = await startCluster(join(folder, "pg"), { fast: true });
  process.env.DATABASE_URL = cluster.url;
  process.env.TESORO_SECRET ??= "a secret for tests and pictures only";
  const { migrateDatabase } = await import("../src/server/db/migrate.ts");
  await migrateDatabase(cluster.url);
  return {
    url: cluster.url,
    close: async () => {
      const { closeDatabase } = await import("../src/server/db/client.ts");
      await closeDatabase();
      await cluster.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const loadBrinehaven = async (): Promise<void> => (await import("../src/demo/load.ts")).loadDemo();

/** The demo, or what `load` brings into an empty database, built and served. */
export async function openDemoSite(load: () => Promise<void> = loadBrinehaven): Promise<DemoSite> {
  const database = await openScratchDatabase();
  await load();
  buildIfNeeded();
  const served = await serve(database.url, "127.0.0.1", await freePort(), process.env.TESORO_SECRET ?? "");
  return {
    base: served.address,
    databaseUrl: database.url,
    pid: served.pid,
    close: async () => {
      await served.stop();
      await database.close();
    },
  };
}
