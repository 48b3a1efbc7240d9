/** A page of a list that is worked out whole: from after the thing the page before ended with, or from where that stood if it is gone. */
import { readCursor, written } from "./keyset.ts";

export function pageOf<T>(
  list: readonly T[],
  after: string | undefined,
  most: number,
  idOf: (it: T) => string,
): { page: T[]; next: string | null } {
  const from = after === undefined ? 0 : begin(list, after, idOf);
  const page = list.slice(from, from + most);
  const last = from + most < list.length ? page.at(-1) : undefined;
  return { page, next: last ? written({ value: String(from + most), id: idOf(last) }) : null };
}

function begin<T>(list: readonly T[], after: string, idOf: (it: T) => string): number {
  const { value, id } = readCursor(after, "text");
  const there = list.findIndex((it) => idOf(it) === id);
  if (there >= 0) return there + 1;
  const nth = Number(value);
  return Number.isFinite(nth) ? Math.min(list.length, Math.max(0, nth)) : 0;
}
