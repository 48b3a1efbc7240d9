import { Columns3 } from "lucide-react";
import { Popover } from "radix-ui";
import { COLUMN_NAMES } from "./columns.tsx";
import styles from "./pages.module.css";

/** Which columns are shown; the page itself always is. */
export function ShownColumns({ shown, onChange }: { shown: readonly string[]; onChange(columns: string[]): void }) {
  const toggle = (key: string) => {
    const wanted = new Set(shown);
    if (!wanted.delete(key)) wanted.add(key);
    onChange([...COLUMN_NAMES.keys()].filter((it) => wanted.has(it)));
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="button plain">
        <Columns3 size={14} aria-hidden="true" /> Columns
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="end" sideOffset={4}>
          <ul className={styles.options}>
            {[...COLUMN_NAMES].map(([key, name]) => (
              <li key={key}>
                <label>
                  <input type="checkbox" checked={shown.includes(key)} disabled={key === "title"} onChange={() => toggle(key)} /> {name}
                </label>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
