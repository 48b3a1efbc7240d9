/** Routines: what Tesoro does by itself, one ruled line each; to begin with, a few to start from. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useRef, useState } from "react";
import { listRoutines, type RoutineList } from "../../contracts/routines.ts";
import { STARTING, type Starting } from "../../core/routines/index.ts";
import { ask, queries } from "../shared/api.ts";
import board from "../shared/board.module.css";
import { KeyHelp, useViewKey } from "../shared/KeyHelp.tsx";
import { useAddress } from "../shared/useAddress.ts";
import { type Draft, startedFrom } from "./draft.ts";
import { OpenRoutine, RoutineLine } from "./RoutineLine.tsx";
import styles from "./routines.module.css";

const KEYS: [string, string][] = [
  ["↓ ↑", "from routine to routine"],
  ["Enter", "opens one: its parts, what it would touch today, its runs"],
  ["n", "a new one"],
  ["Esc", "closes it"],
  ["A capital letter", "goes to a section"],
];

interface State {
  open: string;
}

const read = (): State => ({ open: new URLSearchParams(window.location.search).get("routine") ?? "" });
const written = ({ open }: State): string => (open === "" ? window.location.pathname : `?routine=${encodeURIComponent(open)}`);

const BLANK: Starting = {
  name: "",
  routine: {
    which: { state: "live", unconfirmed: 180 },
    action: { what: "flag", kind: "outOfDate", note: "Is it still right?" },
    cron: "0 6 * * 1",
    most: 50,
  },
};

/** Something to start from, and where it is to be. */
function Starts({ list, onStart, onLeave }: { list: RoutineList; onStart(draft: Draft): void; onLeave(): void }) {
  const [nth, setNth] = useState(0);
  const scope = list.scopes[nth] ?? list.scopes[0];
  if (!scope) return null;
  const start = (it: Starting) => onStart(startedFrom(it, { me: list.me, scope }));
  return (
    <section className={styles.starts} aria-label="A new routine">
      <fieldset className={styles.scopes}>
        <legend>Where</legend>
        {list.scopes.map(({ id, name }, i) => (
          <label key={id ?? ""}>
            <input type="radio" name="scope" checked={i === nth} onChange={() => setNth(i)} /> {name}
          </label>
        ))}
      </fieldset>
      <ul>
        {STARTING.map((it) => (
          <li key={it.name}>
            <button type="button" className="button" onClick={() => start(it)}>
              {it.name}
            </button>
          </li>
        ))}
        <li>
          <button type="button" className="button" onClick={() => start(BLANK)}>
            One of my own
          </button>
        </li>
        <li>
          <button type="button" className="button plain" onClick={onLeave}>
            Leave it
          </button>
        </li>
      </ul>
    </section>
  );
}

/** A new one, as it is being set. */
function NewRoutine({
  start,
  list,
  onKept,
  onLeave,
}: {
  start: Draft;
  list: RoutineList;
  onKept(id: string | null): void;
  onLeave(): void;
}) {
  const [draft, setDraft] = useState(start);
  return (
    <section className={`${styles.line} ${styles.fresh}`} aria-label="A new routine">
      <OpenRoutine
        row={null}
        draft={draft}
        changed
        list={list}
        onChange={(change) => setDraft({ ...draft, ...change })}
        onReset={onLeave}
        onKept={onKept}
      />
    </section>
  );
}

type Adding = null | "choosing" | Draft;

function View() {
  const [{ open }, change] = useAddress<State>(read, written);
  const [at, setAt] = useState(0);
  const [adding, setAdding] = useState<Adding>(null);
  const lines = useRef<HTMLUListElement>(null);
  const { data, error } = useQuery({
    queryKey: ["routines"],
    queryFn: () => ask(listRoutines),
    refetchInterval: ({ state }) =>
      state.data?.routines.some(({ runs }) => runs.some((run) => run.state === "waiting" || run.state === "running")) ? 1_000 : false,
  });
  const mayMake = (data?.scopes.length ?? 0) > 0;
  useViewKey("n", () => mayMake && setAdding("choosing"));
  if (!data) return <p className="message">{error?.message ?? "Opening …"}</p>;
  const { routines } = data;
  const nth = Math.min(at, Math.max(0, routines.length - 1));
  const go = (to: number) => {
    const next = Math.max(0, Math.min(routines.length - 1, to));
    setAt(next);
    lines.current?.querySelector<HTMLElement>(`[data-row="${next}"]`)?.focus();
  };
  const press = (event: KeyboardEvent) => {
    if (!(event.target as HTMLElement).matches("[data-row]") || event.ctrlKey || event.metaKey || event.altKey) return;
    const acts: Record<string, () => void> = {
      ArrowDown: () => go(nth + 1),
      ArrowUp: () => go(nth - 1),
      Home: () => go(0),
      End: () => go(routines.length - 1),
      Escape: () => change({ open: "" }),
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  };
  return (
    <div className={board.view}>
      <header className="viewBar">
        <span>
          <strong>{routines.filter(({ on }) => on).length}</strong> of {routines.length} {routines.length === 1 ? "routine" : "routines"}{" "}
          switched on
        </span>
        {mayMake && adding === null && (
          <button type="button" className="button" onClick={() => setAdding("choosing")}>
            A new routine <kbd>n</kbd>
          </button>
        )}
      </header>
      <div className={board.body}>
        {adding === "choosing" && <Starts list={data} onStart={setAdding} onLeave={() => setAdding(null)} />}
        {adding !== null && adding !== "choosing" && (
          <NewRoutine
            start={adding}
            list={data}
            onLeave={() => setAdding(null)}
            onKept={(id) => {
              setAdding(null);
              change({ open: id ?? "" });
            }}
          />
        )}
        {routines.length === 0 && adding === null && (
          <p className="message" data-home tabIndex={-1}>
            {mayMake
              ? "Nothing happens by itself yet. A routine flags pages that nobody touched for long, tells owners what is due, empties the bin; begin with one that is made already."
              : "Routines are set by those who keep a space or the site. You keep none."}
          </p>
        )}
        <ul ref={lines} className={styles.lines} onKeyDown={press} aria-label="Routines">
          {routines.map((row, i) => (
            <RoutineLine
              key={row.id}
              row={row}
              nth={i}
              current={i === nth}
              open={row.id === open}
              list={data}
              onGo={() => setAt(i)}
              onOpen={() => change({ open: row.id === open ? "" : row.id })}
            />
          ))}
        </ul>
      </div>
      <KeyHelp name="Routines" keys={KEYS} />
    </div>
  );
}

export default function RoutinesView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
