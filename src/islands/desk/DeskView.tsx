/** The desk: everything that waits for somebody, in order of consequence, worked down to nothing by single keys. */
import { keepPreviousData, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useState } from "react";
import { DESK_HEADINGS, type Desk, type DeskAct, type DeskHeading, type DeskRow, readDesk } from "../../contracts/desk.ts";
import { withLocalDates } from "../../ui/dates.ts";
import { Told, When } from "../../ui/When.tsx";
import { SettledList } from "../change/SettledList.tsx";
import { useTray } from "../change/store.ts";
import { tellDeskCount } from "../masthead/deskCount.ts";
import { ask, queries } from "../shared/api.ts";
import board from "../shared/board.module.css";
import { KeyHelp, useViewKey } from "../shared/KeyHelp.tsx";
import { type Cursor, useCursor } from "../shared/useCursor.ts";
import { ASKS, doHere, type Saying, stagedBy, useDeskActs } from "./acts.ts";
import styles from "./desk.module.css";
import { type Asks, Strip } from "./Strip.tsx";

const KEYS: [string, string][] = [
  ["↓ ↑", "from row to row"],
  ["its letter", "settles the row one is on, or asks what it takes"],
  ["z", "sets it aside until a date"],
  ["u", "what was settled within a day, to be taken back"],
  [".", "goes to the tray"],
  ["Esc", "leaves what was being said"],
  ["A capital letter", "goes to a section"],
];

const HEADINGS: Readonly<Record<DeskHeading, string>> = {
  outside: "Outside",
  pledges: "Pledges",
  waiting: "Waiting for you",
  ending: "Ending soon",
  old: "Growing old",
  machinery: "Machinery",
};

interface RowProps {
  row: DeskRow;
  nth: number;
  current: boolean;
  inTray: boolean;
  onGo(nth: number): void;
  onAct(act: DeskAct): void;
}

/** So many acts stand in the row itself; the others in the strip beneath it. */
const ACTS_IN_ROW = 2;

function Row({ row, nth, current, inTray, onGo, onAct }: RowProps) {
  return (
    <div
      className={styles.row}
      role="group"
      aria-label={withLocalDates(row.words)}
      data-row={nth}
      data-key={row.key}
      aria-current={current}
      tabIndex={current ? 0 : -1}
      data-home={current ? "" : undefined}
      onFocus={(event) => event.target === event.currentTarget && onGo(nth)}
      onMouseDown={() => current || onGo(nth)}
    >
      <span className={styles.words} dir="auto">
        <Told text={row.words} />
      </span>
      <span className={styles.since}>{row.since && <When instant={row.since} as="short" />}</span>
      <span className={styles.acts}>
        {inTray ? (
          <span className="soft">in the tray</span>
        ) : (
          row.acts.slice(0, ACTS_IN_ROW).map((act) => (
            <button key={act.key} type="button" className="button" tabIndex={current ? 0 : -1} onClick={() => onAct(act)}>
              {act.name} <kbd>{act.key}</kbd>
            </button>
          ))
        )}
      </span>
    </div>
  );
}

/** What is being said of the row one is on, and settling it. */
function useSettling(current: DeskRow | undefined, cursor: Cursor<HTMLDivElement>) {
  const [asks, setAsks] = useState<Asks | null>(null);
  const acts = useDeskActs(() => {
    setAsks(null);
    cursor.stay();
  });
  const key = current?.key;
  // What was being said was of another row.
  useEffect(() => {
    // The form that had the focus goes with its row: one goes on with the row that comes under it.
    if (asks !== null) cursor.stay();
    setAsks(null);
    acts.reset();
  }, [key]);
  return {
    asks,
    problem: acts.error?.message ?? "",
    later: () => setAsks("later"),
    leave: () => {
      setAsks(null);
      cursor.stay();
    },
    act(row: DeskRow, act: DeskAct) {
      if (acts.isPending || doHere(act, row)) return;
      if (ASKS.has(act.how.do)) setAsks(act);
      else acts.mutate({ row, how: act.how, saying: {} });
    },
    say(saying: Saying) {
      if (!current || !asks || acts.isPending) return;
      acts.mutate({ row: current, how: asks === "later" ? { do: "later" } : asks.how, saying });
    },
  };
}

/** Nothing waits: the day, what was settled and by whom, and what comes next by itself. */
function Empty({ desk }: { desk: Desk }) {
  const mine = desk.settled.filter((it) => it.mine).length;
  const others = [...new Set(desk.settled.filter((it) => !it.mine).map(({ by }) => by))];
  return (
    <section className={styles.empty} data-home tabIndex={-1} aria-label="Nothing waits">
      <h2>{new Date().toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" })}</h2>
      <p>{desk.pending ? "Nothing waits so far; some of it is still being looked at." : "Nothing waits for you."}</p>
      {desk.aside > 0 && <p className="soft">{desk.aside} set aside until their dates.</p>}
      {desk.settled.length > 0 && (
        <p>
          Within a day {mine} {mine === 1 ? "thing was" : "things were"} settled by you
          {others.length > 0 && `, others by ${others.slice(0, 4).join(", ")}`}.
        </p>
      )}
      {desk.next && (
        <p>
          Next by itself: {desk.next.words}, <When instant={desk.next.at} />.
        </p>
      )}
    </section>
  );
}

interface RowsProps {
  desk: Desk;
  cursor: Cursor<HTMLDivElement>;
  settling: ReturnType<typeof useSettling>;
}

function Rows({ desk, cursor, settling }: RowsProps) {
  const { items } = useTray();
  const { rows, more } = desk;
  const current = rows[cursor.nth];
  const waits = (row: DeskRow) => {
    const staged = stagedBy(row);
    return items.some(({ id }) => staged.includes(id));
  };
  const press = (event: KeyboardEvent<HTMLElement>) => {
    const { target } = event;
    if (event.key === "Escape" && settling.asks) {
      event.preventDefault();
      return settling.leave();
    }
    if (event.ctrlKey || event.metaKey || event.altKey || !(target instanceof HTMLElement) || !target.matches("[data-row], [data-row] *"))
      return;
    if (target.closest("button, a") && (event.key === "Enter" || event.key === " ")) return;
    const act = current && !waits(current) ? current.acts.find(({ key }) => key === event.key) : undefined;
    const others: Record<string, () => void> = {
      ArrowDown: () => cursor.go(cursor.nth + 1),
      ArrowUp: () => cursor.go(cursor.nth - 1),
      Home: () => cursor.go(0),
      End: () => cursor.go(rows.length - 1),
      z: settling.later,
    };
    const run = act && current ? () => settling.act(current, act) : others[event.key];
    if (!run) return;
    event.preventDefault();
    run();
  };
  return (
    <div ref={cursor.list} className={styles.rows} role="group" aria-label="What waits" onKeyDown={press}>
      {DESK_HEADINGS.map((heading) => {
        const here = rows.flatMap((row, nth) => (row.heading === heading ? [{ row, nth }] : []));
        const rest = more.filter((it) => it.heading === heading);
        if (here.length + rest.length === 0) return null;
        return (
          <section key={heading} aria-labelledby={`desk-${heading}`}>
            <h2 id={`desk-${heading}`}>
              {HEADINGS[heading]} <small className="soft">{here.length + rest.reduce((sum, it) => sum + it.count, 0)}</small>
            </h2>
            {here.map(({ row, nth }) => (
              // By where it stands: as rows go, the focus stays and the next comes under it.
              <div key={nth} className={styles.line} data-outside={heading === "outside"} data-current={nth === cursor.nth}>
                <Row
                  row={row}
                  nth={nth}
                  current={nth === cursor.nth}
                  inTray={waits(row)}
                  onGo={(to) => cursor.go(to, false)}
                  onAct={(act) => settling.act(row, act)}
                />
                {nth === cursor.nth && (
                  <Strip
                    key={row.key}
                    row={row}
                    asks={settling.asks}
                    problem={settling.problem}
                    others={waits(row) ? [] : row.acts.slice(ACTS_IN_ROW)}
                    onAct={(act) => settling.act(row, act)}
                    onLater={settling.later}
                    onSay={settling.say}
                    onLeave={settling.leave}
                  />
                )}
              </div>
            ))}
            {rest.map(({ count, words, address }) => (
              <p key={words} className={styles.more}>
                <a href={address}>
                  {count.toLocaleString("en")} {words}
                </a>
              </p>
            ))}
          </section>
        );
      })}
    </div>
  );
}

const AGAIN = 1_500;
const EVERY = 60_000;

function View() {
  const [showsSettled, showSettled] = useState(false);
  const { data, error } = useQuery({
    queryKey: ["desk"],
    queryFn: () => ask(readDesk),
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => (state.data?.pending ? AGAIN : EVERY),
  });
  const count = data?.count;
  useEffect(() => tellDeskCount(count ?? null), [count]);
  const cursor = useCursor<HTMLDivElement>(data?.rows.length ?? 0);
  const settling = useSettling(data?.rows[cursor.nth], cursor);
  const turn = () => showSettled(!showsSettled);
  useViewKey("u", turn);
  if (!data) return <p className="message">{error?.message ?? "Opening …"}</p>;
  return (
    <div className={board.view}>
      <header className="viewBar">
        <span role="status">
          <strong>{data.count.toLocaleString("en")}</strong> {data.count === 1 ? "waits" : "wait"}
          {data.pending && <span className="soft">, and more is still being looked at</span>}
        </span>
        {data.aside > 0 && <span className="soft">{data.aside} set aside</span>}
        <button type="button" className="textButton" aria-expanded={showsSettled} disabled={data.settled.length === 0} onClick={turn}>
          {data.settled.filter(({ takenBack }) => !takenBack).length} settled within a day <kbd>u</kbd>
        </button>
      </header>
      <div className={board.body}>
        {error && <p className="notice bad">{error.message}</p>}
        {showsSettled && data.settled.length > 0 && (
          <SettledList lines={data.settled.map(({ by, mine, ...it }) => (mine ? it : { ...it, by }))} onDone={cursor.stay} />
        )}
        {data.rows.length === 0 && data.more.length === 0 ? (
          <Empty desk={data} />
        ) : (
          <Rows desk={data} cursor={cursor} settling={settling} />
        )}
      </div>
      <KeyHelp name="Desk" keys={KEYS} />
    </div>
  );
}

export default function DeskView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
