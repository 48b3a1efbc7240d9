/** Where the browser keeps words: by person, page and tab; and how a tab knows which others are open. */
import type { KeptWords } from "../../contracts/writing.ts";
import type { Clock, WordsStore } from "./keeping.ts";

const START = "tesoro.words.";
const TAB = "tesoro.tab";

const newTab = (): string => Array.from(crypto.getRandomValues(new Uint8Array(9)), (it) => (it % 36).toString(36)).join("");
const lockOf = (tab: string): string => `tesoro.tab.${tab}`;

/** Holds a lock for as long as the tab is open, so that others see it; false where somebody has it already. */
function hold(tab: string): Promise<boolean> {
  return new Promise((answer) => {
    void navigator.locks.request(lockOf(tab), { ifAvailable: true }, (lock) => {
      answer(lock !== null);
      // Never ends by itself: the browser lets go of the lock when the tab goes.
      return lock === null ? undefined : new Promise<never>(() => {});
    });
  });
}

let mine: Promise<string> | null = null;

/** The name of this tab: the same after a reload, another for a tab that was made as a copy of this one. */
export function tabName(): Promise<string> {
  mine ??= (async () => {
    const known = sessionStorage.getItem(TAB);
    // Without a secure context there are no locks; then names are told apart by the tab's own storage alone.
    if (known && (!navigator.locks || (await hold(known)))) return known;
    const made = newTab();
    sessionStorage.setItem(TAB, made);
    if (navigator.locks) await hold(made);
    return made;
  })();
  return mine;
}

/** Names of the tabs of this browser that are open, as far as it tells. */
export async function openTabs(): Promise<Set<string>> {
  if (!navigator.locks) return new Set();
  const { held = [] } = await navigator.locks.query();
  return new Set(held.flatMap(({ name }) => (name?.startsWith(lockOf("")) ? [name.slice(lockOf("").length)] : [])));
}

const parsed = (text: string | null): KeptWords | null => {
  try {
    return JSON.parse(text ?? "null");
  } catch {
    return null;
  }
};

export interface BrowserWords extends WordsStore {
  /** Everything kept for this person on this page. */
  list(): KeptWords[];
}

export function browserWords(person: string, page: string, tab: string): BrowserWords {
  const start = `${START}${person}.${page}.`;
  return {
    tab,
    list: () =>
      Object.keys(localStorage)
        .filter((key) => key.startsWith(start))
        .flatMap((key) => parsed(localStorage.getItem(key)) ?? []),
    put(words) {
      try {
        localStorage.setItem(start + words.tab, JSON.stringify(words));
        return true;
      } catch {
        return false;
      }
    },
    drop: (other) => localStorage.removeItem(start + other),
  };
}

export const browserClock: Clock = {
  now: () => Date.now(),
  later: (milliseconds, act) => {
    const timer = setTimeout(act, milliseconds);
    return () => clearTimeout(timer);
  },
};
