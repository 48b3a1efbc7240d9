/** Before each file of tests: its clock, and that of every process it starts, begins at the instant the demo was made for. */
import { shifting } from "./clock.mjs";
import { INSTANT } from "./kinds.ts";

const shift = INSTANT - (globalThis.RealDate ?? Date).now();
shifting(globalThis, shift);
Object.assign(process.env, {
  TESORO_CLOCK_SHIFT: String(shift),
  NODE_OPTIONS: `--import=${new URL("./clock.mjs", import.meta.url).href}`,
});
