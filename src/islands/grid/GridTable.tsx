/** The grid itself: an ARIA treegrid, virtualized, worked from the keyboard. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type CSSProperties, type KeyboardEvent, type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import type { GridCell, GridColumn, Preview } from "../../contracts/answers.ts";
import type { Level } from "../../core/access/abilities.ts";
import { Cell, cellWords } from "./Cell.tsx";
import styles from "./grid.module.css";
import { Ladder } from "./Ladder.tsx";
import type { ShownRow } from "./rows.ts";
import { TreeCell } from "./TreeCell.tsx";

const ROW = 32;
const HEAD = 34;

interface Props {
  rows: ShownRow[];
  columns: GridColumn[];
  preview: Preview | null;
  selected: string | null;
  onSelect(id: string): void;
  onToggle(id: string): void;
  onWish(row: ShownRow, column: GridColumn, level: Level): void;
  onWhy(row: ShownRow, column: GridColumn): void;
  onRemoveColumn(key: string): void;
  onFence(row: ShownRow): void;
  onHelp(): void;
  /** The control that adds a column. */
  adding: ReactNode;
}

interface Focus {
  row: number;
  /** 0 is the tree, then the columns. */
  column: number;
}

const walkAddress = (key: string): string | null =>
  key === "public" ? "/eyes/public" : key.startsWith("person:") ? `/eyes/${key.slice(7)}` : null;

export function GridTable(props: Props) {
  const { rows, columns, preview, selected } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [focus, setFocus] = useState<Focus>({ row: 0, column: 0 });
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

  useEffect(() => {
    const at = selected === null ? -1 : rows.findIndex((row) => row.id === selected);
    if (at >= 0) requestAnimationFrame(() => virtual.scrollToIndex(at));
    // Only when another row is selected: scrolling by hand must not be undone.
  }, [selected]);

  const move = (row: number, column: number) => {
    wantsFocus.current = true;
    setFocus({ row: Math.max(0, Math.min(rows.length - 1, row)), column: Math.max(0, Math.min(columns.length, column)) });
  };

  const sideways = (row: ShownRow, step: number) => {
    if (focus.column === 0 && row.hasInside && row.isOpen === step < 0) props.onToggle(row.id);
    else move(focus.row, focus.column + step);
  };

  const onKey = (event: KeyboardEvent) => {
    const row = rows[focus.row];
    if (!row || event.ctrlKey || event.metaKey || event.altKey || ladder) return;
    const column = columns[focus.column - 1];
    const page = Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 2;
    const keys: Record<string, () => void> = {
      ArrowDown: () => move(focus.row + 1, focus.column),
      ArrowUp: () => move(focus.row - 1, focus.column),
      PageDown: () => move(focus.row + page, focus.column),
      PageUp: () => move(focus.row - page, focus.column),
      Home: () => move(0, focus.column),
      End: () => move(rows.length - 1, focus.column),
      ArrowRight: () => sideways(row, 1),
      ArrowLeft: () => sideways(row, -1),
      Enter: () => props.onSelect(row.id),
      " ": () => (column ? setLadder({ row: row.id, column: column.key }) : props.onToggle(row.id)),
      w: () => column && props.onWhy(row, column),
      f: () => props.onFence(row),
      ".": () => window.dispatchEvent(new Event("tesoro:tray")),
      "?": props.onHelp,
    };
    const act = /^[0-5]$/.test(event.key)
      ? () => column?.settable && row.editable && props.onWish(row, column, Number(event.key) as Level)
      : keys[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  };

  return (
    <div className={styles.scroller} ref={scroller} data-columns={columns.length}>
      <div
        role="treegrid"
        aria-label="Places and who can do what there"
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length + 1}
        onKeyDown={onKey}
        tabIndex={-1}
        className={styles.table}
        style={{ "--columns": columns.length } as CSSProperties}
      >
        <div role="row" tabIndex={-1} className={styles.headRow}>
          <div role="columnheader" tabIndex={-1} className={styles.treeHead}>
            Place
            {props.adding}
          </div>
          {columns.map((column) => {
            const walk = walkAddress(column.key);
            return (
              <div
                role="columnheader"
                tabIndex={-1}
                key={column.key}
                className={styles.head}
                data-outside={column.key === "public" || column.key === "guests"}
              >
                <span title={column.name}>{column.name}</span>
                {column.people > 1 && <small>{column.people}</small>}
                {walk && (
                  <a href={walk} title={`Walk the knowledge base as ${column.name}`}>
                    walk
                  </a>
                )}
                {!["public", "guests", "members"].includes(column.key) && (
                  <button type="button" onClick={() => props.onRemoveColumn(column.key)} aria-label={`Remove the column ${column.name}`}>
                    ×
                  </button>
                )}
              </div>
            );
          })}
        </div>
        <div role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index] as ShownRow;
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the treegrid as a whole.
              <div
                key={row.id}
                role="row"
                tabIndex={-1}
                aria-level={row.depth + 1}
                aria-rowindex={item.index + 2}
                aria-expanded={row.hasInside ? row.isOpen : undefined}
                aria-selected={row.id === selected}
                className={styles.row}
                data-changed={preview?.cells.some((cell) => cell.place === row.id) || undefined}
                data-place={row.id}
                style={{ transform: `translateY(${item.start}px)` }}
                onClick={() => row.title && props.onSelect(row.id)}
              >
                <div
                  role="gridcell"
                  className={styles.tree}
                  data-cell={`${item.index}-0`}
                  tabIndex={focus.row === item.index && focus.column === 0 ? 0 : -1}
                  onFocus={() => setFocus({ row: item.index, column: 0 })}
                >
                  <TreeCell row={row} onToggle={() => props.onToggle(row.id)} />
                </div>
                {columns.map((column, i) => {
                  const cell: GridCell | null = row.cells?.[i] ?? null;
                  const isOpen = ladder?.row === row.id && ladder.column === column.key;
                  return (
                    // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the treegrid as a whole.
                    <div
                      key={column.key}
                      role="gridcell"
                      className={styles.cell}
                      data-cell={`${item.index}-${i + 1}`}
                      data-column={column.key}
                      tabIndex={focus.row === item.index && focus.column === i + 1 ? 0 : -1}
                      aria-label={cell ? cellWords(cell, column) : `${column.name}: not for you to know here`}
                      onFocus={() => setFocus({ row: item.index, column: i + 1 })}
                      onClick={(event) => {
                        event.stopPropagation();
                        if (cell) setLadder({ row: row.id, column: column.key });
                      }}
                    >
                      <Cell cell={cell} after={afters.get(`${row.id}|${column.key}`)} column={column} />
                      {isOpen && (
                        <Ladder
                          row={row}
                          column={column}
                          onClose={() => setLadder(null)}
                          onChoose={(level) => {
                            setLadder(null);
                            props.onWish(row, column, level);
                          }}
                          onWhy={() => {
                            setLadder(null);
                            props.onWhy(row, column);
                          }}
                        />
                      )}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
