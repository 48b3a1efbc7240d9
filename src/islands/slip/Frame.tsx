/** The frame of a slip, whatever it is of: at the right, closed by its cross or by Escape. */
import { X } from "lucide-react";
import type { ReactNode } from "react";
import styles from "./slip.module.css";

interface Props {
  label: string;
  /** What it is and where, in small type above its name. */
  above: string;
  title: string;
  /** What belongs to its head, under the name. */
  head?: ReactNode;
  onClose(): void;
  children: ReactNode;
}

export const Frame = ({ label, above, title, head, onClose, children }: Props) => (
  <aside
    className={styles.slip}
    aria-label={label}
    onKeyDown={(event) => {
      if (event.key === "Escape" && !event.defaultPrevented) onClose();
    }}
  >
    <header>
      {above && <p className={styles.trail}>{above}</p>}
      <button type="button" className={styles.close} onClick={onClose} aria-label="Close the slip">
        <X size={16} />
      </button>
      {title && <h2 dir="auto">{title}</h2>}
      {head}
    </header>
    {children}
  </aside>
);
