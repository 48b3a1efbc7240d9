/** The editor and the server hold to one schema: whatever the editor can make, the server takes. */
import { type Attribute, getAttributesFromExtensions, getSchema, resolveExtensions } from "@tiptap/core";
import { Fragment, type NodeType, type Node as ProseNode, type Schema, Slice } from "@tiptap/pm/model";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { BODY_LIMITS, type BodyNode, checkBody, isSafeHref, MARKS, NODES, readAddress } from "../../core/content/index.ts";
import { newBlockId, soundSlice } from "./blockIds.ts";
import { schemaExtensions, targetOf } from "./extensions.ts";

const ORIGIN = "http://127.0.0.1:4321";
const extensions = schemaExtensions(ORIGIN);
const schema: Schema = getSchema(extensions);
const attributes = getAttributesFromExtensions(resolveExtensions(extensions));

const text = fc.oneof(fc.string({ minLength: 1, maxLength: 12 }), fc.constantFrom("Tide", "שלום", "7", "-3", "right", "a b", "1e9", "i"));
const address = fc.oneof(
  fc.webUrl(),
  fc.constantFrom(
    "file:///c:/plan.doc",
    "ftp://harbour",
    "page2.html",
    "",
    "#",
    "#top",
    "../up",
    "mailto:a@b.c",
    "javascript:alert(1)",
    "//elsewhere",
  ),
  fc.constantFrom(
    "/read/quay-operations/berth-plan-berthplan",
    `${ORIGIN}/read/a/b-c9`,
    `${ORIGIN}/write/abc`,
    `${ORIGIN}/grid?place=x`,
    "/\\evil",
  ),
  text,
);

/** An element of HTML that says the same of every attribute it is asked for. */
const element = (said: string | null) =>
  ({
    getAttribute: () => said,
    hasAttribute: () => said !== null,
    dataset: {},
    style: { textAlign: said ?? "" },
    classList: said ? [`language-${said}`] : [],
    firstElementChild: null,
    closest: () => null,
    querySelector: () => null,
  }) as unknown as HTMLElement;

/** What the editor reads into an attribute of a node when it meets HTML that says this. */
function read({ attribute, name }: { attribute: Attribute; name: string }, said: string | null): unknown {
  const value = attribute.parseHTML ? attribute.parseHTML(element(said)) : said;
  return value === undefined ? attribute.default : (value ?? attribute.default ?? (name === "id" ? newBlockId() : null));
}

function attrsOf(type: NodeType, said: () => string | null): Record<string, unknown> {
  return Object.fromEntries(attributes.filter((it) => it.type === type.name).map((it) => [it.name, read(it, said())]));
}

/** One of a list, by its number: what a failing run tells stays short. */
const one = <T>(gen: fc.GeneratorValue, list: readonly T[]): T => list[gen(() => fc.nat({ max: list.length - 1 }))] as T;

/** A random node of a type, filled as the editor's own schema allows it. */
function randomNode(gen: fc.GeneratorValue, type: NodeType, depth: number): ProseNode {
  const said = () => (gen(fc.boolean) ? gen(() => text) : null);
  const children: ProseNode[] = [];
  let match = type.contentMatch;
  while (children.length < 3) {
    const options: NodeType[] = [];
    for (let i = 0; i < match.edgeCount; i++) {
      const { type: next } = match.edge(i);
      if (depth < 3 || next.isInline || next.isTextblock || !match.validEnd) options.push(next);
    }
    if (options.length === 0 || (match.validEnd && (depth > 4 || gen(fc.boolean)))) break;
    const next = one(gen, options.slice(0, depth > 3 ? 1 : undefined));
    children.push(next.isText ? randomText(gen, type) : randomNode(gen, next, depth + 1));
    match = match.matchType(next) ?? match;
  }
  const filled = type.contentMatch.matchFragment(Fragment.from(children))?.fillBefore(Fragment.empty, true) ?? Fragment.empty;
  return type.create(attrsOf(type, said), Fragment.from(children).append(filled));
}

function randomText(gen: fc.GeneratorValue, above: NodeType): ProseNode {
  const names = Object.keys(schema.marks).filter((name) => above.allowsMarkType(schema.marks[name] as never) && gen(fc.boolean));
  const marks = names.flatMap((name) => {
    if (name !== "link") return [schema.mark(name)];
    const target = targetOf({ getAttribute: (it) => (it === "href" ? gen(() => address) : null) }, ORIGIN);
    return target ? [schema.mark("link", target)] : [];
  });
  return schema.text(
    gen(() => text),
    marks.reduce((set, mark) => mark.addToSet(set), [] as readonly import("@tiptap/pm/model").Mark[]),
  );
}

describe("the editor's schema", () => {
  it("has the nodes, marks and attributes of the table, and no others", () => {
    expect(
      Object.keys(schema.nodes)
        .filter((it) => it !== "doc")
        .sort(),
    ).toEqual([...NODES.keys()].sort());
    expect(Object.keys(schema.marks).sort()).toEqual([...MARKS.keys()].sort());
    for (const [name, { attrs }] of NODES)
      expect(Object.keys(schema.nodes[name]?.spec.attrs ?? {}).sort(), name).toEqual(Object.keys(attrs).sort());
  });

  it("makes nothing that the server does not take: random documents, attributes read from any HTML", () => {
    holds(
      fc.property(fc.gen(), (gen) => {
        const blocks = gen(() => fc.array(fc.constant(0), { minLength: 1, maxLength: 4 })).map(() =>
          randomNode(
            gen,
            gen(() =>
              fc.constantFrom(
                ...["paragraph", "heading", "table", "orderedList", "bulletList", "callout", "codeBlock", "blockquote"].map(
                  (it) => schema.nodes[it] as NodeType,
                ),
              ),
            ),
            1,
          ),
        );
        const { content } = soundSlice(
          new Slice(Fragment.from(blocks), 0, 0),
          schema,
          schema.node("doc", null, [schema.node("paragraph")]),
        );
        const doc = schema.node("doc", null, content);
        doc.check();
        const errors = checkBody({ schema: 1, content: doc.toJSON().content as BodyNode[] }).filter((it) => !it.message.includes("deeper"));
        expect(errors).toEqual([]);
        // And the other way: what was kept is what comes back.
        expect(schema.nodeFromJSON(JSON.parse(JSON.stringify(doc.toJSON()))).eq(doc)).toBe(true);
      }),
      { runs: 400, asDrawn: true },
    );
    expect(BODY_LIMITS.depth).toBeGreaterThan(8);
  });

  it("knows addresses of own pages, keeps safe ones, and drops those that lead nowhere", () => {
    expect(readAddress(`${ORIGIN}/read/quay/berth-plan-b1?x#y`, ORIGIN)).toEqual({ page: "b1" });
    expect(readAddress(`${ORIGIN}/eyes/public/read/quay/berth-plan-b1`, ORIGIN)).toEqual({ page: "b1" });
    expect(readAddress("https://elsewhere.example/read/quay/plan-b1", ORIGIN)).toEqual({
      href: "https://elsewhere.example/read/quay/plan-b1",
    });
    for (const nowhere of ["file:///x", "ftp://x", "page.html", "", "javascript:x", "//x", "data:text/html,x"])
      expect(readAddress(nowhere, ORIGIN), nowhere).toBeNull();
    holds(
      fc.property(address, (it) => {
        const target = readAddress(it, ORIGIN);
        expect(target === null || "page" in target || isSafeHref(target.href)).toBe(true);
      }),
    );
  });

  it("gives pasted blocks ids of their own, also where the text has them already", () => {
    const own = schema.node("doc", null, [schema.node("paragraph", { id: "a" }, [schema.text("x")])]);
    const pasted = soundSlice(new Slice(Fragment.from([own.child(0), own.child(0)]), 0, 0), schema, own);
    const ids = [own.child(0).attrs.id, pasted.content.child(0).attrs.id, pasted.content.child(1).attrs.id];
    expect(new Set(ids).size).toBe(3);
  });
});
