/** The tray, along the bottom edge: what waits, its common ripple, apply, look closer, throw away. */

import { QueryClientProvider } from "@tanstack/react-query";
import { ChevronDown, ChevronUp, X } from "lucide-react";
import { useEffect, useRef } from "react";
import { describeSet, wishedSet } from "../../core/access/model/index.ts";
import { LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { Told } from "../../ui/When.tsx";
import { queries } from "../shared/api.ts";
import { focusOn, goHome } from "../shared/focus.ts";
import { say } from "../shared/say.ts";
import type { TrayItem, TrayState } from "./model.ts";
import { ReasonField } from "./ReasonField.tsx";
import { RippleLines, RippleSummary } from "./RippleLines.tsx";
import { inTheWay, NOT_YET, refusalWords } from "./staged.ts";
import { openTray, tray, useTray } from "./store.ts";
import { TakingBack } from "./TakingBack.tsx";
import styles from "./tray.module.css";

/** One thing that waits, what is the matter with it if anything, and how to take it out. */
function Item({ item, trouble }: { item: TrayItem; trouble: string | undefined }) {
  return (
    <li data-trouble={trouble !== undefined}>
      <div className={styles.itemHead}>
        <strong dir="auto">{item.title}</strong>
        <button
          type="button"
          className={styles.quiet}
          onClick={() => {
            tray.remove(item.id);
            say(`The change to ${item.title} was taken out of the tray.`);
          }}
          aria-label={`Take out the change to ${item.title}`}
        >
          <X size={14} />
        </button>
      </div>
      {trouble !== undefined && (
        <p className="notice bad">
          This does not fit any more: {trouble}.{" "}
          {item.wishes.length > 0 && (
            <button type="button" className="textButton" onClick={() => void tray.again(item)}>
              Work it out anew
            </button>
          )}
        </p>
      )}
      {item.wishes.length > 0 && <p>Wished: {item.wishes.map((it) => `${it.name} at ${describeSet(wishedSet(it))}`).join(", ")}</p>}
      <ul>
        {item.change.sentences.map((sentence) => (
          <li key={sentence}>
            <Told text={sentence} />
          </li>
        ))}
      </ul>
      {item.exceptions.length > 0 && (
        <p className="soft">Keep what they have, since they oversee this place: {item.exceptions.join(", ")}.</p>
      )}
      {item.others.map((other) => (
        <p key={other.sentences.join()} className={styles.other}>
          Or: <Told text={`${other.sentences.join("; ")} (${other.besides})`} />.{" "}
          <button type="button" className="textButton" onClick={() => tray.choose(item, other)}>
            Take this instead
          </button>
        </p>
      ))}
    </li>
  );
}

/** A change was made: it is said, and can be taken back at once. */
function Applied({ seq, summary, final = false }: { seq: number; summary: string; final?: boolean }) {
  const close = () => {
    tray.dismiss();
    goHome();
  };
  return (
    <div className={styles.bar} role="status">
      <span className={styles.count}>Applied</span>
      <span className={styles.ripple}>
        Entry {seq} of the ledger: {summary}.
      </span>
      {!final && (
        <div className={styles.back} data-applied>
          <TakingBack seq={seq} onDone={goHome} />
        </div>
      )}
      <button type="button" className="button plain" onClick={close}>
        Close
      </button>
    </div>
  );
}

/** A wish that came to nothing, with nothing else waiting. */
function NotPossible({ problem }: { problem: string }) {
  const close = () => {
    tray.dismiss();
    goHome();
  };
  return (
    <div className={styles.bar} role="alert">
      <span className={styles.count}>Not possible</span>
      <span className={styles.ripple}>{problem}</span>
      <button type="button" className="button plain" onClick={close}>
        Close
      </button>
    </div>
  );
}

function Closer({ items, preview, trouble, busy }: TrayState) {
  return (
    <div className={styles.closer}>
      <div>
        <h2>What waits</h2>
        <ul className={styles.items}>
          {items.map((item) => (
            <Item key={item.id} item={item} trouble={trouble[item.id]} />
          ))}
        </ul>
      </div>
      <div>
        <h2>What it would do</h2>
        {preview ? (
          <RippleLines ripple={preview.ripple} />
        ) : (
          <p className="soft">
            {busy
              ? "Working out the ripple …"
              : "Not to be said while something in the tray does not fit. Take it out, or work it out anew."}
          </p>
        )}
      </div>
    </div>
  );
}

async function submit(): Promise<void> {
  if (!(await tray.apply())) return;
  say("Applied.");
  // Whoever has gone on to something else meanwhile stays there.
  const at = document.activeElement;
  const elsewhere = at !== null && at !== document.body && at.matches("input, textarea, [role=gridcell], [data-row]") && at.isConnected;
  if (!elsewhere) focusOn("[data-applied] button");
}

/** The line of the tray: how much waits, what it would do to whom, and what can be done with it. */
function Bar({ state, off, start }: { state: TrayState; off: string; start: React.Ref<HTMLInputElement> }) {
  const { items, preview, busy, open, note } = state;
  const throwAway = () => {
    tray.throwAway();
    say("Everything in the tray was thrown away.");
    goHome();
  };
  return (
    <div className={styles.bar}>
      <span className={styles.count}>
        {items.length} {items.length === 1 ? "change waits" : "changes wait"}
      </span>
      <span className={styles.ripple} aria-live="polite">
        {preview ? <RippleSummary ripple={preview.ripple} /> : busy ? "Working out the ripple …" : ""}
      </span>
      <TextField
        ref={start}
        className={styles.note}
        label="Note for the ledger"
        value={note}
        onChange={(text) => tray.write({ note: text })}
        most={LIMITS.note}
      />
      <button type="button" className="button go" disabled={off !== ""} title={off || undefined} onClick={submit}>
        Apply
      </button>
      <button type="button" className="button" aria-expanded={open} onClick={() => tray.open()}>
        Look closer {open ? <ChevronDown size={14} /> : <ChevronUp size={14} />}
      </button>
      <button type="button" className="button plain" onClick={throwAway}>
        Throw away
      </button>
    </div>
  );
}

export default function Tray({ me }: { me: string }) {
  return (
    <QueryClientProvider client={queries}>
      <Waiting me={me} />
    </QueryClientProvider>
  );
}

function Waiting({ me }: { me: string }) {
  const state = useTray();
  const start = useRef<HTMLInputElement>(null);
  useEffect(() => openTray(me), [me]);
  useEffect(() => {
    const focus = () => start.current?.focus();
    window.addEventListener("tesoro:tray", focus);
    return () => window.removeEventListener("tesoro:tray", focus);
  }, []);

  const { items, preview, fresh, busy, problem, applied, open, note, reason, trouble } = state;
  if (items.length === 0) {
    if (applied) return <Applied key={applied.seq} {...applied} />;
    return problem ? <NotPossible problem={problem} /> : null;
  }
  const { stops, lifted, off } = inTheWay(preview, { note, reason });
  const said = problem || refusalWords(stops).join(" ");
  return (
    <section className={styles.tray} aria-label="Tray">
      {open && <Closer {...state} />}
      {said && (
        <p className={styles.problem} role="alert">
          {said}
          {Object.keys(trouble).length > 0 && !open && " Look closer to take out what does not fit."}
        </p>
      )}
      <ReasonField className={styles.reason} lifted={lifted} value={reason} onChange={(text) => tray.write({ reason: text })} />
      <Bar state={state} off={busy || !fresh ? NOT_YET : off} start={start} />
    </section>
  );
}
