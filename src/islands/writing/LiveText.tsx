/** The text with its editor: everything that is too heavy to come before somebody writes. */
import type { Editor } from "@tiptap/core";
import { EditorContent, useEditor } from "@tiptap/react";
import { useLayoutEffect, useMemo } from "react";
import { readSlip } from "../../contracts/slip.ts";
import type { PageBody } from "../../core/content/index.ts";
import { ask } from "../shared/api.ts";
import { extensions } from "./extensions.ts";
import { bringMarkdown, pastingExtension } from "./pasting.ts";
import type { Reached } from "./reached.ts";

export { Toolbar } from "./Toolbar.tsx";

const titleOf = (page: string): Promise<string | null> =>
  ask(readSlip, { params: { id: page } }).then(
    (it) => it.title,
    () => null,
  );

/** The text as it is held by `useLive.ts`, which brings this. */
interface Held {
  still: PageBody;
  reached: Reached;
  onEditor(editor: Editor | null): void;
  onTyped(editor: Editor): void;
  onPasted(words: string): void;
}

/** Does what was done to the text before the editor had come. */
function catchUp(editor: Editor, { reached }: Held): void {
  if (reached.focus) editor.view.focus();
  for (const act of reached.acts.splice(0)) act(editor);
  reached.words = false;
}

export function LiveText({ live, readOnly }: { live: Held; readOnly: boolean }) {
  const { onPasted, onTyped, onEditor } = live;
  const editor = useEditor({
    extensions: useMemo(() => {
      const { origin } = window.location;
      return [...extensions(origin), pastingExtension({ origin, say: onPasted, titleOf })];
    }, []),
    editable: !readOnly,
    // The page's policy forbids styles that scripts bring along; ours are in writing.module.css.
    injectCSS: false,
    content: { type: "doc", content: live.still.content },
    editorProps: {
      attributes: { "aria-label": "Text of the page", class: "prose", role: "textbox", "aria-multiline": "true", "data-home": "" },
    },
    onUpdate: ({ editor: it, transaction }) => transaction.docChanged && onTyped(it),
  });
  useLayoutEffect(() => {
    void bringMarkdown();
    onEditor(editor);
    catchUp(editor, live);
    return () => onEditor(null);
  }, [editor]);
  return <EditorContent editor={editor} />;
}
