/** Writing a page: the text on the left, what it is and where it goes on the right. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { EditorContent } from "@tiptap/react";
import type { WorkingPage } from "../../contracts/answers.ts";
import { get, queries } from "../shared/api.ts";
import { Side } from "./Side.tsx";
import { Toolbar } from "./Toolbar.tsx";
import { useWords } from "./useWords.ts";
import styles from "./writing.module.css";

function Desk({ page }: { page: WorkingPage }) {
  const writing = useWords(page);
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
            value={writing.title}
            onChange={(event) => writing.setTitle(event.target.value)}
          />
          <EditorContent editor={writing.editor} />
        </div>
      </div>
      <Side page={page} writing={writing} />
    </div>
  );
}

function View({ id }: { id: string }) {
  const { data, error } = useQuery({
    queryKey: ["working", id],
    queryFn: () => get<WorkingPage>(`/api/pages/${id}`),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ? <Desk page={data} /> : <p className="message">{error?.message ?? "Opening …"}</p>;
}

export default function WritingView({ id }: { id: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View id={id} />
    </QueryClientProvider>
  );
}
