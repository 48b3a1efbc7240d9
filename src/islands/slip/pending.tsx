/** What waits in the tray for the rules of one place: shown where the rule stands. */
import type { Slip } from "../../contracts/slip.ts";
import type { Names } from "../../core/access/explain/index.ts";
import { type Edit, fenceKey, grantKey, type Principal, principalKey } from "../../core/access/model/index.ts";
import type { TrayItem } from "../change/model.ts";
import { tray } from "../change/store.ts";
import styles from "./slip.module.css";

export interface Waiting {
  item: TrayItem;
  edit: Edit;
  sentence: string;
}

export const waitingAt = (items: readonly TrayItem[], place: string): Waiting[] =>
  items.flatMap((item) =>
    item.change.edits.flatMap((edit, i) =>
      "place" in edit && edit.place === place ? [{ item, edit, sentence: item.change.sentences[i] ?? "" }] : [],
    ),
  );

/** What waits for a rule that stands, of which this is the key. */
export const waitingFor = (waiting: readonly Waiting[], kind: "grant" | "fence", key: string): Waiting | undefined =>
  waiting.find(({ edit }) => {
    if (edit.kind === "grant" && kind === "grant") return edit.remove !== undefined && grantKey(edit.remove) === key;
    return edit.kind === "fence" && kind === "fence" && edit.remove !== undefined && fenceKey(edit.remove) === key;
  });

/** "→ Writer, in the tray", and how to leave it as it is. */
export function InTray({ waiting, words }: { waiting: Waiting; words: string }) {
  return (
    <span className={styles.inTray}>
      → {words}, in the tray{" "}
      <button
        type="button"
        className={styles.text}
        onClick={() => tray.remove(waiting.item.id)}
        title={waiting.item.change.edits.length > 1 ? "Takes the whole change out of the tray that this is part of." : undefined}
      >
        leave it
      </button>
    </span>
  );
}

/** Names of those whom the rules of a slip name, and of those picked since. */
export function slipNames(slip: Slip, picked: ReadonlyMap<string, string>): Names {
  const known = new Map(picked);
  for (const { grant, who } of slip.rules.grants) known.set(principalKey(grant.to), who);
  for (const { fence, names } of slip.rules.fences)
    fence.admits.forEach((principal, i) => {
      known.set(principalKey(principal), names[i] ?? "");
    });
  const name = (principal: Principal, id: string) => known.get(principalKey(principal)) ?? id;
  return { place: (id) => id, person: (id) => name({ person: id }, id), group: (id) => name({ group: id }, id) };
}
