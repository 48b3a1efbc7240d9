/** How long each file of tests took last time: the longest go first, so that no worker is left with a long one at the end. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { BaseSequencer, type TestSpecification } from "vitest/node";
import { ROOT } from "./fingerprint.ts";

/** Of the last runs here; in a fresh clone, those that were committed once. */
const KEPT = join(ROOT, ".data", "test-durations.json");
const COMMITTED = join(ROOT, "cli", "testing", "durations.json");

type Durations = Record<string, number>;
const readFrom = (file: string): Durations => (existsSync(file) ? (JSON.parse(readFileSync(file, "utf8")) as Durations) : {});

export const readDurations = (): Durations => ({ ...readFrom(COMMITTED), ...readFrom(KEPT) });

export function keepDurations(seconds: Durations): void {
  mkdirSync(dirname(KEPT), { recursive: true });
  const all = { ...readFrom(KEPT), ...seconds };
  const sorted = Object.entries(all).sort(([a], [b]) => (a < b ? -1 : 1));
  writeFileSync(KEPT, `${JSON.stringify(Object.fromEntries(sorted.map(([file, it]) => [file, Math.round(it * 10) / 10])), null, 1)}\n`);
}

/** Files in the order in which they are begun; one that nobody has seen run is begun first. */
export class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const known = readDurations();
    const last = ({ moduleId }: TestSpecification) => known[relative(ROOT, moduleId)] ?? Number.POSITIVE_INFINITY;
    return [...files].sort((a, b) => last(b) - last(a) || (a.moduleId < b.moduleId ? -1 : 1));
  }
}
