/** Which rows the grid shows: whatever is filtered, a row never stands without what is above it. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import type { GridRow } from "../../contracts/grid.ts";
import type { GridState } from "./address.ts";
import { shownRows } from "./rows.ts";

const state = (change: Partial<GridState>): GridState => ({
  columns: [],
  closed: [],
  opened: [],
  show: "all",
  state: "",
  words: "",
  place: null,
  column: null,
  tab: "who",
  at: "",
  ...change,
});

/** A random tree in the order the server sends it: parents before what is in them, subtrees together. */
const tree = fc
  .array(
    fc.record({
      up: fc.nat(3),
      outside: fc.constantFrom("public" as const, "none" as const),
      fence: fc.boolean(),
      state: fc.constantFrom("live" as const, "draft" as const),
      editable: fc.boolean(),
    }),
    { minLength: 1, maxLength: 30 },
  )
  .map((raw): GridRow[] => {
    const rows: GridRow[] = [];
    raw.forEach((it, i) => {
      let parent = i - 1;
      for (let step = 0; step < it.up && parent > 0; step++) parent = rows[parent]?.parent ?? -1;
      if (i > 0 && parent < 0) parent = 0;
      const depth = parent < 0 ? 0 : (rows[parent]?.depth ?? 0) + 1;
      rows.push({
        id: `r${i}`,
        parent,
        depth,
        kind: "page",
        title: `Row ${i}`,
        state: it.state,
        fresh: false,
        fences: it.fence ? ["read"] : [],
        rules: false,
        outside: it.outside,
        editable: it.editable,
        acts: [],
        unsent: 0,
        fits: true,
        cells: null,
      });
    });
    return rows;
  });

it("keeps every row that fits with all above it, and nothing else", () => {
  const filters: Partial<GridState>[] = [
    {},
    { show: "outside" },
    { show: "fenced" },
    { show: "kept" },
    { state: "draft" },
    { words: "row 1" },
    { show: "outside", state: "live" },
  ];
  holds(
    fc.property(tree, fc.constantFrom(...filters), (rows, filter) => {
      const shown = shownRows(rows, state(filter), null);
      const ids = new Set(shown.map((row) => row.id));
      const fits = (row: GridRow) =>
        (filter.show !== "outside" || row.outside === "public") &&
        (filter.show !== "fenced" || row.fences.length > 0) &&
        (filter.show !== "kept" || row.editable) &&
        (!filter.state || row.state === filter.state) &&
        (!filter.words || row.title.toLowerCase().includes(filter.words));
      for (const row of rows) if (fits(row)) expect(ids.has(row.id)).toBe(true);
      for (const row of shown) {
        const parent = rows[row.parent];
        if (parent) expect(ids.has(parent.id)).toBe(true);
        expect(row.matches).toBe(fits(row));
        const hasFitting = (id: string): boolean => rows.some((it) => rows[it.parent]?.id === id && (fits(it) || hasFitting(it.id)));
        expect(row.matches || hasFitting(row.id)).toBe(true);
      }
    }),
  );
});

it("hides what is in a closed row, and counts the fences around each row from the outside in", () => {
  holds(
    fc.property(tree, fc.nat(29), (rows, pick) => {
      const closed = rows[pick % rows.length] as GridRow;
      const ids = new Set(shownRows(rows, state({ closed: [closed.id] }), null).map((row) => row.id));
      const under = (row: GridRow): boolean => row.parent >= 0 && (rows[row.parent] === closed || under(rows[row.parent] as GridRow));
      for (const row of rows) expect(ids.has(row.id)).toBe(!under(row));
      for (const row of shownRows(rows, state({}), null)) {
        const fencesUp = (it: GridRow | undefined): number => (it ? it.fences.length + fencesUp(rows[it.parent]) : 0);
        expect(row.enclosed).toHaveLength(fencesUp(row));
      }
    }),
  );
});
