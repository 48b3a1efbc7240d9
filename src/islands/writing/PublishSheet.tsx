import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import {
  type Due,
  type PublishedVersion,
  publish as publishContract,
  readPublishSheet,
  type PublishSheet as Sheet,
  schedule as scheduleContract,
  unschedule as unscheduleContract,
  type WorkingPage,
} from "../../contracts/writing.ts";
import type { Finding } from "../../core/findings/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { ownZone } from "../../ui/dates.ts";
import { FINDING_WORDS } from "../../ui/findingWords.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { ask } from "../shared/api.ts";
import { showFinding, useSensitive } from "./sensitive.ts";
import styles from "./writing.module.css";

interface Props {
  id: string;
  editor: Editor | null;
  version: string;
  due: WorkingPage["due"];
  onPublished(done: PublishedVersion): void;
  /** Null: it goes live by itself no more. */
  onScheduled(due: Due | null): void;
  onClose(): void;
}

const some = (names: string[]): string =>
  names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");

/** Who will read it, the outside first, and which of its links they cannot follow. */
function Readers({ sheet }: { sheet: Sheet }) {
  const { readers } = sheet;
  return (
    <>
      <dl>
        <div data-outside={readers.public}>
          <dt>The public</dt>
          <dd>{readers.public ? "will read it" : "will not see it"}</dd>
        </div>
        <div data-outside={readers.guests > 0}>
          <dt>Guests</dt>
          <dd>{readers.guests === 0 ? "none" : readers.guestNames.length > 0 ? some(readers.guestNames) : readers.guests}</dd>
        </div>
        {readers.passes > 0 && (
          <div data-outside>
            <dt>Passes</dt>
            <dd>{readers.passes} open it</dd>
          </div>
        )}
        <div>
          <dt>Members</dt>
          <dd>{readers.members}</dd>
        </div>
      </dl>
      {sheet.deadLinks.map((link, i) => (
        <p key={i} className="notice">
          Its link to {link.title} leads nowhere for {link.readers} of them{link.outside ? ", some from outside" : ""}.
        </p>
      ))}
    </>
  );
}

const NO_WORDS: string[] = [];
const MOST_TOLD = 12;

/** What looks sensitive in the text, said first: each leads to where it stands, and is marked there. */
function Sensitive({ editor, found }: { editor: Editor | null; found: Finding[] | null }) {
  if (found === null) return <p className="soft">Looking for what is sensitive …</p>;
  if (found.length === 0) return <p className="soft">Nothing in the text looks sensitive.</p>;
  return (
    <section className="notice" aria-label="What looks sensitive">
      <strong>
        {found.length.toLocaleString("en")} {found.length === 1 ? "place in the text looks" : "places in the text look"} sensitive:
      </strong>
      <ul className={styles.found}>
        {found.slice(0, MOST_TOLD).map((it, i) => (
          <li key={i}>
            <button type="button" className="textButton" onClick={() => editor && showFinding(editor, it)} dir="auto">
              {it.found}
            </button>{" "}
            {FINDING_WORDS[it.kind].one}
          </li>
        ))}
      </ul>
      {found.length > MOST_TOLD && `and ${(found.length - MOST_TOLD).toLocaleString("en")} more, marked in the text`}
    </section>
  );
}

/** Who was let into the draft: they leave when it goes live, unless whoever publishes keeps them. */
const Helpers = ({ sheet, keep, onKeep }: { sheet: Sheet; keep: boolean; onKeep(keep: boolean): void }) => (
  <p className="notice">
    Helpers on this draft, who leave when it goes live: {some(sheet.helpers)}.{" "}
    {sheet.mayKeepHelpers && (
      <label>
        <input type="checkbox" checked={keep} onChange={(event) => onKeep(event.target.checked)} /> Keep them
      </label>
    )}
  </p>
);

interface SchedulingProps extends Pick<Props, "id" | "version" | "due" | "onScheduled"> {
  note: string;
  keepHelpers: boolean;
  off: boolean;
}

/** Letting a draft go live by itself: then, at another time, or no more. */
function Scheduling({ id, version, due, note, keepHelpers, off, onScheduled }: SchedulingProps) {
  const [at, setAt] = useState(due?.at ?? "");
  const schedule = useMutation({
    mutationFn: () => ask(scheduleContract, { params: { id }, body: { what: "live", at, zone: ownZone(), note, version, keepHelpers } }),
    onSuccess: (answer) => onScheduled({ at: answer.at, zone: ownZone(), version, problem: null }),
  });
  const unschedule = useMutation({
    mutationFn: () => ask(unscheduleContract, { params: { id }, query: { what: "live" } }),
    onSuccess: () => onScheduled(null),
  });
  const problem = schedule.error ?? unschedule.error;
  return (
    <>
      {problem && <p className="notice bad">{problem.message}</p>}
      <div className="acts">
        <span className="labelled">
          <span aria-hidden="true">Publish at</span>
          <DateField label="Publish at" as="moment" none="day and time" ahead value={at} onChange={setAt} />
        </span>
        <button
          type="button"
          className="button"
          disabled={at === "" || at === due?.at || off || schedule.isPending}
          onClick={() => schedule.mutate()}
        >
          {due ? "Schedule for then" : "Schedule instead"}
        </button>
        {due && (
          <button type="button" className="button" disabled={unschedule.isPending} onClick={() => unschedule.mutate()}>
            No longer by itself
          </button>
        )}
      </div>
    </>
  );
}

/** Before a page goes live: who will be able to read it, the outside first, and which of its links they cannot follow. */
export function PublishSheet({ id, editor, version, due, onPublished, onScheduled, onClose }: Props) {
  const [keepHelpers, setKeepHelpers] = useState(false);
  const {
    data: sheet,
    error,
    refetch,
  } = useQuery({
    queryKey: ["publish", id, version, keepHelpers],
    queryFn: () => ask(readPublishSheet, { params: { id }, query: { version, keepHelpers: keepHelpers ? "yes" : "no" } }),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const staged = useStaged({
    preview: sheet?.preview ?? null,
    apply: (acting) => ask(publishContract, { params: { id }, body: { ...acting, version, keepHelpers } }),
    onDone: onPublished,
    again: () => void refetch(),
  });
  const sensitive = useSensitive(editor, sheet?.houseWords ?? NO_WORDS);
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!sheet) return <p className="soft">Looking at who will read it …</p>;
  return (
    <section className={styles.sheet} aria-label="Publish">
      <h2>Publish version {version}</h2>
      <ChangeSheet staged={staged} act="Publish now" leave={{ words: "Not yet", go: onClose }} folded="Who gains what, in full">
        <Sensitive editor={editor} found={sensitive} />
        <Readers sheet={sheet} />
        {sheet.helpers.length > 0 && <Helpers sheet={sheet} keep={keepHelpers} onKeep={setKeepHelpers} />}
      </ChangeSheet>
      <Scheduling
        id={id}
        version={version}
        due={due}
        note={staged.texts.note}
        keepHelpers={keepHelpers}
        off={staged.way.stops.length > 0}
        onScheduled={onScheduled}
      />
    </section>
  );
}
