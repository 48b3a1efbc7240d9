/** `npm run demo:large`: makes the large site in a database cluster of its own; `npm start -- --large` serves it. */
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { startCluster } from "./postgres.ts";

const DATA = join(fileURLToPath(new URL("..", import.meta.url)), ".data");

mkdirSync(DATA, { recursive: true });
const started = performance.now();
const cluster = await startCluster(join(DATA, "large"));
try {
  process.env.DATABASE_URL = cluster.url;
  const { migrateDatabase } = await import("../src/server/db/migrate.ts");
  const { closeDatabase } = await import("../src/server/db/client.ts");
  const { isEmpty } = await import("../src/server/services/accounts/founding.ts");
  await migrateDatabase(cluster.url);
  if (await isEmpty()) {
    console.log("Making the large site: 100,000 places, 10,000 people, 500 groups …");
    const { loadLarge } = await import("../src/demo/large/load.ts");
    await loadLarge();
    console.log(`Made in ${((performance.now() - started) / 1000).toFixed(0)} s. Serve it with: npm start -- --large`);
  } else console.log("The large site is there already. Serve it with: npm start -- --large");
  await closeDatabase();
} finally {
  await cluster.stop();
}
