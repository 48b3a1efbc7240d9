/** A site of its own, for browser and system tests, pictures and measurements: a database of its kind, built and served. */
import { freePort } from "../postgres.ts";
import { buildIfNeeded, serve } from "../serving.ts";
import { oneAtATime, openDatabaseAlone, openTestDatabase, type TestDatabase } from "./databases.ts";
import { type Kind, SECRET } from "./kinds.ts";

export interface TestSite {
  base: string;
  databaseUrl: string;
  /** Number of the server's process. */
  pid: number;
  close(): Promise<void>;
}

/** The demo, or another kind of site, with what `load` adds to it. */
export async function openSite(kind: Kind = "demo", load?: () => Promise<void>): Promise<TestSite> {
  const database = await openTestDatabase(kind);
  await load?.();
  return serveDatabase(database);
}

/** The demo in a cluster of its own, for whoever means to end the database under it. */
export const openDemoAlone = async (): Promise<TestSite> => serveDatabase(await openDatabaseAlone("demo"));

async function serveDatabase(database: TestDatabase): Promise<TestSite> {
  // A run of all tests has built before; of files that are run alone, the first builds.
  await oneAtATime(process.env.TESORO_TEST_CLUSTER ?? database.admin, "build", async () => buildIfNeeded());
  const served = await serve(database.url, "127.0.0.1", await freePort(), SECRET);
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
