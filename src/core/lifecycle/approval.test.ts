/** Who wrote what is new: those whose words last, part by part, and nobody else. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import type { PageBody } from "../content/index.ts";
import { authorsOfNew, type Written } from "./approval.ts";

type Blocks = Readonly<Record<string, string>>;

const bodyOf = (blocks: Blocks): PageBody => ({
  schema: 1,
  content: Object.entries(blocks).map(([id, text]) => ({
    type: "paragraph",
    attrs: { id },
    content: text ? [{ type: "text", text }] : [],
  })),
});
const written = (author: string, title: string, blocks: Blocks): Written => ({ author, title, body: bodyOf(blocks) });

const step = fc.record({
  author: fc.constantFrom("ann", "ben", "cat"),
  /** Which part, and what becomes of it; null: it goes. */
  part: fc.constantFrom("title", "a", "b", "c"),
  text: fc.constantFrom("one", "two", "three", null),
});

/** Versions on top of a first one, each a change of one part. */
function versionsOf(steps: readonly { author: string; part: string; text: string | null }[]) {
  const base = { title: "one", blocks: { a: "one", b: "one" } as Record<string, string> };
  let now = base;
  const since = steps.map(({ author, part, text }) => {
    const blocks = { ...now.blocks };
    if (part !== "title" && text === null) delete blocks[part];
    else if (part !== "title") blocks[part] = text ?? "";
    // Blocks stand by name: taking one away and putting it back moves nothing.
    const sorted = Object.fromEntries(Object.entries(blocks).sort());
    now = { title: part === "title" ? (text ?? "") : now.title, blocks: sorted };
    return { written: written(author, now.title, now.blocks), now };
  });
  return { before: written("nobody", base.title, base.blocks), since, base, last: now };
}

it("whoever touched a part that differs in the end is among them, whoever touched none is not, and nobody is where nothing differs", () => {
  let several = 0;
  holds(
    fc.property(fc.array(step, { minLength: 1, maxLength: 8 }), (steps) => {
      const { before, since, base, last } = versionsOf(steps);
      const found = authorsOfNew(
        before,
        since.map((it) => it.written),
      );
      const said = (of: typeof last, part: string) => (part === "title" ? of.title : of.blocks[part]);
      const differs = ["title", "a", "b", "c"].filter((part) => said(base, part) !== said(last, part));
      const touched = new Set<string>();
      for (const [i, { author, part }] of steps.entries()) {
        const earlier = i === 0 ? base : (since[i - 1] as (typeof since)[number]).now;
        if (said(earlier, part) !== said((since[i] as (typeof since)[number]).now, part) && differs.includes(part)) touched.add(author);
      }
      // Whoever brings a block or takes it away changes in which order all stand, too.
      for (const author of touched) expect([...found]).toContain(author);
      if (differs.length === 0) expect([...found]).toEqual([]);
      if (Object.keys(base.blocks).join() === Object.keys(last.blocks).join()) expect(new Set(found)).toEqual(touched);
      if (found.size > 1) several++;
    }),
    { runs: 1_000 },
  );
  expect(several).toBeGreaterThan(50);
});

it("titles, deletions and order count; of a page that never was live all that stands is new", () => {
  const before = written("ann", "T", { a: "x", b: "y" });
  const by = (...since: Written[]) => [...authorsOfNew(before, since)];
  expect(by(written("ben", "U", { a: "x", b: "y" }))).toEqual(["ben"]);
  expect(by(written("ben", "T", { a: "x" }))).toEqual(["ben"]);
  expect(by(written("ben", "T", { b: "y", a: "x" }))).toEqual(["ben"]);
  expect(by(written("ben", "T", { a: "z", b: "y" }), written("cat", "T", { a: "z", b: "w" }))).toEqual(["ben", "cat"]);
  expect(by(written("ben", "T", { a: "z", b: "y" }), written("cat", "T", { a: "x", b: "w" }))).toEqual(["cat"]);
  expect([...authorsOfNew(null, [written("ann", "T", { a: "x" }), written("ben", "T", { a: "x", b: "y" })])]).toEqual(["ann", "ben"]);
  expect([...authorsOfNew(before, [])]).toEqual([]);
});
