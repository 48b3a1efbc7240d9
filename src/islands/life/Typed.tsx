import styles from "./life.module.css";

/** The number of what is erased, typed. */
export function Typed({ count, value, onChange }: { count: number; value: string; onChange(value: string): void }) {
  return (
    <label className={styles.typed}>
      Type how many go for good: {count.toLocaleString("en")}
      <input className="field" inputMode="numeric" value={value} onChange={(event) => onChange(event.target.value)} />
    </label>
  );
}
