/** When access changes by itself: the instants at which grants, passes and people's time here end. */

import { type Edit, endOf, type Instant } from "../model/index.ts";
import type { AccessIndex, CompiledPlace } from "./accessIndex.ts";
import type { CompiledSubject } from "./subjects.ts";

const inOrder = (ends: Iterable<number>): Float64Array => Float64Array.from(new Set(ends)).sort();

/** Every instant at which somebody's time here ends, in order, milliseconds since the epoch. */
export const peopleEndsOf = (subjects: readonly CompiledSubject[]): Float64Array =>
  inOrder(subjects.map(({ activeUntil }) => activeUntil).filter(Number.isFinite));

/** Every instant at which a grant, a pass or somebody's time here ends, in order, milliseconds since the epoch. */
export function endsOf(places: readonly CompiledPlace[], subjects: readonly CompiledSubject[]): Float64Array {
  const ends = new Set<number>();
  for (const { grants } of places) for (const { until } of grants) if (until !== Number.POSITIVE_INFINITY) ends.add(until);
  for (const { passEnd, activeUntil } of subjects) for (const end of [passEnd, activeUntil]) if (Number.isFinite(end)) ends.add(end);
  return inOrder(ends);
}

/** The instants of an earlier version and those that edits bring in: perhaps some too many, never one too few. */
export function endsAfter(ends: Float64Array, edits: readonly Edit[]): Float64Array {
  const added = edits.flatMap((edit) => {
    const end = edit.kind === "grant" || edit.kind === "pass" || edit.kind === "person" ? endOf(edit.put?.until) : Number.POSITIVE_INFINITY;
    return Number.isFinite(end) ? [end] : [];
  });
  return added.length === 0 ? ends : inOrder([...ends, ...added]);
}

/** A span around an instant in which nothing ends by itself: from included, until excluded. */
export const endsAround = ({ ends }: AccessIndex, at: Instant): { from: number; until: number } => windowIn(ends, at);

/** The span between two instants of a list in order, around an instant: from included, until excluded. */
export function windowIn(ends: Float64Array, at: Instant): { from: number; until: number } {
  let low = 0;
  let high = ends.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((ends[middle] as number) <= at) low = middle + 1;
    else high = middle;
  }
  return { from: ends[low - 1] ?? Number.NEGATIVE_INFINITY, until: ends[low] ?? Number.POSITIVE_INFINITY };
}
