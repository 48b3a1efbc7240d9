/** Where an asker may see rules, by blocks and rows: what is told of others is told there alone. */
import { keptCells, tablesAt, tellsOfOthers } from "../../../core/access/decide/index.ts";
import { type Block, type CompiledSubject, subjectOf, type Tables } from "../../../core/access/index/index.ts";
import type { Access } from "../../access/current.ts";
import { pauses } from "../../access/pauses.ts";

/** A block with the rows that the asker may know of, and the class that the public is of in it. */
export interface ToldBlock {
  block: Block;
  tables: Tables;
  rows: readonly number[];
  everybody: number;
}

/** Every block of a space in which the asker may see rules. */
export async function toldBlocks(access: Access, me: CompiledSubject): Promise<ToldBlock[]> {
  const { index, at } = access;
  const everybody = subjectOf(index, { public: true }) as CompiledSubject;
  const found: ToldBlock[] = [];
  const pause = pauses();
  for (const block of index.blocks) {
    if (block.space < 0) continue;
    const tables = tablesAt(index, block, at);
    const mine = tables.classOf[me.number] as number;
    const rows: number[] = [];
    for (let row = 0; row < block.rows.length; row++) {
      // After a start, or a change above, rows are worked out here.
      if (tellsOfOthers(keptCells(index, block, tables, row, at)[mine] as number)) rows.push(row);
      await pause();
    }
    if (rows.length > 0) found.push({ block, tables, rows, everybody: tables.classOf[everybody.number] as number });
  }
  return found;
}
