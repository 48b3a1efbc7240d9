/** Comparing texts: nothing is lost on either side, whatever was done to them; what moved is told from what changed. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { type BodyNode, bodyHtml, checkBody, type PageBody } from "../../core/content/index.ts";
import { signature } from "./align.ts";
import { compareBodies } from "./compare.ts";

let next = 0;
const text = (words: string): BodyNode[] => (words === "" ? [] : [{ type: "text", text: words }]);
const paragraph = (words: string, id = `b${next++}`): BodyNode => ({ type: "paragraph", attrs: { id }, content: text(words) });
const cell = (words: string): BodyNode => ({ type: "tableCell", content: [{ type: "paragraph", content: text(words) }] });
const table = (rows: string[][]): BodyNode => ({
  type: "table",
  content: rows.map((row) => ({ type: "tableRow", content: row.map(cell) })),
});
const body = (...content: BodyNode[]): PageBody => ({ schema: 1, content });
const html = (nodes: readonly (BodyNode | null)[]) => bodyHtml(body(...nodes.filter((it) => it !== null)), () => null);
const inline = (from: PageBody, to: PageBody) => html(compareBodies(from, to).rows.flatMap((row) => row.inline));

/** A node as it was, without what the comparison says of it. */
function plain(node: BodyNode): BodyNode {
  const { compared: _, ...attrs } = node.attrs ?? {};
  const marks = (node.marks ?? []).filter(({ type }) => !["gone", "new"].includes(type as string));
  const content: BodyNode[] = [];
  for (const child of (node.content ?? []).map(plain)) {
    const last = content.at(-1);
    if (last?.text !== undefined && child.text !== undefined && JSON.stringify(last.marks) === JSON.stringify(child.marks))
      content[content.length - 1] = { ...last, text: last.text + child.text };
    else content.push(child);
  }
  return { ...node, attrs, marks, content };
}

const words = fc.array(fc.constantFrom("berth", "tide", "crane", "—", "שלום", "9.1", "a"), { maxLength: 12 }).map((it) => it.join(" "));
const block = fc.oneof(
  { weight: 5, arbitrary: words.map((it) => paragraph(it)) },
  words.map((it): BodyNode => ({ type: "heading", attrs: { id: `b${next++}`, level: 2 }, content: text(it) })),
  fc.array(words, { minLength: 1, maxLength: 4 }).map(
    (items): BodyNode => ({
      type: "bulletList",
      content: items.map((it) => ({ type: "listItem", content: [{ type: "paragraph", content: text(it) }] })),
    }),
  ),
  fc
    .tuple(fc.integer({ min: 1, max: 3 }), fc.array(fc.array(words, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 3 }))
    .map(([width, rows]) => table(rows.map((row) => row.slice(0, width)))),
);
const blocks = fc.array(block, { maxLength: 14 });
/** A text and what somebody made of it: blocks left out, put in, moved, written anew. */
const edited = fc.tuple(blocks, blocks, fc.array(fc.nat(20), { maxLength: 20 }), words).map(([first, added, dice, typed]) => {
  const after = [...first];
  for (const [i, at] of dice.entries()) {
    const nth = after.length === 0 ? 0 : at % after.length;
    const it = after[nth];
    if (i % 4 === 0 && added[at]) after.splice(nth, 0, added[at]);
    else if (i % 4 === 1) after.splice(nth, 1);
    else if (i % 4 === 2 && it) after.splice((at * 7) % after.length, 0, ...after.splice(nth, 1));
    else if (it?.type === "paragraph") after[nth] = { ...it, content: text(typed) };
  }
  return [body(...first), body(...after)] as const;
});

describe("two versions compared", () => {
  it("hold everything of both, each in its own order, and say of equal ones that they are", () => {
    holds(
      fc.property(edited, ([from, to]) => {
        const { rows, counts } = compareBodies(from, to);
        const whole = (side: "left" | "right") => rows.flatMap((row) => row[side] ?? []).map((it) => signature(plain(it)));
        expect(whole("left")).toEqual(from.content.map((it) => signature(plain(it))));
        expect(whole("right")).toEqual(to.content.map((it) => signature(plain(it))));
        const told = counts.changed + counts.gone + counts.moved + counts.new;
        expect(told === 0).toBe(JSON.stringify(from.content.map(signature)) === JSON.stringify(to.content.map(signature)));
      }),
      { runs: 400 },
    );
  });

  it("a moved passage is told from a changed one, and a changed one word by word", () => {
    const [a, b, c, d] = ["Boats berth at noon.", "Cranes rest at night.", "The tide is high.", "Pilots board here."].map((it) =>
      paragraph(it),
    );
    const [from, moved] = [
      body(a as BodyNode, b as BodyNode, c as BodyNode, d as BodyNode),
      body(b as BodyNode, c as BodyNode, d as BodyNode, a as BodyNode),
    ];
    expect(compareBodies(from, moved).counts).toEqual({ changed: 0, gone: 0, moved: 1, new: 0 });
    const changed = body(paragraph("Boats berth at one.", a?.attrs?.id as string), b as BodyNode);
    expect(inline(body(a as BodyNode, b as BodyNode), changed)).toContain("Boats berth at <del>noon</del><ins>one</ins>.");
    // The same block of the text with nothing left of its words went, and another came.
    expect(compareBodies(body(a as BodyNode), body(paragraph("Something else altogether", a?.attrs?.id as string))).counts).toMatchObject({
      gone: 1,
      new: 1,
    });
  });

  it("a table is compared cell by cell, with a column put in between", () => {
    const from = table([
      ["Berth", "Depth"],
      ["4", "9.1"],
      ["5", "8.0"],
    ]);
    const to = table([
      ["Berth", "Length", "Depth"],
      ["4", "180", "9.4"],
      ["5", "120", "8.0"],
    ]);
    const shown = inline(body(from), body(to));
    expect(shown).toContain('<td data-compared="new" dir="auto"><p dir="auto">Length</p></td>');
    expect(shown).toContain("<del>1</del><ins>4</ins>");
    expect(shown.match(/data-compared/g)).toHaveLength(3);
  });

  it("says what differs in marks, links and levels too, and no text that is kept may look like a comparison", () => {
    const bold: BodyNode = { type: "paragraph", attrs: { id: "x" }, content: [{ type: "text", text: "now", marks: [{ type: "bold" }] }] };
    expect(inline(body(paragraph("now", "x")), body(bold))).toContain("<del>now</del><ins><strong>now</strong></ins>");
    const heading = (level: number): BodyNode => ({ type: "heading", attrs: { id: "h", level }, content: text("Tides") });
    expect(compareBodies(body(heading(1)), body(heading(2))).counts.changed).toBe(1);
    expect(checkBody(body({ ...paragraph("x"), attrs: { compared: "new" } }))).not.toEqual([]);
    expect(checkBody(body({ type: "paragraph", content: [{ type: "text", text: "x", marks: [{ type: "new" } as never] }] }))).not.toEqual(
      [],
    );
  });
});
