/** A database with Brinehaven in it, for a file of tests of services: there before the first of them, gone after the last. */
import { afterAll, beforeAll } from "vitest";
import { openScratchDatabase } from "../cli/demoSite.ts";
import { loadDemo } from "../src/demo/load.ts";

export function onDemo(): void {
  let scratch: { close(): Promise<void> } | undefined;
  beforeAll(async () => {
    scratch = await openScratchDatabase();
    await loadDemo();
  }, 120_000);
  afterAll(() => scratch?.close());
}
