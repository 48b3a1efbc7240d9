/** Bringing an access document back: every error by its path, or what it changes, its ripple, and one button. */

import { useState } from "react";
import { applyDocument, type DocumentPlan, planDocument } from "../../contracts/house.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { Told } from "../../ui/When.tsx";
import { ReasonField } from "../change/ReasonField.tsx";
import { RippleLines } from "../change/RippleLines.tsx";
import { sortRefusals } from "../change/refusals.ts";
import { ask } from "../shared/api.ts";
import styles from "./house.module.css";

interface Chosen {
  /** Which choice this is: a file mended under its old name is another. */
  turn: number;
  document: object;
  plan: DocumentPlan;
}

function Planned({ chosen, onApplied }: { chosen: Chosen; onApplied(seq: number): void }) {
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState("");
  const { plan, document } = chosen;
  if (plan.errors.length > 0)
    return (
      <div role="alert">
        <p className="notice bad">
          {plan.errors.length} {plan.errors.length === 1 ? "error" : "errors"}: nothing of it is brought in.
        </p>
        <ul className={styles.errors}>
          {plan.errors.map((error) => (
            <li key={error.path + error.message}>
              <code>{error.path}</code> {error.message}
            </li>
          ))}
        </ul>
      </div>
    );
  if (!plan.preview) return <p className="notice good">The site is as this document says already.</p>;
  const { stops, liftedByReason } = sortRefusals(plan.preview);
  const needsReason = liftedByReason.length > 0;
  const apply = async () => {
    try {
      const body = { document, note, seen: plan.preview?.seen ?? "", ...(hasWords(reason) ? { reason } : {}) };
      onApplied((await ask(applyDocument, { body })).seq);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <>
      <p>
        {plan.sentences.length} {plan.sentences.length === 1 ? "difference" : "differences"}:
      </p>
      <ul className={styles.errors}>
        {plan.sentences.map((sentence, i) => (
          <li key={i}>
            <Told text={sentence} />
          </li>
        ))}
      </ul>
      <RippleLines ripple={plan.preview.ripple} />
      {(problem || stops.length > 0) && (
        <p className="notice bad" role="alert">
          {problem || stops.map((it) => it.message).join(" ")}
        </p>
      )}
      <ReasonField className={styles.line} lifted={liftedByReason} value={reason} onChange={setReason} />
      <div className={styles.line}>
        <TextField label="Note for the ledger" value={note} onChange={setNote} most={LIMITS.note} />
        <button type="button" className="button go" disabled={stops.length > 0 || (needsReason && !hasWords(reason))} onClick={apply}>
          Bring it in
        </button>
      </div>
    </>
  );
}

export function Bringing() {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [said, setSaid] = useState("");
  const choose = async (file: File | undefined) => {
    setChosen(null);
    setSaid("");
    if (!file) return;
    try {
      const document = JSON.parse(await file.text());
      setChosen({ turn: Date.now(), document, plan: await ask(planDocument, { body: { document } }) });
    } catch (error) {
      setSaid(error instanceof SyntaxError ? `${file.name} is not valid JSON: ${error.message}` : (error as Error).message);
    }
  };
  return (
    <section className={styles.section} aria-labelledby="bringing">
      <h1 id="bringing">Bring back</h1>
      <p className="soft">
        An access document that was taken out and edited. What it changes and whom that reaches is shown first; it becomes one entry of the
        ledger and can be taken back from there.
      </p>
      <label className={styles.line}>
        File{" "}
        <input
          type="file"
          accept="application/json,.json"
          aria-label="Access document"
          onChange={(event) => {
            void choose(event.target.files?.[0]);
            // The same name chosen again is to be read again.
            event.target.value = "";
          }}
        />
      </label>
      {said && <p role="status">{said}</p>}
      {chosen && (
        <Planned
          key={chosen.turn}
          chosen={chosen}
          onApplied={(seq) => {
            setChosen(null);
            setSaid(`Brought in: entry ${seq} of the ledger.`);
          }}
        />
      )}
    </section>
  );
}
