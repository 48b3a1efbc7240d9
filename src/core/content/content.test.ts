/** Page bodies: what is sound, and that their HTML can never carry anything but the words. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { BODY_LIMITS, type BodyNode, bodyErrorSentence, bodyText, checkBody, type PageBody, pagesLinkedFrom } from "./body.ts";
import { bodyHtml } from "./html.ts";
import { isSafeHref } from "./schema.ts";

const body = (...content: BodyNode[]) => ({ schema: 1 as const, content });
const words = (text: string, ...marks: BodyNode["marks"] & object): BodyNode => ({ type: "text", text, marks });

/** Bodies of any shape, with hostile texts and attributes in every place. */
const hostile = fc.constantFrom(
  "<script>alert(1)</script>",
  '"><img src=x onerror=alert(1)>',
  "javascript:alert(1)",
  "</p><iframe>",
  "a & b",
  "&lt;b&gt;",
);
const mark = fc.oneof(
  fc.constantFrom({ type: "bold" as const }, { type: "code" as const }),
  fc.record({ type: fc.constant("link" as const), attrs: fc.oneof(fc.record({ href: hostile }), fc.record({ page: hostile })) }),
);
const leaf = fc.record({ type: fc.constant("text"), text: hostile, marks: fc.array(mark, { maxLength: 3 }) });
const types = [
  "paragraph",
  "heading",
  "bulletList",
  "listItem",
  "blockquote",
  "codeBlock",
  "callout",
  "table",
  "tableRow",
  "tableCell",
  "script",
  "constructor",
];
const anyNode = fc.letrec<{ node: BodyNode }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    leaf as fc.Arbitrary<BodyNode>,
    fc.record({
      type: fc.constantFrom(...types),
      attrs: fc.record({ id: hostile, level: fc.nat(99), colspan: fc.nat(), tone: hostile as fc.Arbitrary<string> }),
      content: fc.array(tie("node"), { maxLength: 3 }),
    }) as fc.Arbitrary<BodyNode>,
  ),
})).node;

describe("the HTML of a body", () => {
  it("holds no tag, attribute or address that the texts brought along", () => {
    holds(
      fc.property(fc.array(anyNode, { maxLength: 4 }), (content) => {
        const html = bodyHtml(body(...content), (id) => (id.length % 2 ? `/read/x/${id}` : null));
        const tags = [...html.matchAll(/<\/?([a-z0-9]+)/g)].map((match) => match[1]);
        const known = "p h2 h3 h4 h5 ul ol li blockquote pre code aside div table tbody tr th td strong em s a span br hr".split(" ");
        expect(tags.filter((tag) => !known.includes(tag ?? ""))).toEqual([]);
        const written = html.replace(/"[^"]*"/g, '""').match(/<[^>]*>/g) ?? [];
        expect(written.filter((tag) => /\son\w+=/.test(tag))).toEqual([]);
        for (const [, address] of html.matchAll(/href="([^"]*)"/g)) expect(isSafeHref(address ?? "")).toBe(true);
      }),
      { runs: 500 },
    );
  });

  it("leads to pages by id where the reader may go, and says so where they may not", () => {
    const it = body({
      type: "paragraph",
      content: [words("open", { type: "link", attrs: { page: "a" } }), words("shut", { type: "link", attrs: { page: "b" } })],
    });
    const html = bodyHtml(it, (id) => (id === "a" ? "/read/s/a" : null));
    expect(html).toContain('<a href="/read/s/a">open</a>');
    expect(html).toContain('class="closed-link"');
    expect(pagesLinkedFrom(it)).toEqual(["a", "b"]);
  });
});

describe("a sound body", () => {
  it("has known nodes, marks, attributes and addresses only, and stays within its limits", () => {
    const deep = (depth: number): BodyNode =>
      depth === 0 ? { type: "paragraph", content: [words("x")] } : { type: "blockquote", content: [deep(depth - 1)] };
    const cases: [unknown, string | null][] = [
      [body({ type: "paragraph", content: [words("x")] }), null],
      [body({ type: "paragraph", attrs: { id: "a1" } }), null],
      [null, "schema 1"],
      [{ schema: 2, content: [] }, "schema 1"],
      [body({ type: "script" }), 'unknown type "script"'],
      [body({ type: "paragraph", attrs: { onclick: "x" } }), 'unknown attribute "onclick"'],
      [body({ type: "paragraph", content: [words("x", { type: "blink" as "bold" })] }), 'unknown mark "blink"'],
      [body({ type: "paragraph", content: [words("x", { type: "link", attrs: { href: "javascript:alert(1)" } })] }), "not allowed"],
      [body({ type: "paragraph", content: [{ type: "text", text: "" }] }), "without words"],
      [body({ type: "table", content: [{ type: "paragraph" }] }), "where none may stand"],
      [
        body({ type: "paragraph", content: [words("Tide")] }, { type: "heading", attrs: { level: "2", id: "b" } }),
        "The 2nd block has an attribute",
      ],
      [
        body({ type: "paragraph", content: [{ type: "text", text: "Tide", marks: "bold" } as never] }),
        "The 1st block (“Tide”) has marks that are none",
      ],
      [body(deep(BODY_LIMITS.depth + 1)), "nested deeper"],
      [body({ type: "paragraph", content: [words("x".repeat(BODY_LIMITS.text + 1))] }), "characters"],
    ];
    for (const [value, problem] of cases)
      expect(
        checkBody(value)
          .map((it) => bodyErrorSentence(it, value as PageBody))
          .join(" "),
      ).toEqual(problem === null ? "" : expect.stringContaining(problem));
  });

  it("gives its words without its marks, a line for each block", () => {
    const it = body(
      { type: "heading", content: [words("Tides", { type: "bold" })] },
      { type: "paragraph", content: [words("High "), words("water")] },
    );
    expect(bodyText(it)).toBe("Tides\nHigh water");
  });
});
