import { useMutation } from "@tanstack/react-query";
import { Suspense, useState } from "react";
import { readWorking, unschedule, type WorkingPage } from "../../contracts/writing.ts";
import { shortDateTime } from "../../ui/dates.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ApprovalPart } from "../approval/ApprovalPart.tsx";
import { ActButtons } from "../life/ActButtons.tsx";
import { PenLine } from "../pen/PenLine.tsx";
import type { PenHere } from "../pen/usePen.ts";
import { pageSource } from "../publication/sources.ts";
import { ask } from "../shared/api.ts";
import { focusOn } from "../shared/focus.ts";
import { BothVersions, Others, Stands } from "./Kept.tsx";
import { Saving } from "./Saving.tsx";
import { PublishSheet, useSaving } from "./useSaving.ts";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

/** It was opened from the queue of review, or from the desk, to be revised: one goes back there. */
function cameFrom(): { address: string; name: string } | null {
  const back = new URLSearchParams(window.location.search).get("back");
  if (back === "review") return { address: "/review", name: "the queue" };
  return back === "desk" ? { address: "/desk", name: "the desk" } : null;
}

interface Facts {
  page: WorkingPage;
  writing: Writing;
  live: string | null;
  state: WorkingPage["state"];
  due: WorkingPage["due"];
  onUnscheduled(): void;
}

/** Ends the schedule of going live, from where it is said. */
function Unschedule({ id, onDone }: { id: string; onDone(): void }) {
  const end = useMutation({ mutationFn: () => ask(unschedule, { params: { id }, query: { what: "live" } }), onSuccess: onDone });
  return (
    <>
      <button type="button" className="textButton" disabled={end.isPending} onClick={() => end.mutate()}>
        no longer by itself
      </button>
      {end.error && <p className="notice bad">{end.error.message}</p>}
    </>
  );
}

function FactList({ page, writing, live, state, due, onUnscheduled }: Facts) {
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
              <When instant={due.at} /> {page.mayPublish && <Unschedule id={page.id} onDone={onUnscheduled} />}
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
  const scheduled = (at: string | null) => {
    setTold(at ? `It goes live by itself on ${shortDateTime(at)}.` : "It does not go live by itself any more.");
    setDue(at ? { at, zone: "", version: null, problem: null } : null);
    if (state !== "live") setState(at ? "scheduled" : "draft");
  };
  return { live, state, due, approval, look, told, setTold, published, scheduled };
}

interface Props {
  page: WorkingPage;
  writing: Writing;
  pen: PenHere;
  /** Whether the publish sheet is open, which needs more room. */
  publishing: boolean;
  setPublishing(publishing: boolean): void;
}

/** Beside the text: what it is, where it is kept, saving and publishing. */
export function Side({ page, writing, pen, publishing, setPublishing }: Props) {
  const { live, state, due, approval, look, told, setTold, published, scheduled } = useLife(page);
  const origin = cameFrom();
  const saving = useSaving(writing, { onSaving: () => setTold("") });
  const { keeper } = writing;
  const { base } = keeper;
  const dirty = keeper.dirty || writing.live.waiting;
  const unapproved = approval && approval.approved === null && !approval.withReason ? "It is not approved yet: give it in first." : "";
  const close = () => {
    setPublishing(false);
    focusOn("[data-publish]");
  };
  return (
    <aside className={styles.side} aria-label="This page">
      <PenLine here={pen} lost={dirty} />
      {!publishing && <FactList page={page} writing={writing} live={live} state={state} due={due} onUnscheduled={() => scheduled(null)} />}
      <Stands page={page} writing={writing} told={dirty ? "" : told} />
      {keeper.theirs && <BothVersions writing={writing} {...saving.both} />}
      {publishing ? (
        <Suspense fallback={<p className="soft">Opening …</p>}>
          <PublishSheet
            source={pageSource(page, approval?.approved ?? base)}
            live={writing.live}
            onClose={close}
            onDone={(done) => {
              if (done.version && origin) window.location.assign(origin.address);
              if (done.version) {
                writing.published(done.newest);
                published(done.version);
              } else scheduled(done.at);
              close();
            }}
          />
        </Suspense>
      ) : (
        <>
          <TextField label="Note on this version" {...saving.note} />
          <Saving
            saveOff={saving.off || (dirty ? "" : "Nothing was changed since the last version.")}
            publishOff={dirty ? saving.off : live === base ? "Readers see this version already." : unapproved}
            publishName={due ? "Publish or reschedule …" : "Publish …"}
            mayPublish={page.mayPublish}
            onSave={saving.save}
            onPublish={async () => (await saving.savedAll()) && setPublishing(true)}
          />
          {!page.mayPublish && <p className="soft">Publishing here needs Publisher.</p>}
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
        {origin && <a href={origin.address}>Back to {origin.name}</a>}
      </p>
    </aside>
  );
}
