/** Writing a page: the text on the left, what it is and where it goes on the right. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { EditorContent } from "@tiptap/react";
import { readWorking } from "../../contracts/writing.ts";
import { LIMITS } from "../../core/words.ts";
import { Remaining } from "../../ui/TextField.tsx";
import { ask, queries } from "../shared/api.ts";
import { browserWords, openTabs, tabName } from "./browserWords.ts";
import { Side } from "./Side.tsx";
import { Toolbar } from "./Toolbar.tsx";
import { type Opened, useWords } from "./useWords.ts";
import styles from "./writing.module.css";

function Desk({ opened }: { opened: Opened }) {
  const writing = useWords(opened);
  if (!writing.editor) return null;
  return (
    <div className={styles.view}>
      <div className={styles.paper}>
        <Toolbar editor={writing.editor} />
        <div className={styles.text}>
          <textarea
            className={styles.title}
            aria-label="Title"
            rows={1}
            dir="auto"
            value={writing.title}
            onChange={(event) => writing.setTitle(event.target.value)}
          />
          <Remaining value={writing.title} most={LIMITS.title} />
          <EditorContent editor={writing.editor} />
        </div>
      </div>
      <Side page={opened.page} writing={writing} />
    </div>
  );
}

/** Opens the page together with what this browser keeps of it, for this person. */
async function openPage(id: string, me: string): Promise<Opened> {
  const [page, tab] = await Promise.all([ask(readWorking, { params: { id } }), tabName()]);
  return { page, store: browserWords(me, id, tab), open: await openTabs() };
}

function View({ id, me }: { id: string; me: string }) {
  const { data, error } = useQuery({ queryKey: ["working", id], queryFn: () => openPage(id, me), staleTime: Number.POSITIVE_INFINITY });
  return data ? <Desk opened={data} /> : <p className="message">{error?.message ?? "Opening …"}</p>;
}

export default function WritingView({ id, me }: { id: string; me: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View id={id} me={me} />
    </QueryClientProvider>
  );
}
