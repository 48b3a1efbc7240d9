import { findWrapping } from "@tiptap/pm/transform";
import type { Editor } from "@tiptap/react";
import { useEditorState } from "@tiptap/react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { FoundPlace } from "../../contracts/search.ts";
import { placeNote, useFound } from "../shared/useFound.ts";
import type { Reached } from "./reached.ts";
import { ToolRow, type ToolState } from "./ToolRow.tsx";
import type { ToolName } from "./tools.ts";
import styles from "./writing.module.css";

/** Finds a page to link the selected words to; without a selection its title is put in. */
function LinkSearch({ editor, onDone }: { editor: Editor; onDone(): void }) {
  const [words, setWords] = useState("");
  const found = useFound(words) ?? [];
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => box.current?.focus(), []);
  const link = (page: FoundPlace) => {
    const mark = { type: "link", attrs: { page: page.id, href: null } };
    const { empty } = editor.state.selection;
    if (empty)
      editor
        .chain()
        .focus()
        .insertContent({ type: "text", text: page.title, marks: [mark] })
        .run();
    else editor.chain().focus().setMark("link", mark.attrs).run();
    onDone();
  };
  return (
    <div className={styles.linking}>
      <label htmlFor="linkWords">Link to a page: words of its title</label>
      <input
        id="linkWords"
        ref={box}
        className="field"
        aria-label="Link to a page"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            event.preventDefault();
            if (found[0]) link(found[0]);
          }
          if (event.key !== "Escape") return;
          onDone();
          editor.commands.focus();
        }}
      />
      <ul>
        {found.map((page) => (
          <li key={page.id}>
            <button type="button" onClick={() => link(page)}>
              <span>{page.title}</span>
              <small>{placeNote(page)}</small>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Whether a callout can be put around what is chosen: it holds paragraphs only. */
function canWrap(editor: Editor): boolean {
  const { $from, $to } = editor.state.selection;
  const range = $from.blockRange($to);
  const { callout } = editor.schema.nodes;
  return range !== null && callout !== undefined && findWrapping(range, callout) !== null;
}

/** What is on where the cursor stands, and what may be done there. */
function useActive(editor: Editor) {
  return useEditorState({
    editor,
    selector: ({ editor: it }) => ({
      bold: it.isActive("bold"),
      italic: it.isActive("italic"),
      code: it.isActive("code"),
      h1: it.isActive("heading", { level: 1 }),
      h2: it.isActive("heading", { level: 2 }),
      bullets: it.isActive("bulletList"),
      numbers: it.isActive("orderedList"),
      quote: it.isActive("blockquote"),
      block: it.isActive("codeBlock"),
      callout: it.isActive("callout"),
      link: it.isActive("link"),
      may: {
        bold: it.can().toggleBold(),
        italic: it.can().toggleItalic(),
        code: it.can().toggleCode(),
        heading: it.can().toggleHeading({ level: 1 }),
        bullets: it.can().toggleBulletList(),
        numbers: it.can().toggleOrderedList(),
        quote: it.can().toggleBlockquote(),
        block: it.can().toggleCodeBlock(),
        callout: it.isActive("callout") || canWrap(it),
        table: it.can().insertTable(),
        link: it.can().setMark("link"),
      },
      undo: it.can().undo(),
      redo: it.can().redo(),
    }),
  });
}

type Tools = Record<ToolName, ToolState & { act(): unknown }>;

/** Of every tool: whether it is on or does nothing here, and what it does. */
function useTools(editor: Editor, linking: boolean, onLink: () => void): Tools {
  const active = useActive(editor);
  const { may } = active;
  const run = () => editor.chain().focus();
  return {
    Heading: { off: !may.heading, on: active.h1, act: () => run().toggleHeading({ level: 1 }).run() },
    "Smaller heading": { off: !may.heading, on: active.h2, act: () => run().toggleHeading({ level: 2 }).run() },
    Bold: { off: !may.bold, on: active.bold, act: () => run().toggleBold().run() },
    Italic: { off: !may.italic, on: active.italic, act: () => run().toggleItalic().run() },
    Code: { off: !may.code, on: active.code, act: () => run().toggleCode().run() },
    List: { off: !may.bullets, on: active.bullets, act: () => run().toggleBulletList().run() },
    "Numbered list": { off: !may.numbers, on: active.numbers, act: () => run().toggleOrderedList().run() },
    Quotation: { off: !may.quote, on: active.quote, act: () => run().toggleBlockquote().run() },
    "Code block": { off: !may.block, on: active.block, act: () => run().toggleCodeBlock().run() },
    Callout: { off: !may.callout, on: active.callout, act: () => run().toggleWrap("callout").run() },
    Table: { off: !may.table, on: false, act: () => run().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run() },
    "Link to a page": {
      on: active.link || linking,
      off: !active.link && !may.link,
      act: () => (active.link ? run().extendMarkRange("link").unsetMark("link").run() : onLink()),
    },
    Undo: { on: false, off: !active.undo, act: () => run().undo().run() },
    Redo: { on: false, off: !active.redo, act: () => run().redo().run() },
  };
}

/** `reached`: the tool that had the focus, or was pressed, while the editor was on its way. */
export function Toolbar({ editor, reached }: { editor: Editor; reached: Reached }) {
  const [linking, setLinking] = useState(false);
  const tools = useTools(editor, linking, () => setLinking(!linking));
  useLayoutEffect(() => {
    const { tool, press } = reached;
    if (!tool) return;
    document.querySelector<HTMLElement>(`[data-tool="${tool}"]`)?.focus();
    if (press && !tools[tool].off) tools[tool].act();
    reached.press = false;
  }, []);
  return (
    <ToolRow states={tools} onPress={(name) => tools[name].act()}>
      {linking && <LinkSearch editor={editor} onDone={() => setLinking(false)} />}
    </ToolRow>
  );
}
