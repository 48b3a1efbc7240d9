/** Flags of a page: what is said of it, by whom, who is to answer; and how it ended. */
import type { FlagLine } from "../../contracts/review.ts";
import { FLAG_WORDS, OUTCOME_WORDS } from "../../core/access/model/index.ts";
import { When } from "../../ui/When.tsx";
import styles from "./review.module.css";

export function FlagList({ flags }: { flags: readonly FlagLine[] }) {
  return (
    <ul className={styles.flags}>
      {flags.map(({ id, kind, by, at, due, to, note, quote, outcome, endedBy, endedAt, reason }) => (
        <li key={id} data-ended={outcome !== null}>
          <strong>{FLAG_WORDS[kind]}</strong> <span dir="auto">{note}</span>
          {quote && (
            <q className={styles.quote} dir="auto">
              {quote}
            </q>
          )}
          <small className="soft">
            {by || "a reader"}, <When instant={at} as="day" />
            {outcome === null ? (
              <>
                {to === "" ? "; nobody is to answer it by name" : `; ${to} answers`} by <When instant={due} as="day" />
              </>
            ) : (
              <>
                ; {OUTCOME_WORDS[outcome]} by {endedBy} {endedAt && <When instant={endedAt} as="day" />}
                {reason && `: ${reason}`}
              </>
            )}
          </small>
        </li>
      ))}
    </ul>
  );
}
