/** Which rows of the grid are on the screen: filtered with what is above them, insides of closed rows hidden. */

import type { Preview } from "../../contracts/change.ts";
import type { GridRow } from "../../contracts/grid.ts";
import type { GridState } from "./address.ts";

export interface ShownRow extends GridRow {
  /** Ids of what stands directly in it, as it stands there. */
  inside: readonly string[];
  hasInside: boolean;
  isOpen: boolean;
  /** Passes the filter itself; otherwise it is here as context. */
  matches: boolean;
  /** Fences that enclose it, the outermost first. */
  enclosed: ("read" | "write")[];
}

function matches(row: GridRow, state: GridState, changed: ReadonlySet<string>, whole: boolean): boolean {
  if (!whole) return row.fits && (state.show !== "changed" || changed.has(row.id));
  if (state.state && row.state !== state.state) return false;
  if (state.words && !row.title.toLowerCase().includes(state.words.toLowerCase())) return false;
  switch (state.show) {
    case "kept":
      return row.editable;
    case "changed":
      return changed.has(row.id);
    case "outside":
      return row.outside !== "none";
    case "rules":
      return row.rules || row.fresh || row.fences.length > 0;
    case "fenced":
      return row.fences.length > 0;
    default:
      return true;
  }
}

export function shownRows(rows: readonly GridRow[], state: GridState, preview: Preview | null, whole = true): ShownRow[] {
  const changed = new Set(preview?.cells.map((cell) => cell.place));
  const keep = rows.map((row) => matches(row, state, changed, whole));
  const needed = [...keep];
  // Rows stand after what is above them, so one walk backwards carries the need upwards.
  for (let i = rows.length - 1; i >= 0; i--) {
    const parent = rows[i]?.parent ?? -1;
    if (needed[i] && parent >= 0) needed[parent] = true;
  }
  const filtering = (state.show !== "all" && state.show !== "kept") || state.state !== "" || state.words !== "";
  const closed = new Set(filtering ? [] : state.closed);
  const hasInside = new Set(rows.flatMap((row, i) => (needed[i] ? [row.parent] : [])));
  const insides = rows.map((): string[] => []);
  for (const row of rows) insides[row.parent]?.push(row.id);
  const hidden = new Set<number>();
  const enclosed: ("read" | "write")[][] = [];
  const shown: ShownRow[] = [];
  rows.forEach((row, i) => {
    enclosed[i] = [...(enclosed[row.parent] ?? []), ...row.fences];
    const isOpen = !closed.has(row.id) && row.unsent === 0;
    if (hidden.has(row.parent)) hidden.add(i);
    else if (!isOpen) hidden.add(i);
    if (!needed[i] || hidden.has(row.parent)) return;
    shown.push({
      ...row,
      inside: insides[i] ?? [],
      hasInside: hasInside.has(i) || row.unsent > 0,
      isOpen,
      matches: keep[i] ?? false,
      enclosed: enclosed[i] ?? [],
    });
  });
  return shown;
}
