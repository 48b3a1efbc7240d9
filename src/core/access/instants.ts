/** When access changes by itself: the instants at which grants and passes end. */
import type { AccessIndex, CompiledPlace } from "./accessIndex.ts";
import { endOf } from "./document.ts";
import type { Edit } from "./edits.ts";
import type { CompiledSubject } from "./subjects.ts";

const inOrder = (ends: Iterable<number>): Float64Array => Float64Array.from(new Set(ends)).sort();

/** Every instant at which a grant or a pass of these ends, in order, milliseconds since the epoch. */
export function endsOf(places: readonly CompiledPlace[], subjects: readonly CompiledSubject[]): Float64Array {
  const ends = new Set<number>();
  for (const { grants } of places) for (const { until } of grants) if (until !== Number.POSITIVE_INFINITY) ends.add(until);
  for (const { passEnd } of subjects) if (Number.isFinite(passEnd)) ends.add(passEnd);
  return inOrder(ends);
}

/** The instants of an earlier version and those that edits bring in: perhaps some too many, never one too few. */
export function endsAfter(ends: Float64Array, edits: readonly Edit[]): Float64Array {
  const added = edits.flatMap((edit) => {
    const end = edit.kind === "grant" || edit.kind === "pass" ? endOf(edit.put?.until) : Number.POSITIVE_INFINITY;
    return Number.isFinite(end) ? [end] : [];
  });
  return added.length === 0 ? ends : inOrder([...ends, ...added]);
}

/** A span around an instant in which nothing ends by itself: from included, until excluded. */
export function endsAround({ ends }: AccessIndex, at: number): { from: number; until: number } {
  let low = 0;
  let high = ends.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((ends[middle] as number) <= at) low = middle + 1;
    else high = middle;
  }
  return { from: ends[low - 1] ?? Number.NEGATIVE_INFINITY, until: ends[low] ?? Number.POSITIVE_INFINITY };
}
