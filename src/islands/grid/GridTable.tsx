/** The grid itself: an ARIA treegrid, virtualized, worked from the keyboard. */
import { defaultRangeExtractor, type Range, useVirtualizer } from "@tanstack/react-virtual";
import { type CSSProperties, type ReactNode, type RefObject, useEffect, useMemo, useRef, useState } from "react";
import type { Preview } from "../../contracts/change.ts";
import type { GridColumn } from "../../contracts/grid.ts";
import { type GridActs, type GridPosition, pressKey } from "./acts.ts";
import { Dragging } from "./dragging.tsx";
import { GridHead } from "./GridHead.tsx";
import { GridRowView } from "./GridRowView.tsx";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";

const ROW = 32;
const HEAD = 34;

interface Props {
  rows: ShownRow[];
  columns: GridColumn[];
  preview: Preview | null;
  /** Place of what is looked at closer in the tray, to be kept in sight. */
  closer: string | null;
  selected: string | null;
  acts: GridActs;
  chosen: ReadonlySet<string>;
  adding: ReactNode;
}

const within = (value: number, most: number): number => Math.max(0, Math.min(most, value));

/**
 * Which cell has the focus, or would get it by Tab. It is known by its place and column, so that it stays where it was
 * when rows are filtered or columns go; where its row is gone, the one that stands there now has it.
 */
function useFocus(rows: readonly ShownRow[], columns: readonly GridColumn[]) {
  const [at, setAt] = useState<{ id: string; row: number; key: string; column: number }>({ id: "", row: 0, key: "", column: 0 });
  const found = rows[at.row]?.id === at.id ? at.row : rows.findIndex((row) => row.id === at.id);
  const columnFound = at.column === 0 ? 0 : columns.findIndex((column) => column.key === at.key) + 1 || at.column;
  const focus: GridPosition = {
    row: within(found < 0 ? at.row : found, rows.length - 1),
    column: within(columnFound, columns.length),
  };
  const setFocus = ({ row, column }: GridPosition) =>
    setAt({ id: rows[row]?.id ?? "", row, key: column === 0 ? "" : (columns[column - 1]?.key ?? ""), column });
  return { focus, setFocus };
}

/** The rows on the screen, and always the one that Tab leads to. */
const withRow =
  (row: number) =>
  (range: Range): number[] => {
    const shown = defaultRangeExtractor(range);
    return shown.includes(row) || row >= range.count ? shown : [...shown, row].sort((a, b) => a - b);
  };

/** The rows that are drawn: those on the screen, and always the one that Tab leads to. */
const useRows = (count: number, scroller: RefObject<HTMLDivElement | null>, focused: number) =>
  useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: HEAD + ROW,
    rangeExtractor: withRow(focused),
  });

/** Keeps the selected row in sight, and that of what is looked at closer. */
function useSight(rows: readonly ShownRow[], selected: string | null, closer: string | null, scrollTo: (row: number) => void): void {
  const rowOf = (id: string | null) => (id === null ? -1 : rows.findIndex((row) => row.id === id));
  const show = (row: number) => row >= 0 && requestAnimationFrame(() => scrollTo(row));
  useEffect(() => void show(rowOf(selected)), [selected]);
  // What is looked at closer stays in sight: the panel takes room from the rows.
  useEffect(() => {
    if (closer !== null) setTimeout(() => show(rowOf(closer)), 60);
  }, [closer]);
}

export function GridTable({ rows, columns, preview, closer, selected, acts, chosen, adding }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { focus, setFocus } = useFocus(rows, columns);
  const [ladder, setLadder] = useState<{ row: string; column: string } | null>(null);
  const wantsFocus = useRef(false);
  const virtual = useRows(rows.length, scroller, focus.row);
  const afters = useMemo(() => new Map(preview?.cells.map((cell) => [`${cell.place}|${cell.column}`, cell.after])), [preview]);

  useSight(rows, selected, closer, (row) => virtual.scrollToIndex(row));
  useEffect(() => {
    if (!wantsFocus.current) return;
    wantsFocus.current = false;
    virtual.scrollToIndex(focus.row);
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-cell="${focus.row}-${focus.column}"]`)?.focus());
  });
  const move = (row: number, column: number) => {
    wantsFocus.current = true;
    setFocus({ row: within(row, rows.length - 1), column: within(column, columns.length) });
  };
  const page = Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 2;
  const openLadder = (id: string, key: string) => {
    if (!acts.still) return setLadder({ row: id, column: key });
    const row = rows.find((it) => it.id === id);
    const column = columns.find((it) => it.key === key);
    if (row && column) acts.onWhy(row, column);
  };

  return (
    <Dragging rows={rows} chosen={chosen}>
      {(over) => (
        <div className={styles.scroller} ref={scroller}>
          <div
            role="treegrid"
            aria-label="Places and who can do what there"
            aria-rowcount={rows.length + 1}
            aria-colcount={columns.length + 1}
            tabIndex={-1}
            className={styles.table}
            style={{ "--columns": columns.length } as CSSProperties}
            onKeyDown={(event) => !ladder && pressKey(event, { acts, rows, columns, focus, page, move, openLadder })}
          >
            <GridHead columns={columns} adding={adding} walks={!acts.still} onRemove={acts.onRemoveColumn} />
            <div role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize() }}>
              {virtual.getVirtualItems().map(({ index, start }) => {
                const row = rows[index] as ShownRow;
                return (
                  <GridRowView
                    key={row.id}
                    row={row}
                    nth={index}
                    top={start}
                    columns={columns}
                    afters={afters}
                    isSelected={row.id === selected}
                    focused={focus.row === index ? focus.column : null}
                    ladder={ladder?.row === row.id ? ladder.column : null}
                    acts={acts}
                    isChosen={chosen.has(row.id)}
                    landing={over?.id === row.id ? over.landing : null}
                    onFocus={(column) => setFocus({ row: index, column })}
                    onLadder={(column) => (column === null ? setLadder(null) : openLadder(row.id, column))}
                  />
                );
              })}
            </div>
          </div>
        </div>
      )}
    </Dragging>
  );
}
