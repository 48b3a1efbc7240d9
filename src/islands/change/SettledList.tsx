/** What was settled within a day, each to be taken back. */
import { When } from "../../ui/When.tsx";
import styles from "./settled.module.css";
import { TakingBack } from "./TakingBack.tsx";

interface Line {
  seq: number;
  words: string;
  takenBack: boolean;
  at: string;
  /** Whoever settled it, where that was somebody else. */
  by?: string;
}

export function SettledList({ lines, onDone }: { lines: readonly Line[]; onDone(): void }) {
  return (
    <ul className={styles.settled} aria-label="Settled today">
      {lines.map(({ seq, words, takenBack, at, by }) => (
        <li key={seq}>
          <span dir="auto">{words}</span> <small className="soft">{by && `${by}, `}</small>
          <small className="soft">
            <When instant={at} />
          </small>{" "}
          {takenBack ? <small className="soft">taken back</small> : <TakingBack seq={seq} onDone={onDone} />}
        </li>
      ))}
    </ul>
  );
}
