import fc from "fast-check";
import { expect, test } from "vitest";
import { holds } from "../../../test/holds.ts";
import type { ContentsEntry } from "../access/model/index.ts";
import { arranged, type ContentsPage, contentsTroubles } from "./contents.ts";

/** A tree of pages in order, with links at random; and entries, of pages that are there and some that are not. */
const worlds = fc
  .record({
    shape: fc.array(fc.nat(), { minLength: 1, maxLength: 12 }),
    links: fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 10 }),
    entries: fc.array(fc.oneof(fc.nat(14), fc.constant("heading"), fc.constant("link")), { maxLength: 9 }),
    rest: fc.boolean(),
    landing: fc.option(fc.nat(12)),
  })
  .map(({ shape, links, entries, rest, landing }) => {
    const id = (n: number) => `p${n % shape.length}`;
    const pages = shape.map(
      (above, n): ContentsPage => ({
        id: `p${n}`,
        under: n === 0 || above % 3 === 0 ? null : `p${above % n}`,
        linksTo: links.flatMap(([from, to]) => (id(from) === `p${n}` ? [id(to)] : [])),
      }),
    );
    const list = entries.map(
      (it): ContentsEntry =>
        it === "heading" ? { heading: "Heading" } : it === "link" ? { link: "https://a.invalid/", words: "Elsewhere" } : { page: `p${it}` },
    );
    return { pages, contents: { entries: list, rest }, landing: landing === null ? null : id(landing) };
  });

type World = typeof worlds extends fc.Arbitrary<infer W> ? W : never;

/** Every page that is listed, as often as it is: a plain reading of what stands where. */
function listed({ pages, contents }: World): string[] {
  const below = (id: string): string[] => [id, ...pages.filter(({ under }) => under === id).flatMap((page) => below(page.id))];
  const top = pages.filter(({ under }) => under === null).map(({ id }) => id);
  const lines = arranged(contents, top, (id) => pages.find((page) => page.id === id)?.id);
  return lines.flatMap((line) => (line.kind !== "page" ? [] : line.branch ? below(line.page) : [line.page]));
}

test("lists what is there, headings only over something, and all of the rest once where it is wanted", () => {
  holds(
    fc.property(worlds, (world) => {
      const { pages, contents } = world;
      const top = pages.filter(({ under }) => under === null);
      const lines = arranged(contents, top, (id) => pages.find((page) => page.id === id));
      const over = lines.flatMap(({ kind }, i) => (kind === "heading" ? [lines[i + 1]?.kind ?? "nothing"] : []));
      for (const kind of over) expect(["page", "link"]).toContain(kind);
      const all = new Set(listed(world));
      if (contents.rest) for (const { id } of pages) expect(all).toContain(id);
      // What nobody pinned stands in one place.
      const pinned = new Set(contents.entries.flatMap((entry) => ("page" in entry ? [entry.page] : [])));
      for (const { id } of pages) if (!pinned.has(id)) expect(listed(world).filter((it) => it === id).length).toBeLessThan(2);
    }),
  );
});

test("points out just what is listed twice, over nothing, gone, or out of reach", () => {
  let unreachable = 0;
  holds(
    fc.property(worlds, (world) => {
      const { pages, contents, landing } = world;
      const troubles = contentsTroubles(contents, pages, landing);
      const of = <K extends (typeof troubles)[number]["kind"]>(kind: K) =>
        troubles.filter((it): it is Extract<(typeof troubles)[number], { kind: K }> => it.kind === kind);
      const all = listed(world);
      const twice = pages.map(({ id }) => id).filter((id) => all.filter((it) => it === id).length > 1);
      expect(new Set(of("twice").map(({ page }) => page))).toEqual(new Set(twice));
      const isThere = (entry: ContentsEntry) => !("page" in entry) || pages.some(({ id }) => id === entry.page);
      expect(of("gone").map(({ at }) => at)).toEqual(contents.entries.flatMap((entry, at) => (isThere(entry) ? [] : [at])));
      const headings = contents.entries.filter((entry) => "heading" in entry).length;
      const kept = arranged(
        contents,
        pages.filter(({ under }) => under === null),
        (id) => pages.find((page) => page.id === id),
      ).filter(({ kind }) => kind === "heading").length;
      expect(of("emptyHeading").length).toBe(headings - kept);
      // As far as one gets: again and again, until nothing is added.
      const reached = new Set([...all, ...(landing === null ? [] : [landing])]);
      for (let before = -1; before !== reached.size; ) {
        before = reached.size;
        for (const { id, linksTo } of pages) if (reached.has(id)) for (const to of linksTo) reached.add(to);
      }
      const lost = pages.filter(({ id }) => !reached.has(id)).map(({ id }) => id);
      expect(of("unreachable").map(({ page }) => page)).toEqual(lost);
      unreachable += lost.length;
    }),
    { runs: 400 },
  );
  expect(unreachable).toBeGreaterThan(100);
});
