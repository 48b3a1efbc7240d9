/** Views by week as bars, stacked by kind of reader, and the table that says the same. */
import type { Reads, ReadsWeek, Views } from "../../contracts/reads.ts";
import { shortDate } from "../../ui/dates.ts";
import { BarChart, type Bars } from "../shared/BarChart.tsx";
import styles from "./reads.module.css";

export const READER_KINDS: readonly { kind: keyof Views; name: string; colour: string }[] = [
  { kind: "outsiders", name: "outsiders", colour: "--plum" },
  { kind: "guests", name: "guests", colour: "--plum-soft" },
  { kind: "members", name: "members", colour: "--pine" },
];

const sumOf = (week: Views): number => week.outsiders + week.guests + week.members;

function Weeks({ weeks }: { weeks: readonly ReadsWeek[] }) {
  return (
    <table className={styles.weeks}>
      <thead>
        <tr>
          <th scope="col">Week from</th>
          {READER_KINDS.map(({ kind, name }) => (
            <th key={kind} scope="col">
              {name}
            </th>
          ))}
          <th scope="col" title="How many different people who were signed in">
            people
          </th>
        </tr>
      </thead>
      <tbody>
        {[...weeks].reverse().map((week) => (
          <tr key={week.week}>
            <th scope="row">{shortDate(`${week.week}T12:00:00Z`)}</th>
            {READER_KINDS.map(({ kind }) => (
              <td key={kind}>{week[kind].toLocaleString("en")}</td>
            ))}
            <td>{week.people === null ? "–" : week.people.toLocaleString("en")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function ReadsChart({ reads, height }: { reads: Reads; height: number }) {
  const { weeks, keptDays } = reads;
  const sets = READER_KINDS.map(({ kind, name, colour }): Bars => ({ name, colour, values: weeks.map((week) => week[kind]) }));
  if (weeks.every((week) => sumOf(week) === 0)) return <p className="message">Nobody read any of it in these weeks.</p>;
  return (
    <div className={styles.chart}>
      <div>
        <p className={styles.legend} aria-hidden="true">
          {READER_KINDS.map(({ kind, name, colour }) => (
            <span key={kind}>
              <i style={{ background: `var(${colour})` }} /> {name}
            </span>
          ))}
        </p>
        <BarChart
          label="Views by week and kind of reader; the table says the same"
          steps={weeks.map(({ week }) => shortDate(`${week}T12:00:00Z`).replace(/ \d{4}$/, ""))}
          sets={sets}
          height={height}
        />
      </div>
      <section
        className={styles.beside}
        aria-label="Views by week"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls by the arrows
        tabIndex={0}
      >
        <Weeks weeks={weeks} />
        {keptDays === 0 && <p className="soft">How many people read is not kept: the house rules say so.</p>}
      </section>
    </div>
  );
}
