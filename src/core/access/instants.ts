/** When access changes by itself: the instants at which grants and passes end. */
import type { AccessIndex } from "./accessIndex.ts";

/** The span around an instant (milliseconds since the epoch) in which no grant and no pass ends: from included, until excluded. */
export function endsAround(index: AccessIndex, at: number): { from: number; until: number } {
  let from = Number.NEGATIVE_INFINITY;
  let until = Number.POSITIVE_INFINITY;
  const see = (end: number) => {
    if (end <= at) from = Math.max(from, end);
    else until = Math.min(until, end);
  };
  for (const { grants } of index.places) for (const grant of grants) see(grant.until);
  for (const { pass, passEnd } of index.subjects) if (pass) see(passEnd);
  return { from, until };
}
