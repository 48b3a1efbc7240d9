/** What is worked out of the rules once and holds for as long as these stand, a minute at most: ends pass without a change. */
import type { AccessIndex } from "../../core/access/index/index.ts";
import type { Instant } from "../../core/access/model/index.ts";
import type { Access } from "./current.ts";

const MINUTE = 60_000;

/** Whether two indexes hold the very same: a change of what the document does not hold leads to a copy of the one before. */
const sameRules = (a: AccessIndex, b: AccessIndex): boolean =>
  (Object.keys(a) as (keyof AccessIndex)[]).every((key) => a[key] === b[key]) && Object.keys(a).length === Object.keys(b).length;

/** `of`: kept for as long as nothing changes at all, or for as long as nothing changes that access follows from. */
export function forAMinute<T>(of: "everything" | "rules" = "everything") {
  const kept = new WeakMap<AccessIndex, { made: T; at: Instant }>();
  let last = new WeakRef<AccessIndex>({} as AccessIndex);
  const keep = ({ index }: Access, it: { made: T; at: Instant }): T => {
    kept.set(index, it);
    last = new WeakRef(index);
    return it.made;
  };
  return {
    read(access: Access): T | undefined {
      const { index, at } = access;
      const before = last.deref();
      const known = kept.get(index) ?? (of === "rules" && before && sameRules(before, index) ? kept.get(before) : undefined);
      if (!known || Math.abs(at - known.at) >= MINUTE) return undefined;
      return keep(access, known);
    },
    keep: (access: Access, made: T): T => keep(access, { made, at: access.at }),
  };
}
