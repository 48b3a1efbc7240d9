import { useState } from "react";
import type { WorkingPage } from "../../contracts/answers.ts";
import { shortDateTime } from "../../ui/dates.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { TextField } from "../../ui/TextField.tsx";
import { PublishSheet } from "./PublishSheet.tsx";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

/** Beside the text: what it is, where it is kept, saving and publishing. */
export function Side({ page, writing }: { page: WorkingPage; writing: Writing }) {
  const [note, setNote] = useState("");
  const [publishing, setPublishing] = useState(false);
  const [live, setLive] = useState(page.liveVersion);
  const [state, setState] = useState(page.state);
  const { base, dirty, theirs } = writing;
  const facts = [
    ["In", page.above],
    ["State", STATE_NAMES[state]],
    ["Readers see", live ? `version ${live}` : "nothing yet"],
    ["You write on", `version ${base}`],
  ];
  const save = async (on?: string) => {
    const version = await writing.save(note, on);
    if (version) setNote("");
    return version;
  };
  const published = (version: string) => {
    writing.published(version);
    setPublishing(false);
    setLive(version);
    setState("live");
  };
  const scheduled = (at: string) => {
    writing.tell(`Goes live on ${shortDateTime(at)}, by itself`);
    setPublishing(false);
    setState("scheduled");
  };
  return (
    <aside className={styles.side} aria-label="This page">
      <dl>
        {facts.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <p className="soft" role="status">
        {writing.kept || `Saved by ${page.savedBy}, ${shortDateTime(page.savedAt)}`}
      </p>
      {writing.problem && (
        <p className="notice bad" role="alert">
          {writing.problem}
        </p>
      )}
      {theirs && (
        <div className="acts">
          <button type="button" className="button" onClick={() => save(theirs.version)}>
            Save mine as the newest
          </button>
          <button type="button" className="button" onClick={() => writing.goOnFromTheirs(note)}>
            Keep mine as a version, go on from theirs
          </button>
        </div>
      )}
      {publishing ? (
        <PublishSheet
          id={page.id}
          version={base}
          onClose={() => setPublishing(false)}
          onPublished={published}
          isDraft={state === "draft"}
          onScheduled={scheduled}
        />
      ) : (
        <>
          <TextField label="Note on this version" value={note} onChange={setNote} />
          <div className="acts">
            <button type="button" className="button" disabled={!dirty || writing.title.trim() === ""} onClick={() => save()}>
              Save a version
            </button>
            {page.mayPublish && (
              <button
                type="button"
                className="button go"
                disabled={!dirty && live === base}
                onClick={async () => (!dirty || (await save())) && setPublishing(true)}
              >
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
  );
}
