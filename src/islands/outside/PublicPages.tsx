/** Every page the public reads, the newest outside first: since when, through what, by whose change; settled one by one. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { type ExposedList, type ExposedPage, exportOutside, meanOutside, readOutside } from "../../contracts/outside.ts";
import { When } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { useList } from "../list/useList.ts";
import { ask, queries } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import { filterOf, type OutsideState, SHOWS, type Show } from "./address.ts";
import { BySpace } from "./BySpace.tsx";
import styles from "./outside.module.css";

/** Closes a page to the public: the best change for that goes to the tray. */
const close = ({ id, title }: ExposedPage) => void tray.wish({ id, title }, { column: "public", name: "The public", level: 0 });

function useMeant() {
  return useMutation({
    mutationFn: ({ id, meant }: ExposedPage) => ask(meanOutside, { body: { places: [id], meant: meant === null } }),
    onSuccess: async (_, { title, meant }) => {
      say(meant === null ? `${title} is meant to be outside.` : `${title} is not meant to be outside any more.`);
      await queries.invalidateQueries({ queryKey: ["outside"] });
    },
  });
}

const Since = ({ page }: { page: ExposedPage }) =>
  page.since ? (
    <>
      since <When instant={page.since.at} as="day" />, by {page.since.who} (
      <a href={`/ledger?place=${encodeURIComponent(page.id)}`}>
        entry {page.since.seq}: {page.since.act}
      </a>
      )
    </>
  ) : (
    <>since before all that is kept</>
  );

interface LineProps {
  page: ExposedPage;
  /** Of all that are shown, the most reads: what a full bar is. */
  most: number;
}

function Line({ page, most }: LineProps) {
  const settle = useMeant();
  const waits = useTray().items.some((it) => it.place === page.id);
  const press = lineKeys({
    y: () => settle.mutate(page),
    c: () => close(page),
    Enter: () => window.location.assign(`/grid?place=${encodeURIComponent(page.id)}&tab=rules`),
  });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: its keys act on it
    <li className={styles.line} tabIndex={0} data-page={page.id} data-meant={page.meant !== null} onKeyDown={press}>
      <div>
        <a className={styles.title} href={`/grid?place=${encodeURIComponent(page.id)}&tab=rules`} dir="auto" tabIndex={-1}>
          {page.title}
        </a>{" "}
        <small className="soft" dir="auto">
          {page.path.join(" / ")}
          {page.kind === "bulletin" && ", bulletin"}
        </small>
        <p className={styles.why}>
          <Since page={page} />. {page.through.map(({ sentence }) => sentence).join(" ")}
        </p>
        {page.nowhere > 0 && (
          <p className={styles.look}>
            {page.nowhere} of its links {page.nowhere === 1 ? "leads" : "lead"} the public nowhere.
          </p>
        )}
        {settle.error && (
          <p className="notice bad" role="alert">
            {settle.error.message}
          </p>
        )}
      </div>
      <div className={styles.reads} title="Read by outsiders in 30 days">
        <span className={styles.bar} style={{ width: `${most === 0 ? 0 : Math.round((page.reads / most) * 100)}%` }} aria-hidden="true" />
        {page.reads.toLocaleString("en")} <span className="soft">{page.reads === 1 ? "read" : "reads"}</span>
      </div>
      <div className={styles.settle}>
        {page.meant ? (
          <p className="soft">
            meant, says {page.meant.by}, <When instant={page.meant.at} as="day" />
          </p>
        ) : null}
        <button type="button" className="button" disabled={settle.isPending} onClick={() => settle.mutate(page)}>
          {page.meant ? "Not meant any more" : "Meant to be outside"} <kbd>y</kbd>
        </button>
        {waits ? (
          <span className="soft">in the tray</span>
        ) : (
          <button type="button" className="button plain" onClick={() => close(page)}>
            Close it <kbd>c</kbd>
          </button>
        )}
      </div>
    </li>
  );
}

/** Reads on as one comes near the end. */
function More({ onSeen }: { onSeen(): void }) {
  const end = useRef<HTMLLIElement>(null);
  const latest = useRef(onSeen);
  latest.current = onSeen;
  useEffect(() => {
    const watch = new IntersectionObserver((seen) => seen.some((it) => it.isIntersecting) && latest.current());
    if (end.current) watch.observe(end.current);
    return () => watch.disconnect();
  }, []);
  return (
    <li ref={end} className={styles.more}>
      Reading on …
    </li>
  );
}

interface PartProps {
  state: OutsideState;
  onChange(part: Partial<OutsideState>): void;
}

const unsettledSaid = (count: number): string => (count > 0 ? `${count.toLocaleString("en")} not settled` : "");

/** Where what is outside lies, and taking it out. */
function Side({ spaces, state, onChange }: PartProps & { spaces: ExposedList["spaces"] }) {
  return (
    <aside className={styles.side} aria-label="By space">
      <BySpace
        lines={spaces.map(({ id, name, open, unsettled }) => ({ id, name, count: open, look: unsettledSaid(unsettled) }))}
        look={unsettledSaid(spaces.reduce((sum, it) => sum + it.unsettled, 0))}
        chosen={state.space}
        onChoose={(space) => onChange({ space })}
      />
      <h2>Take out</h2>
      <p className="acts">
        <Formats of={exportOutside} query={filterOf(state)} />
      </p>
    </aside>
  );
}

const NONE: Readonly<Record<Show, string>> = {
  new: "Nothing is unsettled: of every page the public reads here, somebody said that it is meant to be outside.",
  meant: "Of no page here anybody said that it is meant to be outside.",
  all: "The public reads nothing here, as far as you may see rules.",
};

export function PublicPages({ state, onChange }: PartProps) {
  const { rows, query } = useList<ExposedPage, ExposedList>(["outside", state], (after) =>
    ask(readOutside, { query: { ...filterOf(state), ...(after === undefined ? {} : { after }) } }),
  );
  const [first] = query.data?.pages ?? [];
  const most = Math.max(0, ...rows.map(({ reads }) => reads));
  return (
    <div className={styles.view}>
      <div className="viewBar">
        <fieldset className={styles.shows}>
          <legend className="unseen">Which</legend>
          {(Object.keys(SHOWS) as Show[]).map((it) => (
            <button key={it} type="button" aria-pressed={state.show === it} onClick={() => onChange({ show: it })}>
              {SHOWS[it]}
            </button>
          ))}
        </fieldset>
        <span className={styles.total}>{first && `${first.total.toLocaleString("en")} ${first.total === 1 ? "page" : "pages"}`}</span>
      </div>
      <div className={styles.columns}>
        <div className={styles.main}>
          {query.error && (
            <p className="notice bad" role="alert">
              {query.error.message}
            </p>
          )}
          {first && rows.length === 0 && <p className="message">{NONE[state.show]}</p>}
          <ul className={styles.lines} aria-label="Pages the public reads">
            {rows.map((page) => (
              <Line key={page.id} page={page} most={most} />
            ))}
            {query.hasNextPage && <More onSeen={() => void (query.isFetchingNextPage || query.fetchNextPage())} />}
          </ul>
        </div>
        {first && <Side spaces={first.spaces} state={state} onChange={onChange} />}
      </div>
    </div>
  );
}
