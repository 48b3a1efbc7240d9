/**
 * The text and its editor. The editor is heavy, and many a page is opened only to be looked at: until pointer or keyboard
 * come to the text, it stands there as readers see it.
 */
import type { Editor } from "@tiptap/core";
import { useEffect, useMemo, useReducer, useState } from "react";
import { type BodySize, type PageBody, sizeOfNodes } from "../../core/content/index.ts";
import { actOfClick, nothingReached, type Reached } from "./reached.ts";

type Parts = typeof import("./LiveText.tsx");

export interface Live {
  /** The text as it stood before the editor came, or was put there since. */
  still: PageBody;
  /** What the editor is made of, once it has come. */
  parts: Parts | null;
  editor: Editor | null;
  reached: Reached;
  /** Words were typed that are not in the text yet. */
  waiting: boolean;
  /** Something was done to the text while the editor is on its way. */
  noted(words: boolean): void;
  /** Why the editor does not come; empty where it does. */
  problem: string;
  size: BodySize;
  /** What a paste left out or is bringing in. */
  pasted: string;
  /** The text as it stands. */
  body(): PageBody;
  /** Another text in its stead. */
  put(body: PageBody): void;
  /** Brings the editor, and then does this with it. */
  open(act?: (editor: Editor) => void): void;
  /** Once everything that was done to the text stands in it. */
  settled(): Promise<void>;
  onEditor(editor: Editor | null): void;
  onTyped(editor: Editor): void;
  onPasted(words: string): void;
}

/** Up to this size a text is kept with every key. */
const LARGE = 60_000;
const AGAIN_AFTER = 3_000;

const bodyOf = (editor: Editor): PageBody => ({ schema: 1, content: (editor.getJSON().content ?? []) as PageBody["content"] });

const UNANSWERED = "Nothing can be typed yet: the editor has not come, the server does not answer. It is tried again by itself.";
const BROKEN = "The editor did not come. Open the page again: what was typed so far is kept.";

/** Whether the server answers at all. A browser never asks again for a script that failed to come, so this is asked first. */
const answers = (): Promise<boolean> =>
  fetch("/icon.svg", { method: "HEAD", cache: "no-store" }).then(
    ({ ok }) => ok,
    () => false,
  );

/** Brings the editor from the server, once it answers. */
function useParts() {
  const [parts, setParts] = useState<Parts | null>(null);
  const [problem, setProblem] = useState("");
  const state = useMemo(() => ({ asked: false, timer: 0 }), []);
  const come = async () => {
    if (await answers()) {
      await import("./LiveText.tsx").then(setParts).then(
        () => setProblem(""),
        () => setProblem(BROKEN),
      );
    } else {
      setProblem(UNANSWERED);
      state.timer = window.setTimeout(come, AGAIN_AFTER);
    }
  };
  useEffect(() => () => clearTimeout(state.timer), []);
  const bring = () => {
    if (!state.asked) void come();
    state.asked = true;
  };
  return { parts, problem, bring };
}

/**
 * Whoever goes to the text before they may write it (who has the pen is not known yet, or it is just being handed over) is
 * there once they may: no click comes to nothing.
 */
function useGoneThere(readOnly: boolean, reached: Reached, open: Live["open"]): void {
  useEffect(() => {
    if (!readOnly) {
      const { place } = reached;
      reached.place = null;
      if (!place && !document.activeElement?.matches(TEXT)) return;
      reached.focus = true;
      return open((editor) => {
        place?.(editor);
        editor.view.focus();
      });
    }
    const note = ({ target, clientX, clientY }: PointerEvent) => {
      reached.place = target instanceof Element && target.closest(TEXT) ? actOfClick(clientX, clientY) : null;
    };
    document.addEventListener("pointerdown", note);
    return () => document.removeEventListener("pointerdown", note);
  }, [readOnly, reached]);
}

const TEXT = ".prose";

/** `readOnly`: one looks on. `onTyped`: something was typed; `body` reads the text then. */
export function useLive(start: PageBody, readOnly: boolean, onTyped: (body: () => PageBody, isLarge: boolean) => void): Live {
  const { parts, problem, bring } = useParts();
  // What is asked of the text between two pictures of it must not see an older one.
  const now = useMemo(() => ({ still: start, editor: null as Editor | null, reached: nothingReached() }), [start]);
  const [, again] = useReducer((it: number) => it + 1, 0);
  const [pasted, setPasted] = useState("");
  const { editor, still } = now;
  const doc = editor?.state.doc;
  const size = useMemo(
    () => (doc ? sizeOfNodes(doc.content.content, (node) => node.content.content) : sizeOfNodes(still.content, (node) => node.content)),
    [doc, still],
  );
  useEffect(() => void editor?.setEditable(!readOnly, false), [editor, readOnly]);
  const open = (act?: (editor: Editor) => void) => {
    if (now.editor) return act?.(now.editor);
    if (act) now.reached.acts.push(act);
    bring();
  };
  useGoneThere(readOnly, now.reached, open);
  return {
    still,
    parts,
    editor,
    reached: now.reached,
    waiting: now.reached.words,
    noted: (words) => {
      now.reached.words ||= words;
      again();
    },
    problem,
    size,
    pasted,
    body: () => (now.editor ? bodyOf(now.editor) : now.still),
    put: (body) => {
      now.still = body;
      now.editor?.commands.setContent({ type: "doc", content: body.content }, { emitUpdate: false });
      again();
    },
    open,
    settled: () => (now.editor || now.reached.acts.length === 0 ? Promise.resolve() : new Promise((done) => open(() => done()))),
    onEditor: (it) => {
      if (now.editor && !it) now.still = bodyOf(now.editor);
      now.editor = it;
      again();
    },
    onTyped: (it) => {
      onTyped(() => bodyOf(it), it.state.doc.content.size > LARGE);
      again();
    },
    onPasted: setPasted,
  };
}
