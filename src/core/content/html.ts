/** HTML of a page body. Safe by construction: only the tags below are ever written, and every text is escaped. */
import type { BodyNode, Mark, PageBody } from "./body.ts";
import { isSafeHref } from "./schema.ts";

/** Where a link to a page leads for this reader, or null if it leads nowhere for them. */
export type ResolvePage = (id: string) => string | null;

export const escapeHtml = (text: string): string =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");

// Maps, not objects: a type named like something every object has must find nothing.
const SIMPLE = new Map(
  Object.entries({
    paragraph: "p",
    bulletList: "ul",
    listItem: "li",
    blockquote: "blockquote",
    tableRow: "tr",
  }),
);
/** `gone` and `new` are of comparisons alone: no text that is kept may carry them. */
const MARK_TAGS = new Map(Object.entries({ bold: "strong", italic: "em", strike: "s", code: "code", gone: "del", new: "ins" }));

function marked(html: string, mark: Mark, resolve: ResolvePage): string {
  const tag = MARK_TAGS.get(mark.type);
  if (tag) return `<${tag}>${html}</${tag}>`;
  const { page, href } = mark.attrs ?? {};
  if (page) {
    const target = resolve(page);
    return target === null
      ? `<span class="closed-link" title="This link leads to a page that is not open to you.">${html}</span>`
      : `<a href="${escapeHtml(target)}">${html}</a>`;
  }
  return href && isSafeHref(href) ? `<a href="${escapeHtml(href)}" rel="noreferrer">${html}</a>` : html;
}

/** Each block runs the way its own first letters do: a Hebrew paragraph from the right, on an English page too. */
const DIRECTION = ' dir="auto"';

/** What a comparison says became of a block; nothing for text that is read. */
const became = ({ attrs }: BodyNode): string =>
  typeof attrs?.compared === "string" ? ` data-compared="${escapeHtml(attrs.compared)}"` : "";

/** How a numbered list counts, where it does not count in digits. */
const numbering = (type: unknown): string => (typeof type === "string" && /^[aAiI]$/.test(type) ? ` type="${type}"` : "");

const number = (value: unknown, least: number, most: number): number => Math.min(most, Math.max(least, Math.trunc(Number(value)) || least));

function cell(tag: "th" | "td", node: BodyNode, inner: string): string {
  const colspan = number(node.attrs?.colspan, 1, 100);
  const rowspan = number(node.attrs?.rowspan, 1, 1000);
  const align = node.attrs?.align;
  const side = align === "right" || align === "center" ? ` data-align="${align}"` : "";
  return `<${tag}${became(node)}${colspan > 1 ? ` colspan="${colspan}"` : ""}${rowspan > 1 ? ` rowspan="${rowspan}"` : ""}${side}${DIRECTION}>${inner}</${tag}>`;
}

function html(node: BodyNode, resolve: ResolvePage): string {
  if (node.type === "text") return (node.marks ?? []).reduce((inner, mark) => marked(inner, mark, resolve), escapeHtml(node.text ?? ""));
  const inner = (node.content ?? []).map((child) => html(child, resolve)).join("");
  const id = typeof node.attrs?.id === "string" ? ` id="b-${escapeHtml(node.attrs.id)}"` : "";
  const told = became(node);
  const simple = SIMPLE.get(node.type);
  if (simple)
    return `<${simple}${told}${node.type === "paragraph" ? id : ""}${node.type === "tableRow" ? "" : DIRECTION}>${inner}</${simple}>`;
  switch (node.type) {
    case "heading": {
      // The page's title is the only first heading.
      const level = number(node.attrs?.level, 1, 4) + 1;
      return `<h${level}${told}${id}${DIRECTION}>${inner}</h${level}>`;
    }
    case "orderedList":
      return `<ol${told} start="${number(node.attrs?.start, 0, 1_000_000)}"${numbering(node.attrs?.type)}${DIRECTION}>${inner}</ol>`;
    case "codeBlock":
      return `<pre${told}${id}><code>${inner}</code></pre>`;
    case "callout":
      return `<aside${told} class="callout" data-tone="${node.attrs?.tone === "warning" ? "warning" : "note"}"${id}${DIRECTION}>${inner}</aside>`;
    case "horizontalRule":
      return `<hr${told}>`;
    case "hardBreak":
      return "<br>";
    case "table":
      return `<div class="table"${told}><table><tbody>${inner}</tbody></table></div>`;
    case "tableHeader":
      return cell("th", node, inner);
    case "tableCell":
      return cell("td", node, inner);
    default:
      return "";
  }
}

/** The HTML of a body for one reader. */
export const bodyHtml = (body: PageBody, resolve: ResolvePage): string => body.content.map((node) => html(node, resolve)).join("\n");
