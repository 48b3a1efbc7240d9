import { Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { findSubjects } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import styles from "./grid.module.css";

/** Groups and people, and for each group whoever is imagined in it: alone, or in the groups of an imagined column as well. */
async function findViewpoints(words: string, shown: readonly string[]): Promise<Choice[]> {
  const found = await findSubjects(words);
  const before = shown.filter((key) => /^(member|guest)\+/.test(key));
  const imagined = found.flatMap(({ key, name }): Choice[] => {
    const [kind, id = ""] = key.split(":");
    if (kind !== "group") return [];
    return [
      { key: `member+${id}`, name: `Any member in ${name}`, note: "imagined, in no other group" },
      { key: `guest+${id}`, name: `Any guest in ${name}`, note: "imagined, in no other group" },
      ...before
        .filter((it) => !it.split("+").includes(id))
        .map((it) => ({ key: `${it}+${id}`, name: `… and in ${name}`, note: `imagined, as ${it}` })),
    ];
  });
  return [...found, ...imagined].filter((it) => !shown.includes(it.key));
}

/** Adds a group, a person or somebody imagined as a column. */
export function ColumnPicker({ shown, onAdd }: { shown: readonly string[]; onAdd(key: string): void }) {
  const [open, setOpen] = useState(false);
  const add = ({ key, name }: Choice) => {
    onAdd(key);
    say(`${name} stands in the grid now.`);
    setOpen(false);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={styles.adder}>
        <Plus size={14} aria-hidden="true" /> Add a viewpoint
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.picker} align="start" sideOffset={4} aria-label="Add a viewpoint">
          <Picker label="Group or person" find={(words) => findViewpoints(words, shown)} onChoose={add} autoFocus inline />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
