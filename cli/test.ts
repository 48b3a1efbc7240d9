/**
 * `npm test`: types, lint, dependency rules, then unit, database and browser tests; closes with one line of counts.
 * `npm test -- FILE … [-t NAME]`: just these, without types and lint.
 */
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { installDebianPackages } from "./machine.ts";
import { openTestCluster } from "./testing/cluster.ts";
import { type Part, runPart } from "./testing/parts.ts";
import { readResults } from "./testing/results.ts";

const started = performance.now();
const chosen = process.argv.slice(2);
const parts: Part[] = [];
const SLOWEST = 10;

const VITEST = "node_modules/vitest/vitest.mjs";
const TYPES = "node_modules/typescript-native/bin/tsc";
/** Files at a time, on two cores: beside a third one of browsers each took longer; which is quicker as a whole was not measured. */
const WORKERS = 2;

async function check(name: string, ...command: string[]): Promise<void> {
  parts.push(await runPart(name, command));
}

async function tests(name: string, args: string[]): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "tesoro-results-"));
  const file = join(folder, "results.json");
  const part = await runPart(name, [VITEST, "run", ...args], { aloud: true, env: { TESORO_TEST_RESULTS: file } });
  parts.push({ ...part, results: readResults(name, file, part.passed) });
  rmSync(folder, { recursive: true, force: true });
}

/** What is no test, one after the other; last what browsers need. */
async function checks(): Promise<void> {
  await check("Format and lint", "node_modules/@biomejs/biome/bin/biome", "check", ".");
  await check("Types of the core", TYPES, "-p", "src/core/tsconfig.json");
  await check(
    "Which way imports point",
    "node_modules/dependency-cruiser/bin/dependency-cruise.mjs",
    "--config",
    ".dependency-cruiser.cjs",
    "src",
  );
  const pages = ["check", "--minimumSeverity", "error", "--tsconfig", "tsconfig.pages.json"];
  await check("Types of pages", "node_modules/astro/astro.js", ...pages);
  // After those: they bring the types that Astro makes.
  await check("Types of the rest", TYPES, "-p", "tsconfig.json");
  await check("Build", "cli/testing/build.ts");
}

async function everything(): Promise<void> {
  const services = async () => {
    await check("Databases to copy", "cli/testing/templates.ts");
    await tests("Unit and database tests", ["--project", "unit", "--project", "database", "--coverage", `--maxWorkers=${WORKERS}`]);
  };
  await Promise.all([services(), checks()]);
  await tests("Browser and system tests", ["--project", "browser", `--maxWorkers=${WORKERS}`]);
}

const tellSeconds = (name: string, value: number) => console.log(`${value.toFixed(value < 10 ? 1 : 0).padStart(7)} s  ${name}`);

function tellSlowest(): void {
  const files = parts.flatMap(({ results }) => Object.entries(results?.seconds ?? {}));
  if (files.length < 2) return;
  console.log("\nThe slowest files:");
  for (const [file, value] of files.sort(([, a], [, b]) => b - a).slice(0, SLOWEST)) tellSeconds(file, value);
}

/** What it came to; last the line of counts. Returns whether all passed. */
function tell(): boolean {
  tellSlowest();
  console.log("\nSeconds of each part, some of them side by side:");
  for (const { name, seconds } of parts) tellSeconds(name, seconds);
  tellSeconds("in all", (performance.now() - started) / 1000);
  const failed = parts.filter(({ passed }) => !passed);
  if (failed.length > 0) console.log(`\nFailed: ${failed.map(({ name }) => name).join(", ")}`);
  for (const { results } of failed) for (const reason of results?.reasons ?? []) console.log(reason);
  const sum = (count: (part: Part) => number) => parts.reduce((all, part) => all + count(part), 0);
  // A part that is no test (types, lint, rules) counts as one that failed where it fails.
  const lost = sum(({ passed, results }) => results?.failed ?? (passed ? 0 : 1));
  const skipped = sum(({ results }) => results?.skipped ?? 0);
  console.log(`\n${sum(({ results }) => results?.passed ?? 0)} passed, ${lost} failed${skipped > 0 ? `, ${skipped} skipped` : ""}`);
  return failed.length === 0;
}

if (!existsSync("/usr/bin/chromium-headless-shell") || !existsSync("/usr/bin/chromedriver"))
  installDebianPackages(["chromium-headless-shell", "chromium-driver"], "Chromium and its driver");
// Held open from here to the end: the cluster starts once, not for each part.
const cluster = await openTestCluster();
process.env.TESORO_TEST_CLUSTER = cluster.admin;
process.once("SIGINT", () => void cluster.close().finally(() => process.exit(130)));
if (chosen.length > 0) await tests("The chosen tests", chosen);
else await everything();
const allPassed = tell();
await cluster.close();
process.exit(allPassed ? 0 : 1);
