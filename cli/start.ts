/** `npm start`: brings up everything Tesoro needs on this machine, serves it, and takes it all down again on Ctrl-C. */
import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { createInterface } from "node:readline/promises";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { fail } from "./machine.ts";
import { type Cluster, startCluster } from "./postgres.ts";
import { buildIfNeeded, isTaken, makeRoom, noteRunning, type Served, serve } from "./serving.ts";

const ROOT = fileURLToPath(new URL("..", import.meta.url));
const DATA = join(ROOT, ".data");

/** The secret that signs sessions: made once, kept beside the database. */
function sessionSecret(): string {
  const file = join(DATA, "secret");
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString("base64url"), { mode: 0o600 });
  return readFileSync(file, "utf8");
}

/** Mail and password of the first keeper of a real site, from the environment or asked for. */
async function firstKeeper(): Promise<{ name: string; email: string; password: string }> {
  const { TESORO_KEEPER_NAME: name, TESORO_KEEPER_EMAIL: email, TESORO_KEEPER_PASSWORD: password } = process.env;
  if (name && email && password) return { name, email, password };
  if (!process.stdin.isTTY)
    fail("A site without the demo needs its first keeper: set TESORO_KEEPER_NAME, TESORO_KEEPER_EMAIL and TESORO_KEEPER_PASSWORD.");
  const ask = createInterface({ input: process.stdin, output: process.stdout });
  const answers = {
    name: await ask.question("Name of the first keeper: "),
    email: await ask.question("Mail address: "),
    password: await ask.question("Password (12 characters or more): "),
  };
  ask.close();
  return answers;
}

/** Fills an empty database: with the demo, or with one keeper and one empty site. */
async function fill(url: string, cluster: Cluster | null, { empty, large }: { empty: boolean; large: boolean }): Promise<void> {
  const { isEmpty, foundSite } = await import("../src/server/services/accounts/founding.ts");
  const { closeDatabase } = await import("../src/server/db/client.ts");
  if (!(await isEmpty())) return;
  if (empty) return foundSite(await firstKeeper());
  console.log(large ? "Making the large site: 100,000 places …" : "Loading the demo: Brinehaven Harbour Authority …");
  const load = large ? (await import("../src/demo/large/load.ts")).loadLarge : (await import("../src/demo/load.ts")).loadDemo;
  if (!cluster) return load();
  await closeDatabase();
  await cluster.fillAside(async (aside) => {
    const { migrateDatabase } = await import("../src/server/db/migrate.ts");
    await migrateDatabase(aside);
    process.env.DATABASE_URL = aside;
    await load();
    await closeDatabase();
  });
  process.env.DATABASE_URL = url;
}

async function main(): Promise<void> {
  const { values } = parseArgs({ options: { empty: { type: "boolean", default: false }, large: { type: "boolean", default: false } } });
  const port = Number(process.env.PORT ?? 4321);
  const host = process.env.HOST ?? "127.0.0.1";
  if (!Number.isInteger(port) || port < 1 || port > 65535) fail(`PORT must be a number from 1 to 65535, not "${process.env.PORT}".`);
  const note = join(DATA, "running.json");
  // On a database elsewhere any number of servers may run beside each other.
  if (!process.env.DATABASE_URL) await makeRoom(note);
  if (await isTaken("127.0.0.1", port)) fail(`Port ${port} is taken. Choose another one: PORT=4400 npm start`);
  mkdirSync(DATA, { recursive: true });
  let cluster: Cluster | null = null;
  let served: Served | null = null;
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    console.log("\nStopping …");
    await served?.stop();
    await cluster?.stop();
    process.exit(0);
  };
  process.on("SIGINT", stop).on("SIGTERM", stop);

  cluster = process.env.DATABASE_URL ? null : await startCluster(join(DATA, values.large ? "large" : "pg"));
  const url = process.env.DATABASE_URL ?? cluster?.url ?? "";
  const secret = process.env.TESORO_SECRET ?? sessionSecret();
  Object.assign(process.env, { DATABASE_URL: url, TESORO_SECRET: secret });
  const { migrateDatabase } = await import("../src/server/db/migrate.ts");
  await migrateDatabase(url);
  await fill(url, cluster, values);
  const { closeDatabase } = await import("../src/server/db/client.ts");
  const { demoPeople } = await import("../src/server/accounts/session.ts");
  const cast = await demoPeople();
  await closeDatabase();
  buildIfNeeded();
  served = await serve(url, host, port, secret);
  if (cluster) noteRunning(note, served);
  console.log(`\nTesoro is at ${served.address}`);
  if (cast.length > 0) {
    console.log(`Sign in at ${served.address}/sign-in with one click, for example as:`);
    for (const { name, role } of cast.slice(0, 4)) console.log(`  ${name.padEnd(16)} ${role}`);
  }
  console.log("Ctrl-C stops everything.");
}

await main();
