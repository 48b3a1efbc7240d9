/** Who would read a page that stood in a place and were live, counted by kind (lifecycle.md, "Before it goes live"). */
import { GUEST, MEMBER, PUBLIC_CLASS, rowCells, tablesAt } from "../access/decide/index.ts";
import { type AccessIndex, blockAt } from "../access/index/index.ts";
import { type Instant, type PlaceNumber, READ } from "../access/model/index.ts";

export interface ReadersThere {
  public: boolean;
  guests: number;
  members: number;
}

/**
 * Counts who has `read` by the rules of a place at an instant (milliseconds since the epoch), whatever state it is in: that is
 * who reads a live page directly in it that has no rules of its own. Passes and own drafts are not counted.
 */
export function readersThere(index: AccessIndex, place: PlaceNumber, at: Instant): ReadersThere {
  const block = blockAt(index, place);
  const tables = tablesAt(index, block, at);
  const cells = rowCells(index, block, tables, index.rowOf[place] as number, at, true);
  const counted: ReadersThere = { public: ((cells[PUBLIC_CLASS] as number) & READ) !== 0, guests: 0, members: 0 };
  cells.forEach((cell, number) => {
    if (!(cell & READ)) return;
    if (tables.kinds[number] === GUEST) counted.guests += tables.counts[number] as number;
    if (tables.kinds[number] === MEMBER) counted.members += tables.counts[number] as number;
  });
  return counted;
}
