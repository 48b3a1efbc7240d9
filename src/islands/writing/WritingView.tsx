/** Writing a page: the text on the left, what it is and where it goes on the right. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { readWorking, type WorkingPage } from "../../contracts/writing.ts";
import { type PenHere, usePen } from "../pen/usePen.ts";
import { ask, queries } from "../shared/api.ts";
import { browserWords, openTabs, tabName } from "./browserWords.ts";
import { Paper } from "./Paper.tsx";
import { Side } from "./Side.tsx";
import { type Opened, useWords, type Writing } from "./useWords.ts";
import { wordsServer } from "./wordsServer.ts";
import styles from "./writing.module.css";

/** The pen and the words together: whoever types picks it up; whoever looks on sees what is saved. */
function usePenWith({ pen, act }: PenHere, writing: Writing, id: string): void {
  const { dirty, base } = writing.keeper;
  const free = pen !== null && pen.holder === null;
  const newest = pen?.newest;
  useEffect(() => {
    if (free && dirty) act("take");
  }, [free, dirty]);
  useEffect(() => {
    if (newest === undefined || newest === base || dirty) return;
    void ask(readWorking, { params: { id }, stay: true }).then(
      ({ title, body, version }) => writing.renew({ title, body, base: version }),
      () => {},
    );
  }, [newest, base, dirty, id]);
}

function Desk({ opened }: { opened: Opened<WorkingPage> }) {
  const pen = usePen(opened.page.id);
  const writing = useWords(opened, !pen.mine);
  const [publishing, setPublishing] = useState(false);
  usePenWith(pen, writing, opened.page.id);
  return (
    <div className={styles.view} data-publishing={publishing}>
      <Paper writing={writing} />
      <Side page={opened.page} writing={writing} pen={pen} publishing={publishing} setPublishing={setPublishing} />
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
