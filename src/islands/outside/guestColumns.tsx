/** The columns of the table of guests, their time drawn on a scale that all rows share. */
import { type ColumnDef, createColumnHelper } from "@tanstack/react-table";
import { addMonths, differenceInCalendarMonths, startOfMonth } from "date-fns";
import { createContext, useContext } from "react";
import type { GuestRow } from "../../contracts/guests.ts";
import { exactDate, shortDate } from "../../ui/dates.ts";
import { When } from "../../ui/When.tsx";
import { LevelBars } from "../people/LevelBars.tsx";
import styles from "./guests.module.css";

interface TimeScale {
  from: number;
  to: number;
  now: number;
}

export const Scale = createContext<TimeScale>({ from: 0, to: 1, now: 0 });

/** So many months back, and ahead, are drawn at most: what lies further goes off the edge. */
const BACK = 15;
const AHEAD = 9;
const LEAST = 2;

/** Whole months that hold the time of all these guests, and this day. */
export function scaleOf(rows: readonly Pick<GuestRow, "from" | "until">[], now: number): TimeScale {
  const froms = rows.flatMap(({ from }) => (from ? [Date.parse(from)] : []));
  const untils = rows.flatMap(({ until }) => (until ? [Date.parse(until)] : []));
  const back = Math.max(Math.min(...froms, addMonths(now, -LEAST).getTime()), addMonths(now, -BACK).getTime());
  const ahead = Math.min(Math.max(...untils, addMonths(now, LEAST).getTime()), addMonths(now, AHEAD).getTime());
  return { from: startOfMonth(back).getTime(), to: addMonths(startOfMonth(ahead), 1).getTime(), now };
}

const partOf = ({ from, to }: TimeScale, at: number): number => Math.max(0, Math.min(100, ((at - from) / (to - from)) * 100));

/** The first days of months, every second or third where there is no room for all. */
function Months() {
  const scale = useContext(Scale);
  const count = differenceInCalendarMonths(scale.to, scale.from);
  const every = count > 14 ? 3 : count > 7 ? 2 : 1;
  const months = Array.from({ length: Math.floor(count / every) }, (_, i) => addMonths(scale.from, i * every));
  return (
    <span className={styles.months}>
      {months.map((month) => (
        <i key={month.getTime()} style={{ left: `${partOf(scale, month.getTime())}%` }}>
          {month.toLocaleDateString("en", { month: "short" })}
          {month.getMonth() < every && ` ${month.getFullYear()}`}
        </i>
      ))}
    </span>
  );
}

const spoken = ({ from, until, signedIn, usedAt, state }: GuestRow): string =>
  [
    from && `here since ${shortDate(from)}`,
    state === "suspended" ? "suspended" : until ? `until ${shortDate(until)}` : "no end",
    signedIn ? `last signed in ${shortDate(signedIn)}` : "never signed in",
    usedAt ? `last read something ${shortDate(usedAt)}` : "read nothing, as far as is kept",
  ]
    .filter(Boolean)
    .join(", ");

/** From when until when, with a mark for the last sign-in and one for the last read. */
function Time({ row }: { row: GuestRow }) {
  const scale = useContext(Scale);
  // How they stand is not told to everybody: then there is nothing to draw but the last read.
  if (row.state === null) return <span className="soft">for site keepers, and whoever brought them in</span>;
  const start = partOf(scale, row.from ? Date.parse(row.from) : scale.from);
  const end = row.until ? partOf(scale, Date.parse(row.until)) : 100;
  const mark = (at: string | null, kind: string) =>
    at && <b data-mark={kind} style={{ left: `${partOf(scale, Date.parse(at))}%` }} title={exactDate(at)} />;
  return (
    <span className={styles.time} role="img" aria-label={spoken(row)} title={spoken(row)}>
      <span
        className={styles.span}
        data-endless={row.until === null}
        style={{ left: `${start}%`, width: `${Math.max(0.6, end - start)}%` }}
      />
      <b data-mark="now" style={{ left: `${partOf(scale, scale.now)}%` }} />
      {mark(row.signedIn, "signedIn")}
      {mark(row.usedAt, "used")}
    </span>
  );
}

/** "in Dredgers and Agents; named at 2 places; brought in by Lena". */
function throughOf({ groups, inGroups, named, by }: GuestRow): string {
  const more = inGroups - groups.length;
  return [
    groups.length > 0 && `in ${groups.join(", ")}${more > 0 ? ` and ${more} more` : ""}`,
    named > 0 && `named at ${named} ${named === 1 ? "place" : "places"}`,
    by && `brought in by ${by}`,
  ]
    .filter(Boolean)
    .join("; ");
}

const column = createColumnHelper<GuestRow>();

// biome-ignore lint/suspicious/noExplicitAny: columns hold values of every kind
export const COLUMNS: ColumnDef<GuestRow, any>[] = [
  column.accessor("name", {
    header: "Guest",
    cell: ({ row: { original: it } }) => (
      <span className={styles.guest}>
        <span>
          <strong dir="auto">{it.name}</strong>
          {it.unused && <em>unused</em>}
          {it.state !== null && it.state !== "active" && <em>{it.state === "over" ? "time is over" : "suspended"}</em>}
        </span>
        <small className="soft" title={throughOf(it)}>
          {throughOf(it) || "through rules for everybody who signs in"}
        </small>
      </span>
    ),
    meta: { sort: "name", width: "minmax(240px, 3fr)" },
  }),
  column.accessor("levels", {
    header: "Beyond the public",
    cell: ({ row: { original: it } }) => <LevelBars levels={it.levels} />,
    meta: { sort: "", width: "176px" },
  }),
  column.accessor("until", {
    id: "time",
    header: () => <Months />,
    cell: ({ row }) => <Time row={row.original} />,
    meta: { sort: "", width: "minmax(300px, 4fr)" },
  }),
  column.accessor("usedAt", {
    header: "Last read",
    cell: ({ row: { original: it } }) => (it.usedAt ? <When instant={it.usedAt} as="short" /> : <span className="soft">nothing</span>),
    meta: { sort: "use", width: "118px" },
  }),
];
