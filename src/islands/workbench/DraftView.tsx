/** Writing a private draft: the text, whom it is shared with, and where it goes from here. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { Suspense, useState } from "react";
import { type PrivateDraft, readDraft } from "../../contracts/workbench.ts";
import { TextField } from "../../ui/TextField.tsx";
import { draftSource } from "../publication/sources.ts";
import { ApiError, ask, queries } from "../shared/api.ts";
import { focusOn } from "../shared/focus.ts";
import { browserWords, openTabs, tabName } from "../writing/browserWords.ts";
import { BothVersions, Others, Stands } from "../writing/Kept.tsx";
import { Paper } from "../writing/Paper.tsx";
import { Saving } from "../writing/Saving.tsx";
import { PublishSheet, useSaving } from "../writing/useSaving.ts";
import { type Opened, useWords, type Writing } from "../writing/useWords.ts";
import { draftServer } from "../writing/wordsServer.ts";
import writingStyles from "../writing/writing.module.css";
import { Helpers } from "./Helpers.tsx";

interface SideProps {
  page: PrivateDraft;
  writing: Writing;
  publishing: boolean;
  setPublishing(publishing: boolean): void;
}

/** Who is let in, as it is now: the draft itself is read once, so that no answer takes words away. */
const useHelpers = (page: PrivateDraft) =>
  useQuery({
    queryKey: ["draftHelpers", page.id],
    queryFn: async () => (await ask(readDraft, { params: { id: page.id } })).helpers,
    initialData: page.helpers,
    enabled: page.mine,
  });

function Facts({ page, writing }: Pick<SideProps, "page" | "writing">) {
  const facts = [
    ["Workbench", page.mine ? "yours" : `of ${page.owner}`],
    ["Readers see", "nothing: it is in no space"],
    [writing.readOnly ? "You read" : "You write on", `version ${writing.keeper.base}`],
  ];
  return (
    <dl>
      {facts.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd dir="auto">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function Side({ page, writing, publishing, setPublishing }: SideProps) {
  const helpers = useHelpers(page);
  const saving = useSaving(writing);
  const { keeper } = writing;
  const { base } = keeper;
  const dirty = keeper.dirty || writing.live.waiting;
  const close = () => {
    setPublishing(false);
    focusOn("[data-publish]");
  };
  return (
    <aside className={writingStyles.side} aria-label="This draft">
      {!publishing && <Facts page={page} writing={writing} />}
      <Stands page={page} writing={writing} told="" />
      {keeper.theirs && <BothVersions writing={writing} {...saving.both} />}
      {publishing ? (
        <Suspense fallback={<p className="soft">Opening …</p>}>
          <PublishSheet
            source={draftSource(page.id, base)}
            live={writing.live}
            onClose={close}
            onDone={({ page: id }) => window.location.assign(`/write/${id}`)}
          />
        </Suspense>
      ) : (
        !writing.readOnly && (
          <>
            <TextField label="Note on this version" {...saving.note} />
            <Saving
              saveOff={saving.off || (dirty ? "" : "Nothing was changed since the last version.")}
              publishOff={saving.off}
              publishName="Place or publish …"
              mayPublish={page.mine}
              onSave={saving.save}
              onPublish={async () => (await saving.savedAll()) && setPublishing(true)}
            />
            {!page.mine && <p className="soft">Placing and publishing it is for {page.owner}.</p>}
          </>
        )
      )}
      {!publishing && page.mine && <Helpers id={page.id} helpers={helpers.data} onChanged={() => helpers.refetch()} />}
      <Others page={page} writing={writing} />
      <p className={writingStyles.ways}>
        <a href="/workbench">The workbench</a>
        <a href={`/workbench/${page.id}/versions`}>Its versions</a>
      </p>
    </aside>
  );
}

function Desk({ opened }: { opened: Opened<PrivateDraft> }) {
  const writing = useWords(opened, !opened.page.mayWrite);
  const [publishing, setPublishing] = useState(false);
  return (
    <div className={writingStyles.view} data-publishing={publishing}>
      <Paper writing={writing} />
      <Side page={opened.page} writing={writing} publishing={publishing} setPublishing={setPublishing} />
    </div>
  );
}

async function openDraft(id: string, me: string): Promise<Opened<PrivateDraft>> {
  const [page, tab] = await Promise.all([ask(readDraft, { params: { id } }), tabName()]);
  return { page, server: draftServer(id), store: browserWords(me, id, tab), open: await openTabs() };
}

/** Why it cannot be opened; where it was placed meanwhile, the way there. */
function Closed({ error }: { error: Error }) {
  const page = error instanceof ApiError && error.code === "placed" ? (error.details as { page?: string } | undefined)?.page : undefined;
  return (
    <p className="message">
      {page ? "This draft was placed as a page." : error.message} {page && <a href={`/write/${page}`}>Go on with it there</a>}
    </p>
  );
}

function View({ id, me }: { id: string; me: string }) {
  const { data, error } = useQuery({ queryKey: ["draft", id], queryFn: () => openDraft(id, me), staleTime: Number.POSITIVE_INFINITY });
  if (data) return <Desk opened={data} />;
  return error ? <Closed error={error} /> : <p className="message">Opening …</p>;
}

export default function DraftView({ id, me }: { id: string; me: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View id={id} me={me} />
    </QueryClientProvider>
  );
}
