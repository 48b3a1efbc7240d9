/** Several choices at one rule: the later replaces the earlier, so that no two things in the tray contradict each other. */
import { type Edit, fenceKey, grantKey, principalKey, sameValue } from "../../core/access/model/index.ts";

const isOfSpace = (edit: Edit): edit is Extract<Edit, { kind: "settings" | "contents" }> =>
  edit.kind === "settings" || edit.kind === "contents";

/** A rule as one text: the same for the same rule. */
const keyOf = (edit: Edit, side: "remove" | "put"): string | null => {
  if (edit.kind === "grant") return edit[side] ? grantKey(edit[side]) : null;
  if (edit.kind === "fence") return edit[side] ? fenceKey(edit[side]) : null;
  if (edit.kind === "member") return edit[side] ? principalKey(edit[side]) : null;
  if (edit.kind === "person" || edit.kind === "group" || isOfSpace(edit)) return edit[side] ? textOf(edit[side]) : null;
  return null;
};

/** A value as a text, its fields in one order. */
const textOf = (value: object): string => JSON.stringify(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));

/** Where a rule stands, or what a change of people or groups is about; null for what never meets another. */
function scopeOf(edit: Edit): string | null {
  if (edit.kind === "grant" || edit.kind === "fence" || isOfSpace(edit)) return `${edit.kind} ${edit.place}`;
  if (edit.kind === "person") return `person ${edit.person}`;
  return edit.kind === "group" || edit.kind === "member" ? `${edit.kind} ${edit.group}` : null;
}

/** Whether an edit leaves everything as it is. */
export const isNothing = (edit: Edit): boolean => {
  if (edit.kind === "stance" || edit.kind === "owner" || edit.kind === "readiness" || edit.kind === "arranged")
    return edit.from === edit.to;
  if (edit.kind === "managers") return sameValue(edit.from, edit.to);
  if (edit.kind === "tags" || edit.kind === "readinessWords" || edit.kind === "landing" || edit.kind === "ceilings")
    return sameValue(edit.from, edit.to);
  const [before, after] = [keyOf(edit, "remove"), keyOf(edit, "put")];
  return scopeOf(edit) !== null && before === after;
};

/** Edits that say one thing of a place, from what to what. */
const SWAPS: ReadonlySet<Edit["kind"]> = new Set([
  "stance",
  "owner",
  "tags",
  "readiness",
  "readinessWords",
  "arranged",
  "landing",
  "ceilings",
]);

/** How a new edit meets an earlier one: not at all, or at the same rule; then what it is, seen from what stands. */
function meets(old: Edit, edit: Edit): Edit | null {
  if (old.kind === "managers" && edit.kind === "managers") return old.group === edit.group ? { ...edit, from: old.from } : null;
  if (old.kind === edit.kind && SWAPS.has(edit.kind) && "from" in edit && "place" in edit) {
    const earlier = old as typeof edit;
    return earlier.place === edit.place ? ({ ...edit, from: earlier.from } as Edit) : null;
  }
  const scope = scopeOf(edit);
  if (scope === null || scope !== scopeOf(old)) return null;
  const [oldBefore, oldAfter, before] = [keyOf(old, "remove"), keyOf(old, "put"), keyOf(edit, "remove")];
  if (before !== null && before === oldBefore) return edit;
  if (before !== null && before === oldAfter) {
    const { remove: _, ...put } = edit as Edit & { remove?: unknown };
    return { ...put, ...("remove" in old ? { remove: old.remove } : {}) } as Edit;
  }
  // Who was taken out and is put in again, stays in.
  if (edit.kind === "member" && before === null && oldAfter === null && oldBefore === keyOf(edit, "put"))
    return { ...edit, ...("remove" in old ? { remove: old.remove } : {}) } as Edit;
  if (old.kind !== "grant" || edit.kind !== "grant" || before !== null || oldBefore !== null || !old.put || !edit.put) return null;
  const same = principalKey(old.put.to) === principalKey(edit.put.to) && (old.put.draft ?? false) === (edit.put.draft ?? false);
  return same ? edit : null;
}

/** What is left of earlier edits beside new ones, by number, and the new ones as seen from what stands. */
export function supersede(earlier: readonly Edit[], later: readonly Edit[]): { kept: boolean[]; edits: Edit[] } {
  const kept = earlier.map(() => true);
  const edits = later.map((edit) => {
    let it = edit;
    // From the latest backwards: an edit may build on one that itself builds on another.
    for (let i = earlier.length - 1; i >= 0; i--) {
      const met = kept[i] ? meets(earlier[i] as Edit, it) : null;
      if (!met) continue;
      kept[i] = false;
      it = met;
    }
    return it;
  });
  return { kept, edits };
}
