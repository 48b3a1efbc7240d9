/** `npm test`: types, lint, dependency rules, then unit, database and browser tests; closes with one line of counts. */
import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { installDebianPackages } from "./machine.ts";

const ROOT = fileURLToPath(new URL("..", import.meta.url));
const started = Date.now();

function run(name: string, module: string, args: string[]): boolean {
  console.log(`\n— ${name}`);
  const env = { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" };
  return spawnSync(process.execPath, [join(ROOT, "node_modules", module), ...args], { cwd: ROOT, env, stdio: "inherit" }).status === 0;
}

if (!existsSync("/usr/bin/chromium") || !existsSync("/usr/bin/chromedriver"))
  installDebianPackages(["chromium", "chromium-driver"], "Chromium and its driver");

const failed: string[] = [];
const check = (name: string, module: string, args: string[]) => {
  if (!run(name, module, args)) failed.push(name);
};

check("Types of the core", "typescript/bin/tsc", ["-p", "src/core/tsconfig.json"]);
check("Types of pages and the rest", "astro/astro.js", ["check", "--minimumSeverity", "error"]);
check("Format and lint", "@biomejs/biome/bin/biome", ["check", "."]);
check("Which way imports point", "dependency-cruiser/bin/dependency-cruise.mjs", ["--config", ".dependency-cruiser.cjs", "src"]);

const folder = mkdtempSync(join(tmpdir(), "tesoro-results-"));
const results = join(folder, "results.json");
const chosen = process.argv.slice(2);
check("Unit, database and browser tests", "vitest/vitest.mjs", [
  "run",
  "--reporter=default",
  "--reporter=json",
  `--outputFile.json=${results}`,
  ...chosen,
]);
const counts = existsSync(results) ? JSON.parse(readFileSync(results, "utf8")) : { numPassedTests: 0, numFailedTests: 1 };
rmSync(folder, { recursive: true, force: true });

if (failed.length > 0) console.log(`\nFailed: ${failed.join(", ")}`);
console.log(`\n${Math.round((Date.now() - started) / 1000)} seconds`);
// A check that is no test of its own (types, lint, rules) counts as one failed where it fails.
const others = failed.filter((name) => !name.startsWith("Unit")).length;
console.log(`${counts.numPassedTests} passed, ${counts.numFailedTests + others} failed`);
process.exit(failed.length > 0 ? 1 : 0);
