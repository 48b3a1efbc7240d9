/** A page of a template, written as a page is: kept with every key, saved knowingly, never over somebody's newer words. */
import { useQuery } from "@tanstack/react-query";
import { readTemplatePage } from "../../contracts/templates.ts";
import { BLANKS, blankText } from "../../core/content/index.ts";
import { TextField } from "../../ui/TextField.tsx";
import { blanksWords } from "../../ui/templateWords.ts";
import { ask, queries } from "../shared/api.ts";
import { browserWords, openTabs, tabName } from "../writing/browserWords.ts";
import { BothVersions, Others, Stands } from "../writing/Kept.tsx";
import { Paper } from "../writing/Paper.tsx";
import { useSaving } from "../writing/useSaving.ts";
import { type Opened, useWords, type Writing } from "../writing/useWords.ts";
import { templateServer } from "../writing/wordsServer.ts";
import styles from "./templates.module.css";

async function openTemplatePage(id: string, me: string): Promise<Opened> {
  const [page, tab] = await Promise.all([ask(readTemplatePage, { params: { id } }), tabName()]);
  return { page, server: templateServer(id), store: browserWords(me, id, tab), open: await openTabs() };
}

/** Puts in what is filled in when the template is used. */
const Blanks = ({ writing }: { writing: Writing }) => (
  <p className={styles.blanks}>
    Filled in when it is used:{" "}
    {BLANKS.map((blank) => (
      <button
        key={blank}
        type="button"
        className="textButton"
        title={`Puts ${blankText(blank)} where you write; it can stand in the title, too`}
        onClick={() => writing.live.open((editor) => editor.chain().focus().insertContent(blankText(blank)).run())}
      >
        {blanksWords([blank])}
      </button>
    ))}
  </p>
);

function Desk({ opened }: { opened: Opened }) {
  const writing = useWords(opened);
  const saving = useSaving(writing, { onSaved: () => queries.invalidateQueries({ queryKey: ["templates"] }) });
  const { keeper } = writing;
  const off = saving.off || (keeper.dirty || writing.live.waiting ? "" : "Nothing was changed since it was saved.");
  return (
    <section className={styles.desk} aria-label="Page of the template">
      <Paper writing={writing}>
        <Blanks writing={writing} />
      </Paper>
      <footer className={styles.foot}>
        <Stands page={opened.page} writing={writing} told="" />
        {keeper.theirs && <BothVersions writing={writing} {...saving.both} />}
        <Others page={opened.page} writing={writing} />
        <span className={styles.saving}>
          <TextField label="Note on this change" {...saving.note} />
          <button
            type="button"
            className="button main"
            aria-disabled={off !== ""}
            title={off || undefined}
            onClick={() => off || saving.save()}
          >
            Save
          </button>
        </span>
      </footer>
    </section>
  );
}

export function TemplatePaper({ id, me }: { id: string; me: string }) {
  const { data, error } = useQuery({
    queryKey: ["templatePage", id],
    queryFn: () => openTemplatePage(id, me),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  return data ? <Desk opened={data} /> : <p className="message">{error?.message ?? "Opening …"}</p>;
}
