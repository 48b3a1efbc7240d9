import { Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { Picker } from "../../ui/Picker.tsx";
import { findSubjects, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import styles from "./grid.module.css";

/** Adds a group or a person as a column. */
export function ColumnPicker({ shown, onAdd }: { shown: readonly string[]; onAdd(key: string): void }) {
  const [open, setOpen] = useState(false);
  const add = ({ key, name }: PrincipalChoice) => {
    onAdd(key);
    say(`${name} stands in the grid now.`);
    setOpen(false);
  };
  const find = async (words: string) => (await findSubjects(words)).filter((it) => !shown.includes(it.key));
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={styles.adder}>
        <Plus size={14} aria-hidden="true" /> Add a viewpoint
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.picker} align="start" sideOffset={4} aria-label="Add a viewpoint">
          <Picker label="Group or person" find={find} onChoose={add} autoFocus inline />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
