/** Tags as they come in: words that are seen, short, and told apart by commas. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../test/holds.ts";
import { isTag } from "./checks.ts";

it("a tag is a text that survives being typed in a list with commas; nothing blank is one", () => {
  holds(
    fc.property(fc.string({ maxLength: 60, unit: "grapheme" }), (text) => {
      if (!isTag(text)) return;
      expect(`x, ${text} ,y`.split(",").map((part) => part.trim())).toEqual(["x", text, "y"]);
    }),
    { runs: 1_000 },
  );
  for (const no of ["", " ", "\u200b", "\u2060\u200d", " a", "a ", "a,b", "a\nb", "x".repeat(41), 7, null, ["a"]])
    expect([no, isTag(no)]).toEqual([no, false]);
  for (const yes of ["a", "patrol-route", "two words", "Ölfass", "=sum", "__proto__", "x".repeat(40)])
    expect([yes, isTag(yes)]).toEqual([yes, true]);
});
