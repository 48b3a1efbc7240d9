import { STATES } from "../../core/access/model/index.ts";
import { DateField } from "../../ui/DateField.tsx";
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

interface Props {
  state: GridState;
  show: Show;
  /** Whether one keeps some of what one sees, but not all. */
  keepsSome: boolean;
  shown: number;
  /** How many fit in all, where the server filters. */
  fit: number | null;
  /** How many of those there is no room for. */
  unshown: number;
  places: number;
  /** Whether one keeps anything, whose past is then shown. */
  looksBack: boolean;
  mayMakeSpaces: boolean;
  onChange(change: Partial<GridState>, step?: "small"): void;
}

/** What the grid shows: filters, and how many places pass them. */
export function GridBar({ state, show, keepsSome, shown, fit, unshown, places, looksBack, mayMakeSpaces, onChange }: Props) {
  return (
    <div className={`viewBar ${styles.bar}`}>
      <fieldset className={styles.shows}>
        <legend className="unseen">Show</legend>
        {SHOWS.filter(({ key }) => (key !== "kept" || keepsSome) && (state.at === "" || (key !== "kept" && key !== "changed"))).map(
          ({ key, name }) => (
            <button key={key} type="button" aria-pressed={show === key} onClick={() => onChange({ show: key })}>
              {name}
            </button>
          ),
        )}
      </fieldset>
      <select className="field" aria-label="State" value={state.state} onChange={(event) => onChange({ state: event.target.value })}>
        <option value="">Any state</option>
        {STATES.map((it) => (
          <option key={it} value={it}>
            {it}
          </option>
        ))}
      </select>
      <label className="beside">
        Title holds
        <input
          className={`field ${styles.words}`}
          aria-label="Title holds"
          value={state.words}
          onChange={(event) => onChange({ words: event.target.value }, "small")}
        />
      </label>
      {looksBack && (
        <span className={styles.asOf}>
          <span aria-hidden="true">As of</span>
          <DateField label="As of" as="moment" none="now" value={state.at} onChange={(at) => onChange({ at })} />
        </span>
      )}
      <span className={styles.counted} role="status">
        {(fit ?? shown).toLocaleString("en")} of {places.toLocaleString("en")}
        {unshown > 0 && `, ${unshown.toLocaleString("en")} of them not shown: narrow the filter to see them`}
      </span>
      {mayMakeSpaces && state.at === "" && (
        <a className="button" href="/spaces/new">
          A new space
        </a>
      )}
    </div>
  );
}
