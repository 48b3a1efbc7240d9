/** Writing a page: the text on the left, what it is and where it goes on the right. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { readWorking, type WorkingPage } from "../../contracts/writing.ts";
import { ask, queries } from "../shared/api.ts";
import { browserWords, openTabs, tabName } from "./browserWords.ts";
import { Paper } from "./Paper.tsx";
import { Side } from "./Side.tsx";
import { type Opened, useWords } from "./useWords.ts";
import { wordsServer } from "./wordsServer.ts";
import styles from "./writing.module.css";

function Desk({ opened }: { opened: Opened<WorkingPage> }) {
  const writing = useWords(opened);
  const [publishing, setPublishing] = useState(false);
  if (!writing.editor) return null;
  return (
    <div className={styles.view} data-publishing={publishing}>
      <Paper writing={writing} />
      <Side page={opened.page} writing={writing} publishing={publishing} setPublishing={setPublishing} />
    </div>
  );
}

/** Opens the page together with what this browser keeps of it, for this person. */
async function openPage(id: string, me: string): Promise<Opened<WorkingPage>> {
  const [page, tab] = await Promise.all([ask(readWorking, { params: { id } }), tabName()]);
  return { page, server: wordsServer(id), store: browserWords(me, id, tab), open: await openTabs() };
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
