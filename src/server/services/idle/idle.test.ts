/** Idle rules in one list: whoever may see rules sees them, and what mends them takes nothing from anybody and gives nobody anything. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { IDLE_KINDS } from "../../../contracts/idle.ts";
import { inChange } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { previewChange } from "../change/preview.ts";
import { exportIdle, readIdle } from "./idle.ts";

onDatabase("demo");

it("finds what was planted, each kind counted, and tells a keeper of one space of that space alone", async () => {
  const { rows, counts, more } = await readIdle("ines", {});
  expect(more).toBe(0);
  expect(counts.map(({ kind }) => kind)).toEqual([...IDLE_KINDS]);
  for (const { kind, count } of counts) expect([kind, rows.filter((row) => row.kind === kind).length]).toEqual([kind, count]);
  // A public page that links to an internal one; a grant that does nothing; a fence on a landing page that people take for more.
  for (const kind of ["deadEnds", "covered", "landingOnly"]) expect([kind, rows.some((row) => row.kind === kind)]).toEqual([kind, true]);
  const maren = await readIdle("maren", {});
  expect(maren.rows.length).toBeGreaterThan(0);
  expect(new Set(maren.rows.map(({ place, path }) => path[0] ?? place.name))).toEqual(new Set(["Quay Operations"]));
  expect((await readIdle("mei", {})).rows).toEqual([]);
  expect((await readIdle("ines", { kind: "covered" })).rows.every(({ kind }) => kind === "covered")).toBe(true);
  const file = await (await exportIdle("ines", { format: "csv" })).text();
  expect(file.trim().split("\n").length).toBe(rows.length + 1);
});

it("what mends one changes nothing for anybody, and the rule is gone from the list then", async () => {
  const { rows } = await readIdle("ines", {});
  let mended = 0;
  for (const { mend, sentence } of rows) {
    if (!mend) continue;
    const { ripple, refusals } = await previewChange("ines", [mend.edit]);
    expect([sentence, ripple.empty, refusals]).toEqual([sentence, true, []]);
    // Others may have gone with it: what is covered by what is covered.
    const made = await inChange((tx) => makeChange(tx, { maker: "ines", edits: [mend.edit], act: "rules", note: "" })).catch(() => null);
    if (!made) continue;
    mended++;
    expect((await readIdle("ines", {})).rows.map((row) => row.sentence)).not.toContain(sentence);
  }
  expect(mended).toBeGreaterThan(0);
  expect((await readIdle("ines", {})).rows.filter(({ mend }) => mend)).toEqual([]);
});
