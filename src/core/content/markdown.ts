/**
 * Markdown, already cut into tokens by a parser, into a page body: for the demo's texts and for what is pasted. Links to
 * pages are written `[text](page:ID)`. What a body cannot hold becomes plain text.
 */
import type { BodyNode, Mark } from "./body.ts";
import { NODES, readAddress } from "./schema.ts";

/** What is read of a parser's token. */
export interface MarkdownToken {
  type: string;
  raw?: string;
  text?: string;
  href?: string;
  depth?: number;
  ordered?: boolean;
  start?: number | "";
  lang?: string;
  align?: string | null;
  tokens?: readonly MarkdownToken[];
  items?: readonly MarkdownToken[];
  header?: readonly MarkdownToken[];
  rows?: readonly (readonly MarkdownToken[])[];
}

const ENTITIES = new Map([
  ["lt", "<"],
  ["gt", ">"],
  ["quot", '"'],
  ["#39", "'"],
  ["amp", "&"],
  ["nbsp", " "],
]);
const decode = (value: string): string => value.replace(/&(lt|gt|quot|#39|amp|nbsp);/g, (_, name: string) => ENTITIES.get(name) ?? "");

/** Reads tokens as one text; `origin` tells addresses of this site from others, `onDropped` hears of links that lead nowhere. */
class MarkdownReader {
  constructor(
    private readonly origin: string,
    private readonly onDropped: (what: "link" | "picture") => void,
  ) {}

  private text(value: string, marks: readonly Mark[]): BodyNode[] {
    if (value === "") return [];
    // Code keeps no other mark in the editor.
    const kept = marks.some((mark) => mark.type === "code") ? marks.filter((mark) => mark.type === "code") : marks;
    return [{ type: "text", text: value, ...(kept.length > 0 ? { marks: [...kept] } : {}) }];
  }

  private linkMark(href: string): Mark[] {
    const target = href.startsWith("page:") ? { page: href.slice("page:".length) } : readAddress(href, this.origin);
    if (!target) this.onDropped("link");
    return target ? [{ type: "link", attrs: target }] : [];
  }

  inline(tokens: readonly MarkdownToken[] | undefined, marks: readonly Mark[] = []): BodyNode[] {
    return (tokens ?? []).flatMap((token): BodyNode[] => {
      switch (token.type) {
        case "strong":
          return this.inline(token.tokens, [...marks, { type: "bold" }]);
        case "em":
          return this.inline(token.tokens, [...marks, { type: "italic" }]);
        case "del":
          return this.inline(token.tokens, [...marks, { type: "strike" }]);
        case "codespan":
          return this.text(decode(token.text ?? ""), [...marks, { type: "code" }]);
        case "link":
          return this.inline(token.tokens, [...marks.filter((mark) => mark.type !== "link"), ...this.linkMark(token.href ?? "")]);
        case "image":
          this.onDropped("picture");
          return this.text(decode(token.text ?? ""), marks);
        case "br":
          return [{ type: "hardBreak" }];
        case "checkbox":
          return [];
        default:
          return token.tokens
            ? this.inline(token.tokens, marks)
            : this.text(decode(String((token.type === "escape" ? token.text : token.raw) ?? "")), marks);
      }
    });
  }

  private paragraph(tokens: readonly MarkdownToken[] | undefined): BodyNode {
    const content = this.inline(tokens);
    return content.length > 0 ? { type: "paragraph", content } : { type: "paragraph" };
  }

  private row(cells: readonly MarkdownToken[], type: "tableHeader" | "tableCell"): BodyNode {
    const align = NODES.get(type)?.attrs.align;
    return {
      type: "tableRow",
      content: cells.map((cell) => {
        const side = align?.read(cell.align ?? null) ?? null;
        return { type, ...(side === null ? {} : { attrs: { align: side } }), content: [this.paragraph(cell.tokens)] };
      }),
    };
  }

  /** What a container holds: never nothing, and where it must, a paragraph first. */
  private inside(tokens: readonly MarkdownToken[] | undefined, first: boolean): BodyNode[] {
    const blocks = (tokens ?? []).flatMap((token) => this.block(token));
    return blocks.length === 0 || (first && blocks[0]?.type !== "paragraph") ? [{ type: "paragraph" }, ...blocks] : blocks;
  }

  private list(token: MarkdownToken): BodyNode[] {
    const content = (token.items ?? []).map((item): BodyNode => ({ type: "listItem", content: this.inside(item.tokens, true) }));
    if (content.length === 0) return [];
    if (!token.ordered) return [{ type: "bulletList", content }];
    const start = NODES.get("orderedList")?.attrs.start?.read(String(token.start ?? 1)) ?? 1;
    return [{ type: "orderedList", ...(start === 1 ? {} : { attrs: { start } }), content }];
  }

  block(token: MarkdownToken): BodyNode[] {
    switch (token.type) {
      case "heading":
        return [
          { type: "heading", attrs: { level: Math.min(4, Math.max(1, (token.depth ?? 2) - 1)) }, content: this.inline(token.tokens) },
        ];
      case "paragraph":
      case "text":
        return [this.paragraph(token.tokens ?? [token])];
      case "list":
        return this.list(token);
      case "blockquote":
        return [{ type: "blockquote", content: this.inside(token.tokens, false) }];
      case "code":
        return [
          {
            type: "codeBlock",
            attrs: { language: NODES.get("codeBlock")?.attrs.language?.read(token.lang ?? null) ?? null },
            content: this.text(token.text ?? "", []),
          },
        ];
      case "table":
        return [
          {
            type: "table",
            content: [this.row(token.header ?? [], "tableHeader"), ...(token.rows ?? []).map((cells) => this.row(cells, "tableCell"))],
          },
        ];
      case "hr":
        return [{ type: "horizontalRule" }];
      case "space":
      case "def":
      case "checkbox":
        return [];
      default: {
        const content = this.text(decode(String(token.raw ?? "").trim()), []);
        return content.length > 0 ? [{ type: "paragraph", content }] : [];
      }
    }
  }
}

/** The blocks of a Markdown text. `origin` is the address of this site, empty where it does not matter. */
export function blocksOfMarkdown(
  tokens: readonly MarkdownToken[],
  origin = "",
  onDropped: (what: "link" | "picture") => void = () => {},
): BodyNode[] {
  const reader = new MarkdownReader(origin, onDropped);
  return tokens.flatMap((token) => reader.block(token));
}

const SIGNS = [
  /^#{1,6}\s+\S/m,
  /^\s*[-*+]\s+\S.*\n\s*[-*+]\s+\S/m,
  /^\s*\d+[.)]\s+\S.*\n\s*\d+[.)]\s+\S/m,
  /^\|?.+\|.+\n\s*\|?\s*:?-{2,}/m,
  /^```/m,
  /^>\s+\S/m,
];
const SMALL_SIGNS = [/\*\*[^\s*][^*\n]*\*\*/, /\[[^\]\n]+\]\([^)\s]+\)/, /`[^`\n]+`/];

/** Whether a plain text reads as Markdown: it has a heading, list, table, code or quotation, or marks within a line. */
export const looksLikeMarkdown = (text: string): boolean => [...SIGNS, ...SMALL_SIGNS].some((sign) => sign.test(text));
