/** Long work along the bottom of a view: how far it is, what it skipped, stop, go on, take back. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type JobView, listJobs, readJob } from "../../contracts/jobs.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import styles from "./jobs.module.css";
import { type JobAct, useJobActs } from "./useJobActs.ts";

const isUnderWay = ({ state }: JobView): boolean => state === "waiting" || state === "running";
const SHOWN = 3;
/** A job that ended longer ago is looked up in the ledger. */
const SHOWN_FOR = 30 * 60_000;
const LOOK_EVERY = 800;

const standing = ({ state, done, skipped, total, problem }: JobView): string => {
  const so = `${(done + skipped).toLocaleString("en")} of ${total.toLocaleString("en")}${skipped > 0 ? `, ${skipped.toLocaleString("en")} skipped` : ""}`;
  if (state === "done") return `done: ${so}`;
  return state === "stopped" ? `stopped at ${so}${problem ? `. ${problem}` : ""}` : so;
};

function Skipped({ id }: { id: string }) {
  const { data } = useQuery({ queryKey: ["job", id], queryFn: () => ask(readJob, { params: { id } }) });
  return (
    <ul className={styles.skipped}>
      {data?.skippedItems.map((it, i) => (
        <li key={i}>
          <span dir="auto">{it.title}</span>: {it.message}
        </li>
      ))}
    </ul>
  );
}

function Job({ job }: { job: JobView }) {
  const [reason, setReason] = useState<string | null>(null);
  const act = useJobActs(job.id, () => setReason(null), reason ?? "");
  const button = (what: JobAct, words: string) => (
    <button type="button" className="button" disabled={act.isPending} onClick={() => act.mutate(what)}>
      {words}
    </button>
  );
  return (
    <li data-job={job.state}>
      <strong>{job.title}</strong>
      <progress max={job.total} value={job.done + job.skipped} aria-label={job.title} />
      <span role="status">{standing(job)}</span>
      <small className="soft">
        <When instant={job.startedAt} />
      </small>
      {job.mayStop && button("stop", "Stop")}
      {job.mayGoOn && button("goOn", "Go on")}
      {job.mayTakeBack && reason === null && (
        <button type="button" className="button" onClick={() => setReason("")}>
          Take back …
        </button>
      )}
      {reason !== null && (
        <>
          <TextField label="Reason, where a pledge asks for one" value={reason} onChange={setReason} />
          {button("back", "Take all of it back")}
        </>
      )}
      {job.skipped > 0 && (
        <details>
          <summary>What was skipped</summary>
          <Skipped id={job.id} />
        </details>
      )}
      {act.error && <span className="notice bad">{act.error.message}</span>}
    </li>
  );
}

export function Jobs() {
  const { data } = useQuery({
    queryKey: ["jobs"],
    queryFn: () => ask(listJobs, { query: { mine: "yes" } }),
    refetchInterval: ({ state }) => (state.data?.jobs.some(isUnderWay) ? LOOK_EVERY : false),
  });
  const recent = (data?.jobs ?? [])
    .filter((job) => isUnderWay(job) || Date.now() - Date.parse(job.endedAt ?? job.startedAt) < SHOWN_FOR)
    .slice(0, SHOWN);
  return (
    <>
      {recent.length > 0 && (
        <section className={styles.jobs} aria-label="Jobs">
          <ul>
            {recent.map((job) => (
              <Job key={job.id} job={job} />
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
