/** Markdown of any shape becomes a body that is kept as it is: sound, with every word, and nothing that leads nowhere. */
import fc from "fast-check";
import { marked } from "marked";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { BODY_LIMITS, type BodyNode, bodyErrorSentence, bodyText, checkBody, type PageBody } from "./body.ts";
import { bodyHtml } from "./html.ts";
import { blocksOfMarkdown, looksLikeMarkdown, type MarkdownToken } from "./markdown.ts";

const read = (text: string, onDropped?: (what: "link" | "picture") => void): PageBody => ({
  schema: 1,
  content: blocksOfMarkdown([...marked.lexer(text)] as MarkdownToken[], "https://here.invalid", onDropped),
});

const word = fc.constantFrom(
  "tide",
  "quay 3",
  "a & b",
  "&lt;b&gt;",
  "**bold**",
  "*thin*",
  "~~gone~~",
  "`code`",
  "[to](page:tides)",
  "[out](https://a.invalid/)",
  "[bad](javascript:x)",
  "![map](map.png)",
  "a  \nb",
  "\\*",
  "<b>raw</b>",
  "",
);
const line = fc.array(word, { maxLength: 5 }).map((list) => list.join(" "));
const block = fc.oneof(
  line,
  fc.tuple(fc.integer({ min: 1, max: 6 }), line).map(([depth, text]) => `${"#".repeat(depth)} ${text}`),
  fc.array(line, { minLength: 1, maxLength: 4 }).map((list) => list.map((text) => `- ${text}`).join("\n")),
  fc
    .tuple(fc.integer({ min: 0, max: 99 }), fc.array(line, { minLength: 1, maxLength: 3 }))
    .map(([start, list]) => list.map((text, i) => `${start + i}. ${text}`).join("\n")),
  fc.array(line, { minLength: 1, maxLength: 3 }).map((list) => list.map((text) => `> ${text}`).join("\n")),
  line.map((text) => `\`\`\`sh\n${text}\n\`\`\``),
  fc.constantFrom(
    "| a | b |\n|:--|--:|\n| 1 | **2** |\n| 3 |",
    "---",
    "- [ ] open\n- [x] done",
    "> - a\n>   1. b\n> ```\n> c\n> ```",
    "<div>raw</div>",
    "[ref]: https://a.invalid/",
  ),
);

describe("Markdown", () => {
  it("is read into a sound body, and its HTML holds no tag of its own", () => {
    holds(
      fc.property(fc.array(block, { maxLength: 6 }), (blocks) => {
        const body = read(blocks.join("\n\n"));
        expect(checkBody(body).map((it) => bodyErrorSentence(it, body))).toEqual([]);
        const html = bodyHtml(body, (id) => `/read/x/${id}`);
        expect(html).not.toMatch(/<(b|div|img|script)[ >](?!class="table")/);
        expect(html).not.toContain(`href="javascript:`);
      }),
      { runs: 600 },
    );
  });

  it("keeps headings one below the title, lists as they count, tables with their sides, code as it stands", () => {
    const text =
      "# Tides\n\n5. five\n6. six\n\n| a | b |\n|:-:|--:|\n| 1 | 2 |\n\n```sql\nselect '*x*'\n```\n\n> said\n\n---\n\n![map](m.png) [out](ftp://x)";
    const dropped: string[] = [];
    const body = read(text, (what) => dropped.push(what));
    expect(dropped).toEqual(["picture", "link"]);
    expect(bodyText(body).split("\n").filter(Boolean)).toEqual([
      "Tides",
      "five",
      "six",
      "a",
      "b",
      "1",
      "2",
      "select '*x*'",
      "said",
      "map out",
    ]);
    const html = bodyHtml(body, () => null);
    expect(html).toContain('<h2 dir="auto">Tides</h2>');
    expect(html).toContain('<ol start="5"');
    expect(html).toContain('<th data-align="center"');
    expect(html).toContain('<td data-align="right"');
    expect(html).toContain("<hr>");
  });

  it("is told from plain text by its signs", () => {
    for (const yes of ["# Head", "- a\n- b", "1. a\n2. b", "a | b\n--|--", "```\nx\n```", "> said", "so **bold** it is", "[a](b)", "`x`"])
      expect([yes, looksLikeMarkdown(yes)]).toEqual([yes, true]);
    for (const no of ["", "Plain words.", "5 * 3 * 2", "a - b - c", "#tag", "1. January", "https://a.invalid/x_y_z"])
      expect([no, looksLikeMarkdown(no)]).toEqual([no, false]);
  });
});

describe("the HTML of single blocks", () => {
  const text = (value: string): BodyNode => ({ type: "text", text: value });
  const html = (node: BodyNode) => bodyHtml({ schema: 1, content: [node] }, () => null);
  it.each<[BodyNode, string]>([
    [
      { type: "callout", attrs: { tone: "warning", id: "c" }, content: [text("x")] },
      '<aside class="callout" data-tone="warning" id="b-c" dir="auto">x</aside>',
    ],
    [{ type: "callout", attrs: { tone: "loud" }, content: [] }, '<aside class="callout" data-tone="note" dir="auto"></aside>'],
    [{ type: "heading", attrs: { level: 99 }, content: [text("x")] }, '<h5 dir="auto">x</h5>'],
    [{ type: "heading", attrs: { level: "no" as never }, content: [] }, '<h2 dir="auto"></h2>'],
    [{ type: "orderedList", attrs: { start: -4, type: "i" }, content: [] }, '<ol start="0" type="i" dir="auto"></ol>'],
    [{ type: "orderedList", attrs: { type: '"><x' }, content: [] }, '<ol start="0" dir="auto"></ol>'],
    [
      { type: "tableCell", attrs: { colspan: 2, rowspan: 1e9, align: "left" }, content: [] },
      '<td colspan="2" rowspan="1000" dir="auto"></td>',
    ],
    [{ type: "hardBreak" }, "<br>"],
    [{ type: "text" }, ""],
    [{ type: "text", text: "x", marks: [{ type: "link", attrs: { href: "javascript:x" } }] }, "x"],
    [{ type: "text", text: "x", marks: [{ type: "link" }] }, "x"],
    [{ type: "text", text: "x", marks: [{ type: "italic" }, { type: "strike" }] }, "<s><em>x</em></s>"],
  ])("%j", (node, expected) => {
    expect(html(node)).toBe(expected);
  });
});

it("a body says what is wrong with it, wherever that stands, the first twenty things", () => {
  const told = (...content: unknown[]) => checkBody({ schema: 1, content }).map(({ path, message }) => `${path} ${message}`);
  const words = { type: "text", text: "x" };
  const cases: [unknown, string][] = [
    ["text", "holds something that is not a node"],
    [{ type: 7 }, "holds something that is not a node"],
    [{ type: "paragraph", also: 1 }, 'unknown field "also"'],
    [{ type: "paragraph", attrs: [] }, "attributes that are none"],
    [{ type: "paragraph", content: {} }, "not a list"],
    [{ type: "paragraph", text: "x" }, "words outside a text"],
    [{ type: "bulletList", content: [] }, "holds an empty bulletList"],
    [{ type: "bulletList", content: [{ type: "listItem", content: [{ type: "bulletList", content: [] }] }] }, "where none may stand"],
    [{ type: "codeBlock", content: [{ ...words, marks: [{ type: "bold" }] }] }, "marks where words are plain"],
    [{ type: "paragraph", content: [{ ...words, marks: [7] }] }, 'unknown mark "undefined"'],
    [{ type: "paragraph", content: [{ ...words, marks: [{ type: "bold", also: 1 }] }] }, "a mark that is not as it should be"],
    [{ type: "paragraph", content: [{ ...words, marks: [{ type: "link", attrs: "x" }] }] }, "a mark that is not as it should be"],
    [{ type: "heading", attrs: { level: 9, id: "x y" } }, 'an attribute "level"'],
  ];
  for (const [node, says] of cases) expect(told(node).join("; ")).toContain(says);
  expect(told(...Array.from({ length: 40 }, () => ({ type: "script" })))).toHaveLength(20);
  const many = Array.from({ length: BODY_LIMITS.nodes + 1 }, () => ({ type: "paragraph" }));
  expect(
    checkBody({ schema: 1, content: many })
      .map((it) => bodyErrorSentence(it, { schema: 1, content: [] }))
      .join(),
  ).toContain("at most");
  for (const nth of [1, 2, 3, 4, 11, 21, 22]) {
    const [error] = checkBody({
      schema: 1,
      content: [...Array.from({ length: nth - 1 }, () => ({ type: "paragraph" })), { type: "script" }],
    });
    const ending = { 1: "st", 2: "nd", 3: "rd", 21: "st", 22: "nd" }[nth] ?? "th";
    expect(error && bodyErrorSentence(error, { schema: 1, content: [] })).toMatch(new RegExp(`^The ${nth}${ending} block `));
  }
});
