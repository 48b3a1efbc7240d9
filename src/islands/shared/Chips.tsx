/** Whoever was picked, each with a way of leaving them out again. */

import styles from "./chips.module.css";
import type { PrincipalChoice } from "./people.ts";

interface Props<T> {
  label: string;
  chosen: readonly T[];
  onChange(chosen: T[]): void;
}

export function Chips<T extends Pick<PrincipalChoice, "key" | "name">>({ label, chosen, onChange }: Props<T>) {
  if (chosen.length === 0) return null;
  return (
    <ul className={styles.chips} aria-label={label}>
      {chosen.map((it) => (
        <li key={it.key}>
          <span dir="auto">{it.name}</span>{" "}
          <button
            type="button"
            className={styles.not}
            aria-label={`Not ${it.name}`}
            onClick={() => onChange(chosen.filter(({ key }) => key !== it.key))}
          >
            not
          </button>
        </li>
      ))}
    </ul>
  );
}
