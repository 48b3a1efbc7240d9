/** Gives every block of words an id of its own, and keeps two from having the same after a split, a copy or a paste. */
import { Extension } from "@tiptap/core";
import { Fragment, type Node, type Schema, Slice } from "@tiptap/pm/model";
import { Plugin } from "@tiptap/pm/state";
import { NODES } from "../../core/content/index.ts";

/** Blocks that are given an id; others only keep one they have. */
const NAMED = new Set(["paragraph", "heading", "codeBlock", "blockquote", "callout"]);
const LETTERS = "abcdefghijklmnopqrstuvwxyz0123456789";

export function newBlockId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(12)), (it) => LETTERS[it % LETTERS.length]).join("");
}

/** Blocks whose id is missing or another's, with the one they get instead. */
function wanting(doc: Node): { pos: number; id: string | null }[] {
  const found = new Map<number, string | null>();
  const first = new Map<string, { pos: number; node: Node }>();
  const fresh = (node: Node): string | null => (NAMED.has(node.type.name) ? newBlockId() : null);
  doc.descendants((node, pos) => {
    const id = node.attrs.id as string | null | undefined;
    const other = id ? first.get(id) : undefined;
    if (id === null && NAMED.has(node.type.name)) found.set(pos, newBlockId());
    else if (id && other) {
      // Of the two halves of a split block the one that kept the words keeps the id.
      if (other.node.content.size === 0 && node.content.size > 0 && !found.has(other.pos)) {
        found.set(other.pos, fresh(other.node));
        first.set(id, { pos, node });
      } else found.set(pos, fresh(node));
    } else if (id) first.set(id, { pos, node });
    return !node.isTextblock;
  });
  return [...found].map(([pos, id]) => ({ pos, id }));
}

function idsIn(doc: Node): Set<string> {
  const ids = new Set<string>();
  doc.descendants((node) => {
    if (node.attrs.id) ids.add(node.attrs.id as string);
    return !node.isTextblock;
  });
  return ids;
}

/**
 * What comes in from outside, made sound: attributes that may not be kept become what they are by default, and ids that
 * the text has already are new ones. All of it in one walk: a pasted text may be long.
 */
export function soundSlice(slice: Slice, schema: Schema, doc: Node): Slice {
  const taken = idsIn(doc);
  const sound = (node: Node): Node => {
    const rules = NODES.get(node.type.name)?.attrs ?? {};
    const attrs: Record<string, unknown> = {};
    for (const [name, value] of Object.entries(node.attrs)) attrs[name] = rules[name]?.sound(value) ? value : rules[name]?.read(null);
    if ("id" in node.attrs && (attrs.id === null || taken.has(attrs.id as string)))
      attrs.id = NAMED.has(node.type.name) ? newBlockId() : null;
    if (attrs.id) taken.add(attrs.id as string);
    if (node.isText) return node;
    return schema.nodes[node.type.name]?.create(attrs, each(node.content), node.marks) ?? node;
  };
  const each = (content: Fragment): Fragment => {
    const nodes: Node[] = [];
    for (const node of content.content) nodes.push(sound(node));
    return Fragment.from(nodes);
  };
  return new Slice(each(slice.content), slice.openStart, slice.openEnd);
}

export const blockIds = Extension.create({
  name: "blockIds",
  addProseMirrorPlugins: () => [
    new Plugin({
      appendTransaction: (transactions, _before, { doc, tr }) => {
        if (!transactions.some((it) => it.docChanged)) return null;
        for (const { pos, id } of wanting(doc)) tr.setNodeAttribute(pos, "id", id);
        return tr.docChanged ? tr : null;
      },
    }),
  ],
});
