/** The state of the view in its address: what is filtered, sorted, shown, and which page's strip or slip is open. */
import { PAGE_SORTS, PARTS, type PageSort, type PagesQuery, type Part } from "../../contracts/pages.ts";
import { useAddress } from "../shared/useAddress.ts";

export interface PagesState {
  part: Part | "";
  space: string;
  branch: string;
  owner: string;
  tag: string;
  readiness: string;
  before: string;
  since: string;
  outside: string;
  words: string;
  held: string;
  approval: string;
  review: string;
  sort: PageSort;
  order: "up" | "down" | "";
  columns: string[];
  place: string | null;
  tab: string;
}

export const FILTERS = [
  "part",
  "space",
  "branch",
  "owner",
  "tag",
  "readiness",
  "before",
  "since",
  "outside",
  "words",
  "held",
  "approval",
  "review",
] as const;

export const FIRST_COLUMNS = ["title", "owner", "changed", "outside", "views", "tags"];

const FIRST: PagesState = {
  part: "",
  space: "",
  branch: "",
  owner: "",
  tag: "",
  readiness: "",
  before: "",
  since: "",
  outside: "",
  words: "",
  held: "",
  approval: "",
  review: "",
  sort: "changed",
  order: "",
  columns: FIRST_COLUMNS,
  place: null,
  tab: "life",
};

function read(): PagesState {
  const query = new URLSearchParams(window.location.search);
  const texts = Object.fromEntries(FILTERS.map((name) => [name, query.get(name) ?? ""]));
  const sort = query.get("sort") as PageSort;
  const order = query.get("order");
  return {
    ...FIRST,
    ...texts,
    part: (query.get("part") ?? "") in PARTS ? (query.get("part") as Part) : "",
    sort: PAGE_SORTS.includes(sort) ? sort : FIRST.sort,
    order: order === "up" || order === "down" ? order : "",
    columns: query.get("columns")?.split(",").filter(Boolean) ?? FIRST_COLUMNS,
    place: query.get("place"),
    tab: query.get("tab") ?? "life",
  };
}

export function addressOf(state: PagesState): string {
  const query = new URLSearchParams();
  const note = (name: string, value: string | null, otherwise = "") => {
    if (value !== null && value !== otherwise) query.set(name, value);
  };
  for (const name of FILTERS) note(name, state[name]);
  note("sort", state.sort, FIRST.sort);
  note("order", state.order);
  note("columns", state.columns.join(","), FIRST_COLUMNS.join(","));
  note("place", state.place);
  note("tab", state.place ? state.tab : null, "life");
  const text = query.toString();
  return text ? `?${text.replaceAll("%2C", ",")}` : window.location.pathname;
}

export const usePagesState = (): ReturnType<typeof useAddress<PagesState>> => useAddress(read, addressOf);

/** What the server is asked: what is filtered, without what is empty. */
export const filterOf = (state: PagesState): Omit<PagesQuery, "sort" | "order" | "after"> =>
  Object.fromEntries(FILTERS.flatMap((name) => (state[name] === "" ? [] : [[name, state[name]]])));

/** Nothing filtered. */
export const NO_FILTER = Object.fromEntries(FILTERS.map((name) => [name, ""])) as Partial<PagesState>;
