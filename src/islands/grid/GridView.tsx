/** The grid: places down the side, viewpoints across, the slip of the selected place on the right. */
import { keepPreviousData, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Grid } from "../../contracts/answers.ts";
import { get, queries } from "../shared/api.ts";
import { Slip } from "../slip/Slip.tsx";
import { showColumns, useTray, wish } from "../tray/store.ts";
import { type Show, useGridState } from "./address.ts";
import { ColumnPicker } from "./ColumnPicker.tsx";
import { GridTable } from "./GridTable.tsx";
import styles from "./grid.module.css";
import { shownRows } from "./rows.ts";

const SHOWS: { key: Show; name: string }[] = [
  { key: "all", name: "Everything" },
  { key: "outside", name: "Outside" },
  { key: "rules", name: "Where rules stand" },
  { key: "fenced", name: "Fenced" },
  { key: "changed", name: "What would change" },
];
const STATES = ["live", "draft", "scheduled", "archived", "binned"];
const KEYS: [string, string][] = [
  ["Arrows", "move; on the tree, open and close"],
  ["1 – 5", "choose a level in a cell"],
  ["0", "nothing in a cell"],
  ["Space", "the ladder of levels"],
  ["w", "why a cell is as it is"],
  ["f", "the rules of a row, to fence it"],
  ["Enter", "the slip of a row"],
  [".", "to the tray"],
  ["/", "find a place"],
];

function View() {
  const [state, change] = useGridState();
  const [help, setHelp] = useState(false);
  const tray = useTray();
  const { data: grid, error } = useQuery({
    queryKey: ["grid", state.columns.join()],
    queryFn: () => get<Grid>(`/api/grid?columns=${encodeURIComponent(state.columns.join())}`),
    placeholderData: keepPreviousData,
  });
  useEffect(() => showColumns(state.columns), [state.columns]);
  const rows = useMemo(() => (grid ? shownRows(grid.rows, state, tray.preview) : []), [grid, state, tray.preview]);
  if (error) return <p className={styles.message}>{error.message}</p>;
  if (!grid) return <p className={styles.message}>Reading the grid …</p>;

  const toggle = (id: string) =>
    change({ closed: state.closed.includes(id) ? state.closed.filter((it) => it !== id) : [...state.closed, id] });
  const places = grid.rows.length - 1;
  return (
    <div className={styles.view} data-slip={state.place !== null}>
      <div className={styles.main}>
        <div className={styles.bar}>
          <fieldset className={styles.shows}>
            <legend className="unseen">Show</legend>
            {SHOWS.map(({ key, name }) => (
              <button key={key} type="button" aria-pressed={state.show === key} onClick={() => change({ show: key })}>
                {name}
              </button>
            ))}
          </fieldset>
          <select className="field" aria-label="State" value={state.state} onChange={(event) => change({ state: event.target.value })}>
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
            onChange={(event) => change({ words: event.target.value })}
          />
          <span className={styles.counted} role="status">
            {rows.filter((row) => row.matches && row.kind !== "site").length} of {places}
          </span>
        </div>
        {rows.length === 0 ? (
          <p className={styles.message}>
            {state.show === "changed"
              ? "Cells that the changes in the tray would change stand here. Choose a level in a cell to begin."
              : "No place fits all of these filters."}{" "}
            <button type="button" className="button" onClick={() => change({ show: "all", state: "", words: "" })}>
              Show everything
            </button>
          </p>
        ) : (
          <GridTable
            rows={rows}
            columns={grid.columns}
            preview={tray.preview}
            selected={state.place}
            onSelect={(place) => change({ place, column: null, tab: state.tab === "why" ? "who" : state.tab })}
            onToggle={toggle}
            onWish={(row, column, level) => void wish(row, column, level)}
            onWhy={(row, column) => change({ place: row.id, column: column.key, tab: "why" })}
            onFence={(row) => change({ place: row.id, tab: "rules" })}
            onRemoveColumn={(key) => change({ columns: state.columns.filter((it) => it !== key) })}
            onHelp={() => setHelp(!help)}
            adding={<ColumnPicker grid={grid} onAdd={(key) => change({ columns: [...state.columns, key] })} />}
          />
        )}
        {help && (
          <aside className={styles.help} aria-label="Keys of the grid">
            <dl>
              {KEYS.map(([key, does]) => (
                <div key={key}>
                  <dt>
                    <kbd>{key}</kbd>
                  </dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
            <button type="button" className="button" onClick={() => setHelp(false)}>
              Close
            </button>
          </aside>
        )}
      </div>
      {state.place !== null && (
        <Slip
          key={state.place}
          id={state.place}
          column={state.column}
          tab={state.tab}
          grid={grid}
          onTab={(tab, column) => change({ tab, ...(column ? { column } : {}) })}
          onGo={(place) => change({ place, tab: "rules" })}
          onClose={() => change({ place: null, column: null, tab: "who" })}
        />
      )}
    </div>
  );
}

export default function GridView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
