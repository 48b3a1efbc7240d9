/** The parts of a run of tests: processes side by side, each told about when it is over: how long, and what it said. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { ROOT } from "./fingerprint.ts";
import type { Results } from "./results.ts";

export interface Part {
  name: string;
  seconds: number;
  passed: boolean;
  /** Of parts that are tests. */
  results?: Results;
}

interface Running {
  /** What is said comes at once; otherwise at the end, and only of a part that failed: others speak at the same time. */
  aloud?: boolean;
  env?: NodeJS.ProcessEnv;
}

/** Runs a script of ours or a module of a package, with its arguments. */
export async function runPart(name: string, [script = "", ...args]: string[], { aloud = false, env }: Running = {}): Promise<Part> {
  const started = performance.now();
  const child = spawn(process.execPath, ["--import", "tsx", join(ROOT, script), ...args], {
    cwd: ROOT,
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1", ...env },
    stdio: aloud ? "inherit" : ["ignore", "pipe", "pipe"],
  });
  const said: Buffer[] = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on("data", (it: Buffer) => said.push(it));
  const status = await new Promise((ended) => child.once("close", ended).once("error", ended));
  const part = { name, seconds: (performance.now() - started) / 1000, passed: status === 0 };
  console.log(`\n— ${name}: ${part.passed ? "passed" : "FAILED"}, ${Math.round(part.seconds)} s`);
  if (!part.passed && said.length > 0) console.log(Buffer.concat(said).toString().trim());
  return part;
}
