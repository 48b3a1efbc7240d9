/** Taking back: the edits that undo others (lifecycle.md, "Taking back"). */
import type { Pass, Person } from "./document.ts";
import { type Edit, type Swap, sameValue } from "./edits.ts";
import { wayBack } from "./states.ts";

/**
 * The edits that undo these, in the order in which to make them (lifecycle.md, "Taking back"). What was started goes to
 * the bin, who came in is suspended: nothing is lost. What has no way back is left out.
 */
export const invertEdits = (edits: readonly Edit[]): Edit[] => [...edits].reverse().flatMap(inverse);

/** What an edit removed is put back, and what it put is removed. */
const swapped = <T>({ put, remove }: Swap<T>): Swap<T> => ({ ...(put ? { remove: put } : {}), ...(remove ? { put: remove } : {}) });

function inverse(edit: Edit): Edit | Edit[] {
  switch (edit.kind) {
    case "start":
      return edit.as === "space"
        ? { kind: "state", place: edit.place, from: { state: "live" }, to: { state: "binned" } }
        : { kind: "state", place: edit.place, from: { state: "draft" }, to: { state: "binned", was: "draft" } };
    case "person": {
      const back = swapped<Person>(edit);
      if (!back.put && back.remove) back.put = { ...back.remove, status: "suspended" };
      return { kind: "person", person: edit.person, ...back };
    }
    case "pass": {
      const back = swapped<Pass>(edit);
      if (!back.put && back.remove) back.put = { ...back.remove, revoked: true };
      // A withdrawn pass stays withdrawn: whoever was shut out is not let in again by taking back something else.
      if (back.put && back.remove?.revoked) back.put = { ...back.put, revoked: true };
      return sameValue(back.put, back.remove) ? [] : { kind: "pass", pass: edit.pass, ...back };
    }
    case "state": {
      const to = wayBack(edit.from, edit.to);
      return to ? { ...edit, from: edit.to, to } : [];
    }
    case "stance":
    case "owner":
    case "tags":
    case "move":
    case "order":
    case "landing":
    case "readiness":
    case "reviewPeriod":
    case "reviewed":
    case "readinessWords":
    case "arranged":
    case "ceilings":
    case "house":
    case "handOver":
    case "managers":
      return { ...edit, from: edit.to, to: edit.from } as Edit;
    case "erase":
      return [];
    default: {
      const { put: _, remove: __, ...rest } = edit;
      return { ...rest, ...swapped(edit as Swap<unknown>) } as Edit;
    }
  }
}
