/** The grid: places down the side, viewpoints across, the slip of the selected place on the right. */

import { keepPreviousData, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { MOST_WISHED_PLACES } from "../../contracts/change.ts";
import { readGrid } from "../../contracts/grid.ts";
import type { PageState } from "../../core/access/model/index.ts";
import type { TrayWish } from "../change/model.ts";
import { tray, useTray } from "../change/store.ts";
import { openAct } from "../life/opened.ts";
import { useChosen } from "../list/useList.ts";
import { ask, queries } from "../shared/api.ts";
import { goHome } from "../shared/focus.ts";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { Slip } from "../slip/Slip.tsx";
import type { GridActs } from "./acts.ts";
import { type GridState, type Show, useGridState } from "./address.ts";
import { ChosenRows } from "./ChosenRows.tsx";
import { ColumnPicker } from "./ColumnPicker.tsx";
import { drop } from "./dragging.tsx";
import { GridBar } from "./GridBar.tsx";
import { GridTable } from "./GridTable.tsx";
import styles from "./grid.module.css";
import { GRID_KEYS } from "./keys.ts";
import { type ShownRow, shownRows } from "./rows.ts";

type Choosing = (row: ShownRow) => void;

/** A row, or all that are chosen with it. */
const withChosen = (row: ShownRow, chosen: readonly ShownRow[]): readonly ShownRow[] =>
  chosen.length > 1 && chosen.some(({ id }) => id === row.id) ? chosen : [row];

function wish(row: ShownRow, chosen: readonly ShownRow[], wished: TrayWish): void {
  const others = withChosen(row, chosen).filter(({ id }) => id !== row.id);
  const { id, title } = row;
  if (others.length === 0) return void tray.wish({ id, title }, wished);
  void tray.wish({ id, title: `${title} and ${others.length} more`, alsoAt: others.map((it) => it.id) }, wished);
}

const actsOn = (
  state: GridState,
  change: (part: Partial<GridState>) => void,
  onChoose: Choosing,
  chosen: readonly ShownRow[],
): GridActs => ({
  still: state.at !== "",
  onChoose,
  onMove: (act) => void drop(act),
  onAct: (row, ...names) => {
    const act = names.find((it) => row.acts.includes(it));
    if (act) openAct({ act, places: [row.id] });
  },
  onSelect: (place) => change({ place, column: null, tab: state.tab === "why" ? "who" : state.tab }),
  onToggle: (row) => {
    const toggled = (list: string[]) => (list.includes(row.id) ? list.filter((it) => it !== row.id) : [...list, row.id]);
    change(row.unsent > 0 || state.opened.includes(row.id) ? { opened: toggled(state.opened) } : { closed: toggled(state.closed) });
  },
  onWish: (row, { key, name }, what) => wish(row, chosen, { column: key, name, ...what }),
  wishedFor: (row) => {
    const rows = withChosen(row, chosen);
    const mine = rows.length <= MOST_WISHED_PLACES ? rows.filter(({ editable }) => editable).length : 0;
    return { rows: rows.length, off: rows.length - mine };
  },
  onWhy: (row, column) => change({ place: row.id, column: column.key, tab: "why" }),
  onFence: (row) => change({ place: row.id, tab: "rules" }),
  onRemoveColumn: (key) => change({ columns: state.columns.filter((it) => it !== key) }),
});

/** What the server filters by; what waits in the tray, only this browser knows. */
const filterOf = ({ show, state, words }: GridState) => ({
  ...(show && show !== "all" && show !== "changed" ? { show } : {}),
  ...(state ? { state: state as PageState } : {}),
  ...(words ? { words: words.slice(0, 100) } : {}),
});

function Nothing({ show, onReset }: { show: Show; onReset(): void }) {
  return (
    <p className="message">
      {show === "changed"
        ? "Cells that the changes in the tray would change stand here. Choose a level in a cell to begin."
        : "No place fits all of these filters."}{" "}
      <button type="button" className="button" onClick={onReset}>
        Show everything
      </button>
    </p>
  );
}

/** The first step on a site that has nothing yet: a space for pages to stand in. */
const NoSpaces = ({ may }: { may: boolean }) => (
  <p className="message">
    {may
      ? "Spaces stand here, with what the public, guests and members can do in each; pages stand in spaces. "
      : "There are no spaces yet. A site keeper makes the first one."}
    {may && (
      <a className="button go" href="/spaces/new">
        Make the first space
      </a>
    )}
  </p>
);

/** The grid for a state of the view. A large site is filtered where all of it is. */
function useGrid(state: GridState) {
  const [asks, setAsks] = useState(false);
  const filter = asks ? filterOf(state) : {};
  const at = state.at === "" ? {} : { at: state.at };
  const { data: grid, error } = useQuery({
    queryKey: ["grid", state.columns.join(), state.opened.join(), filter, state.at],
    queryFn: () => ask(readGrid, { query: { columns: state.columns.join(), open: state.opened.join(), ...filter, ...at } }),
    placeholderData: keepPreviousData,
  });
  if (grid && asks === grid.whole) setAsks(!grid.whole);
  return { grid, error };
}

/** The slip of the selected place. */
const SlipOf = ({ state, place, onChange }: { state: GridState; place: string; onChange(part: Partial<GridState>): void }) => (
  <Slip
    id={place}
    column={state.column}
    tab={state.tab}
    at={state.at}
    onTab={(tab, column) => onChange({ tab, ...(column ? { column } : {}) })}
    onGo={(to, tab) => onChange({ place: to, tab })}
    onClose={() => {
      onChange({ place: null, column: null, tab: "who" });
      goHome();
    }}
  />
);

function View() {
  const [state, change] = useGridState();
  const waiting = useTray();
  const { grid, error } = useGrid(state);
  useEffect(() => tray.showColumns(state.columns), [state.columns]);
  const { chosen, toggle, clear } = useChosen("");
  const kept = grid?.rows.filter((row) => row.editable).length ?? 0;
  const keepsSite = grid?.rows.some((row) => row.kind === "site" && row.editable) ?? false;
  const keepsSome = kept > 0 && (kept < (grid?.rows.length ?? 0) || grid?.whole === false);
  // What was, or will be, is kept by nobody: there is nothing to be done about it.
  const show =
    state.at !== "" && (state.show === "kept" || state.show === "changed")
      ? "all"
      : (state.show ?? (keepsSome && grid?.whole ? "kept" : "all"));
  const rows = useMemo(
    () => (grid ? shownRows(grid.rows, { ...state, show }, waiting.preview, grid.whole) : []),
    [grid, state, show, waiting.preview],
  );
  if (!grid) return <p className="message">{error?.message ?? "Reading the grid …"}</p>;
  const chosenRows = rows.filter(({ id }) => chosen.ids.has(id));
  return (
    <div className={styles.view} data-slip={state.place !== null} data-then={state.at !== ""}>
      <div className={styles.main}>
        <GridBar
          state={state}
          show={show}
          keepsSome={keepsSome}
          shown={rows.filter((row) => row.matches && row.kind !== "site").length}
          fit={grid.whole || show === "changed" ? null : grid.fit}
          unshown={grid.unshown}
          places={grid.places - 1}
          looksBack={kept > 0 || state.at !== ""}
          mayMakeSpaces={keepsSite}
          onChange={change}
        />
        {chosenRows.length > 0 && <ChosenRows rows={chosenRows} onClear={clear} />}
        {rows.length === 0 ? (
          <Nothing show={show} onReset={() => change({ show: "all", state: "", words: "" })} />
        ) : (
          <GridTable
            rows={rows}
            columns={grid.columns}
            preview={state.at === "" ? waiting.preview : null}
            selected={state.place}
            acts={actsOn(state, change, (row) => toggle(row.id), chosenRows)}
            chosen={chosen.ids}
            closer={waiting.open ? (waiting.items.at(-1)?.place ?? null) : null}
            adding={
              <ColumnPicker shown={grid.columns.map(({ key }) => key)} onAdd={(key) => change({ columns: [...state.columns, key] })} />
            }
          />
        )}
        {grid.places <= 1 && <NoSpaces may={keepsSite} />}
        <KeyHelp name="the grid" keys={GRID_KEYS} />
      </div>
      {state.place !== null && <SlipOf key={state.place} state={state} place={state.place} onChange={change} />}
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
