/** A table that is worked from the keyboard like the grid: one stop for Tab, arrows move, Space chooses, Enter opens. Rows are drawn as they are scrolled to. */
import { type ColumnDef, flexRender, getCoreRowModel, type Header, type Row as TableRow, useReactTable } from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp } from "lucide-react";
import { type CSSProperties, type KeyboardEvent, type ReactNode, type RefObject, useEffect, useRef, useState } from "react";
import styles from "./list.module.css";

interface Sort {
  by: string;
  order: "up" | "down";
}

interface Props<Row extends { id: string }> {
  label: string;
  rows: Row[];
  columns: ColumnDef<Row, unknown>[];
  /** Keys of the columns that are shown, in order. */
  shown: readonly string[];
  sort: Sort;
  onSort(by: string): void;
  isChosen(row: Row): boolean;
  onChoose(row: Row): void;
  onOpen(row: Row): void;
  /** Keys of the view's own, on a row. */
  keys?: Record<string, (row: Row) => void>;
  /** Row whose strip is open, and what stands in it. */
  open: string | null;
  strip(row: Row): ReactNode;
  edge?(row: Row): string | undefined;
  /** The end of the list is near: there may be more. */
  onNearEnd(): void;
}

const ROW = 44;
const keyOf = (column: object): string => (column as { accessorKey: string }).accessorKey;

/** Which row has the focus, or would get it by Tab, and how to move it. */
function useFocus(scroller: RefObject<HTMLDivElement | null>, count: number, show: (row: number) => void) {
  const [at, setAt] = useState(0);
  const wants = useRef(false);
  const focus = Math.min(at, Math.max(0, count - 1));
  useEffect(() => {
    if (!wants.current) return;
    wants.current = false;
    show(focus);
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-row="${focus}"]`)?.focus());
  });
  const move = (to: number) => {
    wants.current = true;
    setAt(Math.max(0, Math.min(count - 1, to)));
  };
  return { focus, setAt, move };
}

interface Pressing<Row extends { id: string }> extends Pick<Props<Row>, "rows" | "onChoose" | "onOpen" | "keys"> {
  focus: number;
  page: number;
  move(to: number): void;
}

/** Keys on a row itself: what stands in one has its keys for itself. */
function press<Row extends { id: string }>(
  event: KeyboardEvent,
  { rows, focus, page, move, onChoose, onOpen, keys = {} }: Pressing<Row>,
): void {
  const row = rows[focus];
  if (!row || !(event.target as HTMLElement).matches("[data-row]") || event.ctrlKey || event.metaKey || event.altKey) return;
  const known: Record<string, () => void> = {
    ArrowDown: () => move(focus + 1),
    ArrowUp: () => move(focus - 1),
    PageDown: () => move(focus + page),
    PageUp: () => move(focus - page),
    Home: () => move(0),
    End: () => move(rows.length - 1),
    " ": () => onChoose(row),
    Enter: () => onOpen(row),
  };
  const act = known[event.key] ?? (keys[event.key] ? () => keys[event.key]?.(row) : undefined);
  if (!act) return;
  event.preventDefault();
  act();
}

/** The head of a column: by it, the list is sorted. */
function Head<Row>({ head, sort, onSort }: { head: Header<Row, unknown>; sort: Sort; onSort(by: string): void }) {
  const { sort: by = "", numeric } = head.column.columnDef.meta ?? {};
  const is = sort.by === by;
  const up = sort.order === "up";
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the button in it is what one works.
    <span role="columnheader" aria-sort={is ? (up ? "ascending" : "descending") : "none"} data-numeric={numeric}>
      {by === "" ? (
        flexRender(head.column.columnDef.header, head.getContext())
      ) : (
        <button type="button" onClick={() => onSort(by)}>
          {flexRender(head.column.columnDef.header, head.getContext())}
          {is && (up ? <ArrowUp size={13} aria-hidden="true" /> : <ArrowDown size={13} aria-hidden="true" />)}
        </button>
      )}
    </span>
  );
}

interface LineProps<Row extends { id: string }> {
  row: TableRow<Row>;
  nth: number;
  focused: boolean;
  isOpen: boolean;
  chosen: boolean;
  onFocus(): void;
  onChoose(): void;
  onOpen(): void;
}

/** One row. Its keys are handled by the table as a whole. */
function Line<Row extends { id: string }>({ row, nth, focused, isOpen, chosen, onFocus, onChoose, onOpen }: LineProps<Row>) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above.
    <div
      role="row"
      aria-rowindex={nth + 2}
      aria-selected={chosen}
      tabIndex={focused ? 0 : -1}
      data-row={nth}
      data-place={row.id}
      data-home={focused ? "" : undefined}
      data-open={isOpen}
      className={styles.row}
      onFocus={onFocus}
      onClick={onOpen}
    >
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: Space on the row does the same. */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: the row has the focus. */}
      <span role="gridcell" className={styles.box} onClick={(event) => event.stopPropagation()}>
        <input type="checkbox" tabIndex={-1} aria-label="Choose" checked={chosen} onChange={onChoose} />
      </span>
      {row.getVisibleCells().map((cell) => (
        // biome-ignore lint/a11y/useFocusableInteractive: the row has the focus.
        <span key={cell.id} role="gridcell" data-numeric={cell.column.columnDef.meta?.numeric}>
          {flexRender(cell.column.columnDef.cell, cell.getContext())}
        </span>
      ))}
    </div>
  );
}

function useColumns<Row extends { id: string }>({ rows, columns, shown }: Pick<Props<Row>, "rows" | "columns" | "shown">) {
  const visible = Object.fromEntries(columns.map((it) => [keyOf(it), shown.includes(keyOf(it))]));
  return useReactTable({
    data: rows,
    columns,
    getCoreRowModel: getCoreRowModel(),
    state: { columnOrder: [...shown], columnVisibility: visible },
    getRowId: (row) => row.id,
  });
}

export function ListTable<Row extends { id: string }>(props: Props<Row>) {
  const { label, rows, sort, onSort, isChosen, onChoose, onOpen, open, strip, edge, onNearEnd } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const table = useColumns(props);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    getItemKey: (i) => rows[i]?.id ?? i,
  });
  const { focus, setAt, move } = useFocus(scroller, rows.length, (row) => virtual.scrollToIndex(row));
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (rows.length > 0 && last >= rows.length - 20) onNearEnd();
  }, [last, rows.length]);
  const heads = table.getHeaderGroups()[0]?.headers ?? [];
  const widths = ["34px", ...heads.map(({ column }) => column.columnDef.meta?.width ?? "1fr")].join(" ");
  const page = Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 1;
  return (
    <div className={styles.scroller} ref={scroller}>
      <div
        role="grid"
        aria-label={label}
        aria-rowcount={rows.length + 1}
        className={styles.table}
        style={{ "--widths": widths } as CSSProperties}
        onKeyDown={(event) => press(event, { ...props, focus, page, move })}
      >
        {/* biome-ignore lint/a11y/useFocusableInteractive: the buttons in it are what one works. */}
        <div role="row" className={styles.head}>
          {/* biome-ignore lint/a11y/useFocusableInteractive: it says what stands below. */}
          <span role="columnheader" aria-label="Chosen" />
          {heads.map((head) => (
            <Head key={head.id} head={head} sort={sort} onSort={onSort} />
          ))}
        </div>
        <div role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize() }}>
          {items.map(({ index, start, key }) => {
            const row = table.getRowModel().rows[index];
            const it = row?.original;
            if (!row || !it) return null;
            const isOpen = open === it.id;
            return (
              <div
                key={key}
                ref={virtual.measureElement}
                data-index={index}
                className={styles.item}
                style={{ transform: `translateY(${start}px)` }}
                data-edge={edge?.(it)}
              >
                <Line
                  row={row}
                  nth={index}
                  focused={focus === index}
                  isOpen={isOpen}
                  chosen={isChosen(it)}
                  onFocus={() => setAt(index)}
                  onChoose={() => onChoose(it)}
                  onOpen={() => onOpen(it)}
                />
                {isOpen && (
                  // biome-ignore lint/a11y/useFocusableInteractive: what stands in it is what one works.
                  <div role="row" aria-label="What there is to know">
                    {/* biome-ignore lint/a11y/useFocusableInteractive: see above. */}
                    <div role="gridcell" className={styles.strip}>
                      {strip(it)}
                    </div>
                  </div>
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
