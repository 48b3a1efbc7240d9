/** Where what is told lies: one line a space with its count, each a filter; all of them first. */
import styles from "./outside.module.css";

interface Line {
  /** Empty for what lies in spaces that one cannot see. */
  id: string;
  name: string;
  count: number;
  /** What is to be looked at there, in a few words. */
  look?: string;
}

interface Props {
  lines: Line[];
  /** What is to be looked at in all of them. */
  look?: string;
  chosen: string;
  onChoose(space: string): void;
}

export function BySpace({ lines, look = "", chosen, onChoose }: Props) {
  const all = { id: "", name: "All spaces", count: lines.reduce((sum, { count }) => sum + count, 0), look };
  return (
    <>
      <h2>By space</h2>
      <ul>
        {[all, ...lines].map((line, nth) => (
          <li key={line.id || line.name}>
            <button
              type="button"
              aria-pressed={chosen === line.id && (nth === 0 || line.id !== "")}
              disabled={nth > 0 && line.id === ""}
              onClick={() => onChoose(line.id)}
              dir="auto"
            >
              {line.name}
            </button>
            <span>{line.count.toLocaleString("en")}</span>
            {line.look && <span className={styles.look}>{line.look}</span>}
          </li>
        ))}
      </ul>
    </>
  );
}
