/**
 * The body of a page (lifecycle.md, "Writing"): structured JSON with a schema version and stable block ids. Links keep
 * page ids, never titles. This file says what a sound body is; `html.ts` turns one into HTML, `text.ts` into words.
 */

export interface Mark {
  type: "bold" | "italic" | "strike" | "code" | "link";
  attrs?: { href?: string; page?: string };
}

export interface BodyNode {
  type: string;
  attrs?: Record<string, string | number | boolean | null>;
  content?: BodyNode[];
  text?: string;
  marks?: Mark[];
}

export interface PageBody {
  schema: 1;
  content: BodyNode[];
}

export const BODY_LIMITS = { nodes: 20_000, depth: 24, text: 1_000_000 } as const;

/** Node types, with the attributes each may carry. `id` is the stable id of a block. */
const NODES = new Map<string, readonly string[]>(
  Object.entries({
    paragraph: ["id"],
    heading: ["id", "level"],
    bulletList: ["id"],
    orderedList: ["id", "start", "type"],
    listItem: ["id"],
    blockquote: ["id"],
    codeBlock: ["id", "language"],
    callout: ["id", "tone"],
    horizontalRule: ["id"],
    table: ["id"],
    tableRow: ["id"],
    tableHeader: ["id", "colspan", "rowspan", "colwidth"],
    tableCell: ["id", "colspan", "rowspan", "colwidth"],
    hardBreak: [],
    text: [],
  }),
);
const MARKS = new Set(["bold", "italic", "strike", "code", "link"]);

/** Addresses a link may lead to: the web, mail, telephone, or a place on this site. */
export const isSafeHref = (href: string): boolean => /^(https?:\/\/|mailto:|tel:|\/(?!\/)|#)/i.test(href);

class BodyChecker {
  readonly errors: string[] = [];
  nodes = 0;
  text = 0;

  node(value: unknown, path: string, depth: number): void {
    if (this.errors.length > 20) return;
    const node = value as BodyNode;
    if (typeof node !== "object" || node === null || typeof node.type !== "string") return void this.errors.push(`${path} is not a node`);
    const allowed = NODES.get(node.type);
    if (!allowed) return void this.errors.push(`${path} is of an unknown type "${node.type}"`);
    this.nodes++;
    if (depth > BODY_LIMITS.depth) return void this.errors.push(`${path} is nested deeper than ${BODY_LIMITS.depth}`);
    for (const key of Object.keys(node.attrs ?? {})) if (!allowed.includes(key)) this.errors.push(`${path}.attrs.${key} is unknown`);
    if (node.type === "text") this.leaf(node, path);
    for (const [i, child] of (Array.isArray(node.content) ? node.content : []).entries())
      this.node(child, `${path}.content[${i}]`, depth + 1);
  }

  private leaf(node: BodyNode, path: string): void {
    if (typeof node.text !== "string" || node.text === "") this.errors.push(`${path} is a text without words`);
    else this.text += node.text.length;
    for (const mark of node.marks ?? []) {
      if (!MARKS.has(mark.type)) this.errors.push(`${path} has an unknown mark "${mark.type}"`);
      else if (mark.type === "link" && !mark.attrs?.page && !isSafeHref(mark.attrs?.href ?? "")) {
        this.errors.push(`${path} has a link to an address that is not allowed`);
      }
    }
  }
}

/** What is wrong with a body, in sentences; empty for a sound one. */
export function checkBody(value: unknown): string[] {
  const body = value as PageBody;
  if (typeof body !== "object" || body === null || body.schema !== 1 || !Array.isArray(body.content)) {
    return ["the body is not of schema 1: {schema: 1, content: [...]}"];
  }
  const checker = new BodyChecker();
  for (const [i, node] of body.content.entries()) checker.node(node, `content[${i}]`, 1);
  if (checker.nodes > BODY_LIMITS.nodes) checker.errors.push(`the body has more than ${BODY_LIMITS.nodes} blocks`);
  if (checker.text > BODY_LIMITS.text) checker.errors.push(`the body has more than ${BODY_LIMITS.text} characters`);
  return checker.errors;
}

/** Ids of the pages a body links to, each once. */
export function pagesLinkedFrom(body: PageBody): string[] {
  const found = new Set<string>();
  const walk = (node: BodyNode) => {
    for (const mark of node.marks ?? []) if (mark.type === "link" && mark.attrs?.page) found.add(mark.attrs.page);
    node.content?.forEach(walk);
  };
  body.content.forEach(walk);
  return [...found];
}

/** The words of a body, blocks on lines of their own. */
export function bodyText(body: PageBody): string {
  const words = (node: BodyNode): string =>
    node.text ?? (node.content ?? []).map(words).join(node.content?.[0]?.type === "text" ? "" : "\n");
  return body.content.map(words).join("\n");
}

export const emptyBody = (): PageBody => ({ schema: 1, content: [{ type: "paragraph" }] });
