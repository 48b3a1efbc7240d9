import { useState } from "react";
import { type Due, readWorking, type WorkingPage } from "../../contracts/writing.ts";
import { LIMITS } from "../../core/words.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ApprovalPart } from "../approval/ApprovalPart.tsx";
import { ActButtons } from "../life/ActButtons.tsx";
import { ask } from "../shared/api.ts";
import { focusOn } from "../shared/focus.ts";
import { BothVersions, Others, Stands } from "./Kept.tsx";
import { PublishSheet } from "./PublishSheet.tsx";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

interface Facts {
  page: WorkingPage;
  writing: Writing;
  live: string | null;
  state: WorkingPage["state"];
  due: WorkingPage["due"];
}

function FactList({ page, writing, live, state, due }: Facts) {
  const facts = [
    ["In", page.above],
    ["State", STATE_NAMES[state]],
    ["Readers see", live ? `version ${live}` : "nothing yet"],
    ["You write on", `version ${writing.keeper.base}`],
  ];
  return (
    <>
      <dl>
        {facts.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd dir="auto">{value}</dd>
          </div>
        ))}
        {due && (
          <div>
            <dt>Goes live</dt>
            <dd>
              <When instant={due.at} />
            </dd>
          </div>
        )}
      </dl>
      {due?.problem && <p className="notice bad">It did not go live: {due.problem}</p>}
    </>
  );
}

/** What became of the page since it was opened here. */
function useLife(page: WorkingPage) {
  const [live, setLive] = useState(page.liveVersion);
  const [state, setState] = useState(page.state);
  const [due, setDue] = useState(page.due);
  const [approval, setApproval] = useState(page.approval);
  const [told, setTold] = useState("");
  const look = async () => setApproval((await ask(readWorking, { params: { id: page.id } })).approval);
  const published = (version: string) => {
    setTold(`Published as version ${version}`);
    setLive(version);
    setState("live");
    setDue(null);
    void look();
  };
  const scheduled = (next: Due | null) => {
    setTold(next ? "It goes live by itself." : "It does not go live by itself any more.");
    setDue(next);
    if (state !== "live") setState(next ? "scheduled" : "draft");
  };
  return { live, state, due, approval, look, told, setTold, published, scheduled };
}

interface SavingProps {
  /** Why there is nothing to save or to publish; empty where there is. */
  saveOff: string;
  publishOff: string;
  publishName: string;
  mayPublish: boolean;
  onSave(): void;
  onPublish(): void;
}

/** A control that is off stays reachable, and says why it is. */
function Saving({ saveOff, publishOff, publishName, mayPublish, onSave, onPublish }: SavingProps) {
  return (
    <>
      <div className="acts">
        <button
          type="button"
          className="button"
          aria-disabled={saveOff !== ""}
          title={saveOff || undefined}
          onClick={() => saveOff || onSave()}
        >
          Save a version
        </button>
        {mayPublish && (
          <button
            type="button"
            className="button go"
            data-publish
            aria-disabled={publishOff !== ""}
            title={publishOff || undefined}
            onClick={() => publishOff || onPublish()}
          >
            {publishName}
          </button>
        )}
      </div>
      {!mayPublish && <p className="soft">Publishing here needs Publisher.</p>}
    </>
  );
}

/** Beside the text: what it is, where it is kept, saving and publishing. */
export function Side({ page, writing }: { page: WorkingPage; writing: Writing }) {
  const [note, setNote] = useState("");
  const [publishing, setPublishing] = useState(false);
  const { live, state, due, approval, look, told, setTold, published, scheduled } = useLife(page);
  const { keeper } = writing;
  const { dirty, base } = keeper;
  const unapproved = approval && approval.approved === null && !approval.withReason ? "It is not approved yet: give it in first." : "";
  const textOff = writing.off || (note.length > LIMITS.note ? "The note is too long." : "");
  const saved = async (work: Promise<string | null>) => {
    setTold("");
    const version = await work;
    if (version) setNote("");
    return version;
  };
  const close = () => {
    setPublishing(false);
    focusOn("[data-publish]");
  };
  return (
    <aside className={styles.side} aria-label="This page">
      <FactList page={page} writing={writing} live={live} state={state} due={due} />
      <Stands page={page} writing={writing} told={dirty ? "" : told} />
      {keeper.theirs && <BothVersions onOver={() => saved(writing.saveOver(note))} onGoOn={() => writing.goOnFromTheirs(note)} />}
      {publishing ? (
        <PublishSheet
          id={page.id}
          editor={writing.editor}
          version={approval?.approved ?? base}
          due={due}
          onClose={close}
          onPublished={({ version, newest }) => {
            writing.published(newest);
            published(version);
            close();
          }}
          onScheduled={(next) => {
            scheduled(next);
            close();
          }}
        />
      ) : (
        <>
          <TextField label="Note on this version" value={note} onChange={setNote} most={LIMITS.note} />
          <Saving
            saveOff={textOff || (dirty ? "" : "Nothing was changed since the last version.")}
            publishOff={dirty ? textOff : live === base ? "Readers see this version already." : unapproved}
            publishName={due ? "Publish or reschedule …" : "Publish …"}
            mayPublish={page.mayPublish}
            onSave={() => void saved(writing.save(note))}
            onPublish={async () => (!dirty || (await saved(writing.save(note)))) && setPublishing(true)}
          />
          {approval && (
            <ApprovalPart id={page.id} approval={approval} version={base} live={live === base} dirty={dirty} onDone={() => void look()} />
          )}
        </>
      )}
      <Others page={page} writing={writing} />
      {page.acts.length > 0 && (
        <details>
          <summary>Archive, bin, move …</summary>
          <div className="acts">
            <ActButtons acts={page.acts} places={[page.id]} />
          </div>
        </details>
      )}
      <p className={styles.ways}>
        <a href={page.address}>Read it as it is</a>
        <a href={`/versions/${page.id}`}>Its versions</a>
      </p>
    </aside>
  );
}
