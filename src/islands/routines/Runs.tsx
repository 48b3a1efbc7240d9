/** Past runs of a routine: a row of bars, each opening its list; taking one back, going on with one that stopped. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type RunLine, type RunView, readRun } from "../../contracts/routines.ts";
import { When } from "../../ui/When.tsx";
import { type JobAct, useJobActs } from "../jobs/useJobActs.ts";
import { ask } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./routines.module.css";

const HEIGHT = 34;
const isUnderWay = ({ state }: Pick<RunLine, "state">): boolean => state === "waiting" || state === "running";

/** What became of a run, in a few words. */
export function runWords({ state, touched, skipped, waiting, beyond, unlisted, problem }: RunLine): string {
  const so = [
    `${touched} touched`,
    `${skipped} skipped`,
    ...(unlisted > 0 ? [`${unlisted} more left as they are`] : []),
    ...(beyond > 0 ? [`${beyond} left for another run`] : []),
  ].join(", ");
  if (state === "failed") return `did not run: ${problem ?? ""}`;
  if (state === "stopped") return `stopped with ${waiting} to go: ${so}. ${problem ?? ""}`;
  return isUnderWay({ state }) ? `under way, ${waiting} to go: ${so}` : so;
}

/** The oldest at the left, as time goes; its height by how much it had to do. */
export function RunBars({ runs, chosen, onChoose }: { runs: readonly RunLine[]; chosen: string | null; onChoose(id: string): void }) {
  const most = Math.max(1, ...runs.map(({ touched, skipped, waiting }) => touched + skipped + waiting));
  const high = (count: number) => `${count === 0 ? 0 : Math.max(2, Math.round((count / most) * HEIGHT))}px`;
  return (
    <ol className={styles.bars} aria-label="Past runs">
      {[...runs].reverse().map((run) => (
        <li key={run.id}>
          <button
            type="button"
            aria-pressed={run.id === chosen}
            onClick={() => onChoose(run.id)}
            aria-label={`Run of ${new Date(run.at).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" })}: ${runWords(run)}`}
            title={runWords(run)}
          >
            {run.state === "failed" ? (
              <i data-part="failed" />
            ) : (
              <>
                <i data-part="skipped" style={{ height: high(run.skipped) }} />
                <i data-part={run.state === "stopped" ? "failed" : "waiting"} style={{ height: high(run.waiting) }} />
                <i data-part="touched" style={{ height: high(run.touched) }} />
                {run.touched + run.skipped + run.waiting === 0 && <i data-part="none" />}
              </>
            )}
          </button>
        </li>
      ))}
    </ol>
  );
}

function RunActs({ run }: { run: RunView }) {
  const [sure, setSure] = useState(false);
  const act = useJobActs(run.job ?? "", (done) => {
    setSure(false);
    say({ stop: "It stops after the batch it is at.", goOn: "It goes on.", back: "It is being taken back." }[done]);
  });
  const button = (what: JobAct, words: string) => (
    <button type="button" className="button" disabled={act.isPending} onClick={() => act.mutate(what)}>
      {words}
    </button>
  );
  return (
    <p className="acts">
      {run.mayStop && button("stop", "Stop it")}
      {run.mayGoOn && button("goOn", "Go on")}
      {run.mayTakeBack && !sure && (
        <button type="button" className="button" onClick={() => setSure(true)}>
          Take back …
        </button>
      )}
      {sure && (
        <>
          <span>
            What it did to {run.touched === 1 ? "one page" : `${run.touched} pages`} is taken back, entry by entry, as far as you may.
          </span>
          {button("back", "Take all of it back")}
          <button type="button" className="button plain" onClick={() => setSure(false)}>
            Leave it
          </button>
        </>
      )}
      {run.final && <span className="soft">{run.final}</span>}
      {act.data !== undefined && act.variables === "back" && <a href="/ledger">It is being taken back: the ledger says how far it is</a>}
      {act.error && <span className="notice bad">{act.error.message}</span>}
    </p>
  );
}

const ITEM_WORDS = { waiting: "waits", done: "done", skipped: "skipped" } as const;

export function RunList({ id, onClose }: { id: string; onClose(): void }) {
  const [from, setFrom] = useState(0);
  const { data: run, error } = useQuery({
    queryKey: ["routineRun", id, from],
    queryFn: () => ask(readRun, { params: { id }, query: { from } }),
    refetchInterval: ({ state }) => (state.data && isUnderWay(state.data) ? 800 : false),
  });
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!run) return <p className="message">Opening …</p>;
  return (
    <section className={styles.run} aria-label="A run">
      <h3>
        <When instant={run.at} />{" "}
        <small className="soft">
          {run.by === null ? "at its time" : `by hand, ${run.by}`}: {runWords(run)}
        </small>
        <button type="button" className="textButton" onClick={onClose}>
          close
        </button>
      </h3>
      <RunActs run={run} />
      {run.rows.length > 0 && (
        <table className={styles.touched}>
          <tbody>
            {run.rows.map(({ id: about, title, state, message }) => (
              <tr key={about} data-state={state}>
                <td dir="auto">{title}</td>
                <td>{ITEM_WORDS[state]}</td>
                <td>{message}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {run.hidden > 0 && <p className="soft">{run.hidden.toLocaleString("en")} of these you cannot see.</p>}
      <p className="acts">
        {from > 0 && (
          <button type="button" className="button plain" onClick={() => setFrom(Math.max(0, from - 200))}>
            Earlier rows
          </button>
        )}
        {run.more > 0 && (
          <button type="button" className="button plain" onClick={() => setFrom(from + 200)}>
            {run.more.toLocaleString("en")} more
          </button>
        )}
      </p>
    </section>
  );
}
