/** What is worked out of the rules once and holds for as long as these stand, a minute at most: ends pass without a change. */
import type { AccessIndex } from "../../core/access/index/index.ts";
import type { Instant } from "../../core/access/model/index.ts";
import type { Access } from "./current.ts";

const MINUTE = 60_000;

export function forAMinute<T>() {
  const kept = new WeakMap<AccessIndex, { made: T; at: Instant }>();
  return {
    read({ index, at }: Access): T | undefined {
      const known = kept.get(index);
      return known && Math.abs(at - known.at) < MINUTE ? known.made : undefined;
    },
    keep({ index, at }: Access, made: T): T {
      kept.set(index, { made, at });
      return made;
    },
  };
}
