/** The columns of the tables of members and guests. */
import { type ColumnDef, createColumnHelper } from "@tanstack/react-table";
import type { PersonRow } from "../../contracts/people.ts";
import { When } from "../../ui/When.tsx";
import { LevelBars } from "./LevelBars.tsx";
import styles from "./people.module.css";

const column = createColumnHelper<PersonRow>();

export const STATE_WORDS = { active: "", suspended: "suspended", over: "time is over" } as const;

const GroupsOf = ({ row }: { row: PersonRow }) =>
  row.inGroups === 0 ? (
    <span className="soft">in no group</span>
  ) : (
    <span dir="auto">
      {row.groups.join(", ")}
      {row.inGroups > row.groups.length && <small className="soft"> and {row.inGroups - row.groups.length} more</small>}
    </span>
  );

// biome-ignore lint/suspicious/noExplicitAny: columns hold values of every kind
export const COLUMNS: ColumnDef<PersonRow, any>[] = [
  column.accessor("name", {
    header: "Name",
    cell: ({ row: { original: it } }) => (
      <span className={styles.name}>
        <strong dir="auto">{it.name}</strong>
        {it.state !== null && it.state !== "active" && <em>{STATE_WORDS[it.state]}</em>}
      </span>
    ),
    meta: { sort: "name", width: "minmax(200px, 2fr)" },
  }),
  column.accessor("groups", {
    header: "Groups",
    cell: ({ row }) => <GroupsOf row={row.original} />,
    meta: { sort: "groups", width: "minmax(180px, 2fr)" },
  }),
  column.accessor("levels", {
    header: "Highest level",
    cell: ({ row: { original: it } }) => it.levels && <LevelBars levels={it.levels} />,
    meta: { sort: "", width: "minmax(190px, 1fr)" },
  }),
  column.accessor("owns", { header: "Owns", meta: { sort: "owns", width: "84px", numeric: true } }),
  column.accessor("until", {
    header: "Until",
    cell: ({ getValue }) => (getValue() ? <When instant={getValue()} as="end" /> : <span className="soft">no end</span>),
    meta: { sort: "until", width: "150px" },
  }),
  column.accessor("signedIn", {
    header: "Signed in",
    cell: ({ getValue }) => (getValue() ? <When instant={getValue()} as="day" /> : <span className="soft">never</span>),
    meta: { sort: "", width: "150px" },
  }),
  column.accessor("by", {
    header: "Brought in by",
    cell: ({ getValue }) => getValue() ?? "",
    meta: { sort: "", width: "150px" },
  }),
];

/** What is for site keepers has no column for others. */
export const columnsFor = (tellsAll: boolean, part: "members" | "guests"): string[] => {
  if (!tellsAll) return ["name", "groups"];
  return ["name", "groups", "levels", ...(part === "members" ? ["owns"] : []), "until", "signedIn", ...(part === "guests" ? ["by"] : [])];
};
