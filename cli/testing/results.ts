/** What a run of Vitest came to: written down by the run itself, read by `npm test`. */
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { relative } from "node:path";
import type { Reporter, TestModule } from "vitest/node";
import { keepDurations } from "./durations.ts";
import { ROOT } from "./fingerprint.ts";

export interface Results {
  passed: number;
  failed: number;
  skipped: number;
  /** Seconds of each file, what it was loaded with and waited for included; by its path in this checkout. */
  seconds: Record<string, number>;
  /** Tests that failed and why; said again at the very end: whoever reads only the last lines of a long run sees what to look at. */
  reasons: string[];
}

/** So much of what a test says of its failure. */
const MOST = 1_000;

function secondsOf(file: TestModule): number {
  const { environmentSetupDuration, prepareDuration, collectDuration, setupDuration, duration } = file.diagnostic();
  return (environmentSetupDuration + prepareDuration + collectDuration + setupDuration + duration) / 1000;
}

function reasonsOf(file: TestModule, path: string): string[] {
  const whole = file.errors().map(({ message }) => `${path}: ${message}`);
  const single = [...file.children.allTests("failed")].map((test) => {
    const [error] = test.result().errors ?? [];
    return `${path}: ${test.fullName}\n  ${(error?.stack ?? error?.message ?? "").slice(0, MOST)}`;
  });
  return [...whole, ...single];
}

/** Writes the results where `TESORO_TEST_RESULTS` says, and keeps how long each file took. */
export default class Noting implements Reporter {
  onTestRunEnd(files: readonly TestModule[], errors: readonly { message: string }[]): void {
    const count = (state: "passed" | "failed" | "skipped") =>
      files.reduce((sum, file) => sum + [...file.children.allTests(state)].length, 0);
    const named = files.map((file) => ({ file, path: relative(ROOT, file.moduleId) }));
    const results: Results = {
      passed: count("passed"),
      failed: count("failed"),
      skipped: count("skipped"),
      seconds: Object.fromEntries(named.map(({ file, path }) => [path, secondsOf(file)])),
      reasons: [
        ...named.flatMap(({ file, path }) => reasonsOf(file, path)),
        ...errors.map(({ message }) => `Beside the tests: ${message}`),
      ],
    };
    // A file of which only some tests were asked for says nothing of the whole.
    const whole = named.filter(({ file }) => [...file.children.allTests("skipped")].length === 0);
    keepDurations(Object.fromEntries(whole.map(({ path }) => [path, results.seconds[path] ?? 0])));
    if (process.env.TESORO_TEST_RESULTS) writeFileSync(process.env.TESORO_TEST_RESULTS, JSON.stringify(results));
  }
}

/** The results that a run wrote into a file, and whether it passed as a whole. */
export function readResults(name: string, file: string, passed: boolean): Results {
  const none: Results = { passed: 0, failed: 0, skipped: 0, seconds: {}, reasons: [] };
  const results = existsSync(file) ? (JSON.parse(readFileSync(file, "utf8")) as Results) : none;
  if (passed) return results;
  const reasons =
    results.reasons.length > 0
      ? results.reasons
      : [
          `${name}: ${existsSync(file) ? "every test passed, but coverage is below its threshold" : "the run broke off before it had results"}.`,
        ];
  // What fails without a failed test counts as one.
  return { ...results, reasons, failed: Math.max(1, results.failed) };
}
