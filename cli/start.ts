/** `npm start`: brings up everything Tesoro needs on this machine, serves it, and takes it all down again on Ctrl-C. */
import { spawn, spawnSync } from "node:child_process";
import { createHash, randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { connect } from "node:net";
import { join } from "node:path";
import { createInterface } from "node:readline/promises";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { fail } from "./machine.ts";
import { type Cluster, startCluster } from "./postgres.ts";

const ROOT = fileURLToPath(new URL("..", import.meta.url));
const DATA = join(ROOT, ".data");

/** A text that changes whenever something changes that the built application is made of. */
function fingerprintOfSources(): string {
  const hash = createHash("sha256");
  const visit = (path: string) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (!/\.(test\.ts|md|csv)$/.test(path)) hash.update(path.slice(ROOT.length)).update(readFileSync(path));
  };
  for (const part of ["src", "astro.config.ts", "package-lock.json", "tsconfig.json"]) visit(join(ROOT, part));
  return hash.digest("hex");
}

/** Builds the application if its sources changed since the last build. */
export function buildIfNeeded(): void {
  const stamp = join(ROOT, "dist", "sources");
  const wanted = fingerprintOfSources();
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  console.log("Building …");
  const env = { ...process.env, NODE_ENV: "production", ASTRO_TELEMETRY_DISABLED: "1" };
  const build = spawnSync(process.execPath, [join(ROOT, "node_modules/astro/astro.js"), "build"], { cwd: ROOT, env, encoding: "utf8" });
  if (build.status !== 0) fail(`The build failed:\n${build.stdout}\n${build.stderr}`);
  writeFileSync(stamp, wanted);
}

/** The secret that signs sessions: made once, kept beside the database. */
function sessionSecret(): string {
  const file = join(DATA, "secret");
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString("base64url"), { mode: 0o600 });
  return readFileSync(file, "utf8");
}

const isTaken = (host: string, port: number): Promise<boolean> =>
  new Promise((answer) => {
    const probe = connect({ host, port });
    const end = (taken: boolean) => {
      probe.destroy();
      answer(taken);
    };
    probe.once("connect", () => end(true)).once("error", () => end(false));
  });

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
async function fill(empty: boolean): Promise<void> {
  const { isEmpty, foundSite } = await import("../src/server/services/founding.ts");
  if (!(await isEmpty())) return;
  if (empty) {
    await foundSite(await firstKeeper());
    return;
  }
  console.log("Loading the demo: Brinehaven Harbour Authority …");
  const { loadDemo } = await import("../src/demo/load.ts");
  await loadDemo();
}

export interface Served {
  address: string;
  stop(): Promise<void>;
}

/** Starts the built server on a database and waits until it answers. */
export async function serve(databaseUrl: string, host: string, port: number, secret: string): Promise<Served> {
  const address = `http://${host === "0.0.0.0" ? "127.0.0.1" : host}:${port}`;
  const env = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    TESORO_SECRET: secret,
    TESORO_ORIGIN: process.env.TESORO_ORIGIN ?? address,
    HOST: host,
    PORT: String(port),
    NODE_ENV: "production",
  };
  const server = spawn(process.execPath, [join(ROOT, "dist/server/entry.mjs")], {
    cwd: ROOT,
    env,
    stdio: ["ignore", "ignore", "inherit"],
    detached: true,
  });
  for (let i = 0; !(await isTaken(host === "0.0.0.0" ? "127.0.0.1" : host, port)); i++) {
    if (server.exitCode !== null || i > 300) fail("The server did not start; see above.");
    await new Promise((later) => setTimeout(later, 50));
  }
  const ended = new Promise<void>((done) => server.once("exit", () => done()));
  return {
    address,
    stop: () => {
      server.kill("SIGTERM");
      return ended;
    },
  };
}

async function main(): Promise<void> {
  const { values } = parseArgs({ options: { empty: { type: "boolean", default: false } } });
  const port = Number(process.env.PORT ?? 4321);
  const host = process.env.HOST ?? "127.0.0.1";
  if (!Number.isInteger(port) || port < 1 || port > 65535) fail(`PORT must be a number from 1 to 65535, not "${process.env.PORT}".`);
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

  cluster = process.env.DATABASE_URL ? null : await startCluster(join(DATA, "pg"));
  const url = process.env.DATABASE_URL ?? cluster?.url ?? "";
  const secret = process.env.TESORO_SECRET ?? sessionSecret();
  Object.assign(process.env, { DATABASE_URL: url, TESORO_SECRET: secret });
  const { migrateDatabase } = await import("../src/server/db/migrate.ts");
  await migrateDatabase(url);
  await fill(values.empty);
  const { closeDatabase } = await import("../src/server/db/client.ts");
  const { demoPeople } = await import("../src/server/accounts/session.ts");
  const cast = await demoPeople();
  await closeDatabase();
  buildIfNeeded();
  served = await serve(url, host, port, secret);
  console.log(`\nTesoro is at ${served.address}`);
  if (cast.length > 0) {
    console.log(`Sign in at ${served.address}/sign-in with one click, for example as:`);
    for (const { name, role } of cast.slice(0, 4)) console.log(`  ${name.padEnd(16)} ${role}`);
  }
  console.log("Ctrl-C stops everything.");
}

if (process.argv[1]?.endsWith("start.ts")) await main();
