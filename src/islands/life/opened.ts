/** The act whose sheet is open: any view asks for it, one sheet on the page shows it. */
import { useSyncExternalStore } from "react";
import { LIFE_ACTS, type LifeAct, type LifeActName } from "../../core/lifecycle/index.ts";

export interface OpenedAct {
  act: LifeAct;
  /** What gets the focus back when the sheet closes. */
  from: Element | null;
}

let opened: OpenedAct | null = null;
const listeners = new Set<() => void>();

const set = (next: OpenedAct | null) => {
  opened = next;
  for (const listener of listeners) listener();
};

/** Opens the sheet of an act. */
export const openAct = (act: LifeAct): void => set({ act, from: document.activeElement });

/** Closes it, and gives the focus back. */
export function closeAct(): void {
  const from = opened?.from;
  set(null);
  if (from instanceof HTMLElement && from.isConnected) from.focus();
}

export const useOpenedAct = (): OpenedAct | null =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    () => opened,
  );

/** An act that the address asks for, as a link on a reader's page does: it is taken out, so that it is asked for once. */
export function actOfAddress(): LifeAct | null {
  const query = new URLSearchParams(window.location.search);
  const [name, place] = [query.get("act"), query.get("place")];
  if (!name || !place || !(LIFE_ACTS as readonly string[]).includes(name)) return null;
  query.delete("act");
  window.history.replaceState(null, "", `?${query}`);
  return { act: name as LifeActName, places: [place] };
}
