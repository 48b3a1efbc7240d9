/** The sheet of a change: what it would do, what is in the way, the note, the act by its name. */

import type { ReactNode } from "react";
import { LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ReasonField } from "./ReasonField.tsx";
import { RippleLines } from "./RippleLines.tsx";
import styles from "./sheet.module.css";
import { refusalWords, type Staged } from "./staged.ts";

interface Props {
  staged: Staged;
  /** The act, as it stands on the button. */
  act: string;
  /** Where it is left without being done. */
  leave?: { words: string; go(): void };
  /** What the ripple is told under, where it is opened on demand. */
  folded?: string;
  /** What the act itself says, before the ripple. */
  children?: ReactNode;
}

export function ChangeSheet({ staged, act, leave, folded, children }: Props) {
  const { preview, texts, write, way, busy, problem, apply } = staged;
  const said = [...refusalWords(way.stops), ...(problem ? [problem] : [])];
  return (
    <>
      {children}
      {preview &&
        (folded ? (
          <details>
            <summary>{folded}</summary>
            <RippleLines ripple={preview.ripple} />
          </details>
        ) : (
          <RippleLines ripple={preview.ripple} />
        ))}
      {said.length > 0 && (
        <p className="notice bad" role="alert">
          {said.join(" ")}
        </p>
      )}
      <ReasonField lifted={way.lifted} value={texts.reason} onChange={(reason) => write({ reason })} />
      <div className={styles.note}>
        <TextField label="Note for the ledger" value={texts.note} onChange={(note) => write({ note })} most={LIMITS.note} />
      </div>
      <div className="acts">
        <button type="button" className="button go" disabled={way.off !== "" || busy} title={way.off || undefined} onClick={apply}>
          {act}
        </button>
        {leave && (
          <button type="button" className="button plain" onClick={leave.go}>
            {leave.words}
          </button>
        )}
      </div>
    </>
  );
}
