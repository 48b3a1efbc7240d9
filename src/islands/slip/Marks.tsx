/** Readiness of a page; and of a space the words it names readiness by, and how its pages stand. Changed through the tray. */
import { useState } from "react";
import type { Slip } from "../../contracts/slip.ts";
import { MOST_READINESS } from "../../contracts/spaceEdits.ts";
import { editSentence } from "../../core/access/explain/index.ts";
import type { Edit } from "../../core/access/model/index.ts";
import { TextField } from "../../ui/TextField.tsx";
import { tray, useTray } from "../change/store.ts";
import { InTray, waitingAt } from "./pending.tsx";
import styles from "./slip.module.css";

const NO_NAMES = { place: (id: string) => id, group: (id: string) => id, person: (id: string) => id };

const stage = (slip: Slip, rule: string, edit: Edit) =>
  tray.stage({ id: slip.id, title: slip.title }, rule, edit, editSentence(edit, NO_NAMES));

/** What waits in the tray for a mark of this place, if anything does. */
function useWaiting(slip: Slip, kind: Edit["kind"]) {
  return waitingAt(useTray().items, slip.id).find(({ edit }) => edit.kind === kind);
}

export function Readiness({ slip }: { slip: Slip }) {
  const { readiness, readinessWords, mayTag } = slip.life;
  const waiting = useWaiting(slip, "readiness");
  if (waiting) return <InTray waiting={waiting} words={waiting.sentence.replace(/^readiness: | \(before.*$/g, "")} />;
  if (!mayTag || readinessWords.length === 0) return <>{readiness ?? "none"}</>;
  return (
    <span className={styles.words}>
      {[...readinessWords, null].map((word) => (
        <button
          key={word ?? ""}
          type="button"
          className={styles.text}
          aria-pressed={readiness === word}
          onClick={() => readiness !== word && stage(slip, "readiness", { kind: "readiness", place: slip.id, from: readiness, to: word })}
        >
          {word ?? "none"}
        </button>
      ))}
    </span>
  );
}

export function ReadinessWords({ slip }: { slip: Slip }) {
  const { readinessWords, mayChangeSpace } = slip.life;
  const [typed, setTyped] = useState<string | null>(null);
  const waiting = useWaiting(slip, "readinessWords");
  const wanted = [...new Set((typed ?? "").split(",").map((word) => word.trim()))].filter(Boolean);
  const off =
    wanted.length > MOST_READINESS
      ? `At most ${MOST_READINESS} words.`
      : wanted.some((word) => word.length > 40)
        ? "At most 40 characters each."
        : "";
  const put = () => {
    stage(slip, "readinessWords", { kind: "readinessWords", place: slip.id, from: readinessWords, to: wanted });
    setTyped(null);
  };
  return (
    <>
      {readinessWords.join(", ") || "none"}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={waiting.sentence.replace(/^words of readiness: | \(before.*$/g, "")} />
      ) : (
        mayChangeSpace && (
          <button
            type="button"
            className={styles.text}
            aria-expanded={typed !== null}
            onClick={() => setTyped(typed === null ? readinessWords.join(", ") : null)}
          >
            change
          </button>
        )
      )}
      {typed !== null && (
        <span className={styles.tagging}>
          <TextField label="Words, in order, with commas between" value={typed} onChange={setTyped} />
          <button type="button" className="button" disabled={off !== ""} title={off || undefined} onClick={put}>
            To the tray
          </button>
        </span>
      )}
    </>
  );
}

export function Arranged({ slip }: { slip: Slip }) {
  const { arranged, mayChangeSpace } = slip.life;
  const waiting = useWaiting(slip, "arranged");
  if (arranged === null) return null;
  const other = arranged === "hand" ? "name" : "hand";
  return (
    <>
      {arranged === "hand" ? "by hand" : "by name"}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={other === "hand" ? "by hand" : "by name"} />
      ) : (
        mayChangeSpace && (
          <button
            type="button"
            className={styles.text}
            onClick={() => stage(slip, "arranged", { kind: "arranged", place: slip.id, from: arranged, to: other })}
          >
            {other === "hand" ? "by hand instead" : "by name instead"}
          </button>
        )
      )}
    </>
  );
}
