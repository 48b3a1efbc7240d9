/** Moving by hand: what a drop, or a key, means as an act. */
import type { LifeAct } from "../../core/lifecycle/index.ts";
import type { ShownRow } from "./rows.ts";

export type Landing = "before" | "after" | "into";

/** Where a row goes by a key: past the one before or after it, into the one before, out of what it stands in. */
export type Shift = "earlier" | "later" | "in" | "out";

export const SHIFTS: Record<string, Shift> = { ArrowUp: "earlier", ArrowDown: "later", ArrowRight: "in", ArrowLeft: "out" };

/** The act that a drop of some rows on another means; null where it means nothing. */
export function moveTo(
  rows: readonly ShownRow[],
  dragged: readonly string[],
  { id, landing }: { id: string; landing: Landing },
): LifeAct | null {
  const row = rows.find((it) => it.id === id);
  if (!row || row.kind === "site" || row.kind === "bulletin" || row.title === "" || dragged.includes(id)) return null;
  if (landing === "into") return { act: "move", places: [...dragged], to: row.id };
  const parent = rows.find((it) => it.inside.includes(row.id));
  if (!parent || parent.kind === "site") return null;
  const siblings = parent.inside.filter((it) => !dragged.includes(it));
  const before = siblings[siblings.indexOf(row.id) - 1];
  return { act: "move", places: [...dragged], to: parent.id, after: landing === "after" ? row.id : (before ?? null) };
}

/** The act that a key on a row means; null where it leads nowhere. */
export function shifted(rows: readonly ShownRow[], row: ShownRow, shift: Shift): LifeAct | null {
  if (row.kind !== "page" || !row.acts.includes("move")) return null;
  const parent = rows.find((it) => it.inside.includes(row.id));
  const siblings = parent?.inside ?? [];
  const at = siblings.indexOf(row.id);
  const to = (id: string | undefined, landing: Landing) => (id === undefined ? null : moveTo(rows, [row.id], { id, landing }));
  if (shift === "earlier") return to(siblings[at - 1], "before");
  if (shift === "later") return to(siblings[at + 1], "after");
  if (shift === "in") return to(siblings[at - 1], "into");
  return parent?.kind === "page" ? to(parent.id, "after") : null;
}
