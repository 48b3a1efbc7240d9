/** HTML of a page body. Safe by construction: only the tags below are ever written, and every text is escaped. */
import { type BodyNode, isSafeHref, type Mark, type PageBody } from "./body.ts";

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
const MARK_TAGS = new Map(Object.entries({ bold: "strong", italic: "em", strike: "s", code: "code" }));

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

const number = (value: unknown, least: number, most: number): number => Math.min(most, Math.max(least, Math.trunc(Number(value)) || least));

function cell(tag: "th" | "td", node: BodyNode, inner: string): string {
  const colspan = number(node.attrs?.colspan, 1, 100);
  const rowspan = number(node.attrs?.rowspan, 1, 1000);
  return `<${tag}${colspan > 1 ? ` colspan="${colspan}"` : ""}${rowspan > 1 ? ` rowspan="${rowspan}"` : ""}>${inner}</${tag}>`;
}

function html(node: BodyNode, resolve: ResolvePage): string {
  if (node.type === "text") return (node.marks ?? []).reduce((inner, mark) => marked(inner, mark, resolve), escapeHtml(node.text ?? ""));
  const inner = (node.content ?? []).map((child) => html(child, resolve)).join("");
  const id = typeof node.attrs?.id === "string" ? ` id="b-${escapeHtml(node.attrs.id)}"` : "";
  const simple = SIMPLE.get(node.type);
  if (simple) return `<${simple}${node.type === "paragraph" ? id : ""}>${inner}</${simple}>`;
  switch (node.type) {
    case "heading": {
      // The page's title is the only first heading.
      const level = number(node.attrs?.level, 1, 4) + 1;
      return `<h${level}${id}>${inner}</h${level}>`;
    }
    case "orderedList":
      return `<ol start="${number(node.attrs?.start, 1, 1_000_000)}">${inner}</ol>`;
    case "codeBlock":
      return `<pre${id}><code>${inner}</code></pre>`;
    case "callout":
      return `<aside class="callout" data-tone="${node.attrs?.tone === "warning" ? "warning" : "note"}"${id}>${inner}</aside>`;
    case "horizontalRule":
      return "<hr>";
    case "hardBreak":
      return "<br>";
    case "table":
      return `<div class="table"><table><tbody>${inner}</tbody></table></div>`;
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
