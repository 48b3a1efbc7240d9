/** Writing a page: the editor, saving versions, and what happens when somebody saved meanwhile. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { EditorContent, useEditor } from "@tiptap/react";
import { useEffect, useMemo, useState } from "react";
import type { WorkingPage } from "../../contracts/answers.ts";
import type { PageBody } from "../../core/content/body.ts";
import { shortDateTime } from "../../ui/dates.ts";
import { type ApiError, get, post, queries } from "../shared/api.ts";
import { extensions } from "./extensions.ts";
import { forgetWords, keeper, type Words, wordsInBrowser } from "./keeping.ts";
import { PublishSheet } from "./PublishSheet.tsx";
import { Toolbar } from "./Toolbar.tsx";
import styles from "./writing.module.css";

interface Theirs {
  version: string;
  by: string;
  title: string;
  body: PageBody;
}

const STATES: Record<string, string> = { live: "Live", draft: "Draft", scheduled: "Scheduled", archived: "Archived", binned: "In the bin" };

/** What to begin with: words typed and not saved, if there are any, else the newest version. */
function startOf(page: WorkingPage): Words & { broughtBack: boolean } {
  const kept = wordsInBrowser(page.id) ?? page.buffer;
  if (kept && JSON.stringify(kept.body) !== JSON.stringify(page.body)) return { ...kept, broughtBack: true };
  return { title: page.title, body: page.body, base: page.version, broughtBack: false };
}

function Editor({ page }: { page: WorkingPage }) {
  const start = useMemo(() => startOf(page), [page]);
  const [title, setTitle] = useState(start.title);
  const [base, setBase] = useState(start.base);
  const [note, setNote] = useState("");
  const [kept, setKept] = useState(start.broughtBack ? "Words you had not saved were brought back" : "");
  const [dirty, setDirty] = useState(start.broughtBack);
  const [problem, setProblem] = useState("");
  const [theirs, setTheirs] = useState<Theirs | null>(null);
  const [publishing, setPublishing] = useState(false);
  const [live, setLive] = useState(page.liveVersion);
  const [state, setState] = useState(page.state);
  const keep = useMemo(() => keeper(page.id, setKept), [page.id]);
  const [changed, setChanged] = useState(0);
  const editor = useEditor({
    extensions,
    // The page's policy forbids styles that scripts bring along; ours are in writing.module.css.
    injectCSS: false,
    content: { type: "doc", content: start.body.content },
    editorProps: { attributes: { "aria-label": "Text of the page", class: "prose" } },
    onUpdate: ({ transaction }) => transaction.docChanged && !transaction.getMeta("__uniqueIDTransaction") && setChanged((it) => it + 1),
  });
  const bodyNow = (): PageBody => ({ schema: 1, content: (editor?.getJSON().content ?? []) as PageBody["content"] });

  useEffect(() => {
    if (changed === 0) return;
    setDirty(true);
    keep.keep({ title, body: bodyNow(), base });
  }, [changed]);
  useEffect(() => () => keep.stop(), [keep]);

  const save = async (words: Omit<Words, "base">, on: string, noteOnIt: string): Promise<string | null> => {
    keep.stop();
    setProblem("");
    try {
      const { version } = await post<{ version: string }>(`/api/pages/${page.id}`, { ...words, base: on, note: noteOnIt });
      forgetWords(page.id);
      setBase(version);
      setDirty(false);
      setNote("");
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
  const saveMine = (on = base) => save({ title, body: bodyNow() }, on, note);
  /** Both become versions: mine first, then theirs on top of it, to go on from. */
  const goOnFromTheirs = async (other: Theirs) => {
    const mine = await saveMine(other.version);
    if (!mine) return;
    const version = await save({ title: other.title, body: other.body }, mine, `Continued from version ${other.version}.`);
    if (!version) return;
    setTitle(other.title);
    editor?.commands.setContent({ type: "doc", content: other.body.content }, { emitUpdate: false });
  };
  const startPublishing = async () => {
    if (dirty && !(await saveMine())) return;
    setPublishing(true);
  };

  if (!editor) return null;
  const newer = live !== base;
  return (
    <div className={styles.view}>
      <div className={styles.paper}>
        <Toolbar editor={editor} />
        <div className={styles.text}>
          <textarea
            className={styles.title}
            aria-label="Title"
            rows={1}
            value={title}
            onChange={(event) => {
              setTitle(event.target.value.replaceAll("\n", " "));
              setChanged((it) => it + 1);
            }}
          />
          <EditorContent editor={editor} />
        </div>
      </div>
      <aside className={styles.side} aria-label="This page">
        <dl>
          <div>
            <dt>In</dt>
            <dd>{page.above}</dd>
          </div>
          <div>
            <dt>State</dt>
            <dd>{STATES[state]}</dd>
          </div>
          <div>
            <dt>Readers see</dt>
            <dd>{live ? `version ${live}` : "nothing yet"}</dd>
          </div>
          <div>
            <dt>You write on</dt>
            <dd>version {base}</dd>
          </div>
        </dl>
        <p className="soft" role="status">
          {kept || `Saved by ${page.savedBy}, ${shortDateTime(page.savedAt)}`}
        </p>
        {problem && (
          <p className={styles.problem} role="alert">
            {problem}
          </p>
        )}
        {theirs && (
          <div className={styles.acts}>
            <button type="button" className="button" onClick={() => saveMine(theirs.version)}>
              Save mine as the newest
            </button>
            <button type="button" className="button" onClick={() => goOnFromTheirs(theirs)}>
              Keep mine as a version, go on from theirs
            </button>
          </div>
        )}
        {publishing ? (
          <PublishSheet
            id={page.id}
            version={base}
            onClose={() => setPublishing(false)}
            onPublished={(version) => {
              setPublishing(false);
              setLive(version);
              setBase(version);
              setState("live");
              setKept(`Published as version ${version}`);
            }}
          />
        ) : (
          <>
            <input
              className="field"
              placeholder="Note on this version"
              aria-label="Note on this version"
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
            <div className={styles.acts}>
              <button type="button" className="button" disabled={!dirty || title.trim() === ""} onClick={() => saveMine()}>
                Save a version
              </button>
              {page.mayPublish && (
                <button type="button" className="button acts" disabled={!dirty && !newer} onClick={startPublishing}>
                  Publish …
                </button>
              )}
            </div>
            {!page.mayPublish && <p className="soft">Publishing here needs Publisher.</p>}
          </>
        )}
        <p>
          <a href={page.address}>Read it as it is</a>
        </p>
      </aside>
    </div>
  );
}

function View({ id }: { id: string }) {
  const { data, error } = useQuery({
    queryKey: ["working", id],
    queryFn: () => get<WorkingPage>(`/api/pages/${id}`),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (error) return <p className={styles.message}>{error.message}</p>;
  return data ? <Editor page={data} /> : <p className={styles.message}>Opening …</p>;
}

export default function WritingView({ id }: { id: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View id={id} />
    </QueryClientProvider>
  );
}
