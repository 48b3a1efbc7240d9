/** Files that are opened in other programs: no cell of them begins to compute there. */
import fc from "fast-check";
import papaparse from "papaparse";
import { expect, it } from "vitest";
import { holds } from "../../../../../test/holds.ts";
import { FORMATS, streamed } from "./formats.ts";

const text = (cells: readonly string[]) => streamed("csv", "x", ["a"], [cells], () => 1).text();

it("no cell of a CSV file starts a formula, whatever comes before its sign; and every cell is read back whole", async () => {
  const before = fc.array(fc.constantFrom(" ", "\t", "\n", "\r", "\u00a0", "\u200b", "\ufeff", "\u3000", "\u0000", '"'), { maxLength: 4 });
  const sign = fc.constantFrom("=", "+", "-", "@", "\t", "\uff1d", "\uff0b", "\uff0d", "\uff20", "\u2212");
  await holds(
    fc.asyncProperty(before, sign, fc.string({ maxLength: 20 }), async (blanks, begin, rest) => {
      const cell = `${blanks.join("")}${begin}${rest}`;
      const [, row] = papaparse.parse<string[]>(await text([cell])).data;
      expect(row?.[0]).toBe(`'${cell}`);
    }),
    { runs: 500 },
  );
  for (const plain of ["Ana", "2026-01-01", "10 pages", "(x)", ""]) {
    const [, row] = papaparse.parse<string[]>(await text([plain])).data;
    expect(row?.[0] ?? "").toBe(plain);
  }
});

it.each(FORMATS)("while many lines are written as %s, others have their turn again and again", async (format) => {
  const LINES = 20_000;
  let made = 0;
  const lines = function* () {
    for (; made < LINES; made++) yield [`page ${made}`, "a line of some length, so that it comes to several chunks of sixty-four thousand"];
  };
  // How many lines were made each time that something else could be done.
  const seen: number[] = [];
  let going = true;
  const others = (async () => {
    while (going) {
      seen.push(made);
      await new Promise((later) => setImmediate(later));
    }
  })();
  await streamed(format, "x", ["title", "words"], lines(), () => LINES).arrayBuffer();
  going = false;
  await others;
  expect(made).toBe(LINES);
  expect(Math.max(...seen.map((count, i) => count - (seen[i - 1] ?? 0)))).toBeLessThan(LINES / 10);
});
