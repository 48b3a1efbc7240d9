/** Review: what waits to be looked at again, one page beside the list, one key for each way to settle it. */
import { keepPreviousData, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useState } from "react";
import { type QueueRow, type ReviewDone, readQueue, type SettledLine } from "../../contracts/review.ts";
import { SettledList } from "../change/SettledList.tsx";
import { ask, queries } from "../shared/api.ts";
import { KeyHelp, useViewKey } from "../shared/KeyHelp.tsx";
import { useAddress } from "../shared/useAddress.ts";
import { type Cursor, useCursor } from "../shared/useCursor.ts";
import { HandingOn, SettingAside } from "./Asking.tsx";
import { actsFor, type RowAct } from "./acts.ts";
import { queryOf, type ReviewState, read, written } from "./address.ts";
import { PageBeside } from "./PageBeside.tsx";
import styles from "./review.module.css";
import { type Settling, useSettling } from "./settling.ts";
import { overdueWords, READERS_OUTSIDE, whyWords } from "./why.ts";

const KEYS: [string, string][] = [
  ["↓ ↑", "from page to page"],
  ["Space", "chooses a page, to settle many at once"],
  ["c", "confirms it as it is"],
  ["r", "revises it: the editor, and back here"],
  ["a, b", "archives it, puts it in the bin: what breaks is shown first"],
  ["h", "hands it to somebody"],
  ["s", "sets it aside, with a reason"],
  ["u", "what was settled today, to take back"],
  ["Enter", "its slip, in the grid"],
];

interface LineProps {
  row: QueueRow;
  nth: number;
  current: boolean;
  chosen: boolean;
  now: number;
  onGo(nth: number): void;
  onChoose(row: QueueRow): void;
}

function Line({ row, nth, current, chosen, now, onGo, onChoose }: LineProps) {
  return (
    <li
      className={styles.line}
      data-row={nth}
      data-page={row.id}
      data-outside={row.outside === "public" || row.outside === "guests"}
      aria-current={current}
      tabIndex={current ? 0 : -1}
      data-home={current ? "" : undefined}
      onFocus={() => onGo(nth)}
    >
      <input
        type="checkbox"
        tabIndex={-1}
        checked={chosen}
        onChange={() => onChoose(row)}
        aria-label={`Choose ${row.title}`}
        onClick={(event) => event.stopPropagation()}
      />
      <span className={styles.title} dir="auto">
        {row.title}
      </span>
      <small className={styles.reads} dir="auto">
        {row.space}
      </small>
      <span className={styles.why}>
        <strong>{whyWords(row)}</strong> {overdueWords(row, now)}
      </span>
      <small className={styles.reads}>
        {row.views !== null && `${row.views.toLocaleString("en")} ${row.views === 1 ? "view" : "views"}`}
        {row.outside !== null && `, ${READERS_OUTSIDE[row.outside]}`}
      </small>
    </li>
  );
}

function Acts({ acts, count }: { acts: readonly RowAct[]; count: number }) {
  return (
    <div className={styles.acts} role="toolbar" aria-label="Settle">
      {count > 1 && <span className="soft">{count} chosen:</span>}
      {acts.map(({ key, name, off, run }) => (
        <button key={key} type="button" className="button" aria-disabled={off !== ""} title={off || undefined} onClick={() => off || run()}>
          {name} <kbd>{key}</kbd>
        </button>
      ))}
    </div>
  );
}

interface BarProps {
  state: ReviewState;
  onChange(part: Partial<ReviewState>): void;
  left: number;
  settled: readonly SettledLine[];
  open: boolean;
  onOpen(): void;
}

function Bar({ state, onChange, left, settled, open, onOpen }: BarProps) {
  const done = settled.filter(({ takenBack }) => !takenBack).length;
  return (
    <header className={`viewBar ${styles.bar}`}>
      <fieldset className={styles.whose}>
        <legend className="unseen">Whose</legend>
        {(["all", "mine"] as const).map((whose) => (
          <label key={whose}>
            <input type="radio" name="whose" checked={state.whose === whose} onChange={() => onChange({ whose })} />{" "}
            {whose === "all" ? "all I can settle" : "mine to answer"}
          </label>
        ))}
      </fieldset>
      {state.space !== "" && (
        <button type="button" className="textButton" onClick={() => onChange({ space: "" })}>
          all spaces
        </button>
      )}
      <span className={styles.count} role="status">
        <strong>{left.toLocaleString("en")}</strong> left
      </span>
      <button type="button" className="textButton" aria-expanded={open} disabled={settled.length === 0} onClick={onOpen}>
        {done} settled within a day <kbd>u</kbd>
      </button>
    </header>
  );
}

/** The rows an act is about: those chosen, else the one one is on. */
const aboutOf = (rows: readonly QueueRow[], chosen: ReadonlySet<string>, nth: number): QueueRow[] => {
  const many = rows.filter(({ id }) => chosen.has(id));
  return many.length > 0 ? many : rows.slice(nth, nth + 1);
};

/** What is being said of rows before they are settled, and what came of settling them. */
function useDesk(rows: readonly QueueRow[], stay: () => void, nth: number) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [asking, setAsking] = useState<"setAside" | "hand" | null>(null);
  const [skipped, setSkipped] = useState<ReviewDone["skipped"]>([]);
  const about = aboutOf(rows, chosen, nth);
  const settling = useSettling((left) => {
    setSkipped(left);
    setChosen(new Set());
    setAsking(null);
    stay();
  });
  const settle = (how: Settling) => void (settling.isPending || settling.mutate({ rows: about, settling: how }));
  return {
    about,
    chosen,
    choose: ({ id }: QueueRow) => setChosen((before) => new Set(before.has(id) ? [...before].filter((it) => it !== id) : [...before, id])),
    asking,
    leave: () => setAsking(null),
    skipped,
    settle,
    problem: settling.error?.message ?? "",
    acts: actsFor({ rows: about, settle, ask: setAsking }),
  };
}
type Desk = ReturnType<typeof useDesk>;

/** The acts on what one is on, and the page itself. */
function Beside({ desk, current }: { desk: Desk; current: QueueRow }) {
  const { acts, about, asking, leave, skipped, settle, problem } = desk;
  return (
    <section className={styles.beside} aria-label="The page">
      <Acts acts={acts} count={about.length} />
      {problem && <p className="notice bad">{problem}</p>}
      {skipped.length > 0 && (
        <p className="notice bad" role="alert">
          Left as {skipped.length === 1 ? "it is" : "they are"}: {skipped.map(({ title, why }) => `${title}: ${why}`).join(" ")}
        </p>
      )}
      {asking === "setAside" && <SettingAside due={about.some(({ due }) => due !== null)} onSettle={settle} onLeave={leave} />}
      {asking === "hand" && <HandingOn onSettle={settle} onLeave={leave} />}
      <PageBeside key={current.id} row={current} />
    </section>
  );
}

interface QueueProps {
  rows: readonly QueueRow[];
  more: boolean;
  mine: boolean;
  cursor: Cursor<HTMLUListElement>;
  desk: Desk;
}

function Queue({ rows, more, mine, cursor, desk }: QueueProps) {
  const current = rows[cursor.nth];
  const press = (event: KeyboardEvent<HTMLElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest("input, button, a")) return;
    const act = desk.acts.find(({ key }) => key === event.key);
    const others: Record<string, () => void> = {
      ArrowDown: () => cursor.go(cursor.nth + 1),
      ArrowUp: () => cursor.go(cursor.nth - 1),
      Home: () => cursor.go(0),
      End: () => cursor.go(rows.length - 1),
      " ": () => current && desk.choose(current),
      Enter: () => current && window.location.assign(`/grid?place=${encodeURIComponent(current.id)}&tab=life`),
    };
    const run = act ? () => act.off || act.run() : others[event.key];
    if (!run) return;
    event.preventDefault();
    run();
  };
  return (
    <section className={styles.queue} aria-label="What waits">
      {rows.length === 0 ? (
        <p className="message" data-home tabIndex={-1}>
          Nothing waits to be looked at again{mine ? " by you" : ""}. Pages come here when they are due by their review period, or flagged.
        </p>
      ) : (
        <ul ref={cursor.list} className={styles.lines} onKeyDown={press}>
          {rows.map((row, nth) => (
            // By where it stands: as rows go, the focus stays on the line and the next page comes under it.
            <Line
              key={nth}
              row={row}
              nth={nth}
              current={nth === cursor.nth}
              chosen={desk.chosen.has(row.id)}
              now={Date.now()}
              onGo={(to) => cursor.go(to, false)}
              onChoose={desk.choose}
            />
          ))}
        </ul>
      )}
      {more && <p className={styles.more}>The first {rows.length}; the rest follows as these are settled.</p>}
    </section>
  );
}

function View() {
  const [state, change] = useAddress<ReviewState>(read, written);
  const [showsSettled, showSettled] = useState(false);
  const query = queryOf(state);
  const { data, error } = useQuery({
    queryKey: ["review", query],
    queryFn: () => ask(readQueue, { query }),
    placeholderData: keepPreviousData,
  });
  const rows = data?.rows ?? [];
  const cursor = useCursor<HTMLUListElement>(rows.length);
  const desk = useDesk(rows, cursor.stay, cursor.nth);
  const turn = () => showSettled(!showsSettled);
  useViewKey("u", turn);
  const current = rows[cursor.nth];
  if (!data) return <p className="message">{error?.message ?? "Opening …"}</p>;
  return (
    <div className={styles.view}>
      <Bar state={state} onChange={change} left={data.count} settled={data.settled} open={showsSettled} onOpen={turn} />
      {showsSettled && data.settled.length > 0 && <SettledList lines={data.settled} onDone={cursor.stay} />}
      <Queue rows={rows} more={data.count > rows.length} mine={state.whose === "mine"} cursor={cursor} desk={desk} />
      {current && <Beside desk={desk} current={current} />}
      <KeyHelp name="Review" keys={KEYS} />
    </div>
  );
}

export default function ReviewView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
