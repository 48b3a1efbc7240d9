/** Taking over from an earlier version of a block whatever a change left as it was: classes, and the cells of untouched rows. */

import { cellsAfterLeaving, namedIn, refinedClasses, windowAround } from "../decide/index.ts";
import {
  type AccessIndex,
  type Birth,
  type Block,
  type CompiledPlace,
  keyBeforeLeaving,
  type Row,
  rowKey,
  ruledAbove,
  ruledAt,
  type Tables,
} from "../index/index.ts";

/** Whether two places, one before and one after, take their answers from the very same rules. */
function sameRules(before: AccessIndex, after: AccessIndex, was: CompiledPlace, is: CompiledPlace): boolean {
  if (was.outsiderCeiling !== is.outsiderCeiling || was.guestCeiling !== is.guestCeiling) return false;
  if (before.places[was.space]?.place.state !== after.places[is.space]?.place.state) return false;
  let [a, b] = [ruledAt(before, was), ruledAt(after, is)];
  while (a && b) {
    if (a.number !== b.number || a.grants !== b.grants || a.fences !== b.fences || a.fresh !== b.fresh) return false;
    a = ruledAbove(before, a);
    b = ruledAbove(after, b);
  }
  return a === b;
}

/** The cells of a row for more classes than before: a new class begins with the cell of the one it was split from. */
function extended(cells: Uint16Array, { bornOf }: Pick<Tables, "bornOf">): Uint16Array {
  if (bornOf.length === cells.length) return cells;
  const longer = new Uint16Array(bornOf.length);
  longer.set(cells);
  for (let number = cells.length; number < longer.length; number++) longer[number] = longer[(bornOf[number] as Birth).from] as number;
  return longer;
}

/** Gives a block of the changed index what its earlier version knew already. Nothing where subjects changed, too. */
export function carryTables(before: AccessIndex, old: Block, after: AccessIndex, made: Block): void {
  const { tables } = old;
  if (!tables || before.subjects !== after.subjects) return;
  const known = namedIn(before, old);
  const added = [...namedIn(after, made)].filter((principal) => !known.has(principal));
  made.named = new Set([...known, ...added]);
  const classes = refinedClasses(after, tables, added);
  const oldRows = new Map(old.rows.map(({ example }, row) => [rowKey(example), row]));
  const rows = Int32Array.from(made.rows, ({ example }) => {
    const row = oldRows.get(rowKey(example));
    return row !== undefined && sameRules(before, after, (old.rows[row] as Row).example, example) ? row : -1;
  });
  const carried = (row: number | undefined): Uint16Array | undefined => {
    const there = row === undefined ? undefined : tables.cells[row];
    return there && extended(there, classes);
  };
  const cells = made.rows.map(({ example }, row) => {
    if (rows[row] !== -1) return carried(rows[row]);
    // Whole branches leave: their rows are those they were, but for what the archive or the bin leaves of them.
    const { state } = example.place;
    if ((state !== "archived" && state !== "binned") || after.places[example.space]?.place.state !== "live") return undefined;
    const from = oldRows.get(keyBeforeLeaving(example));
    const stood = from !== undefined && sameRules(before, after, (old.rows[from] as Row).example, example) ? carried(from) : undefined;
    if (!stood) return undefined;
    after.kept.cells += stood.length;
    return cellsAfterLeaving(stood, { ...tables, ...classes }, state);
  });
  made.tables = { ...tables, ...classes, ...windowAround(after, made, tables.at), cells, carried: { from: tables, rows } };
}
