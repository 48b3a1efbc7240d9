/** The words being written: what to begin with, keeping them, saving them as versions, and what to do with somebody else's. */
import { type Editor, useEditor } from "@tiptap/react";
import { useEffect, useMemo, useState } from "react";
import type { WorkingPage } from "../../contracts/answers.ts";
import type { PageBody } from "../../core/content/body.ts";
import { type ApiError, post } from "../shared/api.ts";
import { extensions } from "./extensions.ts";
import { forgetWords, keeper, type Words, wordsInBrowser } from "./keeping.ts";

/** A version somebody else saved meanwhile. */
export interface Theirs {
  version: string;
  by: string;
  title: string;
  body: PageBody;
}

export interface Writing {
  editor: Editor | null;
  title: string;
  setTitle(title: string): void;
  /** Version these words stand on, as "2.1". */
  base: string;
  /** Where the words are kept, in a sentence. */
  kept: string;
  dirty: boolean;
  problem: string;
  theirs: Theirs | null;
  /** Saves a version; its number, or null if it could not be saved (then `problem` says why). */
  save(note: string, on?: string): Promise<string | null>;
  /** Makes both versions: mine first, then theirs on top of it, to go on from. */
  goOnFromTheirs(note: string): Promise<void>;
  published(version: string): void;
  /** Says something where it is said where the words are kept. */
  tell(note: string): void;
}

/** What to begin with: words typed and not saved, if there are any, else the newest version. */
function startOf(page: WorkingPage): Words & { broughtBack: boolean } {
  const kept = wordsInBrowser(page.id) ?? page.buffer;
  if (kept && JSON.stringify(kept.body) !== JSON.stringify(page.body)) return { ...kept, broughtBack: true };
  return { title: page.title, body: page.body, base: page.version, broughtBack: false };
}

export function useWords(page: WorkingPage): Writing {
  const start = useMemo(() => startOf(page), [page]);
  const [title, putTitle] = useState(start.title);
  const [base, setBase] = useState(start.base);
  const [kept, setKept] = useState(start.broughtBack ? "Words you had not saved were brought back" : "");
  const [dirty, setDirty] = useState(start.broughtBack);
  const [problem, setProblem] = useState("");
  const [theirs, setTheirs] = useState<Theirs | null>(null);
  const [changes, setChanges] = useState(0);
  const keep = useMemo(() => keeper(page.id, setKept), [page.id]);
  const editor = useEditor({
    extensions,
    // The page's policy forbids styles that scripts bring along; ours are in writing.module.css.
    injectCSS: false,
    content: { type: "doc", content: start.body.content },
    editorProps: { attributes: { "aria-label": "Text of the page", class: "prose" } },
    onUpdate: ({ transaction }) => transaction.docChanged && !transaction.getMeta("__uniqueIDTransaction") && setChanges((it) => it + 1),
  });
  const bodyNow = (): PageBody => ({ schema: 1, content: (editor?.getJSON().content ?? []) as PageBody["content"] });

  useEffect(() => {
    if (changes === 0) return;
    setDirty(true);
    keep.keep({ title, body: bodyNow(), base });
  }, [changes]);
  useEffect(() => () => keep.stop(), [keep]);

  const send = async (words: Omit<Words, "base">, on: string, note: string): Promise<string | null> => {
    keep.stop();
    setProblem("");
    try {
      const { version } = await post<{ version: string }>(`/api/pages/${page.id}`, { ...words, base: on, note });
      forgetWords(page.id);
      setBase(version);
      setDirty(false);
      setTheirs(null);
      setKept(`Saved as version ${version}`);
      return version;
    } catch (error) {
      const trouble = error as ApiError;
      if (trouble.code === "changedMeanwhile") setTheirs(trouble.details as Theirs);
      setProblem(trouble.message);
      return null;
    }
  };
  const save = (note: string, on = base) => send({ title, body: bodyNow() }, on, note);

  return {
    editor,
    title,
    base,
    kept,
    dirty,
    problem,
    theirs,
    save,
    setTitle: (text) => {
      putTitle(text.replaceAll("\n", " "));
      setChanges((it) => it + 1);
    },
    goOnFromTheirs: async (note) => {
      if (!theirs) return;
      const mine = await save(note, theirs.version);
      if (!mine || !(await send({ title: theirs.title, body: theirs.body }, mine, `Continued from version ${theirs.version}.`))) return;
      putTitle(theirs.title);
      editor?.commands.setContent({ type: "doc", content: theirs.body.content }, { emitUpdate: false });
    },
    tell: setKept,
    published: (version) => {
      setBase(version);
      setKept(`Published as version ${version}`);
    },
  };
}
