import { defineConfig } from "vitest/config";
import { LongestFirst } from "./cli/testing/durations.ts";

/** More worlds than in an ordinary run take their time. */
const PATIENCE = Math.max(1, Number(process.env.TESORO_WORLDS ?? 0) / 5_000);

// Three projects: pure units, services on a real PostgreSQL, and stories in a real browser.
export default defineConfig({
  test: {
    // As many files at a time as there are cores; `npm test` says for each part what fits it.
    maxWorkers: 2,
    sequence: { sequencer: LongestFirst },
    reporters: ["default", "./cli/testing/results.ts"],
    // What was made of a file to be run is kept between runs, by what the file says.
    experimental: { fsModuleCache: true },
    // Printed by `npm test`: what is decided in the core, and what the services do, is tried nearly everywhere.
    coverage: {
      provider: "v8",
      include: ["src/core/**/*.ts", "src/server/services/**/*.ts"],
      exclude: ["**/*.test.ts", "**/index.ts"],
      reporter: ["text-summary", ["text", { maxCols: 120, skipFull: true }]],
      thresholds: { "src/core/**/*.ts": { branches: 95 }, "src/server/services/**/*.ts": { branches: 85 } },
    },
    projects: [
      {
        test: {
          name: "unit",
          isolate: false,
          include: [
            "src/core/**/*.test.ts",
            "src/islands/**/*.test.ts",
            "src/workers/**/*.test.ts",
            "src/ui/**/*.test.ts",
            "src/contracts/**/*.test.ts",
            "cli/**/*.test.ts",
          ],
          testTimeout: 240_000 * PATIENCE,
        },
      },
      {
        test: {
          name: "database",
          isolate: false,
          globalSetup: ["cli/testing/globalSetup.ts"],
          setupFiles: ["cli/testing/beforeFile.ts"],
          include: ["src/server/**/*.test.ts", "src/demo/**/*.test.ts"],
          testTimeout: 60_000 * PATIENCE,
          hookTimeout: 240_000,
        },
      },
      {
        test: {
          name: "browser",
          isolate: false,
          globalSetup: ["cli/testing/globalSetup.ts"],
          setupFiles: ["cli/testing/beforeFile.ts"],
          include: ["test/browser/**/*.test.ts", "test/system/**/*.test.ts"],
          testTimeout: 120_000 * PATIENCE,
          hookTimeout: 240_000,
        },
      },
    ],
  },
});
