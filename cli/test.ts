/** `npm test`: types, lint, dependency rules, then unit, database and browser tests; closes with one line of counts. */
import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { installDebianPackages } from "./machine.ts";
import { buildIfNeeded } from "./serving.ts";

interface Results {
  testResults: {
    name: string;
    status: string;
    message: string;
    assertionResults: { status: string; fullName: string; failureMessages: string[] }[];
  }[];
}

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
const chosen = process.argv.slice(2);
const counts = { passed: 0, failed: 0 };
/** Said again at the very end: whoever reads only the last lines of a long run sees what to look at. */
const reasons: string[] = [];

/** What of a run a person has to look at: tests that failed, else why the run ended badly all the same. */
function reasonsOf(name: string, results: string): string[] {
  if (!existsSync(results)) return [`${name}: the run broke off before it had results.`];
  const { testResults } = JSON.parse(readFileSync(results, "utf8")) as Results;
  const tests = testResults.flatMap(({ name: file, status, message, assertionResults }) => {
    const lost = assertionResults.filter((it) => it.status === "failed");
    if (lost.length === 0) return status === "failed" ? [`${relative(ROOT, file)}: ${message}`] : [];
    return lost.map((it) => `${relative(ROOT, file)}: ${it.fullName}\n  ${(it.failureMessages[0] ?? "").slice(0, 1_000)}`);
  });
  return tests.length > 0
    ? tests
    : [`${name}: every test passed; coverage is below its threshold, or an error was thrown beside the tests.`];
}

/** Runs tests of some projects and adds to the counts. What ends without a result counts as one failed. */
function tests(name: string, projects: string[], args: string[]): void {
  const results = join(folder, `${projects.join("-")}.json`);
  const only = projects.flatMap((project) => ["--project", project]);
  const where = ["--reporter=default", "--reporter=json", `--outputFile.json=${results}`];
  const before = failed.length;
  check(name, "vitest/vitest.mjs", ["run", ...only, ...where, ...args, ...chosen]);
  if (failed.length > before) reasons.push(...reasonsOf(name, results));
  const counted = existsSync(results) ? JSON.parse(readFileSync(results, "utf8")) : { numPassedTests: 0, numFailedTests: 0 };
  counts.passed += counted.numPassedTests;
  // Coverage below its threshold, or a run that broke off, is a failure without a failed test.
  counts.failed += counted.numFailedTests || failed.length - before;
}

const others = failed.length;
// Chosen files say nothing of what all of them cover.
const covering = chosen.length === 0 ? ["--coverage"] : ["--passWithNoTests"];
tests("Unit and database tests", ["unit", "database"], covering);
// Once, before files that run side by side ask for it.
buildIfNeeded();
tests("Browser and system tests", ["browser"], chosen.length === 0 ? [] : ["--passWithNoTests"]);
rmSync(folder, { recursive: true, force: true });

if (failed.length > 0) console.log(`\nFailed: ${failed.join(", ")}`);
for (const reason of reasons) console.log(reason);
console.log(`\n${Math.round((Date.now() - started) / 1000)} seconds`);
// A check that is no test of its own (types, lint, rules) counts as one failed where it fails.
console.log(`${counts.passed} passed, ${counts.failed + others} failed`);
process.exit(failed.length > 0 ? 1 : 0);
