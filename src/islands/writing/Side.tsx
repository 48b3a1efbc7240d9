import { useState } from "react";
import type { Due, KeptWords, WorkingPage } from "../../contracts/writing.ts";
import { bodyText } from "../../core/content/index.ts";
import { LIMITS } from "../../core/words.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ActButtons } from "../life/ActButtons.tsx";
import { focusOn } from "../shared/focus.ts";
import type { Standing } from "./keeping.ts";
import { PublishSheet } from "./PublishSheet.tsx";
import { showBlock } from "./showBlock.ts";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

const inBrowserToo = (inBrowser: boolean): string =>
  inBrowser ? "Kept in this browser" : "This browser has no room to keep it: copy your text somewhere safe";

/** Where the words are kept, in a sentence. */
function standingWords(standing: Standing): string {
  switch (standing.is) {
    case "unchanged":
      return "";
    case "broughtBack":
      return "Words you had not saved were brought back";
    case "typing":
      return "Typing …";
    case "kept":
      return "Kept, not yet a version";
    case "saving":
      return "Saving …";
    case "saved":
      return `Saved as version ${standing.version}`;
    case "unanswered":
      return `${inBrowserToo(standing.inBrowser)}; the server does not answer. It is tried again by itself.`;
    case "refused":
      return `${inBrowserToo(standing.inBrowser)}; the server did not take it: ${standing.message}`;
  }
}

const MOST_SHOWN = 60;

/** Of kept words the passage where they begin to differ from the saved text: by that one knows them again. */
function whereItDiffers(other: KeptWords, page: WorkingPage): string {
  const [kept, saved] = [bodyText(other.body), bodyText(page.body)];
  let nth = 0;
  while (nth < kept.length && kept[nth] === saved[nth]) nth++;
  if (nth === kept.length) return kept.trim() === "" ? other.title : kept.slice(-MOST_SHOWN).trim();
  const start = Math.max(0, kept.lastIndexOf(" ", nth) + 1);
  return kept.slice(start, start + MOST_SHOWN).trim();
}

/** Words of one's own from other tabs or browsers, which no version has. */
function Others({ page, writing }: { page: WorkingPage; writing: Writing }) {
  if (writing.others.length === 0) return null;
  return (
    <section>
      <h3>Also not saved</h3>
      <ul className={styles.others}>
        {writing.others.map((other) => (
          <li key={other.tab}>
            <span dir="auto">“… {whereItDiffers(other, page)} …”</span>
            <small className="soft">
              on version {other.base}
              {other.rev > 0 && (
                <>
                  , <When instant={new Date(other.rev).toISOString()} />
                </>
              )}
            </small>
            <span className="acts">
              <button type="button" className="button" onClick={() => writing.take(other)}>
                Take these up
              </button>
              <button type="button" className="button plain" onClick={() => writing.throwAway(other)}>
                Throw away
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

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

/** How the words stand: kept where, what was pasted, what is in the way of saving. */
function Stands({ page, writing, told }: { page: WorkingPage; writing: Writing; told: string }) {
  const { keeper, editor } = writing;
  const { standing } = keeper;
  const where = standing.is === "refused" ? standing.where : undefined;
  return (
    <>
      <p className="soft" role="status">
        {told || standingWords(standing) || (
          <>
            Saved by {page.savedBy}, <When instant={page.savedAt} />
          </>
        )}
      </p>
      {where && editor && (
        <button type="button" className="button" onClick={() => showBlock(editor, where)}>
          Show the place
        </button>
      )}
      {writing.pasted && (
        <p className="notice" role="status">
          {writing.pasted}
        </p>
      )}
      {keeper.problem && (
        <p className="notice bad" role="alert">
          {keeper.problem}
        </p>
      )}
      {writing.off && (
        <p className="notice bad" role="status" id="off">
          {writing.off}
        </p>
      )}
    </>
  );
}

/** Somebody saved meanwhile: what to do with both versions. */
const BothVersions = ({ onOver, onGoOn }: { onOver(): void; onGoOn(): void }) => (
  <div className="acts">
    <button type="button" className="button" onClick={onOver}>
      Save mine as the newest
    </button>
    <button type="button" className="button" onClick={onGoOn}>
      Keep mine as a version, go on from theirs
    </button>
  </div>
);

/** What became of the page since it was opened here. */
function useLife(page: WorkingPage) {
  const [live, setLive] = useState(page.liveVersion);
  const [state, setState] = useState(page.state);
  const [due, setDue] = useState(page.due);
  const [told, setTold] = useState("");
  const published = (version: string) => {
    setTold(`Published as version ${version}`);
    setLive(version);
    setState("live");
    setDue(null);
  };
  const scheduled = (next: Due | null) => {
    setTold(next ? "It goes live by itself." : "It does not go live by itself any more.");
    setDue(next);
    if (state !== "live") setState(next ? "scheduled" : "draft");
  };
  return { live, state, due, told, setTold, published, scheduled };
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
  const { live, state, due, told, setTold, published, scheduled } = useLife(page);
  const { keeper } = writing;
  const { dirty, base } = keeper;
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
          version={base}
          due={due}
          onClose={close}
          onPublished={(version) => {
            writing.published(version);
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
            publishOff={dirty ? textOff : live === base ? "Readers see this version already." : ""}
            publishName={due ? "Publish or reschedule …" : "Publish …"}
            mayPublish={page.mayPublish}
            onSave={() => void saved(writing.save(note))}
            onPublish={async () => (!dirty || (await saved(writing.save(note)))) && setPublishing(true)}
          />
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
      <p>
        <a href={page.address}>Read it as it is</a>
      </p>
    </aside>
  );
}
