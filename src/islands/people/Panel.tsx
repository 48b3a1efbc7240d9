/** The frame of a slip of a person or a group, at the right. */
import { X } from "lucide-react";
import type { ReactNode } from "react";
import slip from "../slip/slip.module.css";

interface Props {
  label: string;
  /** What it is, in small type above its name. */
  above: string;
  title: string;
  problem?: string;
  onClose(): void;
  children?: ReactNode;
}

export const Panel = ({ label, above, title, problem, onClose, children }: Props) => (
  <aside
    className={slip.slip}
    aria-label={label}
    onKeyDown={(event) => {
      if (event.key === "Escape" && !event.defaultPrevented) onClose();
    }}
  >
    <header>
      {above && <p className={slip.trail}>{above}</p>}
      <button type="button" className={slip.close} onClick={onClose} aria-label="Close the slip">
        <X size={16} />
      </button>
      {title && <h2 dir="auto">{title}</h2>}
    </header>
    <div className={slip.panel}>
      {problem && <p className="soft">{problem}</p>}
      {children}
    </div>
  </aside>
);
