/** Which column of a table is which of another: a column put in between leaves the cells beside it what they were. */
import type { BodyNode } from "../../core/content/index.ts";
import { align, type Pair } from "./align.ts";

export interface TableParts {
  /** The columns, in the order of the newer table. */
  pairs: Pair[];
}

const spans = (cell: BodyNode): boolean => Number(cell.attrs?.colspan ?? 1) > 1 || Number(cell.attrs?.rowspan ?? 1) > 1;

const widthOf = (rows: readonly BodyNode[]): number | null => {
  const [first] = rows;
  const width = first?.content?.length ?? 0;
  return rows.every((row) => row.content?.length === width && !row.content.some(spans)) ? width : null;
};

/** A column as one block: its cells from top to bottom. */
const columnAt = (rows: readonly BodyNode[], nth: number): BodyNode => ({
  type: "column",
  content: rows.map((row) => row.content?.[nth] ?? { type: "tableCell" }),
});

/**
 * The columns of two tables beside each other; null where cells reach over several, or rows are of several lengths: then rows
 * are compared as wholes. Columns that only changed places are told as gone and new: a row has one order.
 */
export function columnsOf(from: readonly BodyNode[], to: readonly BodyNode[]): TableParts | null {
  const [a, b] = [widthOf(from), widthOf(to)];
  if (a === null || b === null) return null;
  const same = Array.from({ length: a }, (_, i): Pair => ({ from: i, to: i, moved: false }));
  if (a === b) return { pairs: same };
  const columns = (rows: readonly BodyNode[], width: number) => Array.from({ length: width }, (_, i) => columnAt(rows, i));
  const pairs = align(columns(from, a), columns(to, b));
  return {
    pairs: pairs.map(({ from: x, to: y, moved }) =>
      moved ? { from: y === null ? x : null, to: y, moved: false } : { from: x, to: y, moved },
    ),
  };
}
