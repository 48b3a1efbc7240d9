/**
 * The tray: where changes from any view wait together, with their common ripple, until they are applied or thrown
 * away. Kept in the browser, so that nothing prepared is lost when the page is left.
 */
import { useSyncExternalStore } from "react";
import type { Preview, ProposalView, ProposedChange } from "../../contracts/answers.ts";
import type { Level } from "../../core/access/abilities.ts";
import type { Principal } from "../../core/access/document.ts";
import type { Edit } from "../../core/access/edits.ts";
import { ApiError, post, queries } from "../shared/api.ts";

export interface TrayWish {
  column: string;
  name: string;
  level: Level;
}

/** One thing that waits: wishes at a place with the change that achieves them, or a rule edited by hand. */
export interface TrayItem {
  id: string;
  place: string;
  title: string;
  wishes: TrayWish[];
  change: ProposedChange;
  others: ProposedChange[];
  exceptions: string[];
}

export interface TrayState {
  items: TrayItem[];
  preview: Preview | null;
  busy: boolean;
  /** What went wrong, or why a wish cannot be met; with what was kept. */
  problem: string;
  applied: { seq: number; summary: string } | null;
  open: boolean;
}

let state: TrayState = { items: [], preview: null, busy: false, problem: "", applied: null, open: false };
let storageKey = "";
let columns: string[] = [];
const listeners = new Set<() => void>();

function set(change: Partial<TrayState>): void {
  state = { ...state, ...change };
  if (change.items && storageKey) localStorage.setItem(storageKey, JSON.stringify(state.items));
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

export const useTray = (): TrayState => useSyncExternalStore(subscribe, () => state);

export const editsOf = (items: readonly TrayItem[]): Edit[] => items.flatMap((item) => item.change.edits);

/** Brings back what waited when the page was left. */
export function openTray(me: string): void {
  storageKey = `tesoro.tray.${me}`;
  try {
    const items = JSON.parse(localStorage.getItem(storageKey) ?? "[]");
    if (Array.isArray(items) && items.length > 0) {
      set({ items });
      void look();
    }
  } catch {
    localStorage.removeItem(storageKey);
  }
}

/** Which columns of the grid are on the screen: their cells are shown before and after. */
export function showColumns(keys: string[]): void {
  const same = keys.join() === columns.join();
  columns = keys;
  if (!same && state.items.length > 0) void look();
}

let asked = 0;

/** Asks what everything in the tray would do. */
async function look(): Promise<void> {
  const turn = ++asked;
  if (state.items.length === 0) return set({ preview: null, busy: false, open: false });
  set({ busy: true });
  try {
    const preview = await post<Preview>("/api/preview", { edits: editsOf(state.items), columns });
    if (turn === asked) set({ preview, busy: false });
  } catch (error) {
    if (turn === asked) set({ preview: null, busy: false, problem: (error as ApiError).message });
  }
}

function put(item: TrayItem): void {
  set({ items: [...state.items.filter((it) => it.id !== item.id), item], problem: "", applied: null });
  void look();
}

export function remove(id: string): void {
  set({ items: state.items.filter((item) => item.id !== id), problem: "" });
  void look();
}

export function throwAway(): void {
  set({ items: [], preview: null, problem: "", open: false });
}

export const toggleOpen = (open = !state.open): void => set({ open });
export const dismiss = (): void => set({ applied: null, problem: "" });

function principalOf(column: string): Principal {
  const [kind = "", id = ""] = column.split(":");
  if (kind === "group") return { group: id };
  return kind === "person" ? { person: id } : { audience: kind as "public" };
}

let wishing: Promise<void> = Promise.resolve();

/**
 * A wish from a cell: this column has exactly this level at this place. The best change for it goes into the tray.
 * Wishes made in quick succession wait for each other: a later one at the same place is added to the earlier ones.
 */
export function wish(place: { id: string; title: string }, column: { key: string; name: string }, level: Level): Promise<void> {
  wishing = wishing.then(() => grantWish(place, column, level));
  return wishing;
}

async function grantWish(place: { id: string; title: string }, column: { key: string; name: string }, level: Level): Promise<void> {
  const id = `wish:${place.id}`;
  const known = state.items.find((item) => item.id === id);
  const wishes = [...(known?.wishes ?? []).filter((it) => it.column !== column.key), { column: column.key, name: column.name, level }];
  set({ busy: true, problem: "", applied: null });
  try {
    const proposal = await post<ProposalView>("/api/proposals", {
      place: place.id,
      wishes: wishes.map((it) => ({ principal: principalOf(it.column), level: it.level })),
      edits: editsOf(state.items.filter((item) => item.id !== id)),
    });
    if (proposal.alreadySo) {
      set({ busy: false, problem: `${column.name} have exactly this on ${place.title} already.` });
      if (known) remove(id);
    } else if (!proposal.best) set({ busy: false, problem: proposal.reason });
    else
      put({
        id,
        place: place.id,
        title: place.title,
        wishes,
        change: proposal.best,
        others: proposal.others,
        exceptions: proposal.exceptions,
      });
  } catch (error) {
    set({ busy: false, problem: (error as ApiError).message });
  }
}

/** Takes another of the offered changes for the same wishes. */
export function choose(item: TrayItem, other: ProposedChange): void {
  put({ ...item, change: other, others: [item.change, ...item.others.filter((it) => it !== other)] });
}

/** A rule edited by hand in the slip. */
export function stage(place: { id: string; title: string }, edits: Edit[], sentences: string[]): void {
  const id = `rule:${place.id}:${JSON.stringify(edits)}`;
  put({ id, place: place.id, title: place.title, wishes: [], change: { edits, sentences, besides: "" }, others: [], exceptions: [] });
}

/** Applies everything in the tray as one change, or nothing of it. */
export async function apply(note: string, reason: string): Promise<boolean> {
  const { preview, items } = state;
  if (!preview) return false;
  set({ busy: true, problem: "" });
  try {
    const { seq } = await post<{ seq: number }>("/api/changes", {
      edits: editsOf(items),
      note,
      ...(reason ? { reason } : {}),
      seen: preview.seen,
    });
    const summary = preview.ripple.summary.map((it) => it.text).join(" · ") || "Nobody gains or loses anything";
    set({ items: [], preview: null, busy: false, open: false, applied: { seq, summary } });
    await queries.invalidateQueries();
    return true;
  } catch (error) {
    set({ busy: false, problem: (error as ApiError).message });
    // The rules may have moved on: show what this would do now. What was prepared stays.
    if (error instanceof ApiError && error.code === "changedMeanwhile") {
      await queries.invalidateQueries();
      await look();
    }
    return false;
  }
}

/** Takes back an applied change (or any entry of the ledger) after its ripple was shown. */
export async function takeBackEntry(seq: number, note: string, seen: string, reason = ""): Promise<void> {
  await post(`/api/ledger/${seq}`, { note, seen, ...(reason ? { reason } : {}) });
  set({ applied: null });
  await queries.invalidateQueries();
}
