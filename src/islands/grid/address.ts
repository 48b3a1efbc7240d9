/** The grid's state in its address, so that a filtered view can be sent to somebody. */
import { useAddress } from "../shared/useAddress.ts";

export type Show = "kept" | "all" | "changed" | "outside" | "rules" | "fenced";

export interface GridState {
  columns: string[];
  /** Ids of rows whose insides are hidden. */
  closed: string[];
  /** Ids of rows whose insides were asked for, where a large site does not send everything. */
  opened: string[];
  /** Null until chosen: then what one keeps, if that is not everything. */
  show: Show | null;
  state: string;
  words: string;
  place: string | null;
  column: string | null;
  tab: string;
  /** As of this instant; empty: now. */
  at: string;
}

const FIRST: GridState = {
  columns: ["public", "guests", "members"],
  closed: [],
  opened: [],
  show: null,
  state: "",
  words: "",
  place: null,
  column: null,
  tab: "who",
  at: "",
};

function read(): GridState {
  const query = new URLSearchParams(window.location.search);
  const list = (name: string, otherwise: string[]) => query.get(name)?.split(",").filter(Boolean) ?? otherwise;
  return {
    columns: list("columns", FIRST.columns),
    closed: list("closed", []),
    opened: list("opened", []),
    show: query.get("show") as Show | null,
    state: query.get("state") ?? "",
    words: query.get("words") ?? "",
    place: query.get("place"),
    column: query.get("column"),
    tab: query.get("tab") ?? "who",
    at: query.get("at") ?? "",
  };
}

function addressOf(state: GridState): string {
  const query = new URLSearchParams();
  const note = (name: string, value: string | null, otherwise: string) => {
    if (value !== null && value !== otherwise) query.set(name, value);
  };
  note("columns", state.columns.join(","), FIRST.columns.join(","));
  note("closed", state.closed.join(","), "");
  note("opened", state.opened.join(","), "");
  note("show", state.show, "");
  note("state", state.state, "");
  note("words", state.words, "");
  note("place", state.place, "");
  note("column", state.column, "");
  note("at", state.at, "");
  note("tab", state.place ? state.tab : null, "who");
  const text = query.toString();
  return text ? `?${text.replaceAll("%2C", ",").replaceAll("%3A", ":")}` : window.location.pathname;
}

/** The state and a function that changes parts of it, in the address and on the screen. */
export const useGridState = (): ReturnType<typeof useAddress<GridState>> => useAddress(read, addressOf);
