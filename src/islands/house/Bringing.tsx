/** Bringing an access document back: every error by its path, or what it changes, its ripple, and one button. */

import { useState } from "react";
import { applyDocument, type DocumentPlan, planDocument } from "../../contracts/house.ts";
import { Told } from "../../ui/When.tsx";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { ask } from "../shared/api.ts";
import styles from "./house.module.css";

interface Chosen {
  /** Which choice this is: a file mended under its old name is another. */
  turn: number;
  document: object;
  plan: DocumentPlan;
}

/** Every error of a document by its path: nothing of it is brought in. */
const Errors = ({ errors }: { errors: DocumentPlan["errors"] }) => (
  <div role="alert">
    <p className="notice bad">
      {errors.length} {errors.length === 1 ? "error" : "errors"}: nothing of it is brought in.
    </p>
    <ul className={styles.errors}>
      {errors.map((error) => (
        <li key={error.path + error.message}>
          <code>{error.path}</code> {error.message}
        </li>
      ))}
    </ul>
  </div>
);

interface PlannedProps {
  chosen: Chosen;
  onApplied(seq: number): void;
  again(): void;
}

function Planned({ chosen: { plan, document }, onApplied, again }: PlannedProps) {
  const staged = useStaged({
    preview: plan.preview,
    apply: (acting) => ask(applyDocument, { body: { document, ...acting } }),
    onDone: ({ seq }) => onApplied(seq),
    again,
  });
  if (plan.errors.length > 0) return <Errors errors={plan.errors} />;
  if (!plan.preview) return <p className="notice good">The site is as this document says already.</p>;
  return (
    <ChangeSheet staged={staged} act="Bring it in">
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
    </ChangeSheet>
  );
}

export function Bringing() {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [said, setSaid] = useState("");
  const plan = async (document: object, turn = Date.now()) =>
    setChosen({ turn, document, plan: await ask(planDocument, { body: { document } }) });
  const choose = async (file: File | undefined) => {
    setChosen(null);
    setSaid("");
    if (!file) return;
    try {
      await plan(JSON.parse(await file.text()));
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
          again={() => void plan(chosen.document, chosen.turn)}
          onApplied={(seq) => {
            setChosen(null);
            setSaid(`Brought in: entry ${seq} of the ledger.`);
          }}
        />
      )}
    </section>
  );
}
