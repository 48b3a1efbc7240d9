import type { GridCell, GridColumn } from "../../contracts/grid.ts";
import type { GridActs } from "./acts.ts";
import { Cell, cellWords } from "./Cell.tsx";
import { useDragRow } from "./dragging.tsx";
import styles from "./grid.module.css";
import { Ladder } from "./Ladder.tsx";
import type { ShownRow } from "./rows.ts";
import type { Landing } from "./shifting.ts";
import { TreeCell } from "./TreeCell.tsx";

interface Props {
  row: ShownRow;
  /** Number of the row among those shown. */
  nth: number;
  top: number;
  columns: GridColumn[];
  /** Cells as they would become, by `place|column`. */
  afters: ReadonlyMap<string, GridCell>;
  isSelected: boolean;
  /** Column that has the focus in this row, 0 for the tree, or null. */
  focused: number | null;
  /** Column whose ladder is open in this row, or null. */
  ladder: string | null;
  acts: GridActs;
  /** Chosen with others, to have something done to them together. */
  isChosen: boolean;
  /** Where something that is dragged would land, or null. */
  landing: Landing | null;
  onFocus(column: number): void;
  onLadder(column: string | null): void;
}

/** The cell of one column, and its ladder where that is open. */
function GridCellView({
  row,
  nth,
  column,
  i,
  afters,
  focused,
  ladder,
  acts,
  onFocus,
  onLadder,
}: Props & { column: GridColumn; i: number }) {
  const cell = row.cells?.[i] ?? null;
  const choose = (act: () => void) => {
    onLadder(null);
    act();
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are handled by the treegrid as a whole.
    <div
      role="gridcell"
      className={styles.cell}
      data-cell={`${nth}-${i + 1}`}
      data-column={column.key}
      data-home={focused === i + 1 ? "" : undefined}
      tabIndex={focused === i + 1 ? 0 : -1}
      aria-label={cell ? cellWords(cell, column) : `${column.name}: not for you to know here`}
      onFocus={() => onFocus(i + 1)}
      onClick={(event) => {
        event.stopPropagation();
        if (cell) onLadder(column.key);
      }}
    >
      <Cell cell={cell} after={afters.get(`${row.id}|${column.key}`)} column={column} />
      {ladder === column.key && (
        <Ladder
          row={row}
          now={cell?.set ?? 0}
          column={column}
          onClose={() => onLadder(null)}
          wished={acts.wishedFor(row)}
          onChoose={(what) => choose(() => acts.onWish(row, column, what))}
          onWhy={() => choose(() => acts.onWhy(row, column))}
        />
      )}
    </div>
  );
}

/** One row of the treegrid. Its keys are handled by the treegrid as a whole. */
export function GridRowView(props: Props) {
  const { row, nth, top, columns, isSelected, focused, acts, isChosen, landing, onFocus } = props;
  const { handle, listeners, target, isDragging } = useDragRow(row);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above.
    <div
      ref={target}
      role="row"
      tabIndex={-1}
      aria-level={row.depth + 1}
      aria-rowindex={nth + 2}
      aria-expanded={row.hasInside ? row.isOpen : undefined}
      aria-selected={isSelected}
      className={styles.row}
      data-place={row.id}
      data-chosen={isChosen}
      data-landing={landing ?? undefined}
      data-dragging={isDragging}
      style={{ transform: `translateY(${top}px)` }}
      onClick={() => row.title && acts.onSelect(row.id)}
    >
      <div
        role="gridcell"
        className={styles.tree}
        data-cell={`${nth}-0`}
        data-home={focused === 0 ? "" : undefined}
        tabIndex={focused === 0 ? 0 : -1}
        onFocus={() => onFocus(0)}
        ref={handle}
        onPointerDown={listeners?.onPointerDown as React.PointerEventHandler | undefined}
      >
        {isChosen && <span className="unseen">Chosen</span>}
        <TreeCell row={row} onToggle={() => acts.onToggle(row)} />
      </div>
      {columns.map((column, i) => (
        <GridCellView key={column.key} {...props} column={column} i={i} />
      ))}
    </div>
  );
}
