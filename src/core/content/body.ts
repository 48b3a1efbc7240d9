/**
 * The body of a page (lifecycle.md, "Writing"): structured JSON with a schema version and stable block ids. Links keep
 * page ids, never titles. `schema.ts` says what it may hold; here one is checked and read; `html.ts` makes HTML of it.
 */
import { type AttributeValue, MARKS, NODES, type NodeRule, TOP } from "./schema.ts";

export interface Mark {
  type: "bold" | "italic" | "strike" | "code" | "link";
  attrs?: { href?: string | null; page?: string | null };
}

export interface BodyNode {
  type: string;
  attrs?: Record<string, AttributeValue>;
  content?: BodyNode[];
  text?: string;
  marks?: Mark[];
}

export interface PageBody {
  schema: 1;
  content: BodyNode[];
}

/** What is wrong with a body: where, in a path and in words, and what. */
export interface BodyError {
  /** As in `content[3].content[0]`; empty for the body as a whole. */
  path: string;
  /** Number of the top block it is in, from 0; null for the body as a whole. */
  block: number | null;
  /** Begins with a small letter and reads on from "The 4th block …" or "The text …". */
  message: string;
}

export const BODY_LIMITS = { nodes: 20_000, depth: 24, text: 1_000_000 } as const;

const MOST_ERRORS = 20;
const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null && !Array.isArray(value);

class BodyChecker {
  readonly errors: BodyError[] = [];
  nodes = 0;
  text = 0;
  private block = 0;

  top(content: unknown[]): void {
    for (const [i, node] of content.entries()) {
      this.block = i;
      if (this.errors.length >= MOST_ERRORS) return;
      this.node(node, `content[${i}]`, 1, TOP, "");
    }
  }

  private wrong(path: string, message: string): void {
    if (this.errors.length < MOST_ERRORS) this.errors.push({ path, block: this.block, message });
  }

  private node(value: unknown, path: string, depth: number, above: NodeRule, first: string): void {
    const rule = isRecord(value) ? NODES.get(String(value.type)) : undefined;
    if (!isRecord(value) || typeof value.type !== "string") this.wrong(path, "holds something that is not a node");
    else if (!rule) this.wrong(path, `is of an unknown type "${value.type}"`);
    else if (depth > BODY_LIMITS.depth) this.wrong(path, `is nested deeper than ${BODY_LIMITS.depth}`);
    else this.known(value, value.type, rule, path, depth, { above, first });
  }

  private known(
    value: Record<string, unknown>,
    type: string,
    rule: NodeRule,
    path: string,
    depth: number,
    { above, first }: { above: NodeRule; first: string },
  ): void {
    const { type: _, attrs = {}, content = [], text, marks, ...unknown } = value;
    this.nodes++;
    for (const key of Object.keys(unknown)) this.wrong(path, `has an unknown field "${key}"`);
    if (!above.holds.includes(type) || (first !== "" && type !== first)) this.wrong(path, `holds a ${type} where none may stand`);
    this.attributes(attrs, rule, path);
    if (marks !== undefined) this.marks(marks, above, path);
    if (type === "text") this.leaf(text, path);
    else if (text !== undefined) this.wrong(path, "has words outside a text");
    if (!Array.isArray(content)) this.wrong(`${path}.content`, "holds something that is not a list");
    else {
      if (rule.filled && content.length === 0) this.wrong(path, `holds an empty ${type}`);
      for (const [i, child] of content.entries())
        this.node(child, `${path}.content[${i}]`, depth + 1, rule, i === 0 ? (rule.first ?? "") : "");
    }
  }

  private attributes(attrs: unknown, rule: NodeRule, path: string): void {
    if (!isRecord(attrs)) this.wrong(`${path}.attrs`, "has attributes that are none");
    for (const [key, value] of Object.entries(isRecord(attrs) ? attrs : {})) {
      const known = Object.hasOwn(rule.attrs, key) ? rule.attrs[key] : undefined;
      if (!known) this.wrong(`${path}.attrs.${key}`, `has an unknown attribute "${key}"`);
      else if (!known.sound(value)) this.wrong(`${path}.attrs.${key}`, `has an attribute "${key}" that is not as it should be`);
    }
  }

  private leaf(text: unknown, path: string): void {
    if (typeof text !== "string" || text === "") this.wrong(path, "holds a text without words");
    else this.text += text.length;
  }

  private marks(marks: unknown, above: NodeRule, path: string): void {
    if (!Array.isArray(marks)) this.wrong(`${path}.marks`, "has marks that are none");
    else if (above.plain && marks.length > 0) this.wrong(`${path}.marks`, "has marks where words are plain");
    for (const [i, mark] of (Array.isArray(marks) ? marks : []).entries()) {
      const { type, attrs, ...unknown } = isRecord(mark) ? mark : { type: undefined, attrs: undefined };
      const check = typeof type === "string" ? MARKS.get(type) : undefined;
      const unsound = Object.keys(unknown).length > 0 || (attrs !== undefined && attrs !== null && !isRecord(attrs));
      const problem = !check
        ? `has an unknown mark "${String(type)}"`
        : unsound
          ? "has a mark that is not as it should be"
          : check(isRecord(attrs) ? attrs : {});
      if (problem) this.wrong(`${path}.marks[${i}]`, problem);
    }
  }
}

/** What is wrong with a body, at most the first 20 things; empty for a sound one. */
export function checkBody(value: unknown): BodyError[] {
  const whole = (message: string): BodyError => ({ path: "", block: null, message });
  if (!isRecord(value) || value.schema !== 1 || !Array.isArray(value.content))
    return [whole("is not of schema 1: {schema: 1, content: [...]}")];
  const checker = new BodyChecker();
  checker.top(value.content);
  return [...checker.errors, ...overLimits(checker).map(whole)];
}

export interface BodySize {
  nodes: number;
  /** Characters of its words. */
  text: number;
  /** How deep the deepest node is nested, from 1. */
  depth: number;
}

/** How large a text is, to be held to `BODY_LIMITS`: of a sound body, or of the same nodes as an editor holds them. `below`: what a node holds. */
export function sizeOfNodes<N extends { readonly text?: string | undefined }>(
  top: readonly N[],
  below: (node: N) => readonly N[] | undefined,
): BodySize {
  const size = { nodes: 0, text: 0, depth: 0 };
  const walk = (nodes: readonly N[], depth: number) => {
    for (const node of nodes) {
      size.nodes++;
      size.text += node.text?.length ?? 0;
      size.depth = Math.max(size.depth, depth);
      walk(below(node) ?? [], depth + 1);
    }
  };
  walk(top, 1);
  return size;
}

const number = (value: number): string => value.toLocaleString("en-GB");

/** What of a body goes beyond a limit, as sentences that read on from "The text …". */
export function overLimits({ nodes, text }: { nodes: number; text: number }): string[] {
  return [
    ...(nodes > BODY_LIMITS.nodes
      ? [`has ${number(nodes)} blocks and texts; at most ${number(BODY_LIMITS.nodes)} are kept on one page`]
      : []),
    ...(text > BODY_LIMITS.text ? [`has ${number(text)} characters; at most ${number(BODY_LIMITS.text)} are kept on one page`] : []),
  ];
}

const ORDINALS = new Intl.PluralRules("en", { type: "ordinal" });
const ENDINGS: Record<string, string> = { one: "st", two: "nd", few: "rd", other: "th" };
const MOST_WORDS = 40;

/** An error as a sentence that names the block by its number and its first words. */
export function bodyErrorSentence(error: BodyError, body: PageBody): string {
  if (error.block === null) return `The text ${error.message}.`;
  const nth = error.block + 1;
  const node = body.content[error.block];
  const words = isRecord(node)
    ? nodeText(node as BodyNode)
        .trim()
        .replace(/\s+/g, " ")
    : "";
  const near = words === "" ? "" : ` (“${words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS)}…` : words}”)`;
  return `The ${nth}${ENDINGS[ORDINALS.select(nth)]} block${near} ${error.message}.`;
}

/** A link to a page, and the block of the body it stands in: the id of the outermost one, empty where that has none. */
export interface PageLink {
  page: string;
  block: string;
}

/** The links of a body to pages, each once for a block. */
export function linksOf(body: PageBody): PageLink[] {
  const found = new Map<string, PageLink>();
  for (const outermost of body.content) {
    const block = typeof outermost.attrs?.id === "string" ? outermost.attrs.id : "";
    const walk = (node: BodyNode) => {
      for (const { type, attrs } of node.marks ?? [])
        if (type === "link" && attrs?.page) found.set(`${block} ${attrs.page}`, { page: attrs.page, block });
      node.content?.forEach(walk);
    };
    walk(outermost);
  }
  return [...found.values()];
}

/** Ids of the pages a body links to, each once. */
export const pagesLinkedFrom = (body: PageBody): string[] => [...new Set(linksOf(body).map(({ page }) => page))];

/** The words of a body, blocks on lines of their own. */
export const bodyText = (body: PageBody): string => body.content.map(nodeText).join("\n");

function nodeText(node: BodyNode): string {
  if (typeof node.text === "string") return node.text;
  const content = Array.isArray(node.content) ? node.content : [];
  return content.map(nodeText).join(content[0]?.type === "text" ? "" : "\n");
}

export const emptyBody = (): PageBody => ({ schema: 1, content: [{ type: "paragraph" }] });
