/** Building the application and serving it as a process of its own. */
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { connect } from "node:net";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { fail } from "./machine.ts";

const ROOT = fileURLToPath(new URL("..", import.meta.url));
const SERVER = join(ROOT, "dist/process/server.mjs");

/** A text that changes whenever something changes that the built application is made of. */
function fingerprintOfSources(): string {
  const hash = createHash("sha256");
  const visit = (path: string) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (!/\.(test\.ts|md|csv)$/.test(path)) hash.update(path.slice(ROOT.length)).update(readFileSync(path));
  };
  const made = [
    "src",
    "cli/server.ts",
    "cli/aside",
    "cli/declared",
    "cli/process.config.ts",
    "astro.config.ts",
    "package-lock.json",
    "tsconfig.json",
  ];
  for (const part of made) visit(join(ROOT, part));
  return hash.digest("hex");
}

/** Builds the application if its sources changed since the last build. */
export function buildIfNeeded(): void {
  const stamp = join(ROOT, "dist", "sources");
  const wanted = fingerprintOfSources();
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  console.log("Building …");
  const env = { ...process.env, NODE_ENV: "production", ASTRO_TELEMETRY_DISABLED: "1" };
  const run = (script: string, ...args: string[]) => {
    const build = spawnSync(process.execPath, [join(ROOT, "node_modules", script), ...args], { cwd: ROOT, env, encoding: "utf8" });
    if (build.status !== 0) fail(`The build failed:\n${build.stdout}\n${build.stderr}`);
  };
  run("astro/astro.js", "build");
  run("vite/bin/vite.js", "build", "--config", "cli/process.config.ts");
  writeFileSync(stamp, wanted);
}

export const isTaken = (host: string, port: number): Promise<boolean> =>
  new Promise((answer) => {
    const probe = connect({ host, port });
    const end = (taken: boolean) => {
      probe.destroy();
      answer(taken);
    };
    probe.once("connect", () => end(true)).once("error", () => end(false));
  });

/** What a start writes down of itself, for the next one: its own process, its server's, and where that answers. */
interface Running {
  starter: number;
  server: number;
  address: string;
}

function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8").replaceAll("\0", " ");
  } catch {
    return "";
  }
}

/** Whether a start from this checkout is running, by the file that `noteRunning` wrote. */
export const startIsRunning = (note: string): boolean =>
  existsSync(note) && commandOf((JSON.parse(readFileSync(note, "utf8")) as Running).starter).includes("bootstrap.mjs start");

/**
 * Makes room for a start from this checkout: refuses if another one runs, ends a server that outlived a start that was
 * killed. `note` is the file that `noteRunning` wrote.
 */
export async function makeRoom(note: string): Promise<void> {
  if (!existsSync(note)) return;
  const { starter, server, address } = JSON.parse(readFileSync(note, "utf8")) as Running;
  if (commandOf(starter).includes("bootstrap.mjs start"))
    fail(`Tesoro runs from this folder already, at ${address}. Stop that one first (Ctrl-C there).`);
  if (!commandOf(server).includes(SERVER)) return;
  process.kill(server, "SIGKILL");
  const { hostname, port } = new URL(address);
  for (let i = 0; i < 100 && (await isTaken(hostname, Number(port))); i++) await new Promise((later) => setTimeout(later, 20));
}

export function noteRunning(note: string, served: Served): void {
  const running: Running = { starter: process.pid, server: served.pid, address: served.address };
  writeFileSync(note, JSON.stringify(running));
}

export interface Served {
  pid: number;
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
  const server = spawn(process.execPath, [SERVER], {
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
    pid: server.pid ?? 0,
    address,
    stop: () => {
      server.kill("SIGTERM");
      return ended;
    },
  };
}
