/** What looks sensitive in the text that is being written: found by a worker, marked in the text for as long as it is asked for. */
import type { Editor } from "@tiptap/core";
import { Plugin, PluginKey } from "@tiptap/pm/state";
import { Decoration, DecorationSet } from "@tiptap/pm/view";
import { useEffect, useState } from "react";
import type { PageBody } from "../../core/content/index.ts";
import type { Finding } from "../../core/findings/index.ts";
import type { Looked, LookOrder } from "../../workers/findings.ts";
import styles from "./writing.module.css";

const KEY = new PluginKey<DecorationSet>("sensitive");

/** Where a finding stands in the document: its passage is the text block of that number, and offsets in both are the same. */
function rangeOf(editor: Editor, { passage, start, end }: Finding): { from: number; to: number } | null {
  let nth = -1;
  let range: { from: number; to: number } | null = null;
  editor.state.doc.descendants((node, at) => {
    if (range || !node.isTextblock) return range === null;
    nth++;
    if (nth === passage && end <= node.content.size) range = { from: at + 1 + start, to: at + 1 + end };
    return false;
  });
  return range;
}

/** Marks findings in the text; where words are typed the marks move along. */
function mark(editor: Editor, found: readonly Finding[]): void {
  const decorations = found.flatMap((it) => {
    const range = rangeOf(editor, it);
    return range ? [Decoration.inline(range.from, range.to, { class: styles.sensitive ?? "", "data-finding": it.kind })] : [];
  });
  editor.view.dispatch(editor.state.tr.setMeta(KEY, DecorationSet.create(editor.state.doc, decorations)).setMeta("addToHistory", false));
}

const marks = () =>
  new Plugin<DecorationSet>({
    key: KEY,
    state: {
      init: () => DecorationSet.empty,
      apply: (tr, set) => (tr.getMeta(KEY) as DecorationSet | undefined) ?? set.map(tr.mapping, tr.doc),
    },
    props: { decorations: (state) => KEY.getState(state) },
  });

/** Goes to a finding in the text, and selects it. */
export function showFinding(editor: Editor, finding: Finding): void {
  const range = rangeOf(editor, finding);
  if (range) editor.chain().focus().setTextSelection(range).scrollIntoView().run();
}

/** How long typing pauses before the text is looked through again. */
const PAUSE = 400;

/** What looks sensitive in the text as it stands; null: it is still being looked for. `words`: those of the house that stand in it. */
export function useSensitive(editor: Editor | null, words: readonly string[]): Finding[] | null {
  const [found, setFound] = useState<Finding[] | null>(null);
  const key = words.join("\n");
  useEffect(() => {
    if (!editor) return;
    const worker = new Worker(new URL("../../workers/findings.ts", import.meta.url), { type: "module" });
    let [nth, timer] = [0, 0];
    const look = () => {
      const content = (editor.getJSON().content ?? []) as PageBody["content"];
      worker.postMessage({ nth: ++nth, body: { schema: 1, content }, words: key === "" ? [] : key.split("\n") } satisfies LookOrder);
    };
    worker.addEventListener("message", ({ data }: MessageEvent<Looked>) => {
      // Words typed meanwhile are looked through by themselves.
      if (data.nth !== nth || editor.isDestroyed) return;
      mark(editor, data.found);
      setFound(data.found);
    });
    const typed = () => {
      clearTimeout(timer);
      timer = window.setTimeout(look, PAUSE);
    };
    editor.registerPlugin(marks());
    editor.on("update", typed);
    look();
    return () => {
      clearTimeout(timer);
      worker.terminate();
      editor.off("update", typed);
      if (!editor.isDestroyed) editor.unregisterPlugin(KEY);
    };
  }, [editor, key]);
  return found;
}
