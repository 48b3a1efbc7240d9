/** Reads: what is read, by whom, and what is not. */
import { keepPreviousData, QueryClientProvider, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import {
  exportReads,
  FEWEST_PEOPLE,
  type MissedWords,
  READS_WEEKS,
  type ReadsList,
  type ReadsWeeks,
  readReads,
  STALE_AFTER_DAYS,
} from "../../contracts/reads.ts";
import { Picker } from "../../ui/Picker.tsx";
import { When } from "../../ui/When.tsx";
import { ask, queries } from "../shared/api.ts";
import board from "../shared/board.module.css";
import { Formats } from "../shared/Formats.tsx";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { findPlaces } from "../shared/places.ts";
import { useAddress } from "../shared/useAddress.ts";
import { ReadsChart } from "./ReadsChart.tsx";
import styles from "./reads.module.css";

interface State {
  about: string;
  weeks: ReadsWeeks;
}

function read(): State {
  const query = new URLSearchParams(window.location.search);
  const weeks = READS_WEEKS.find((it) => it === query.get("weeks")) ?? "26";
  return { about: query.get("about") ?? "", weeks };
}

const queryOf = ({ about, weeks }: State): { about?: string; weeks: ReadsWeeks } => ({ ...(about === "" ? {} : { about }), weeks });
const written = (state: State): string => `?${new URLSearchParams(queryOf(state))}`;

const KEYS: [string, string][] = [
  ["Tab", "from list to list"],
  ["A capital letter", "goes to a section"],
];

const WEEKS_WORDS: Readonly<Record<ReadsWeeks, string>> = { "13": "a quarter", "26": "half a year", "60": "fourteen months" };

interface ListProps {
  title: string;
  list: ReadsList;
  none: string;
  all: { words: string; address: string };
  since: string;
  views: boolean;
}

function List({ title, list, none, all, since, views }: ListProps) {
  return (
    <section className={styles.list} aria-label={title}>
      <h2>
        {title} <small className="soft">{list.count.toLocaleString("en")}</small>
      </h2>
      {list.rows.length === 0 ? (
        <p className="soft">{none}</p>
      ) : (
        <table>
          <tbody>
            {list.rows.map(({ id, title: name, space, views: count, since: at }) => (
              <tr key={id}>
                <td>
                  <a href={`/grid?place=${encodeURIComponent(id)}&tab=reads`} dir="auto">
                    {name}
                  </a>{" "}
                  <small className="soft" dir="auto">
                    {space}
                  </small>
                </td>
                <td>
                  {views ? count.toLocaleString("en") : ""}
                  {at && since !== "" && (
                    <small className="soft">
                      {" "}
                      {since} <When instant={at} as="short" />
                    </small>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {list.count > list.rows.length && <a href={all.address}>{all.words}</a>}
    </section>
  );
}

function Missed({ missed }: { missed: readonly MissedWords[] }) {
  return (
    <section className={styles.list} aria-label="Searched for and not found">
      <h2>
        Searched for and not found <small className="soft">{missed.length.toLocaleString("en")}</small>
      </h2>
      {missed.length === 0 ? (
        <p className="soft">Nothing that {FEWEST_PEOPLE} people or more looked for.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th scope="col">Words</th>
              <th scope="col">outsiders</th>
              <th scope="col">guests</th>
              <th scope="col">members</th>
            </tr>
          </thead>
          <tbody>
            {missed.map(({ words, outsiders, guests, members }) => (
              <tr key={words}>
                <td dir="auto">{words}</td>
                <td>{outsiders.toLocaleString("en")}</td>
                <td>{guests.toLocaleString("en")}</td>
                <td>{members.toLocaleString("en")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

interface BarProps {
  state: State;
  name: string;
  total: string;
  onChange(change: Partial<State>): void;
  children: ReactNode;
}

function Bar({ state, name, total, onChange, children }: BarProps) {
  return (
    <header className={`viewBar ${styles.bar}`}>
      <Picker
        label="What is looked at"
        chosen={{ key: state.about, name, note: "" }}
        find={findPlaces}
        onChoose={({ key }) => onChange({ about: key })}
      />
      {state.about !== "" && (
        <button type="button" className="textButton" onClick={() => onChange({ about: "" })}>
          the whole site
        </button>
      )}
      <fieldset className={styles.weeksOf}>
        <legend className="unseen">How far back</legend>
        {READS_WEEKS.map((weeks) => (
          <label key={weeks}>
            <input type="radio" name="weeks" checked={state.weeks === weeks} onChange={() => onChange({ weeks })} /> {WEEKS_WORDS[weeks]}
          </label>
        ))}
      </fieldset>
      <span className={styles.total}>{total}</span>
      {children}
    </header>
  );
}

function View() {
  const [state, change] = useAddress<State>(read, written);
  const query = queryOf(state);
  const { data, error } = useQuery({
    queryKey: ["reads", query],
    queryFn: () => ask(readReads, { query }),
    placeholderData: keepPreviousData,
  });
  if (!data) return <p className="message">{error?.message ?? "Opening …"}</p>;
  const { outsiders, guests, members, people } = data.total;
  const total = `${(outsiders + guests + members).toLocaleString("en")} views${people === null ? "" : `, up to ${people.toLocaleString("en")} people a week`}`;
  return (
    <div className={board.view}>
      <Bar state={state} name={data.about?.name ?? "the whole site"} total={total} onChange={change}>
        <Formats of={exportReads} query={query} />
      </Bar>
      <div className={`${board.body} ${styles.body}`}>
        {error && <p className="notice bad">{error.message}</p>}
        <ReadsChart reads={data} height={250} />
        <div className={styles.lists}>
          <List
            title="Most read"
            list={data.most}
            none="Nothing was read in these weeks."
            all={{ words: "all of them, by views", address: "/pages?part=live&sort=views" }}
            since=""
            views
          />
          <List
            title="Read but stale"
            list={data.stale}
            none={`Everything that is read was confirmed or published within ${STALE_AFTER_DAYS} days.`}
            all={{ words: "more in Review", address: "/review" }}
            since="since"
            views
          />
          <List
            title="Never read"
            list={data.never}
            none="Every live page was read by somebody."
            all={{ words: "all of them, by views", address: "/pages?part=live&sort=views&order=up" }}
            since="live since"
            views={false}
          />
          {data.missed && <Missed missed={data.missed} />}
        </div>
      </div>
      <KeyHelp name="Reads" keys={KEYS} />
    </div>
  );
}

export default function ReadsView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
