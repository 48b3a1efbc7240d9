import { findWrapping } from "@tiptap/pm/transform";
import type { Editor } from "@tiptap/react";
import { useEditorState } from "@tiptap/react";
import {
  Bold,
  Code,
  Heading1,
  Heading2,
  Italic,
  Link2,
  List,
  ListOrdered,
  MessageSquareQuote,
  Redo2,
  SquareCode,
  Table,
  TriangleAlert,
  Undo2,
} from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { FoundPlace } from "../../contracts/search.ts";
import { placeNote, useFound } from "../shared/useFound.ts";
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

/** Every tool: what it is called, whether it is on or does nothing here, and what it does. */
function useTools(editor: Editor, linking: boolean, onLink: () => void) {
  const active = useActive(editor);
  const { may } = active;
  const run = () => editor.chain().focus();
  return [
    { name: "Heading", off: !may.heading, icon: Heading1, on: active.h1, act: () => run().toggleHeading({ level: 1 }).run() },
    { name: "Smaller heading", off: !may.heading, icon: Heading2, on: active.h2, act: () => run().toggleHeading({ level: 2 }).run() },
    { name: "Bold", off: !may.bold, icon: Bold, on: active.bold, act: () => run().toggleBold().run() },
    { name: "Italic", off: !may.italic, icon: Italic, on: active.italic, act: () => run().toggleItalic().run() },
    { name: "Code", off: !may.code, icon: Code, on: active.code, act: () => run().toggleCode().run() },
    { name: "List", off: !may.bullets, icon: List, on: active.bullets, act: () => run().toggleBulletList().run() },
    { name: "Numbered list", off: !may.numbers, icon: ListOrdered, on: active.numbers, act: () => run().toggleOrderedList().run() },
    { name: "Quotation", off: !may.quote, icon: MessageSquareQuote, on: active.quote, act: () => run().toggleBlockquote().run() },
    { name: "Code block", off: !may.block, icon: SquareCode, on: active.block, act: () => run().toggleCodeBlock().run() },
    { name: "Callout", off: !may.callout, icon: TriangleAlert, on: active.callout, act: () => run().toggleWrap("callout").run() },
    {
      name: "Table",
      off: !may.table,
      icon: Table,
      on: false,
      act: () => run().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run(),
    },
    {
      name: "Link to a page",
      icon: Link2,
      on: active.link || linking,
      off: !active.link && !may.link,
      act: () => (active.link ? run().extendMarkRange("link").unsetMark("link").run() : onLink()),
    },
    { name: "Undo", icon: Undo2, on: false, off: !active.undo, act: () => run().undo().run() },
    { name: "Redo", icon: Redo2, on: false, off: !active.redo, act: () => run().redo().run() },
  ];
}

export function Toolbar({ editor }: { editor: Editor }) {
  const [linking, setLinking] = useState(false);
  const tools = useTools(editor, linking, () => setLinking(!linking));
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="Text">
      {tools.map(({ name, icon: Icon, on, off, act }) => (
        <button
          key={name}
          type="button"
          aria-label={name}
          title={off ? `${name}: not here` : name}
          aria-pressed={on}
          // Not switched off as such: a control that had the focus must not lose it by what it does.
          aria-disabled={off ?? false}
          onClick={() => !off && act()}
        >
          <Icon size={16} />
        </button>
      ))}
      {linking && <LinkSearch editor={editor} onDone={() => setLinking(false)} />}
    </div>
  );
}
