/** All groups as an outline: what is in a group stands under it; what looks wrong is said beside it. */
import type { CSSProperties } from "react";
import type { GroupRow } from "../../contracts/people.ts";
import styles from "./people.module.css";

interface Line {
  row: GroupRow;
  depth: number;
  /** Names of the groups above, so that one in two places is told apart. */
  path: string[];
}

/** Groups that are in none come first, each with what is in it; one that is in several stands under each; a circle is gone round once. */
export function outlineOf(groups: readonly GroupRow[], words: string): Line[] {
  const byId = new Map(groups.map((it) => [it.id, it]));
  const wanted = words.trim().toLowerCase();
  if (wanted !== "") return groups.filter(({ name }) => name.toLowerCase().includes(wanted)).map((row) => ({ row, depth: 0, path: [] }));
  const lines: Line[] = [];
  const shown = new Set<string>();
  const add = (row: GroupRow, above: GroupRow[]): void => {
    if (above.includes(row)) return;
    shown.add(row.id);
    lines.push({ row, depth: above.length, path: above.map(({ name }) => name) });
    for (const { id } of row.inside) {
      const inner = byId.get(id);
      if (inner) add(inner, [...above, row]);
    }
  };
  for (const row of groups) if (row.within.length === 0) add(row, []);
  // What is only in a circle has no top.
  for (const row of groups) if (!shown.has(row.id)) add(row, []);
  return lines;
}

interface Props {
  lines: Line[];
  open: string | null;
  onOpen(id: string): void;
}

export const GroupOutline = ({ lines, open, onOpen }: Props) => (
  <ul className={styles.outline} aria-label="Groups">
    {lines.map(({ row, depth, path }) => (
      <li key={[...path, row.name, row.id].join("/")} style={{ "--depth": depth } as CSSProperties} data-open={open === row.id}>
        <button type="button" onClick={() => onOpen(row.id)}>
          <strong dir="auto">{row.name}</strong>
          <span className={styles.count}>
            {row.people.toLocaleString("en")} {row.people === 1 ? "person" : "people"}
            {row.guests > 0 && (
              <em>
                , {row.guests} {row.guests === 1 ? "guest" : "guests"}
              </em>
            )}
          </span>
          <span className={styles.noteLine}>{row.notes.join(" ")}</span>
        </button>
      </li>
    ))}
  </ul>
);
