/** The grid itself: an ARIA treegrid, virtualized, worked from the keyboard. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type CSSProperties, type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import type { GridColumn, Preview } from "../../contracts/answers.ts";
import { type GridActs, type GridPosition, pressKey } from "./acts.ts";
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
  selected: string | null;
  acts: GridActs;
  adding: ReactNode;
}

const within = (value: number, most: number): number => Math.max(0, Math.min(most, value));

export function GridTable({ rows, columns, preview, selected, acts, adding }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const [focus, setFocus] = useState<GridPosition>({ row: 0, column: 0 });
  const [ladder, setLadder] = useState<{ row: string; column: string } | null>(null);
  const wantsFocus = useRef(false);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: HEAD + ROW,
  });
  const afters = useMemo(() => new Map(preview?.cells.map((cell) => [`${cell.place}|${cell.column}`, cell.after])), [preview]);

  useEffect(() => {
    if (!wantsFocus.current) return;
    wantsFocus.current = false;
    virtual.scrollToIndex(focus.row);
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-cell="${focus.row}-${focus.column}"]`)?.focus());
  }, [focus, virtual]);

  const selectedAt = selected === null ? -1 : rows.findIndex((row) => row.id === selected);
  useEffect(() => {
    if (selectedAt >= 0) requestAnimationFrame(() => virtual.scrollToIndex(selectedAt));
  }, [selected]);

  const move = (row: number, column: number) => {
    wantsFocus.current = true;
    setFocus({ row: within(row, rows.length - 1), column: within(column, columns.length) });
  };
  const page = Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 2;
  const openLadder = (row: string, column: string) => setLadder({ row, column });

  return (
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
        <GridHead columns={columns} adding={adding} onRemove={acts.onRemoveColumn} />
        <div role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index] as ShownRow;
            return (
              <GridRowView
                key={row.id}
                row={row}
                at={index}
                top={start}
                columns={columns}
                afters={afters}
                isSelected={row.id === selected}
                focused={focus.row === index ? focus.column : null}
                ladder={ladder?.row === row.id ? ladder.column : null}
                acts={acts}
                onFocus={(column) => setFocus({ row: index, column })}
                onLadder={(column) => setLadder(column === null ? null : { row: row.id, column })}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}
