/** The state of the view in its address: which part, what is filtered and sorted, and whose slip is open. */
import { PEOPLE_SORTS, type PeopleSort } from "../../contracts/people.ts";
import { useAddress } from "../shared/useAddress.ts";

export const PARTS = { members: "Members", guests: "Guests", groups: "Groups", passes: "Passes", asking: "Asking for access" } as const;
export type Part = keyof typeof PARTS;

export interface PeopleState {
  part: Part;
  words: string;
  state: "" | "in" | "out";
  group: string;
  sort: PeopleSort;
  order: "up" | "down" | "";
  /** Whose slip is open: of a person, or of a group. */
  person: string | null;
  open: string | null;
}

const FIRST: PeopleState = { part: "members", words: "", state: "", group: "", sort: "name", order: "", person: null, open: null };

function read(): PeopleState {
  const query = new URLSearchParams(window.location.search);
  const part = query.get("part") as Part;
  const state = query.get("state");
  const sort = query.get("sort") as PeopleSort;
  const order = query.get("order");
  return {
    part: part in PARTS ? part : FIRST.part,
    words: query.get("words") ?? "",
    state: state === "in" || state === "out" ? state : "",
    group: query.get("group") ?? "",
    sort: PEOPLE_SORTS.includes(sort) ? sort : FIRST.sort,
    order: order === "up" || order === "down" ? order : "",
    person: query.get("person"),
    open: query.get("open"),
  };
}

function addressOf(state: PeopleState): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(state))
    if (value !== null && value !== FIRST[name as keyof PeopleState]) query.set(name, String(value));
  const text = query.toString();
  return text ? `?${text}` : window.location.pathname;
}

export const usePeopleState = (): ReturnType<typeof useAddress<PeopleState>> => useAddress(read, addressOf);
