/** `npm run password -- ADDRESS`: sets somebody's password on the server, for a keeper who is locked out. */
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { createInterface } from "node:readline/promises";
import { Writable } from "node:stream";
import { fileURLToPath } from "node:url";
import { fail } from "./machine.ts";
import { startCluster } from "./postgres.ts";
import { startIsRunning } from "./serving.ts";

const DATA = join(fileURLToPath(new URL("..", import.meta.url)), ".data");

/** The new password: from the environment, from a pipe, or typed without being shown. */
async function newPassword(): Promise<string> {
  if (process.env.TESORO_PASSWORD) return process.env.TESORO_PASSWORD;
  if (!process.stdin.isTTY) return readFileSync(0, "utf8").replace(/\r?\n$/, "");
  process.stdout.write("New password (12 characters or more, not shown): ");
  const silent = new Writable({ write: (_, __, done) => done() });
  const ask = createInterface({ input: process.stdin, output: silent, terminal: true });
  const password = await ask.question("");
  ask.close();
  process.stdout.write("\n");
  return password;
}

const [address] = process.argv.slice(2);
if (!address) fail("Say whose: npm run password -- somebody@example.org");
const own = !process.env.DATABASE_URL;
if (own && !existsSync(join(DATA, "pg")))
  fail("There is no site in this folder yet: npm start makes one. For another database set DATABASE_URL.");
const running = own && startIsRunning(join(DATA, "running.json"));
const cluster = own ? await startCluster(join(DATA, "pg")) : null;
if (cluster) process.env.DATABASE_URL = cluster.url;
process.env.TESORO_SECRET ??= existsSync(join(DATA, "secret")) ? readFileSync(join(DATA, "secret"), "utf8") : "";
const { closeDatabase } = await import("../src/server/db/client.ts");
const { setPassword } = await import("../src/server/services/accounts/password.ts");
let problem = "";
try {
  await setPassword(address, await newPassword());
} catch (error) {
  problem = error instanceof Error ? error.message : String(error);
}
await closeDatabase();
if (cluster && !running) await cluster.stop();
if (problem) fail(problem);
console.log(`The password of ${address} is set; whoever was signed in with it is signed out. The ledger says that it was done.`);
