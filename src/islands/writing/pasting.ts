/**
 * What is pasted or dropped: Markdown becomes headings, lists and tables, addresses of own pages become links to them,
 * and what a page cannot hold is said. Long texts come in piece by piece, so that the page stays responsive.
 */
import { Extension } from "@tiptap/core";
import { Fragment, type Mark, Node, type Schema, Slice } from "@tiptap/pm/model";
import { Plugin, PluginKey, type Transaction } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { blocksOfMarkdown, looksLikeMarkdown, type MarkdownToken, readAddress } from "../../core/content/index.ts";
import { soundSlice } from "./blockIds.ts";
import { targetOf } from "./extensions.ts";

export interface Pasting {
  /** Address of this site, to know its own pages by. */
  origin: string;
  /** Says what was left out, or what comes in. */
  say(words: string): void;
  /** Title of a page, to put in for a bare address; null where it is not to be known. */
  titleOf(page: string): Promise<string | null>;
}

interface Dropped {
  links: number;
  pictures: number;
}

const count = (number: number, one: string, many: string): string => (number === 1 ? `1 ${one}` : `${number} ${many}`);

/** What was left out, in a sentence; empty for nothing. */
export function droppedSentence({ links, pictures }: Dropped): string {
  return [
    links > 0 &&
      `${count(links, "link leads", "links lead")} to a place no reader can open (a file, a relative address, nothing): the words were kept without ${links === 1 ? "it" : "them"}.`,
    pictures > 0 && `${count(pictures, "picture was", "pictures were")} left out: pages cannot keep pictures yet.`,
  ]
    .filter(Boolean)
    .join(" ");
}

/** HTML as it may be read: what no page holds is taken out and counted; the smallest headings become our smallest. */
function preparedHtml(html: string, origin: string, dropped: Dropped): string {
  const doc = new DOMParser().parseFromString(html, "text/html");
  for (const picture of doc.querySelectorAll("img, picture, svg, video, audio, iframe, object, embed, canvas")) {
    if (picture.parentElement?.closest("picture, svg, video, audio, object")) continue;
    dropped.pictures++;
    picture.remove();
  }
  for (const link of doc.querySelectorAll("a[href]"))
    if (link.textContent?.trim() && !targetOf(link as HTMLElement, origin)) dropped.links++;
  for (const heading of doc.querySelectorAll("h5, h6")) {
    const smallest = doc.createElement("h4");
    smallest.append(...heading.childNodes);
    heading.replaceWith(smallest);
  }
  return doc.body.innerHTML;
}

const ADDRESS = /https?:\/\/[^\s<>"]*[^\s<>".,;:!?)\]}']/g;

/** A line of plain text, its addresses as links. */
function linkedLine(line: string, schema: Schema, origin: string): Node[] {
  const parts: Node[] = [];
  let from = 0;
  for (const match of line.matchAll(ADDRESS)) {
    const target = readAddress(match[0], origin);
    if (!target) continue;
    if (match.index > from) parts.push(schema.text(line.slice(from, match.index)));
    parts.push(schema.text(match[0], schema.marks.link ? [schema.marks.link.create(target)] : []));
    from = match.index + match[0].length;
  }
  if (from < line.length) parts.push(schema.text(line.slice(from)));
  return parts;
}

let lexer: ((text: string) => MarkdownToken[]) | null = null;

/** Brings the Markdown parser, which is not needed before something is pasted. */
export async function bringMarkdown(): Promise<void> {
  const { marked } = await import("marked");
  lexer = (text) => [...marked.lexer(text)] as MarkdownToken[];
}

const AT_ONCE = 250;
const arriving = new PluginKey<number | null>("arriving");

/** Puts blocks in behind the cursor, some at a time. */
async function insertPieces(view: EditorView, slice: Slice, say: (words: string) => void): Promise<void> {
  const blocks = slice.content.content;
  const total = blocks.length;
  let first: Transaction | null = null;
  for (let from = 0; from < total && !view.isDestroyed; from += AT_ONCE) {
    const piece = Fragment.from(blocks.slice(from, from + AT_ONCE));
    const { tr } = view.state;
    const at = arriving.getState(view.state);
    if (first === null) {
      tr.replaceSelection(new Slice(piece, slice.openStart, 0));
      // What follows goes behind the block that ends the first piece.
      const { $to } = tr.selection;
      tr.setMeta(arriving, tr.doc.resolve($to.after(Math.max(1, $to.depth))).pos);
      first = tr;
    } else if (typeof at === "number") {
      tr.insert(at, piece).setMeta("appendedTransaction", first).setMeta("addToHistory", true);
      tr.setMeta(arriving, from + AT_ONCE >= total ? null : tr.mapping.map(at));
    } else return;
    view.dispatch(tr);
    say(
      from + AT_ONCE >= total ? `${total.toLocaleString("en-GB")} blocks were pasted.` : `Pasting: ${from + AT_ONCE} of ${total} blocks …`,
    );
    await new Promise((later) => setTimeout(later, 0));
  }
}

function pasteSlice(view: EditorView, slice: Slice, say: (words: string) => void): void {
  const topLevel = view.state.selection.$from.depth <= 1;
  if (slice.content.childCount > AT_ONCE && topLevel) void insertPieces(view, slice, say);
  else view.dispatch(view.state.tr.replaceSelection(slice).scrollIntoView().setMeta("paste", true));
}

/** Blocks put in as though they had been pasted. */
function pasteBlocks(view: EditorView, text: string, { origin, say }: Pasting): void {
  const dropped: Dropped = { links: 0, pictures: 0 };
  const blocks = blocksOfMarkdown(lexer?.(text) ?? [], origin, (what) => (what === "link" ? dropped.links++ : dropped.pictures++));
  const { schema, doc } = view.state;
  const content = Fragment.from(blocks.map((block) => Node.fromJSON(schema, block)));
  const inline = content.childCount === 1 && content.firstChild?.type.name === "paragraph";
  pasteSlice(view, soundSlice(new Slice(content, inline ? 1 : 0, inline ? 1 : 0), schema, doc), say);
  say(droppedSentence(dropped));
}

/** A bare address of an own page: the words chosen lead there, or else its title is put in. */
async function pasteOwnPage(view: EditorView, address: string, page: string, titleOf: Pasting["titleOf"]): Promise<void> {
  const { schema } = view.state;
  const mark = schema.marks.link?.create({ page });
  if (!mark) return;
  const { from, to, empty } = view.state.selection;
  if (!empty) return view.dispatch(view.state.tr.addMark(from, to, mark));
  const title = (await titleOf(page)) ?? address;
  if (!view.isDestroyed) view.dispatch(view.state.tr.replaceSelectionWith(schema.text(title, [mark]), false).scrollIntoView());
}

function handlePlain(view: EditorView, text: string, pasting: Pasting): boolean {
  if (view.state.selection.$from.parent.type.spec.code) return false;
  const target = /^\S+$/.test(text.trim()) ? readAddress(text.trim(), pasting.origin) : null;
  if (target && "page" in target && text.trim().startsWith("http")) {
    void pasteOwnPage(view, text.trim(), target.page, pasting.titleOf);
    return true;
  }
  if (!looksLikeMarkdown(text)) return false;
  if (lexer) pasteBlocks(view, text, pasting);
  else void bringMarkdown().then(() => pasteBlocks(view, text, pasting));
  return true;
}

/** Plain text as paragraphs, one a line, with what is linked and the marks of where it goes. */
function plainSlice(text: string, marks: readonly Mark[], schema: Schema, origin: string): Slice {
  const lines = text.replace(/\r\n?/g, "\n").split(/\n+/);
  const marked = (it: Node) => it.mark([...it.marks, ...marks.filter((mark) => !it.marks.some((own) => own.type === mark.type))]);
  const nodes = lines.map((line) => schema.nodes.paragraph?.create(null, linkedLine(line, schema, origin).map(marked)) as Node);
  return new Slice(Fragment.from(nodes), 1, 1);
}

/** How the editor takes in what comes from outside. */
export function pastingExtension(pasting: Pasting) {
  const { origin, say } = pasting;
  let plainly = false;
  let dropped: Dropped = { links: 0, pictures: 0 };
  const tell = () => {
    const words = droppedSentence(dropped);
    dropped = { links: 0, pictures: 0 };
    if (words) say(words);
  };
  const pictures = (data: DataTransfer | null): number => [...(data?.files ?? [])].length;
  return Extension.create({
    name: "pasting",
    addProseMirrorPlugins: () => [
      new Plugin<number | null>({
        key: arriving,
        state: {
          init: () => null,
          apply: (tr, at) => {
            const told = tr.getMeta(arriving);
            return told === undefined ? (at === null ? null : tr.mapping.map(at)) : told;
          },
        },
        props: {
          handleKeyDown: (_view, event) => {
            if (event.key !== "Shift") plainly = event.shiftKey && (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "v";
            return false;
          },
          transformPastedHTML: (html) => preparedHtml(html, origin, dropped),
          clipboardTextParser: (text, context, _plain, view) => plainSlice(text, context.marks(), view.state.schema, origin),
          transformPasted: (slice, view) => soundSlice(slice, view.state.schema, view.state.doc),
          handlePaste: (view, event, slice) => {
            const data = event.clipboardData;
            const text = data?.getData("text/plain") ?? "";
            const html = data?.getData("text/html") ?? "";
            const fromCode = [...(data?.types ?? [])].includes("vscode-editor-data");
            if (!text && !html && pictures(data) > 0) dropped.pictures += pictures(data);
            tell();
            if (!plainly && text && (!html || fromCode) && handlePlain(view, text, pasting)) return true;
            if (slice.content.childCount <= AT_ONCE) return false;
            pasteSlice(view, slice, say);
            return true;
          },
          handleDrop: (_view, event) => {
            dropped.pictures += pictures(event.dataTransfer);
            const refused = dropped.pictures > 0;
            tell();
            return refused;
          },
        },
      }),
    ],
  });
}
