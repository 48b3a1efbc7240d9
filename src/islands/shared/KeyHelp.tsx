/** The keys of a view: shown and put away with `?`, put away with Escape. */
import { useEffect, useRef, useState } from "react";
import { goHome } from "./focus.ts";
import styles from "./keyHelp.module.css";

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable=true], [role=dialog]") !== null;

/** Calls back for keys that mean something wherever one is, except where one types. */
export function useViewKey(key: string, act: () => void): void {
  const latest = useRef(act);
  latest.current = act;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== key || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || isTyping(event.target)) return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [key]);
}

export function KeyHelp({ name, keys }: { name: string; keys: readonly [string, string][] }) {
  const [open, setOpen] = useState(false);
  const panel = useRef<HTMLElement>(null);
  const before = useRef<Element | null>(null);
  const close = () => {
    setOpen(false);
    const back = before.current;
    if (back instanceof HTMLElement && back.isConnected && back !== document.body) back.focus();
    else goHome();
  };
  useViewKey("?", () => {
    if (open) return close();
    before.current = document.activeElement;
    setOpen(true);
  });
  useEffect(() => {
    if (open) panel.current?.focus();
  }, [open]);
  if (!open) return null;
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      className={styles.help}
      aria-label={`Keys of ${name}`}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        close();
      }}
    >
      <dl>
        {keys.map(([key, does]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="button" onClick={close}>
        Close
      </button>
    </aside>
  );
}
