/** The parts of a view, one beside the other; which is shown stands in its address. */
import styles from "./parts.module.css";

interface Props<Part extends string> {
  /** Of what these are parts, as in "Parts of Outside". */
  label: string;
  parts: Readonly<Record<Part, string>>;
  shown: Part;
  onShow(part: Part): void;
}

export function Parts<Part extends string>({ label, parts, shown, onShow }: Props<Part>) {
  return (
    <nav className={styles.parts} aria-label={label}>
      {(Object.keys(parts) as Part[]).map((part) => (
        <button key={part} type="button" aria-current={shown === part ? "page" : undefined} onClick={() => onShow(part)}>
          {parts[part]}
        </button>
      ))}
    </nav>
  );
}
