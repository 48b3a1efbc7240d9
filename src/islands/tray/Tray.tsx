/** The tray, along the bottom edge: what waits, its common ripple, apply, look closer, throw away. */
import { ChevronDown, ChevronUp, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Preview } from "../../contracts/answers.ts";
import { LEVELS } from "../../core/access/abilities.ts";
import { TextField } from "../../ui/TextField.tsx";
import { get } from "../shared/api.ts";
import { ReasonField } from "../shared/ReasonField.tsx";
import { RippleLines, RippleSummary } from "../shared/RippleLines.tsx";
import { sortRefusals } from "../shared/refusals.ts";
import { apply, choose, dismiss, openTray, remove, type TrayItem, takeBackEntry, throwAway, toggleOpen, useTray } from "./store.ts";
import styles from "./tray.module.css";

function Item({ item }: { item: TrayItem }) {
  return (
    <li>
      <div className={styles.itemHead}>
        <strong>{item.title}</strong>
        <button type="button" className={styles.quiet} onClick={() => remove(item.id)} aria-label={`Take out the change to ${item.title}`}>
          <X size={14} />
        </button>
      </div>
      {item.wishes.length > 0 && <p>Wished: {item.wishes.map((it) => `${it.name} at ${LEVELS[it.level]}`).join(", ")}</p>}
      <ul>
        {item.change.sentences.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ul>
      {item.exceptions.length > 0 && (
        <p className="soft">Keep what they have, since they oversee this place: {item.exceptions.join(", ")}.</p>
      )}
      {item.others.map((other) => (
        <p key={other.sentences.join()} className={styles.other}>
          Or: {other.sentences.join("; ")} ({other.besides}).{" "}
          <button type="button" className={styles.text} onClick={() => choose(item, other)}>
            Take this instead
          </button>
        </p>
      ))}
    </li>
  );
}

function Applied({ seq, summary }: { seq: number; summary: string }) {
  const [preview, setPreview] = useState<Preview | null>(null);
  const [problem, setProblem] = useState("");
  const attempt = (work: Promise<unknown>) => work.catch((error: Error) => setProblem(error.message));
  return (
    <div className={styles.bar} role="status">
      <span className={styles.count}>Applied</span>
      <span className={styles.ripple}>
        {problem ||
          (preview ? (
            <RippleSummary ripple={preview.ripple} />
          ) : (
            <>
              Entry {seq} of the ledger: {summary}.
            </>
          ))}
      </span>
      {preview ? (
        <button type="button" className="button go" onClick={() => attempt(takeBackEntry(seq, "Taken back from the tray.", preview.seen))}>
          Take back now
        </button>
      ) : (
        <button type="button" className="button" onClick={() => attempt(get<Preview>(`/api/ledger/${seq}`).then(setPreview))}>
          Take back
        </button>
      )}
      <button type="button" className="button plain" onClick={dismiss}>
        Close
      </button>
    </div>
  );
}

export default function Tray({ me }: { me: string }) {
  const tray = useTray();
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const start = useRef<HTMLInputElement>(null);
  useEffect(() => openTray(me), [me]);
  useEffect(() => {
    const focus = () => start.current?.focus();
    window.addEventListener("tesoro:tray", focus);
    return () => window.removeEventListener("tesoro:tray", focus);
  }, []);

  const { items, preview, busy, problem, applied, open } = tray;
  if (items.length === 0) {
    if (applied) return <Applied key={applied.seq} {...applied} />;
    if (!problem) return null;
    return (
      <div className={styles.bar} role="alert">
        <span className={styles.count}>Not possible</span>
        <span className={styles.ripple}>{problem}</span>
        <button type="button" className="button plain" onClick={dismiss}>
          Close
        </button>
      </div>
    );
  }
  const { stops, liftedByReason } = sortRefusals(preview);
  const needsReason = liftedByReason.length > 0;
  const submit = async () => {
    if (await apply(note, reason)) {
      setNote("");
      setReason("");
    }
  };
  return (
    <section className={styles.tray} aria-label="Tray">
      {open && preview && (
        <div className={styles.closer}>
          <div>
            <h2>What waits</h2>
            <ul className={styles.items}>
              {items.map((item) => (
                <Item key={item.id} item={item} />
              ))}
            </ul>
          </div>
          <div>
            <h2>What it would do</h2>
            <RippleLines ripple={preview.ripple} />
          </div>
        </div>
      )}
      {(problem || stops.length > 0) && (
        <p className={styles.problem} role="alert">
          {problem || stops.map((it) => (it.title ? `${it.title}: ${it.message}` : it.message)).join(" ")}
        </p>
      )}
      <ReasonField className={styles.reason} lifted={liftedByReason} value={reason} onChange={setReason} />
      <div className={styles.bar}>
        <span className={styles.count}>
          {items.length} {items.length === 1 ? "change waits" : "changes wait"}
        </span>
        <span className={styles.ripple} aria-live="polite">
          {preview ? <RippleSummary ripple={preview.ripple} /> : busy ? "Working out the ripple …" : ""}
        </span>
        <TextField ref={start} className={styles.note} label="Note for the ledger" value={note} onChange={setNote} />
        <button
          type="button"
          className="button go"
          disabled={busy || !preview || stops.length > 0 || (needsReason && !reason.trim())}
          onClick={submit}
        >
          Apply
        </button>
        <button type="button" className="button" aria-expanded={open} onClick={() => toggleOpen()}>
          Look closer {open ? <ChevronDown size={14} /> : <ChevronUp size={14} />}
        </button>
        <button type="button" className="button plain" onClick={throwAway}>
          Throw away
        </button>
      </div>
    </section>
  );
}
