/** What the editor knows: the nodes and marks of a page body (core/content/schema.ts), and nothing else. */
import { Extension, type Extensions, Mark, mergeAttributes, Node } from "@tiptap/core";
import { Table, TableCell, TableHeader, TableKit } from "@tiptap/extension-table";
import StarterKit from "@tiptap/starter-kit";
import { NODES, readAddress } from "../../core/content/index.ts";
import { blockIds } from "./blockIds.ts";

/** Where a link found in HTML leads: to a page by its id, or to an address; nowhere if it may not. */
export function targetOf(link: Pick<HTMLElement, "getAttribute">, origin: string): { page: string } | { href: string } | null {
  const page = link.getAttribute("data-page");
  return page ? { page } : readAddress(link.getAttribute("href") ?? "", origin);
}

/** A link to a page by its id, or to an address. */
const link = (origin: string) =>
  Mark.create({
    name: "link",
    inclusive: false,
    addAttributes: () => ({ page: { default: null, parseHTML: () => null }, href: { default: null, parseHTML: () => null } }),
    parseHTML: () => [{ tag: "a[href]", getAttrs: (element) => targetOf(element, origin) ?? false }],
    renderHTML: ({ HTMLAttributes: { page, href } }) => ["a", page ? { "data-page": page, href: "#" } : { href, rel: "noreferrer" }, 0],
  });

const Callout = Node.create({
  name: "callout",
  group: "block",
  content: "paragraph+",
  defining: true,
  addAttributes: () => ({ tone: { default: "note" } }),
  parseHTML: () => [{ tag: "aside.callout" }],
  renderHTML: ({ HTMLAttributes }) => ["aside", mergeAttributes(HTMLAttributes, { class: "callout" }), 0],
});

// The page's policy forbids styles on elements (tables bring widths of their own, which go): which side the words of a cell stand on is told by an attribute.
const align = {
  default: null,
  parseHTML: (element: HTMLElement) =>
    NODES.get("tableCell")?.attrs.align?.read(element.dataset.align ?? (element.style.textAlign || element.getAttribute("align"))) ?? null,
  renderHTML: ({ align: side }: Record<string, unknown>) => (side ? { "data-align": side } : {}),
};

/** Attributes of every block that the editor keeps and does not show. */
const Kept = Extension.create({
  name: "kept",
  addGlobalAttributes: () => [
    {
      types: [...NODES].flatMap(([type, { attrs }]) => ("id" in attrs ? [type] : [])),
      attributes: {
        id: {
          default: null,
          parseHTML: (element: HTMLElement) => element.getAttribute("data-id"),
          renderHTML: ({ id }: Record<string, unknown>) => (id ? { "data-id": id } : {}),
        },
      },
    },
  ],
});

/** The schema of the editor, on a site with this address. */
export const schemaExtensions = (origin: string): Extensions => [
  StarterKit.configure({ link: false, underline: false, heading: { levels: [1, 2, 3, 4] } }),
  TableKit.configure({ table: false, tableCell: false, tableHeader: false }),
  Table.extend({ addNodeView: () => null, renderHTML: () => ["div", { class: "tableWrapper" }, ["table", ["tbody", 0]]] }).configure({
    resizable: false,
  }),
  TableCell.extend({
    addAttributes() {
      return { ...this.parent?.(), align };
    },
  }),
  TableHeader.extend({
    addAttributes() {
      return { ...this.parent?.(), align };
    },
  }),
  Kept,
  link(origin),
  Callout,
];

export const extensions = (origin: string): Extensions => [...schemaExtensions(origin), blockIds];
