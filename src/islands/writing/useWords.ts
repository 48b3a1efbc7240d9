/** The words being written: what is kept of them and how, saving them as versions, and somebody else's. Their editor: `useLive.ts`. */

import type { Editor } from "@tiptap/core";
import { useEffect, useMemo, useReducer, useState } from "react";
import type { KeptWords, Written } from "../../contracts/writing.ts";
import { BODY_LIMITS, type BodySize, overLimits, type PageBody } from "../../core/content/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { type BrowserWords, browserClock } from "./browserWords.ts";
import { beginning, Keeper, type Words, type WordsServer } from "./keeping.ts";
import { type Live, useLive } from "./useLive.ts";

/** What there is to write on: the page, where it is kept, and what this browser keeps. */
export interface Opened<Page extends Written = Written> {
  page: Page;
  server: WordsServer;
  store: BrowserWords;
  /** Names of the tabs that are open in this browser. */
  open: ReadonlySet<string>;
}

export interface Writing {
  live: Live;
  title: string;
  readOnly: boolean;
  setTitle(title: string): void;
  keeper: Keeper;
  /** Other words of one's own on this page that no version has. */
  others: KeptWords[];
  /** Why saving is off, in a sentence; empty where it is not. */
  off: string;
  /** Once everything that was typed is kept, so that one can tell whether there is something to save. */
  settled(): Promise<void>;
  save(note: string): Promise<string | null>;
  saveOver(note: string): Promise<string | null>;
  /** Makes both versions: mine first, then theirs on top of it, to go on from. */
  goOnFromTheirs(note: string): Promise<void>;
  take(other: KeptWords): void;
  throwAway(other: KeptWords): void;
  published(version: string): void;
  /** Shows a newer version, unless something was typed. */
  renew(words: Words): void;
}

/** A large text is kept when typing pauses for so long, or the page is left; any other with every key. */
const PAUSE_OF_LARGE = 400;

function reasonOff(title: string, size: BodySize): string {
  if (!hasWords(title)) return "Saving is off: the page needs a title.";
  if (title.length > LIMITS.title)
    return `Saving is off: the title is ${title.length - LIMITS.title} characters too long (at most ${LIMITS.title}).`;
  const [over] = overLimits(size);
  if (over) return `Saving is off: the text ${over}.`;
  return size.depth > BODY_LIMITS.depth ? `Saving is off: something is nested deeper than ${BODY_LIMITS.depth}.` : "";
}

/** Tells the keeper what is typed: at once, or for a large text when typing pauses. */
function useTyped(keeper: Keeper) {
  const waiting = useMemo(() => ({ read: null as (() => Omit<Words, "base">) | null, timer: 0 }), []);
  const flush = () => {
    clearTimeout(waiting.timer);
    const { read } = waiting;
    waiting.read = null;
    if (read) keeper.typed(read());
  };
  useEffect(() => {
    window.addEventListener("pagehide", flush);
    document.addEventListener("visibilitychange", flush);
    const online = () => keeper.online();
    window.addEventListener("online", online);
    return () => {
      flush();
      window.removeEventListener("pagehide", flush);
      document.removeEventListener("visibilitychange", flush);
      window.removeEventListener("online", online);
      keeper.stop();
    };
  }, [keeper]);
  return {
    flush,
    typed(read: () => Omit<Words, "base">, isLarge: boolean) {
      waiting.read = read;
      if (!isLarge) return flush();
      clearTimeout(waiting.timer);
      waiting.timer = window.setTimeout(flush, PAUSE_OF_LARGE);
    },
  };
}

/** Saves one's own words as a version of their own, and goes on from the other's. */
async function goOnFromTheirs(
  keeper: Keeper,
  editor: Editor | null,
  save: (on: string) => Promise<string | null>,
  put: (words: { title: string; body: PageBody }) => void,
): Promise<void> {
  const { theirs } = keeper;
  if (!theirs) return;
  // Nothing can be typed between the two versions.
  editor?.setEditable(false);
  try {
    const mine = await save(theirs.version);
    if (!mine || keeper.dirty) return;
    const version = await keeper.saveOther({ ...theirs, base: mine }, `Continued from version ${theirs.version}.`);
    if (version) put(theirs);
  } finally {
    editor?.setEditable(true, false);
  }
}

/** `readOnly`: one looks on, and nothing can be typed. */
export function useWords({ page, server, store, open }: Opened, readOnly = false): Writing {
  const [, again] = useReducer((it: number) => it + 1, 0);
  const start = useMemo(() => {
    const newest = { title: page.title, body: page.body, base: page.version };
    return beginning(newest, store.tab, store.list(), page.buffers, (tab) => open.has(tab));
  }, [page, store, open]);
  const keeper = useMemo(() => new Keeper(start, store, server, browserClock, again), [start, store, server]);
  const [others, setOthers] = useState(start.others);
  const [title, putTitle] = useState(start.words.title);
  const { typed, flush } = useTyped(keeper);
  const latest = useMemo(() => ({ title: start.words.title }), [start]);
  const live = useLive(start.words.body, readOnly, (body, isLarge) => typed(() => ({ title: latest.title, body: body() }), isLarge));
  const put = (words: { title: string; body: PageBody }) => {
    latest.title = words.title;
    putTitle(words.title);
    live.put(words.body);
  };
  const save = (note: string, on?: string) => {
    flush();
    return keeper.save(note, on);
  };
  return {
    live,
    title,
    readOnly,
    keeper,
    others,
    off: reasonOff(title, live.size),
    settled: async () => {
      await live.settled();
      flush();
    },
    save: (note) => save(note),
    saveOver: (note) => save(note, keeper.theirs?.version),
    setTitle: (text) => {
      latest.title = text.replaceAll("\n", " ");
      putTitle(latest.title);
      typed(() => ({ title: latest.title, body: live.body() }), false);
    },
    goOnFromTheirs: (note) => goOnFromTheirs(keeper, live.editor, (on) => save(note, on), put),
    take: (other) => {
      flush();
      const parked = keeper.swap(other, `${store.tab}-${Date.now().toString(36)}`);
      setOthers([...others.filter((it) => it !== other), ...(parked ? [parked] : [])]);
      put(other);
    },
    throwAway: (other) => {
      setOthers(others.filter((it) => it !== other));
      void keeper.throwAway(other);
    },
    published: (version) => keeper.rebase(version),
    renew: (words) => {
      flush();
      if (keeper.renew(words)) put(words);
    },
  };
}
