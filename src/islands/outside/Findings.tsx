/** Passages that outsiders read and that look sensitive: the worst first, each where it stands; set aside with a reason, or closed. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  type FindingPage,
  type FindingsList,
  type FoundPassage,
  lookForFindings,
  type MarkedFind,
  readFindings,
  readFindingsAround,
  setFindingsAside,
} from "../../contracts/findings.ts";
import { stopJob } from "../../contracts/jobs.ts";
import { FINDING_KINDS, type FindingKind } from "../../core/findings/index.ts";
import { hasWords } from "../../core/words.ts";
import { FINDING_WORDS } from "../../ui/findingWords.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { ReadOn } from "../list/ReadOn.tsx";
import { useList } from "../list/useList.ts";
import { ask, queries } from "../shared/api.ts";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import type { OutsideState } from "./address.ts";
import { BySpace } from "./BySpace.tsx";
import styles from "./findings.module.css";
import outside from "./outside.module.css";

interface PartProps {
  state: OutsideState;
  onChange(part: Partial<OutsideState>): void;
}

/** A passage with its finds marked. */
function Passage({ passage: { text, finds } }: { passage: FoundPassage }) {
  const pieces: { words: string; find: MarkedFind | null }[] = [];
  let end = 0;
  for (const find of finds) {
    pieces.push({ words: text.slice(end, find.start), find: null }, { words: text.slice(find.start, find.end), find });
    end = find.end;
  }
  pieces.push({ words: text.slice(end), find: null });
  return (
    <p className={styles.passage} dir="auto">
      {pieces.map(({ words, find }, i) =>
        find ? (
          <mark key={i} data-aside={find.aside !== null} title={FINDING_WORDS[find.kind].one}>
            {words}
          </mark>
        ) : (
          words
        ),
      )}
    </p>
  );
}

function Around({ id }: { id: string }) {
  const { data, error } = useQuery({ queryKey: ["findingsAround", id], queryFn: () => ask(readFindingsAround, { params: { id } }) });
  if (error) return <p className="notice bad">{error.message}</p>;
  return (
    <section className={styles.around} aria-label="The passages around">
      {data?.passages.every(({ finds }) => finds.length > 0) && <p>Nothing else stands around it.</p>}
      {data?.passages.map((passage) => (
        <div key={passage.nth} data-gap={passage.gap}>
          <Passage passage={passage} />
        </div>
      ))}
    </section>
  );
}

const closeToPublic = ({ id, title }: FindingPage) => void tray.wish({ id, title }, { column: "public", name: "The public", level: 0 });

/** Who said that what was found may stand there, when and why; each once. */
function Asides({ page }: { page: FindingPage }) {
  const said = new Map((page.passages ?? []).flatMap(({ finds }) => finds.flatMap(({ aside }) => (aside ? [[aside.at, aside]] : []))));
  return (
    <>
      {[...said.values()].map(({ by, at, reason }) => (
        <p key={at} className="soft">
          set aside by {by}, <When instant={at} as="day" />: “<span dir="auto">{reason}</span>”
        </p>
      ))}
    </>
  );
}

const told = (counts: FindingPage["counts"]): string =>
  FINDING_KINDS.flatMap((kind) => {
    const count = counts[kind] ?? 0;
    return count === 0 ? [] : [`${count.toLocaleString("en")} ${count === 1 ? FINDING_WORDS[kind].one : FINDING_WORDS[kind].many}`];
  }).join(", ");

function useAside(page: FindingPage, aside: boolean, onDone: () => void) {
  return useMutation({
    mutationFn: (reason: string) => {
      const signs = [...new Set((page.passages ?? []).flatMap(({ finds }) => finds.map(({ sign }) => sign)))];
      return ask(setFindingsAside, { body: { place: page.id, signs, aside, reason } });
    },
    onSuccess: async () => {
      say(aside ? `Findings on ${page.title} are set aside.` : `Findings on ${page.title} are open again.`);
      onDone();
      await queries.invalidateQueries({ queryKey: ["findings"] });
    },
  });
}

function Line({ page, aside }: { page: FindingPage; aside: boolean }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState<string | null>(null);
  const settle = useAside(page, !aside, () => setReason(null));
  const waits = useTray().items.some((it) => it.place === page.id);
  const readable = page.passages !== null;
  const begin = () => (aside ? settle.mutate("") : setReason(reason === null ? "" : null));
  const press = lineKeys({
    ...(readable ? { s: begin, Enter: () => setOpen(!open) } : {}),
    ...(page.readers === "public" ? { c: () => closeToPublic(page) } : {}),
  });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: its keys act on it
    <li className={styles.line} tabIndex={0} data-page={page.id} onKeyDown={press}>
      <div className={styles.head}>
        <a className={outside.title} href={`/grid?place=${encodeURIComponent(page.id)}&tab=rules`} dir="auto" tabIndex={-1}>
          {page.title}
        </a>{" "}
        <small className="soft" dir="auto">
          {page.path.join(" / ")}
        </small>
        <span className={styles.what}>
          {told(page.counts)}; read by {page.readers === "public" ? "the public" : "whoever holds a pass"}
        </span>
      </div>
      {readable ? (
        page.passages?.map((passage) => <Passage key={passage.nth} passage={passage} />)
      ) : (
        <p className="soft">Its text is not open to you.</p>
      )}
      {page.more > 0 && (
        <p className="soft">In {page.more.toLocaleString("en")} more of its passages: open the page, or look around here.</p>
      )}
      {aside && <Asides page={page} />}
      <div className={styles.acts}>
        {readable && (
          <>
            <button type="button" className="button" aria-expanded={reason !== null} disabled={settle.isPending} onClick={begin}>
              {aside ? "Not set aside any more" : "Set aside …"} <kbd>s</kbd>
            </button>
            <button type="button" className="button plain" aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "Less" : "What stands around"}
            </button>
          </>
        )}
        {page.readers === "public" &&
          (waits ? (
            <span className="soft">in the tray</span>
          ) : (
            <button type="button" className="button plain" onClick={() => closeToPublic(page)}>
              Close the page <kbd>c</kbd>
            </button>
          ))}
      </div>
      {reason !== null && (
        <form
          className={styles.reason}
          onSubmit={(event) => {
            event.preventDefault();
            if (hasWords(reason)) settle.mutate(reason.trim());
          }}
        >
          <TextField label="Why this may stand where outsiders read it" value={reason} onChange={setReason} autoFocus />
          <button type="submit" className="button main" disabled={!hasWords(reason) || settle.isPending}>
            Set aside what is shown
          </button>
        </form>
      )}
      {settle.error && (
        <p className="notice bad" role="alert">
          {settle.error.message}
        </p>
      )}
      {open && readable && <Around id={page.id} />}
    </li>
  );
}

/** When the site was last looked through, and doing it again. */
function Looked({ list }: { list: FindingsList }) {
  const done = () => queries.invalidateQueries({ queryKey: ["findings"] });
  const begin = useMutation({ mutationFn: () => ask(lookForFindings, {}), onSettled: done });
  const stop = useMutation({ mutationFn: (id: string) => ask(stopJob, { params: { id } }), onSettled: done });
  const { job, looked, wordsChanged, mayLook } = list;
  const error = begin.error ?? stop.error;
  return (
    <>
      <h2>Looked through</h2>
      <p className="soft">
        Every page when it is published.{" "}
        {looked ? (
          <>
            All of them <When instant={looked} />.
          </>
        ) : (
          "Pages from before that were never looked through."
        )}
        {wordsChanged && " The house’s own words were changed since."}
      </p>
      {job ? (
        <p className="acts">
          <progress max={Math.max(1, job.total)} value={job.done} aria-label="How far the look is" />
          <button type="button" className="button" disabled={stop.isPending} onClick={() => stop.mutate(job.id)}>
            Stop
          </button>
        </p>
      ) : (
        mayLook && (
          <p className="acts">
            <button type="button" className="button" disabled={begin.isPending} onClick={() => begin.mutate()}>
              Look through all pages
            </button>
          </p>
        )
      )}
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
    </>
  );
}

function Side({ list, state, onChange }: PartProps & { list: FindingsList }) {
  const which = state.aside ? "aside" : "open";
  return (
    <aside className={outside.side} aria-label="By space">
      <BySpace
        lines={list.spaces.map((it) => ({ id: it.id, name: it.name, count: it[which] }))}
        chosen={state.space}
        onChoose={(space) => onChange({ space })}
      />
      <Looked list={list} />
      <p className="soft">
        The house’s own words stand in the <a href="/house">house rules</a>.
      </p>
    </aside>
  );
}

const LOOK_EVERY = 1_000;

export function Findings({ state, onChange }: PartProps) {
  const query = {
    ...(state.aside ? { show: "aside" as const } : {}),
    ...(state.finding === "" ? {} : { kind: state.finding }),
    ...(state.space === "" ? {} : { space: state.space }),
  };
  const { rows, query: found } = useList<FindingPage, FindingsList>(
    ["findings", query],
    (after) => ask(readFindings, { query: { ...query, ...(after === undefined ? {} : { after }) } }),
    (list) => (list?.job ? LOOK_EVERY : false),
  );
  const [first] = found.data?.pages ?? [];
  const kind = (it: FindingKind | "", words: string) => (
    <button key={it} type="button" aria-pressed={state.finding === it} onClick={() => onChange({ finding: it })}>
      {words}
    </button>
  );
  return (
    <div className={outside.view}>
      <div className="viewBar">
        <fieldset className={outside.shows}>
          <legend className="unseen">Which kind</legend>
          {kind("", "All kinds")}
          {FINDING_KINDS.map((it) => kind(it, FINDING_WORDS[it].title))}
        </fieldset>
        <label className={styles.aside}>
          <input type="checkbox" checked={state.aside} onChange={(event) => onChange({ aside: event.target.checked })} /> Set aside
        </label>
        <span className={outside.total}>{first && `${first.total.toLocaleString("en")} ${first.total === 1 ? "page" : "pages"}`}</span>
      </div>
      <div className={outside.columns}>
        <div className={outside.main}>
          {found.error && (
            <p className="notice bad" role="alert">
              {found.error.message}
            </p>
          )}
          {first && rows.length === 0 && (
            <p className="message">
              {state.aside
                ? "Nothing of this was set aside."
                : "Nothing that outsiders read looks sensitive here, as far as you may see rules."}
            </p>
          )}
          <ul className={styles.lines} aria-label="Findings">
            {rows.map((page) => (
              <Line key={page.id} page={page} aside={state.aside} />
            ))}
          </ul>
          <ReadOn query={found} />
        </div>
        {first && <Side list={first} state={state} onChange={onChange} />}
      </div>
    </div>
  );
}
