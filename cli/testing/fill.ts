/** Fills the database at `DATABASE_URL` with one kind of content; a process of its own, so that nothing of it stays in a test. */
import { KEEPER, type Made } from "./kinds.ts";

const fills: Record<Made, (url: string) => Promise<void>> = {
  schema: async (url) => (await import("../../src/server/db/migrate.ts")).migrateDatabase(url),
  empty: async () => (await import("../../src/server/services/accounts/founding.ts")).foundSite(KEEPER),
  demo: async () => (await import("../../src/demo/load.ts")).loadDemo(),
};

await fills[process.argv[2] as Made](process.env.DATABASE_URL ?? "");
await (await import("../../src/server/db/client.ts")).closeDatabase();
