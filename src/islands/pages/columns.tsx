/** The columns of the table of pages: what stands in each, and how it is sorted. */
import { type ColumnDef, createColumnHelper } from "@tanstack/react-table";
import type { PageRow } from "../../contracts/pages.ts";
import { STATE_MARKS, STATE_NAMES } from "../../ui/states.ts";
import { When } from "../../ui/When.tsx";
import styles from "./pages.module.css";

declare module "@tanstack/react-table" {
  interface ColumnMeta<TData, TValue> {
    /** What is sorted by it; empty: nothing. */
    sort: string;
    width: string;
    numeric?: true;
  }
}

const column = createColumnHelper<PageRow>();

const Outside = ({ outside }: Pick<PageRow, "outside">) => {
  if (!outside) return <span className="soft">–</span>;
  const words = [
    outside.public ? "the public" : "",
    outside.guests > 0 ? `${outside.guests} ${outside.guests === 1 ? "guest" : "guests"}` : "",
  ].filter(Boolean);
  return words.length === 0 ? <span className="soft">nobody</span> : <span className={styles.outside}>{words.join(", ")}</span>;
};

/** The state, and what waits: when it goes on by itself, or why it did not. */
export const StateOf = ({ row }: { row: PageRow }) => (
  <span className={styles.state} data-state={row.state}>
    {STATE_NAMES[row.state]}
    {row.due && (
      <small title={row.due.problem ?? undefined} data-problem={row.due.problem !== null}>
        {row.due.problem
          ? `did not ${row.due.what === "live" ? "go live" : "go to the archive"}`
          : row.due.what === "live"
            ? "goes live"
            : "is archived"}{" "}
        {!row.due.problem && <When instant={row.due.at} as="short" />}
      </small>
    )}
    {row.flags > 0 && <small data-problem="true">flagged</small>}
    {row.approval && (
      <small title={`Version ${row.approval.version}, given in by ${row.approval.by}`} data-problem={row.approval.sentBack}>
        {row.approval.sentBack ? "was sent back" : "waits for approval"}
      </small>
    )}
  </span>
);

const TitleOf = ({ row }: { row: PageRow }) => (
  <span className={styles.title}>
    <strong dir="auto">
      {row.title} {STATE_MARKS[row.state] && <em>{STATE_MARKS[row.state]}</em>}
    </strong>
    <small dir="auto">{row.path.join(" / ")}</small>
  </span>
);

// biome-ignore lint/suspicious/noExplicitAny: columns hold values of every kind
export const COLUMNS: ColumnDef<PageRow, any>[] = [
  column.accessor("title", {
    header: "Page",
    cell: ({ row }) => <TitleOf row={row.original} />,
    meta: { sort: "title", width: "minmax(240px, 3fr)" },
  }),
  column.accessor("state", { header: "State", cell: ({ row }) => <StateOf row={row.original} />, meta: { sort: "state", width: "136px" } }),
  column.accessor("owner", { header: "Owner", meta: { sort: "owner", width: "minmax(90px, 1fr)" } }),
  column.accessor("changed", {
    header: "Changed",
    cell: ({ getValue }) => <When instant={getValue()} as="short" />,
    meta: { sort: "changed", width: "110px" },
  }),
  column.accessor("by", { header: "By", meta: { sort: "by", width: "minmax(90px, 1fr)" } }),
  column.accessor("published", {
    header: "Published",
    cell: ({ getValue }) => (getValue() ? <When instant={getValue()} as="short" /> : <span className="soft">never</span>),
    meta: { sort: "published", width: "110px" },
  }),
  column.accessor("views", {
    header: "Views, 30 days",
    cell: ({ getValue }) => getValue()?.toLocaleString("en") ?? <span className="soft">–</span>,
    meta: { sort: "views", width: "132px", numeric: true },
  }),
  column.accessor("outside", {
    header: "Readers outside",
    cell: ({ getValue }) => <Outside outside={getValue()} />,
    meta: { sort: "outside", width: "minmax(160px, 1fr)" },
  }),
  column.accessor("tags", {
    header: "Tags",
    cell: ({ getValue }) => getValue().join(", "),
    meta: { sort: "tags", width: "minmax(80px, 1fr)" },
  }),
  column.accessor("readiness", { header: "Readiness", meta: { sort: "readiness", width: "minmax(90px, 1fr)" } }),
  column.accessor("links", {
    header: "Links in",
    cell: ({ getValue }) => getValue() ?? <span className="soft">–</span>,
    meta: { sort: "links", width: "80px", numeric: true },
  }),
  column.accessor("versions", {
    header: "Versions",
    cell: ({ getValue }) => getValue() ?? <span className="soft">–</span>,
    meta: { sort: "versions", width: "84px", numeric: true },
  }),
  column.accessor("review", {
    header: "Looked at again",
    cell: ({ getValue }) => (getValue() ? <When instant={getValue()} as="short" /> : <span className="soft">–</span>),
    meta: { sort: "review", width: "124px" },
  }),
  column.accessor("left", {
    header: "Left",
    cell: ({ getValue }) => {
      const left: PageRow["left"] = getValue();
      if (!left) return null;
      return (
        <span className={styles.left}>
          <span>
            <When instant={left.at} as="short" />, {left.by}
          </span>
          {left.erasable && (
            <small>
              erasable from <When instant={left.erasable} as="short" />
            </small>
          )}
        </span>
      );
    },
    meta: { sort: "left", width: "minmax(170px, 1fr)" },
  }),
];

export const COLUMN_NAMES = new Map(COLUMNS.map((it) => [(it as { accessorKey: string }).accessorKey, String(it.header)]));
