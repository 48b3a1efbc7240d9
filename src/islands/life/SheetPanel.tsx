import { X } from "lucide-react";
import { type ReactNode, Suspense, useEffect, useRef } from "react";
import styles from "./life.module.css";

/** The panel of a sheet, from the right: it takes the focus, and Escape closes it. */
export function SheetPanel({ label, onClose, children }: { label: string; onClose(): void; children: ReactNode }) {
  const panel = useRef<HTMLElement>(null);
  useEffect(() => panel.current?.focus(), []);
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      className={styles.sheet}
      role="dialog"
      aria-label={label}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || event.defaultPrevented) return;
        event.stopPropagation();
        onClose();
      }}
    >
      <button type="button" className={styles.close} onClick={onClose} aria-label="Close the sheet">
        <X size={16} />
      </button>
      <Suspense fallback={<p className="soft">Looking at what it would do …</p>}>{children}</Suspense>
    </aside>
  );
}
