/** The tray of this browser: its model, what is kept of it between pages and shared between tabs, and the calls it makes. */

import { useSyncExternalStore } from "react";
import { apply, preview, propose } from "../../contracts/change.ts";
import { type Principal, principalBehind, readViewpoint } from "../../core/access/model/index.ts";
import { withLocalDates } from "../../ui/dates.ts";
import { ApiError, ask, queries } from "../shared/api.ts";
import { type CallError, type TrayItem, TrayModel, type TrayServer, type TrayStore } from "./model.ts";

let start = "";
const listeners = new Set<() => void>();

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

function parsed(text: string | null): TrayItem[] {
  try {
    const item = JSON.parse(text ?? "null");
    return item ? [item] : [];
  } catch {
    return [];
  }
}

/** Each thing stands under a key of its own: two tabs never write over what the other put in. */
const store: TrayStore = {
  list: () =>
    start === ""
      ? []
      : Object.keys(localStorage)
          .filter((key) => key.startsWith(start))
          .flatMap((key) => parsed(localStorage.getItem(key))),
  put: (item) => localStorage.setItem(start + item.id, JSON.stringify(item)),
  drop: (id) => localStorage.removeItem(start + id),
};

/** The principal behind a column that a level can be chosen in. */
function principalOf(column: string): Principal {
  const viewpoint = readViewpoint(column);
  const principal = viewpoint && principalBehind(viewpoint);
  if (!principal) throw new ApiError(0, "noPrincipal", "This column stands for no group or person of its own.", null);
  return principal;
}

function errorOf(error: unknown): CallError {
  if (!(error instanceof ApiError)) throw error;
  const details = Array.isArray(error.details) ? (error.details as { nth?: number; message?: string }[]) : [];
  return {
    message: error.message,
    code: error.code,
    edits: details.flatMap(({ nth, message = "" }) => (typeof nth === "number" ? [{ nth, message: withLocalDates(message) }] : [])),
  };
}

const server: TrayServer = {
  preview: (edits, columns, acts) => ask(preview, { body: { edits: [...edits], columns: [...columns], acts: [...acts] } }),
  propose: ([place = "", ...alsoAt], wishes, edits) =>
    ask(propose, {
      body: {
        place,
        ...(alsoAt.length > 0 ? { alsoAt } : {}),
        wishes: wishes.map(({ column, name: _, ...what }) => ({ principal: principalOf(column), ...what })),
        edits: [...edits],
      },
    }),
  apply: ({ edits, acts, note, reason, seen }) =>
    ask(apply, { body: { edits: [...edits], acts: [...acts], note, ...(reason ? { reason } : {}), seen } }),
  changed: () => queries.invalidateQueries(),
  errorOf,
};

export const tray = new TrayModel(server, store, () => {
  for (const listener of listeners) listener();
});

export const useTray = () => useSyncExternalStore(subscribe, () => tray.state);

/** Brings back what waited when the page was left, and follows what other tabs do. Returns how to stop that. */
export function openTray(me: string): () => void {
  start = `tesoro.tray.${me}.`;
  tray.read();
  const follow = ({ key }: StorageEvent) => {
    if (key === null || key.startsWith(start)) tray.read();
  };
  // Rules may have moved on while nobody looked: whoever comes back sees what the changes would do by now.
  const lookAgain = () => document.visibilityState === "visible" && void tray.look();
  window.addEventListener("storage", follow);
  document.addEventListener("visibilitychange", lookAgain);
  return () => {
    window.removeEventListener("storage", follow);
    document.removeEventListener("visibilitychange", lookAgain);
  };
}
