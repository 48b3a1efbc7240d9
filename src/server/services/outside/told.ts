/** Where an asker may see rules, by blocks and rows: what is told of others is told there alone. */
import { setImmediate } from "node:timers/promises";
import { keptCells, tablesAt, tellsOfOthers } from "../../../core/access/decide/index.ts";
import { type Block, type CompiledSubject, subjectOf, type Tables } from "../../../core/access/index/index.ts";
import type { Access } from "../../access/current.ts";

/** The rows of a block whose rules the asker may see, by number. */
function toldIn({ index, at }: Access, block: Block, tables: Tables, me: CompiledSubject): number[] {
  const mine = tables.classOf[me.number] as number;
  return block.rows.flatMap((_, row) => (tellsOfOthers(keptCells(index, block, tables, row, at)[mine] as number) ? [row] : []));
}

/** A block with the rows that the asker may know of, and the class that the public is of in it. */
export interface ToldBlock {
  block: Block;
  tables: Tables;
  rows: readonly number[];
  everybody: number;
}

/** So many blocks are gone through at once, and others have their turn in between. */
export const AT_ONCE = 10;

/** Every block of a space in which the asker may see rules. */
export async function toldBlocks(access: Access, me: CompiledSubject): Promise<ToldBlock[]> {
  const { index, at } = access;
  const everybody = subjectOf(index, { public: true }) as CompiledSubject;
  const found: ToldBlock[] = [];
  for (const [nth, block] of index.blocks.entries()) {
    if (nth % AT_ONCE === 0) await setImmediate();
    if (block.space < 0) continue;
    const tables = tablesAt(index, block, at);
    const rows = toldIn(access, block, tables, me);
    if (rows.length > 0) found.push({ block, tables, rows, everybody: tables.classOf[everybody.number] as number });
  }
  return found;
}
