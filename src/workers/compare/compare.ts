/**
 * Two texts of a page compared (lifecycle.md, "Versions"): block by block, moved ones told from changed ones; in a changed
 * paragraph word by word, in a table cell by cell. Comes out as blocks that can be shown: text carries the marks `gone`
 * and `new`, a block that came, went or moved says so in its attribute `compared`.
 */
import type { BodyNode, PageBody } from "../../core/content/index.ts";
import { align, type Pair, signature } from "./align.ts";
import { columnsOf, type TableParts } from "./columns.ts";
import { compareWords } from "./words.ts";

export type Became = "same" | "changed" | "new" | "gone" | "moved" | "movedAway";

/** One block of the comparison, both ways of showing it. */
export interface ComparedRow {
  became: Became;
  /** In one text: what went beside what came. */
  inline: BodyNode[];
  /** Side by side. */
  left: BodyNode | null;
  right: BodyNode | null;
}

export interface Compared {
  rows: ComparedRow[];
  counts: Record<Exclude<Became, "same" | "movedAway">, number>;
}

interface Both {
  inline: BodyNode[];
  left: BodyNode | null;
  right: BodyNode | null;
}

const TEXT_BLOCKS: ReadonlySet<string> = new Set(["paragraph", "heading", "codeBlock"]);

const tagged = (node: BodyNode, compared: Exclude<Became, "same" | "changed">): BodyNode => ({
  ...node,
  attrs: { ...node.attrs, compared },
});

const present = (nodes: readonly (BodyNode | null)[]): BodyNode[] => nodes.filter((it) => it !== null);

/** A block that became nothing, or came of nothing. */
const lone = (node: BodyNode, as: "gone" | "new"): Both => {
  const it = tagged(node, as);
  return { inline: [it], left: as === "gone" ? it : null, right: as === "new" ? it : null };
};

const apart = (from: BodyNode, to: BodyNode): Both => {
  const [left, right] = [tagged(from, "gone"), tagged(to, "new")];
  return { inline: [left, right], left, right };
};

/** A block beside what it became: the same kind with the same attributes, else one went and one came. */
function compareBlocks(from: BodyNode, to: BodyNode): Both {
  if (signature(from) === signature(to)) return { inline: [to], left: from, right: to };
  if (from.type !== to.type) return apart(from, to);
  if (TEXT_BLOCKS.has(from.type)) {
    const words = compareWords(from.content ?? [], to.content ?? []);
    if (!words) return apart(from, to);
    return {
      inline: [{ ...to, content: words.inline }],
      left: { ...from, content: words.left },
      right: { ...to, content: words.right },
    };
  }
  const content = from.type === "table" ? compareRows(from, to) : compareAll(from.content ?? [], to.content ?? []);
  return {
    inline: [{ ...to, content: content.flatMap(({ inline }) => inline) }],
    left: { ...from, content: present(content.map(({ left }) => left)) },
    right: { ...to, content: present(content.map(({ right }) => right)) },
  };
}

function comparePair({ from, to, moved }: Pair, a: readonly BodyNode[], b: readonly BodyNode[]): Both {
  const [old, now] = [from === null ? undefined : a[from], to === null ? undefined : b[to]];
  if (moved && old && !now) {
    const away = tagged(old, "movedAway");
    return { inline: [away], left: away, right: null };
  }
  if (moved && old && now) {
    const both = compareBlocks(old, now);
    return { inline: both.inline.map((it) => tagged(it, "moved")), left: null, right: both.right && tagged(both.right, "moved") };
  }
  if (old && now) return compareBlocks(old, now);
  return old ? lone(old, "gone") : lone(now as BodyNode, "new");
}

const compareAll = (from: readonly BodyNode[], to: readonly BodyNode[]): Both[] =>
  align(from, to).map((pair) => comparePair(pair, from, to));

const rowOf = (row: BodyNode, cells: readonly BodyNode[]): BodyNode => ({ ...row, content: [...cells] });

/** Cells of a row beside those it had, column by column. */
function compareCells(from: BodyNode, to: BodyNode, { pairs }: TableParts): Both {
  const cells = pairs.map((pair) => comparePair(pair, from.content ?? [], to.content ?? []));
  return {
    inline: [
      rowOf(
        to,
        cells.flatMap(({ inline }) => oneCell(inline)),
      ),
    ],
    left: rowOf(from, present(cells.map(({ left }) => left))),
    right: rowOf(to, present(cells.map(({ right }) => right))),
  };
}

/** Of a cell that was put in another's place one cell is shown, with what both hold. */
function oneCell(cells: BodyNode[]): BodyNode[] {
  const [first, second] = cells;
  if (!first || !second) return cells;
  return [{ ...second, attrs: { ...second.attrs, compared: null }, content: [...inside(first, "gone"), ...inside(second, "new")] }];
}

const inside = (cell: BodyNode, as: "gone" | "new"): BodyNode[] => (cell.content ?? []).map((it) => tagged(it, as));

function compareRows(from: BodyNode, to: BodyNode): Both[] {
  const [a, b] = [from.content ?? [], to.content ?? []];
  const columns = columnsOf(a, b);
  return align(a, b).map((pair) => {
    const [old, now] = [pair.from === null ? undefined : a[pair.from], pair.to === null ? undefined : b[pair.to]];
    return old && now && !pair.moved && columns ? compareCells(old, now, columns) : comparePair(pair, a, b);
  });
}

function becameOf({ from, to, moved }: Pair, both: Both): Became {
  if (moved) return to === null ? "movedAway" : "moved";
  if (from === null) return "new";
  if (to === null) return "gone";
  return both.left && both.right && both.left.attrs?.compared !== "gone" && signature(both.left) === signature(both.right)
    ? "same"
    : "changed";
}

/** Compares two bodies. */
export function compareBodies(from: PageBody, to: PageBody): Compared {
  const counts: Compared["counts"] = { changed: 0, new: 0, gone: 0, moved: 0 };
  const rows = align(from.content, to.content).map((pair): ComparedRow => {
    const both = comparePair(pair, from.content, to.content);
    const became = becameOf(pair, both);
    if (became !== "same" && became !== "movedAway") counts[became]++;
    return { became, ...both };
  });
  return { rows, counts };
}
