/** The sheet of an act: what it would do to whom, what it breaks, what is to be chosen, then the act by its name. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { MOST_AT_ONCE } from "../../contracts/acts.ts";
import { apply } from "../../contracts/change.ts";
import { lookAtAct, type ActSheet as Sheet } from "../../contracts/life.ts";
import { type LifeAct, pastOfAct } from "../../core/lifecycle/index.ts";
import { LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ReasonField } from "../change/ReasonField.tsx";
import { RippleLines, RippleSummary } from "../change/RippleLines.tsx";
import { refusalWords, type Staged, useStaged } from "../change/staged.ts";
import { tray } from "../change/store.ts";
import { openMany } from "../jobs/opened.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { Breaks } from "./Breaks.tsx";
import { Choices, missing } from "./Choices.tsx";
import styles from "./life.module.css";
import { closeAct } from "./opened.ts";
import { Typed } from "./Typed.tsx";
import { Until } from "./Until.tsx";

/** What was done, in a line. */
const doneWords = (act: LifeAct, sheet: Sheet): string => {
  const { count } = sheet.along;
  const title = sheet.places.items[0]?.title ?? "It";
  const what = act.places.length === 1 ? title : `${act.places.length} things`;
  return `${what} ${act.places.length === 1 ? "was" : "were"} ${pastOfAct(act.act)}${count > 0 ? `, with ${count} below` : ""}`;
};

interface FootProps {
  act: LifeAct;
  sheet: Sheet;
  staged: Staged;
  off: string;
  fresh: boolean;
}

/** Note, act, tray, and how it is taken back. */
function Foot({ act, sheet, staged, off, fresh }: FootProps) {
  const { texts, write, way, busy, problem, apply: go } = staged;
  const final = act.act === "erase";
  const said = [...sheet.misfits, ...refusalWords(way.stops), ...(problem ? [problem] : [])];
  const why = off || way.off || (fresh ? "" : "What it would do is being worked out.");
  const toTray = () => {
    tray.act({ id: act.places[0] ?? "", title: sheet.places.items[0]?.title ?? "" }, act, sheet.title);
    say(`${sheet.title}: in the tray.`);
    closeAct();
  };
  return (
    <footer className={styles.foot}>
      {said.length > 0 && (
        <p className="notice bad" role="alert">
          {said.join(" ")}
        </p>
      )}
      <ReasonField lifted={way.lifted} value={texts.reason} onChange={(reason) => write({ reason })} />
      <TextField label="Note for the ledger" value={texts.note} onChange={(note) => write({ note })} most={LIMITS.note} />
      <div className="acts">
        <button
          type="button"
          className={final ? `button ${styles.final}` : "button go"}
          disabled={why !== "" || busy || sheet.misfits.length > 0}
          title={why || undefined}
          onClick={go}
          data-do
        >
          {sheet.label}
        </button>
        {!final && (
          <button
            type="button"
            className="button"
            disabled={off !== "" || sheet.misfits.length > 0}
            title={off || undefined}
            onClick={toTray}
          >
            Put in the tray
          </button>
        )}
        <button type="button" className="button plain" onClick={closeAct}>
          Leave it
        </button>
      </div>
      <p className={styles.back}>{sheet.back}</p>
    </footer>
  );
}

/** So much is erased as a job: its sheet takes over. */
function AsJob({ act, count }: { act: LifeAct; count: number }) {
  const go = () => {
    closeAct();
    openMany({ act: "erase", places: act.places });
  };
  return (
    <>
      <h2>{count.toLocaleString("en")} pages would be erased</h2>
      <p>More than {MOST_AT_ONCE} are erased as a job, batch by batch, the deepest first.</p>
      <div className="acts">
        <button type="button" className="button" onClick={go}>
          Look at the job
        </button>
      </div>
    </>
  );
}

const cut = ({ pages: _, ...act }: LifeAct): LifeAct => act;

export default function ActBody({ first }: { first: LifeAct }) {
  const [act, setAct] = useState(first);
  const [typed, setTyped] = useState("");
  const looked = useQuery({
    queryKey: ["act", cut(act)],
    queryFn: () => ask(lookAtAct, { body: { act: cut(act) } }),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const sheet = looked.data;
  const whole = act.act === "erase" ? { ...act, pages: Number(typed) } : act;
  const staged = useStaged({
    preview: sheet ?? null,
    apply: (acting) => ask(apply, { body: { edits: [], acts: [whole], ...acting } }),
    onDone: async ({ seq }) => {
      const words = sheet ? doneWords(act, sheet) : "Done";
      tray.done(seq, words, act.act !== "erase");
      say(`${words}.`);
      closeAct();
      await queries.invalidateQueries();
    },
    again: () => void looked.refetch(),
  });
  if (!sheet) return <p className="soft">{looked.error?.message ?? "Looking at what it would do …"}</p>;
  if (act.act === "erase" && sheet.erased > MOST_AT_ONCE) return <AsJob act={act} count={sheet.erased} />;
  const mistyped = act.act === "erase" && typed.trim() !== String(sheet.erased) ? "Type the number first." : "";
  const off = missing(act, sheet) || mistyped;
  return (
    <>
      <h2 dir="auto">{sheet.title}</h2>
      <div className={styles.blocks}>
        <section>
          <h3>Readers</h3>
          <p className={styles.summary}>
            <RippleSummary ripple={sheet.ripple} />
          </p>
          {!sheet.ripple.empty && (
            <details>
              <summary>Who, where, before and after</summary>
              <RippleLines ripple={sheet.ripple} />
            </details>
          )}
          {sheet.newReaders && (
            <p>
              {sheet.newReaders.sentence}{" "}
              {sheet.newReaders.names.length > 0 && <span className="soft">{sheet.newReaders.names.join(", ")}</span>}
            </p>
          )}
        </section>
        <Breaks sheet={sheet} />
        <Choices act={act} sheet={sheet} onChange={setAct} />
        {act.act === "archive" && act.places.length === 1 && sheet.kinds[0] !== "space" && off === "" && (
          <Until place={act.places[0] ?? ""} below={act.below} />
        )}
        {act.act === "erase" && <Typed count={sheet.erased} value={typed} onChange={setTyped} />}
      </div>
      <Foot act={act} sheet={sheet} staged={staged} off={off} fresh={!looked.isPlaceholderData && !looked.isFetching} />
    </>
  );
}
