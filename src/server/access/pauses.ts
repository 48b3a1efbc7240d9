/** Longer work on the thread that serves: others have their turn in between. */
import { setImmediate } from "node:timers/promises";

/** So many milliseconds at a time are worked through. */
const SLICE = 12;

/** A pause to wait for as often as one likes: it is one where a slice has gone by since the last, and nothing else. */
export function pauses(): () => Promise<void> | undefined {
  let since = performance.now();
  return () => {
    if (performance.now() - since < SLICE) return undefined;
    return setImmediate().then(() => {
      since = performance.now();
    });
  };
}
