/**
 * Before each file of tests: its clock, and that of every process it starts, begins at the instant the demo was made for;
 * and what a file before it in the same process set in the environment is gone.
 */
import { shifting } from "./clock.mjs";
import { INSTANT } from "./kinds.ts";

declare global {
  var environmentOfTests: NodeJS.ProcessEnv | undefined;
}

globalThis.environmentOfTests ??= { ...process.env };
for (const name of Object.keys(process.env)) if (!(name in globalThis.environmentOfTests)) delete process.env[name];

const shift = INSTANT - (globalThis.RealDate ?? Date).now();
shifting(globalThis, shift);
Object.assign(process.env, globalThis.environmentOfTests, {
  TESORO_CLOCK_SHIFT: String(shift),
  // The task library finds the database's clock ahead of ours, and says so each time.
  NODE_OPTIONS: `--import=${new URL("./clock.mjs", import.meta.url).href} --disable-warning=pg-boss-w02`,
});
