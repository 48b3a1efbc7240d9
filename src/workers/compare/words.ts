/** Words of two paragraphs compared: what stayed, what went, what came, with the marks each carries. */
import { diffArrays } from "diff";
import type { BodyNode, Mark } from "../../core/content/index.ts";

type ComparedMark = Omit<Mark, "type"> & { type: Mark["type"] | "gone" | "new" };

/** A word, a run of spaces or a single sign; a line break is one as well. */
interface Token {
  /** Equal keys: the same word with the same marks. */
  key: string;
  node: BodyNode;
}

const PIECES = /\s+|[\p{L}\p{N}\p{M}_]+|[^\s\p{L}\p{N}\p{M}_]/gu;

/** So many words may differ; from there on two texts have nothing to do with one another. */
const MOST_EDITS = 4_000;

function tokensOf(nodes: readonly BodyNode[]): Token[] {
  return nodes.flatMap((node): Token[] => {
    if (node.type !== "text") return [{ key: node.type, node }];
    const marks = JSON.stringify(node.marks ?? []);
    return (node.text ?? "").match(PIECES)?.map((text) => ({ key: `${text}\u0000${marks}`, node: { ...node, text } })) ?? [];
  });
}

function marked(node: BodyNode, as: "gone" | "new"): BodyNode {
  const mark: ComparedMark = { type: as };
  return { ...node, marks: [...(node.marks ?? []), mark as Mark] };
}

/** Neighbours that carry the same marks are one text again. */
function joined(nodes: readonly BodyNode[]): BodyNode[] {
  const result: BodyNode[] = [];
  for (const node of nodes) {
    const last = result.at(-1);
    if (last?.type === "text" && node.type === "text" && JSON.stringify(last.marks ?? []) === JSON.stringify(node.marks ?? []))
      result[result.length - 1] = { ...last, text: `${last.text ?? ""}${node.text ?? ""}` };
    else result.push(node);
  }
  return result;
}

export interface WordsCompared {
  inline: BodyNode[];
  left: BodyNode[];
  right: BodyNode[];
}

/** What became of the words of a paragraph; null where the two have too little in common to be shown as one. */
export function compareWords(from: readonly BodyNode[], to: readonly BodyNode[]): WordsCompared | null {
  const parts = diffArrays(tokensOf(from), tokensOf(to), { comparator: (a, b) => a.key === b.key, maxEditLength: MOST_EDITS });
  if (!parts) return null;
  const compared: WordsCompared = { inline: [], left: [], right: [] };
  for (const { added, removed, value } of parts) {
    const nodes = value.map(({ node }) => (added ? marked(node, "new") : removed ? marked(node, "gone") : node));
    compared.inline.push(...nodes);
    if (!added) compared.left.push(...nodes);
    if (!removed) compared.right.push(...nodes);
  }
  return { inline: joined(compared.inline), left: joined(compared.left), right: joined(compared.right) };
}
