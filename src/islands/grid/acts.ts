import type { KeyboardEvent } from "react";
import type { GridColumn } from "../../contracts/grid.ts";
import type { Level, Wished } from "../../core/access/model/index.ts";
import type { LifeAct, LifeActName } from "../../core/lifecycle/index.ts";
import type { ShownRow } from "./rows.ts";
import { SHIFTS, type Shift, shifted } from "./shifting.ts";

/** What can be done from the grid. */
export interface GridActs {
  /** It is shown as of another instant: nothing can be done, and a cell is asked why. */
  still: boolean;
  onSelect(id: string): void;
  onToggle(row: ShownRow): void;
  onWish(row: ShownRow, column: GridColumn, what: Wished): void;
  /** The rows that something chosen in a row is for: it alone, or all that are chosen with it; and how many of them are not theirs to set. */
  wishedFor(row: ShownRow): { rows: number; off: number };
  onWhy(row: ShownRow, column: GridColumn): void;
  onRemoveColumn(key: string): void;
  onFence(row: ShownRow): void;
  onChoose(row: ShownRow): void;
  onMove(act: LifeAct): void;
  /** The first of some acts that can be done to a row. */
  onAct(row: ShownRow, ...acts: LifeActName[]): void;
}

export interface GridPosition {
  row: number;
  /** 0 is the tree, then the columns. */
  column: number;
}

interface Context {
  acts: GridActs;
  rows: ShownRow[];
  columns: GridColumn[];
  focus: GridPosition;
  /** Rows to a page. */
  page: number;
  move(row: number, column: number): void;
  openLadder(row: string, column: string): void;
}

/** Whether a key was pressed on a cell itself: what stands in a cell or lies over the grid has its keys for itself. */
const isOnCell = ({ target }: KeyboardEvent): boolean => (target as HTMLElement).matches("[role=gridcell]");

/** Handles a key pressed in the grid (interface.md, "Behaviour"). */
export function pressKey(event: KeyboardEvent, { acts, rows, columns, focus, page, move, openLadder }: Context): void {
  const row = rows[focus.row];
  if (!row || !isOnCell(event) || event.ctrlKey || event.metaKey) return;
  if (event.altKey) {
    const act = SHIFTS[event.key] && shifted(rows, row, SHIFTS[event.key] as Shift);
    if (!act) return;
    event.preventDefault();
    acts.onMove(act);
    return;
  }
  const column = columns[focus.column - 1];
  const sideways = (step: number) => {
    const folds = focus.column === 0 && row.hasInside && row.isOpen === step < 0;
    if (folds) acts.onToggle(row);
    else move(focus.row, focus.column + step);
  };
  const keys: Record<string, () => void> = {
    ArrowDown: () => move(focus.row + 1, focus.column),
    ArrowUp: () => move(focus.row - 1, focus.column),
    PageDown: () => move(focus.row + page, focus.column),
    PageUp: () => move(focus.row - page, focus.column),
    Home: () => move(0, focus.column),
    End: () => move(rows.length - 1, focus.column),
    ArrowRight: () => sideways(1),
    ArrowLeft: () => sideways(-1),
    Enter: () => row.title && acts.onSelect(row.id),
    " ": () => (column ? openLadder(row.id, column.key) : row.acts.length > 0 ? acts.onChoose(row) : acts.onToggle(row)),
    w: () => column && acts.onWhy(row, column),
    f: () => row.title && acts.onFence(row),
    a: () => acts.onAct(row, "archive", "unarchive"),
    b: () => acts.onAct(row, "bin", "restore"),
    m: () => acts.onAct(row, "move"),
    t: () => acts.onAct(row, "takeDown"),
    ".": () => window.dispatchEvent(new Event("tesoro:tray")),
  };
  const level = /^[0-5]$/.test(event.key) ? (Number(event.key) as Level) : null;
  const choose = (to: Level) => {
    if (!column) return;
    // Where no level can be set, or not this one, the ladder opens and says why.
    if (column.settable && acts.wishedFor(row).off === 0 && to <= column.most) acts.onWish(row, column, { level: to });
    else openLadder(row.id, column.key);
  };
  const act = level === null ? keys[event.key] : () => choose(level);
  if (!act) return;
  event.preventDefault();
  act();
}
