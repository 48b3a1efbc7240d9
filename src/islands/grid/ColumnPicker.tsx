import { Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { Everybody, Grid } from "../../contracts/answers.ts";
import styles from "./grid.module.css";

/** Adds a group or a person as a column. */
export function ColumnPicker({ grid, everybody, onAdd }: { grid: Grid; everybody: Everybody; onAdd(key: string): void }) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const has = (name: string) => name.toLowerCase().includes(words.trim().toLowerCase());
  const shown = new Set(grid.columns.map((column) => column.key));
  const choices = [
    ...everybody.groups.map((it) => ({
      key: `group:${it.id}`,
      name: it.name,
      note: `group, ${it.people} ${it.people === 1 ? "person" : "people"}`,
    })),
    ...everybody.people.map((it) => ({ key: `person:${it.id}`, name: it.name, note: it.kind })),
  ].filter((it) => has(it.name) && !shown.has(it.key));
  const add = (key: string) => {
    onAdd(key);
    setOpen(false);
    setWords("");
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={styles.adder}>
        <Plus size={14} aria-hidden="true" /> Add a viewpoint
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.picker} align="start" sideOffset={4} aria-label="Add a viewpoint">
          <input
            className="field"
            placeholder="Group or person"
            aria-label="Group or person"
            value={words}
            onChange={(event) => setWords(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && choices[0] && add(choices[0].key)}
          />
          <ul>
            {choices.slice(0, 40).map((it) => (
              <li key={it.key}>
                <button type="button" onClick={() => add(it.key)}>
                  <span>{it.name}</span>
                  <small>{it.note}</small>
                </button>
              </li>
            ))}
          </ul>
          {choices.length === 0 && <p>No group and nobody of that name.</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
