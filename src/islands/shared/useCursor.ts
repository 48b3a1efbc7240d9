/** Where one is in a list that is worked down, and that the focus follows its lines as they go. */
import { useEffect, useRef, useState } from "react";

/** Lines carry `data-row` with their number; `list` is what holds them. */
export function useCursor<E extends HTMLElement>(count: number) {
  const [at, setAt] = useState(0);
  const list = useRef<E>(null);
  const wants = useRef(false);
  const nth = Math.min(at, Math.max(0, count - 1));
  useEffect(() => {
    if (!wants.current) return;
    wants.current = false;
    list.current?.querySelector<HTMLElement>(`[data-row="${nth}"]`)?.focus();
  });
  return {
    nth,
    list,
    go: (to: number, focus = true) => {
      wants.current = focus;
      setAt(Math.max(0, Math.min(count - 1, to)));
    },
    /** Keeps the focus on the line under it, whatever comes there. */
    stay: () => {
      wants.current = true;
    },
  };
}
export type Cursor<E extends HTMLElement> = ReturnType<typeof useCursor<E>>;
