import type { GridState, Show } from "./address.ts";
import styles from "./grid.module.css";

const SHOWS: { key: Show; name: string }[] = [
  { key: "kept", name: "Kept by you" },
  { key: "all", name: "Everything" },
  { key: "outside", name: "Outside" },
  { key: "rules", name: "With rules" },
  { key: "fenced", name: "Fenced" },
  { key: "changed", name: "In the tray" },
];
const STATES = ["live", "draft", "scheduled", "archived", "binned"];

interface Props {
  state: GridState;
  show: Show;
  /** Whether one keeps some of what one sees, but not all. */
  keepsSome: boolean;
  shown: number;
  places: number;
  onChange(change: Partial<GridState>, step?: "small"): void;
}

/** What the grid shows: filters, and how many places pass them. */
export function GridBar({ state, show, keepsSome, shown, places, onChange }: Props) {
  return (
    <div className="viewBar">
      <fieldset className={styles.shows}>
        <legend className="unseen">Show</legend>
        {SHOWS.filter(({ key }) => key !== "kept" || keepsSome).map(({ key, name }) => (
          <button key={key} type="button" aria-pressed={show === key} onClick={() => onChange({ show: key })}>
            {name}
          </button>
        ))}
      </fieldset>
      <select className="field" aria-label="State" value={state.state} onChange={(event) => onChange({ state: event.target.value })}>
        <option value="">Any state</option>
        {STATES.map((it) => (
          <option key={it} value={it}>
            {it}
          </option>
        ))}
      </select>
      <input
        className={`field ${styles.words}`}
        placeholder="Title holds …"
        aria-label="Title holds"
        value={state.words}
        onChange={(event) => onChange({ words: event.target.value }, "small")}
      />
      <span className={styles.counted} role="status">
        {shown} of {places}
      </span>
    </div>
  );
}
