/** What waits in the tray for people and groups, shown where they stand. */
import type { Edit } from "../../core/access/model/index.ts";
import type { TrayItem } from "../change/model.ts";
import { tray } from "../change/store.ts";
import styles from "./people.module.css";

export interface Waiting<E extends Edit = Edit> {
  item: TrayItem;
  edit: E;
}

type Of<K extends Edit["kind"]> = Extract<Edit, { kind: K }>;

/** Edits of a kind that wait, with the item of the tray that holds each. */
export const waitingOf = <K extends Edit["kind"]>(items: readonly TrayItem[], kind: K, fits: (edit: Of<K>) => boolean): Waiting<Of<K>>[] =>
  items.flatMap((item) =>
    item.change.edits.flatMap((edit) => (edit.kind === kind && fits(edit as Of<K>) ? [{ item, edit: edit as Of<K> }] : [])),
  );

/** "suspended, in the tray", and how to leave it as it is. */
export const InTray = ({ waiting, words }: { waiting: Waiting; words: string }) => (
  <span className={styles.inTray}>
    {words}, in the tray{" "}
    <button type="button" className={styles.text} onClick={() => tray.remove(waiting.item.id)}>
      leave it
    </button>
  </span>
);
