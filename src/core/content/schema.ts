/**
 * What a page body may hold (lifecycle.md, "Writing"): the one table of nodes, marks and attributes. The server's check
 * (`body.ts`) goes by it, the editor's schema is made with it (`islands/writing/extensions.ts`), and a test holds the two
 * together on random documents.
 */

export type AttributeValue = string | number | boolean | number[] | null;

/** What one attribute may be. */
export interface AttributeRule {
  /** Whether a value may be kept. */
  sound(value: unknown): boolean;
  /** The value a text from outside (an attribute of HTML) becomes; the default where it makes no sense. */
  read(text: string | null): AttributeValue;
}

const integer = (least: number, most: number, otherwise: number): AttributeRule => ({
  sound: (value) => typeof value === "number" && Number.isInteger(value) && value >= least && value <= most,
  read: (text) => {
    const value = Number.parseInt(text ?? "", 10);
    return Number.isInteger(value) && value >= least && value <= most ? value : otherwise;
  },
});

const oneOf = (values: readonly string[], otherwise: string | null): AttributeRule => ({
  sound: (value) => (value === null ? otherwise === null : values.includes(value as string)),
  read: (text) => (text !== null && values.includes(text) ? text : otherwise),
});

const textLike = (pattern: RegExp): AttributeRule => ({
  sound: (value) => value === null || (typeof value === "string" && pattern.test(value)),
  read: (text) => (text !== null && pattern.test(text) ? text : null),
});

const widths: AttributeRule = {
  sound: (value) =>
    value === null || (Array.isArray(value) && value.length <= 100 && value.every((it) => Number.isInteger(it) && it >= 0 && it <= 10_000)),
  read: () => null,
};

/** The stable id of a block. */
const id = textLike(/^[\w-]{1,64}$/);

const cell = {
  id,
  colspan: integer(1, 100, 1),
  rowspan: integer(1, 1000, 1),
  colwidth: widths,
  align: oneOf(["left", "center", "right"], null),
};

const BLOCKS = [
  "paragraph",
  "heading",
  "bulletList",
  "orderedList",
  "blockquote",
  "codeBlock",
  "callout",
  "horizontalRule",
  "table",
] as const;

export interface NodeRule {
  attrs: Readonly<Record<string, AttributeRule>>;
  /** Types of what it holds. */
  holds: readonly string[];
  /** Whether it must hold something. */
  filled?: boolean;
  /** Type its first part must have. */
  first?: string;
  /** Whether the words in it carry no marks. */
  plain?: boolean;
}

const INLINE = ["text", "hardBreak"] as const;

// A Map, not an object: a type named like something every object has must find nothing.
export const NODES: ReadonlyMap<string, NodeRule> = new Map<string, NodeRule>(
  Object.entries<NodeRule>({
    paragraph: { attrs: { id }, holds: INLINE },
    heading: { attrs: { id, level: integer(1, 4, 4) }, holds: INLINE },
    bulletList: { attrs: { id }, holds: ["listItem"], filled: true },
    orderedList: {
      attrs: { id, start: integer(0, 1_000_000, 1), type: oneOf(["1", "a", "A", "i", "I"], null) },
      holds: ["listItem"],
      filled: true,
    },
    listItem: { attrs: { id }, holds: BLOCKS, filled: true, first: "paragraph" },
    blockquote: { attrs: { id }, holds: BLOCKS, filled: true },
    codeBlock: { attrs: { id, language: textLike(/^[\w+#.-]{1,40}$/) }, holds: ["text"], plain: true },
    callout: { attrs: { id, tone: oneOf(["note", "warning"], "note") }, holds: ["paragraph"], filled: true },
    horizontalRule: { attrs: { id }, holds: [] },
    table: { attrs: { id }, holds: ["tableRow"], filled: true },
    tableRow: { attrs: { id }, holds: ["tableCell", "tableHeader"] },
    tableHeader: { attrs: cell, holds: BLOCKS, filled: true },
    tableCell: { attrs: cell, holds: BLOCKS, filled: true },
    hardBreak: { attrs: {}, holds: [] },
    text: { attrs: {}, holds: [] },
  }),
);

/** What stands at the top of a body. */
export const TOP: NodeRule = { attrs: {}, holds: BLOCKS };

const LONGEST_ADDRESS = 2_000;

/** Addresses a link may lead to: the web, mail, telephone, or a place on this site. */
export const isSafeHref = (href: string): boolean =>
  href.length <= LONGEST_ADDRESS && /^(https?:\/\/|mailto:|tel:|\/(?![/\\])|#)/i.test(href);

const PAGE_ID = /^[\w-]{1,64}$/;

/** Marks, and what is wrong with their attributes, if anything. */
export const MARKS: ReadonlyMap<string, (attrs: Record<string, unknown>) => string> = new Map([
  ...["bold", "italic", "strike", "code"].map((name): [string, () => string] => [name, () => ""]),
  [
    "link",
    ({ page, href, ...others }: Record<string, unknown>) => {
      if (Object.keys(others).length > 0) return `has a link with something unknown ("${Object.keys(others)[0]}")`;
      if (page !== undefined && page !== null)
        return typeof page === "string" && PAGE_ID.test(page) ? "" : "has a link to something that is no page";
      return typeof href === "string" && isSafeHref(href) ? "" : "has a link to an address that is not allowed";
    },
  ],
]);

/** The id at the end of a reader page's address; ids hold no hyphen. */
export const idInAddress = (segment: string): string => segment.slice(segment.lastIndexOf("-") + 1);

const OWN_PAGE = /^(?:\/eyes\/[\w:+-]+)?\/(?:read\/[^/?#]+\/([^/?#]+)|write\/([\w]+))\/?(?:[?#].*)?$/;

/** Where an address found in a pasted text leads: to a page of this site, elsewhere, or nowhere a link may lead. */
export function readAddress(address: string, origin: string): { page: string } | { href: string } | null {
  const href = address.trim();
  const own = href.startsWith(`${origin}/`) ? href.slice(origin.length) : href;
  const [, read, written] = OWN_PAGE.exec(own) ?? [];
  const page = read === undefined ? written : idInAddress(decodeSafely(read));
  if (page !== undefined && page !== "new" && PAGE_ID.test(page)) return { page };
  return isSafeHref(own) ? { href: own } : null;
}

function decodeSafely(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
