/** Taking over from an earlier version of a block whatever a change left as it was: classes, and the cells of untouched rows. */
import type { AccessIndex, CompiledPlace, CompiledSubject } from "./accessIndex.ts";
import { type Block, type Row, rowKey, type Tables } from "./rows.ts";
import { namedIn, windowAround } from "./tables.ts";

/** Whether two places, one before and one after, take their answers from the very same rules. */
function sameRules(before: AccessIndex, after: AccessIndex, was: CompiledPlace, is: CompiledPlace): boolean {
  if (was.outsiderCeiling !== is.outsiderCeiling || was.guestCeiling !== is.guestCeiling) return false;
  if (before.places[was.space]?.place.state !== after.places[is.space]?.place.state) return false;
  let [a, b] = [before.places[was.ruled], after.places[is.ruled]];
  while (a && b) {
    if (a.at !== b.at || a.grants !== b.grants || a.fences !== b.fences || a.fresh !== b.fresh) return false;
    a = before.places[before.places[a.parent]?.ruled ?? -1];
    b = after.places[after.places[b.parent]?.ruled ?? -1];
  }
  return a === b;
}

/** The classes of a block, split further by principals that its rules did not name before; `bornOf` says what each new one came from. */
function refined(index: AccessIndex, tables: Tables, added: readonly number[]) {
  if (added.length === 0) return { ...tables, bornOf: [] as number[] };
  const { length } = tables.kinds;
  const classOf = tables.classOf.slice();
  const counts = [...tables.counts];
  const kinds = [...tables.kinds];
  const examples = [...tables.examples];
  const bornOf: number[] = [];
  const principalsOf = new Map<number, number[]>();
  for (const [principal, list] of tables.classesOf) {
    for (const number of list) principalsOf.set(number, [...(principalsOf.get(number) ?? []), principal]);
  }
  for (const principal of added) {
    const moved = new Map<number, number>();
    for (const subject of index.matching[principal] ?? []) {
      const old = classOf[subject] as number;
      let fresh = moved.get(old);
      if (fresh === undefined) {
        fresh = kinds.length;
        moved.set(old, fresh);
        kinds.push(kinds[old] as number);
        counts.push(0);
        examples.push(index.subjects[subject]);
        bornOf.push(old < length ? old : (bornOf[old - length] as number));
        principalsOf.set(fresh, [...(principalsOf.get(old) ?? []), principal]);
      }
      classOf[subject] = fresh;
      counts[fresh] = (counts[fresh] as number) + 1;
      counts[old] = (counts[old] as number) - 1;
    }
  }
  const classesOf = new Map<number, number[]>();
  for (const [number, principals] of principalsOf) {
    for (const principal of counts[number] === 0 ? [] : principals) {
      const list = classesOf.get(principal);
      if (list) list.push(number);
      else classesOf.set(principal, [number]);
    }
  }
  renewExamples(index, classOf, counts, examples);
  return { classOf, counts: Int32Array.from(counts), kinds: Uint8Array.from(kinds), examples, classesOf, bornOf };
}

/** The example of a class may have moved out of it: finds another, or none where the class is empty. */
function renewExamples(
  index: AccessIndex,
  classOf: Uint16Array | Uint32Array,
  counts: readonly number[],
  examples: (CompiledSubject | undefined)[],
): void {
  const missing = new Set<number>();
  examples.forEach((example, number) => {
    if (example && classOf[example.at] === number) return;
    examples[number] = undefined;
    if ((counts[number] as number) > 0) missing.add(number);
  });
  for (let at = 0; at < classOf.length && missing.size > 0; at++) {
    const number = classOf[at] as number;
    if (missing.delete(number)) examples[number] = index.subjects[at];
  }
}

const extended = (cells: Uint16Array, bornOf: readonly number[]): Uint16Array => {
  if (bornOf.length === 0) return cells;
  const longer = new Uint16Array(cells.length + bornOf.length);
  longer.set(cells);
  bornOf.forEach((old, i) => {
    longer[cells.length + i] = cells[old] as number;
  });
  return longer;
};

/** Gives a block of the changed index what its earlier version knew already. Nothing where subjects changed, too. */
export function carryTables(before: AccessIndex, old: Block, after: AccessIndex, made: Block): void {
  const { tables } = old;
  if (!tables || before.subjects !== after.subjects) return;
  const known = namedIn(before, old);
  const added = [...namedIn(after, made)].filter((principal) => !known.has(principal));
  made.named = new Set([...known, ...added]);
  const { bornOf, ...classes } = refined(after, tables, added);
  const oldRows = new Map(old.rows.map(({ example }, row) => [rowKey(example), row]));
  const rows = Int32Array.from(made.rows, ({ example }) => {
    const row = oldRows.get(rowKey(example));
    return row !== undefined && sameRules(before, after, (old.rows[row] as Row).example, example) ? row : -1;
  });
  const cells = made.rows.map((_, row) => {
    const there = tables.cells[rows[row] as number];
    return there && extended(there, bornOf);
  });
  made.tables = { ...classes, at: tables.at, ...windowAround(after, made, tables.at), cells, carried: { from: tables, rows } };
}
