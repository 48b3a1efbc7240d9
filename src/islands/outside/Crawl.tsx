/** What a crawler of our own finds, walking the site over HTTP as the public, beside what the rules say: one tree, told twice. */
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { CRAWL_KINDS, type CrawledPlace, type CrawlKind, type CrawlView, readCrawl, startCrawl } from "../../contracts/crawl.ts";
import { stopJob } from "../../contracts/jobs.ts";
import { When } from "../../ui/When.tsx";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import type { OutsideState } from "./address.ts";
import { BySpace } from "./BySpace.tsx";
import styles from "./crawl.module.css";
import outside from "./outside.module.css";

const KIND_WORDS: Readonly<Record<CrawlKind, string>> = {
  unmeant: "Found, not settled",
  meant: "Found and meant",
  unindexed: "Found, not to be listed",
  unlinked: "Open, but nothing leads there",
  closed: "Linked, but closed",
  differs: "Not as the rules say",
};

/** What stands between the two columns. */
const BETWEEN: Readonly<Record<CrawlKind, string>> = {
  unmeant: "nobody said it is meant",
  meant: "as meant",
  unindexed: "asks not to be listed",
  unlinked: "nothing leads there",
  closed: "linked, but closed",
  differs: "rules and crawl differ",
};

const LOOK_EVERY = 900;
const isUnderWay = (crawl: CrawlView["crawl"] | undefined): boolean => crawl?.state === "waiting" || crawl?.state === "running";

interface PartProps {
  state: OutsideState;
  onChange(part: Partial<OutsideState>): void;
}

function Standing({ crawl }: { crawl: CrawlView["crawl"] }) {
  const begin = useMutation({
    mutationFn: () => ask(startCrawl, {}),
    onSuccess: () => say("The site is walked."),
    onSettled: () => queries.invalidateQueries({ queryKey: ["crawl"] }),
  });
  const stop = useMutation({
    mutationFn: (id: string) => ask(stopJob, { params: { id } }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["crawl"] }),
  });
  const error = begin.error ?? stop.error;
  const far = crawl && `${crawl.asked.toLocaleString("en")} of ${crawl.known.toLocaleString("en")} addresses`;
  return (
    <div className={styles.standing}>
      {crawl && isUnderWay(crawl) && (
        <>
          <progress max={crawl.known} value={crawl.asked} aria-label="How far the crawl is" />
          <span role="status">{far}</span>
          <button type="button" className="button" disabled={stop.isPending} onClick={() => stop.mutate(crawl.job)}>
            Stop
          </button>
        </>
      )}
      {crawl && !isUnderWay(crawl) && (
        <span role="status">
          {crawl.state === "stopped" ? "Stopped" : "Walked"} <When instant={crawl.endedAt ?? crawl.startedAt} />, by {crawl.by}:{" "}
          {crawl.state === "stopped" ? far : `${crawl.asked.toLocaleString("en")} addresses`}
          {crawl.cut && ", which is as many as one crawl asks for"}
        </span>
      )}
      {!isUnderWay(crawl) && (
        <button type="button" className="button main" disabled={begin.isPending} onClick={() => begin.mutate()}>
          {crawl ? "Walk it again" : "Walk the site as a stranger"}
        </button>
      )}
      {(error || crawl?.problem) && (
        <p className="notice bad" role="alert">
          {error?.message ?? crawl?.problem}
        </p>
      )}
    </div>
  );
}

function Line({ row }: { row: CrawledPlace }) {
  const indent = { paddingLeft: 10 + row.depth * 18 };
  const title = (
    <a href={`/grid?place=${encodeURIComponent(row.id)}&tab=rules`} dir="auto">
      {row.title}
    </a>
  );
  return (
    <tr data-as={row.as ?? "above"}>
      <td style={indent} data-open={row.open}>
        {row.as === null ? <span dir="auto">{row.title}</span> : row.open ? title : <s>{title}</s>}
      </td>
      <td>{row.as && BETWEEN[row.as]}</td>
      <td style={indent} data-open={row.found}>
        {row.found ? <span dir="auto">{row.title}</span> : row.as === null ? "" : <span className="soft">not found</span>}
        {row.as !== null && (
          <small className="soft">
            {row.from ? (
              <>
                {" "}
                from <span dir="auto">{row.from.title}</span>
              </>
            ) : row.found ? (
              " by the sitemap alone"
            ) : (
              ""
            )}
          </small>
        )}
      </td>
    </tr>
  );
}

/** What does not belong in the tree: errors, what robots.txt keeps back, what leads away. */
function Others({ view }: { view: CrawlView }) {
  if (view.others.length === 0) return null;
  return (
    <>
      <h2>Addresses with trouble</h2>
      <ul className={styles.others}>
        {view.others.map(({ address, from, said }) => (
          <li key={address}>
            <code dir="auto">{address}</code> {said}
            {from && <small className="soft"> (from {from})</small>}
          </li>
        ))}
      </ul>
      {view.othersUnshown > 0 && <p className="soft">and {view.othersUnshown.toLocaleString("en")} more</p>}
    </>
  );
}

function Side({ view, state, onChange }: PartProps & { view: CrawlView }) {
  return (
    <aside className={outside.side} aria-label="By space">
      <BySpace lines={view.spaces} chosen={state.space} onChoose={(space) => onChange({ space })} />
      <Others view={view} />
      <h2>What a search engine is told</h2>
      <p className="soft">
        The <a href="/sitemap.xml">sitemap</a> follows the rules; <a href="/robots.txt">robots.txt</a> names no space. Whether a space may
        be listed stands in its settings.
      </p>
    </aside>
  );
}

const NOTHING_YET =
  "Nobody walked the site yet. The crawl starts at the front door and the sitemap, asks as a stranger’s program would, and shows what it found beside what the rules say.";

export function Crawl({ state, onChange }: PartProps) {
  const query = {
    ...(state.crawled === "" ? {} : { show: state.crawled }),
    ...(state.space === "" ? {} : { space: state.space }),
  };
  const { data, error } = useQuery({
    queryKey: ["crawl", query],
    queryFn: () => ask(readCrawl, { query }),
    placeholderData: keepPreviousData,
    refetchInterval: ({ state: { data } }) => (isUnderWay(data?.crawl) ? LOOK_EVERY : false),
  });
  const ended = data?.crawl?.state === "done";
  useEffect(() => {
    if (ended) say("The site was walked to its end.");
  }, [ended]);
  if (error)
    return (
      <p className="notice bad" role="alert">
        {error.message}
      </p>
    );
  if (!data) return null;
  const total = CRAWL_KINDS.reduce((sum, kind) => sum + data.counts[kind], 0);
  const kind = (it: CrawlKind | "", words: string, count: number) => (
    <button key={it} type="button" aria-pressed={state.crawled === it} onClick={() => onChange({ crawled: it })} data-kind={it}>
      {words} <b>{count.toLocaleString("en")}</b>
    </button>
  );
  return (
    <div className={outside.view}>
      <div className={`viewBar ${styles.bar}`}>
        <fieldset className={styles.kinds}>
          <legend className="unseen">Which</legend>
          {kind("", "All", total)}
          {CRAWL_KINDS.map((it) => kind(it, KIND_WORDS[it], data.counts[it]))}
        </fieldset>
        <Standing crawl={data.crawl} />
      </div>
      <div className={outside.columns}>
        <div className={outside.main}>
          {data.crawl === null && <p className="message">{NOTHING_YET}</p>}
          {data.crawl !== null && data.rows.length === 0 && <p className="message">There is nothing of this kind.</p>}
          {data.rows.length > 0 && (
            <table className={styles.tree}>
              <thead>
                <tr>
                  <th scope="col">Open by the rules</th>
                  <th scope="col" />
                  <th scope="col">Found by the crawl</th>
                </tr>
              </thead>
              <tbody>
                {data.rows.map((row) => (
                  <Line key={row.id} row={row} />
                ))}
              </tbody>
            </table>
          )}
          {data.unshown > 0 && (
            <p className="message">{data.unshown.toLocaleString("en")} more are not shown here: choose a space, or one kind.</p>
          )}
        </div>
        <Side view={data} state={state} onChange={onChange} />
      </div>
    </div>
  );
}
