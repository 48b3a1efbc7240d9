/** The order for many pages whose sheet is open. */

import { useSyncExternalStore } from "react";
import type { ManyBody } from "../../contracts/jobs.ts";
import { goHome } from "../shared/focus.ts";

let opened: ManyBody | null = null;
const listeners = new Set<() => void>();

export function openMany(many: ManyBody | null): void {
  opened = many;
  for (const listener of listeners) listener();
}

export const useOpenedMany = (): ManyBody | null =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    () => opened,
  );

export function closeMany(): void {
  openMany(null);
  goHome();
}
