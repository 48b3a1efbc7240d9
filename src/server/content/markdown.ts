/** Markdown into a page body. Links to pages are written `[text](page:ID)`. What a body cannot hold becomes plain text. */
import { marked, type Token, type Tokens } from "marked";
import { type BodyNode, isSafeHref, type Mark, type PageBody } from "../../core/content/body.ts";

const text = (value: string, marks: Mark[]): BodyNode[] =>
  value === "" ? [] : [{ type: "text", text: value, ...(marks.length > 0 ? { marks } : {}) }];

const decode = (value: string): string =>
  value.replaceAll("&lt;", "<").replaceAll("&gt;", ">").replaceAll("&quot;", '"').replaceAll("&#39;", "'").replaceAll("&amp;", "&");

function linkMark(href: string): Mark[] {
  if (href.startsWith("page:")) return [{ type: "link", attrs: { page: href.slice(5) } }];
  return isSafeHref(href) ? [{ type: "link", attrs: { href } }] : [];
}

function inline(tokens: Token[] | undefined, marks: Mark[] = []): BodyNode[] {
  return (tokens ?? []).flatMap((token): BodyNode[] => {
    switch (token.type) {
      case "strong":
        return inline(token.tokens, [...marks, { type: "bold" }]);
      case "em":
        return inline(token.tokens, [...marks, { type: "italic" }]);
      case "del":
        return inline(token.tokens, [...marks, { type: "strike" }]);
      case "codespan":
        return text(decode(token.text), [...marks, { type: "code" }]);
      case "link":
        return inline(token.tokens, [...marks, ...linkMark(token.href)]);
      case "br":
        return [{ type: "hardBreak" }];
      default:
        return "tokens" in token && token.tokens ? inline(token.tokens, marks) : text(decode(String(token.raw ?? "")), marks);
    }
  });
}

const paragraph = (tokens: Token[] | undefined): BodyNode => {
  const content = inline(tokens);
  return content.length > 0 ? { type: "paragraph", content } : { type: "paragraph" };
};

const row = (cells: Tokens.TableCell[], type: "tableHeader" | "tableCell"): BodyNode => ({
  type: "tableRow",
  content: cells.map((cell) => ({ type, content: [paragraph(cell.tokens)] })),
});

function block(token: Token): BodyNode[] {
  switch (token.type) {
    case "heading":
      return [{ type: "heading", attrs: { level: Math.min(4, Math.max(1, token.depth - 1)) }, content: inline(token.tokens) }];
    case "paragraph":
    case "text":
      return [paragraph("tokens" in token && token.tokens ? token.tokens : [token])];
    case "list":
      return [
        {
          type: token.ordered ? "orderedList" : "bulletList",
          content: (token as Tokens.List).items.map((item) => ({ type: "listItem", content: item.tokens.flatMap(block) })),
        },
      ];
    case "blockquote":
      return [{ type: "blockquote", content: (token.tokens ?? []).flatMap(block) }];
    case "code":
      return [{ type: "codeBlock", content: text(token.text, []) }];
    case "table":
      return [
        {
          type: "table",
          content: [row(token.header, "tableHeader"), ...(token as Tokens.Table).rows.map((cells) => row(cells, "tableCell"))],
        },
      ];
    case "hr":
      return [{ type: "horizontalRule" }];
    case "space":
      return [];
    default:
      return [{ type: "paragraph", content: text(String(token.raw).trim(), []) }];
  }
}

/** The body of a Markdown text, every block with an id of its own. */
export function bodyOfMarkdown(markdown: string): PageBody {
  const content = marked.lexer(markdown).flatMap(block);
  content.forEach((node, i) => {
    node.attrs = { ...node.attrs, id: `m${i + 1}` };
  });
  return { schema: 1, content };
}
