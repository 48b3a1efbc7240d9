import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { PublishSheet as Sheet, WorkingPage } from "../../contracts/answers.ts";
import type { PageState } from "../../core/access/document.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { get, post, remove } from "../shared/api.ts";
import { RippleLines } from "../shared/RippleLines.tsx";
import { sortRefusals } from "../shared/refusals.ts";
import styles from "./writing.module.css";

interface Props {
  id: string;
  version: string;
  /** A draft can also be scheduled, a scheduled one scheduled anew or not at all. */
  state: PageState;
  due: WorkingPage["due"];
  onPublished(version: string): void;
  /** Null: it goes live by itself no more. */
  onScheduled(at: string | null): void;
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
        <div data-outside={readers.guests.length > 0}>
          <dt>Guests</dt>
          <dd>{readers.guests.length === 0 ? "none" : some(readers.guests)}</dd>
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
      {sheet.deadLinks.map((link) => (
        <p key={link.title} className="notice">
          Its link to {link.title} leads nowhere for {link.readers} of them{link.outside ? ", some from outside" : ""}.
        </p>
      ))}
    </>
  );
}

interface SchedulingProps extends Pick<Props, "id" | "due" | "onScheduled"> {
  note: string;
  off: boolean;
}

/** Letting a draft go live by itself: then, at another time, or no more. */
function Scheduling({ id, due, note, off, onScheduled }: SchedulingProps) {
  const [at, setAt] = useState(due?.at ?? "");
  const schedule = useMutation({
    mutationFn: () => post<{ at: string }>(`/api/pages/${id}/schedule`, { at, note }),
    onSuccess: (answer) => onScheduled(answer.at),
  });
  const unschedule = useMutation({
    mutationFn: () => remove(`/api/pages/${id}/schedule`),
    onSuccess: () => onScheduled(null),
  });
  const problem = schedule.error ?? unschedule.error;
  return (
    <>
      {problem && <p className="notice bad">{problem.message}</p>}
      <div className="acts">
        <DateField label="Publish at" as="moment" none="day and time" ahead value={at} onChange={setAt} />
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
export function PublishSheet({ id, version, state, due, onPublished, onScheduled, onClose }: Props) {
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const { data: sheet, error } = useQuery({
    queryKey: ["publish", id, version],
    queryFn: () => get<Sheet>(`/api/pages/${id}/publish`),
    staleTime: 0,
  });
  const publish = useMutation({
    mutationFn: () =>
      post<{ version: string }>(`/api/pages/${id}/publish`, {
        note,
        version,
        seen: sheet?.preview?.seen ?? "",
        ...(reason ? { reason } : {}),
      }),
    onSuccess: (answer) => onPublished(answer.version),
  });
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!sheet) return <p className="soft">Looking at who will read it …</p>;
  const { preview } = sheet;
  const { stops, liftedByReason } = sortRefusals(preview);
  const needsReason = liftedByReason.length > 0;
  return (
    <section className={styles.sheet} aria-label="Publish">
      <h2>Publish version {version}</h2>
      <Readers sheet={sheet} />
      {stops.map((it) => (
        <p key={it.message} className="notice bad">
          {it.message}
        </p>
      ))}
      {preview && (
        <details>
          <summary>Who gains what, in full</summary>
          <RippleLines ripple={preview.ripple} />
        </details>
      )}
      <TextField label="Note for the ledger" value={note} onChange={setNote} most={LIMITS.note} />
      {needsReason && (
        <>
          <p className="notice">{liftedByReason[0]?.message}</p>
          <TextField label="Reason" value={reason} onChange={setReason} most={LIMITS.note} />
        </>
      )}
      {publish.error && <p className="notice bad">{publish.error.message}</p>}
      <div className="acts">
        <button
          type="button"
          className="button go"
          disabled={stops.length > 0 || publish.isPending || (needsReason && !hasWords(reason))}
          onClick={() => publish.mutate()}
        >
          Publish now
        </button>
        <button type="button" className="button plain" onClick={onClose}>
          Not yet
        </button>
      </div>
      {(state === "draft" || state === "scheduled") && (
        <Scheduling id={id} due={due} note={note} off={stops.length > 0} onScheduled={onScheduled} />
      )}
    </section>
  );
}
