/** What the editor knows: the nodes and marks of a page body (core/content/body.ts), and nothing else. */
import { Mark, mergeAttributes, Node } from "@tiptap/core";
import { TableKit } from "@tiptap/extension-table";
import { UniqueID } from "@tiptap/extension-unique-id";
import StarterKit from "@tiptap/starter-kit";

/** A link to a page by its id, or to an address. */
const Link = Mark.create({
  name: "link",
  inclusive: false,
  addAttributes: () => ({ page: { default: null }, href: { default: null } }),
  parseHTML: () => [{ tag: "a[href]" }],
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

export const extensions = [
  StarterKit.configure({ link: false, underline: false, heading: { levels: [1, 2, 3] } }),
  TableKit.configure({ table: { resizable: false } }),
  UniqueID.configure({ attributeName: "id", types: ["paragraph", "heading", "codeBlock", "blockquote", "callout"] }),
  Link,
  Callout,
];
