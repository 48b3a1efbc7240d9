/** Files that are opened in other programs: no cell of them begins to compute there. */
import fc from "fast-check";
import papaparse from "papaparse";
import { expect, it } from "vitest";
import { streamed } from "./formats.ts";

const text = (cells: readonly string[]) => streamed("csv", "x", ["a"], [cells], () => 1).text();

it("no cell of a CSV file starts a formula, whatever comes before its sign; and every cell is read back whole", async () => {
  const before = fc.array(fc.constantFrom(" ", "\t", "\n", "\r", "\u00a0", "\u200b", "\ufeff", "\u3000", "\u0000", '"'), { maxLength: 4 });
  const sign = fc.constantFrom("=", "+", "-", "@", "\t", "\uff1d", "\uff0b", "\uff0d", "\uff20", "\u2212");
  await fc.assert(
    fc.asyncProperty(before, sign, fc.string({ maxLength: 20 }), async (blanks, begin, rest) => {
      const cell = `${blanks.join("")}${begin}${rest}`;
      const [, row] = papaparse.parse<string[]>(await text([cell])).data;
      expect(row?.[0]).toBe(`'${cell}`);
    }),
    { numRuns: 500 },
  );
  for (const plain of ["Ana", "2026-01-01", "10 pages", "(x)", ""]) {
    const [, row] = papaparse.parse<string[]>(await text([plain])).data;
    expect(row?.[0] ?? "").toBe(plain);
  }
});
