/** Markdown into a page body, every block with an id of its own. */
import { marked } from "marked";
import { blocksOfMarkdown, type MarkdownToken, type PageBody } from "../../core/content/index.ts";

export function bodyOfMarkdown(markdown: string): PageBody {
  const content = blocksOfMarkdown([...marked.lexer(markdown)] as MarkdownToken[]);
  content.forEach((node, i) => {
    node.attrs = { ...node.attrs, id: `m${i + 1}` };
  });
  return { schema: 1, content };
}
