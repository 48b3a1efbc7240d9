/** Every page and bulletin that the public reads at this moment, where an asker may see rules: by whole rows, without looking at each. */
import { cellsInBlock, keptCells } from "../../../core/access/decide/index.ts";
import { type CompiledPlace, type CompiledSubject, subjectOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import type { Access } from "../../access/current.ts";
import { toldBlocks } from "./told.ts";

export interface OpenPages {
  space: CompiledPlace;
  pages: CompiledPlace[];
}

const isPage = ({ place }: CompiledPlace): boolean => place.kind === "page" || place.kind === "bulletin";

/** By space; spaces in which the public reads nothing are left out. */
export async function openPages(access: Access, me: CompiledSubject): Promise<OpenPages[]> {
  const { index, at } = access;
  const told = await toldBlocks(access, me);
  return told.flatMap(({ block, tables, rows, everybody }) => {
    const open = rows.filter((row) => ((keptCells(index, block, tables, row, at)[everybody] as number) & READ) !== 0);
    const pages = open.flatMap((row) => (block.rows[row]?.places ?? []).map((number) => index.places[number] as CompiledPlace));
    const inside = pages.filter(isPage);
    return inside.length > 0 ? [{ space: index.places[block.space] as CompiledPlace, pages: inside }] : [];
  });
}

/** Every page and bulletin of a space that the public reads, whoever asks. */
export function publicPagesOf({ index, at }: Access, space: CompiledPlace): CompiledPlace[] {
  const block = index.blocks[index.blockOf[space.number] as number];
  const everybody = subjectOf(index, { public: true });
  if (!block || !everybody) return [];
  const open = [...cellsInBlock(index, block, everybody.number, at)].filter(({ cell }) => (cell & READ) !== 0);
  return open.flatMap(({ row }) => row.places.map((number) => index.places[number] as CompiledPlace)).filter(isPage);
}
