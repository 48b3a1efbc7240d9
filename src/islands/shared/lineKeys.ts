/** Keys of a line in a list of lines: up and down go from one to the next, and each act has its letter. */
import type { KeyboardEvent } from "react";

const STEPS: Readonly<Record<string, "nextElementSibling" | "previousElementSibling">> = {
  ArrowDown: "nextElementSibling",
  ArrowUp: "previousElementSibling",
};

/** What a line does about a key pressed on itself; keys of what stands in it are left alone. */
export const lineKeys = (acts: Readonly<Record<string, () => void>>) => (event: KeyboardEvent<HTMLElement>) => {
  if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
  const step = STEPS[event.key];
  const act = step ? () => (event.currentTarget[step] as HTMLElement | null)?.focus() : acts[event.key];
  if (!act) return;
  event.preventDefault();
  act();
};
