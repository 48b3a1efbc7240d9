/** All pages in one table: where everything is in its life. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { countPages, type PageRow, type PageSort, readPages } from "../../contracts/pages.ts";
import { readSlip } from "../../contracts/slip.ts";
import { When } from "../../ui/When.tsx";
import { Jobs } from "../jobs/Jobs.tsx";
import { ActButtons } from "../life/ActButtons.tsx";
import { openAct } from "../life/opened.ts";
import { ListTable } from "../list/ListTable.tsx";
import { type Chosen, useChosen, useList } from "../list/useList.ts";
import { ask, queries } from "../shared/api.ts";
import { goHome } from "../shared/focus.ts";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { Slip } from "../slip/Slip.tsx";
import { filterOf, NO_FILTER, type PagesState, usePagesState } from "./address.ts";
import { ChosenBar } from "./ChosenBar.tsx";
import { COLUMNS } from "./columns.tsx";
import { Exporting } from "./Exporting.tsx";
import { FilterSentence } from "./FilterSentence.tsx";
import { GoneSpaces } from "./GoneSpaces.tsx";
import { LineOfLife } from "./LineOfLife.tsx";
import styles from "./pages.module.css";
import { Saved } from "./Saved.tsx";
import { ShownColumns } from "./ShownColumns.tsx";
import { TagsOfSite } from "./TagsOfSite.tsx";

const KEYS: [string, string][] = [
  ["Arrows, Home, End", "move"],
  ["Space", "choose a page"],
  ["Enter", "what there is to know of a page, and the acts"],
  ["s", "the slip of a page"],
  ["a", "archive, or unarchive"],
  ["b", "bin, or restore"],
  ["m", "move"],
  ["t", "take down"],
  ["Escape", "close what lies nearest"],
  ["?", "these keys, and away with them"],
];

/** The act a letter stands for, as far as it can be done to a page. */
function byKey(row: PageRow, ...names: PageRow["acts"]): void {
  const act = names.find((it) => row.acts.includes(it));
  if (act) openAct({ act, places: [row.id] });
}

const UP_FIRST: ReadonlySet<PageSort> = new Set(["title", "owner", "by"]);
const orderOf = ({ sort, order }: PagesState): "up" | "down" => order || (UP_FIRST.has(sort) ? "up" : "down");

/** What links to a page, and its newest versions, as far as one may know. */
function Known({ id }: { id: string }) {
  const { data } = useQuery({ queryKey: ["slip", id], queryFn: () => ask(readSlip, { params: { id } }) });
  if (!data) return null;
  const { links, versions } = data.life;
  const linked = links?.from.slice(0, 5).map(({ title }) => title) ?? [];
  const more = (links?.total ?? 0) + (links?.hidden ?? 0) - linked.length;
  return (
    <dl className={styles.known}>
      <dt>Linked from</dt>
      <dd dir="auto">{linked.length === 0 && more <= 0 ? "no page" : [...linked, ...(more > 0 ? [`${more} more`] : [])].join(", ")}</dd>
      {versions.slice(0, 3).map((version) => (
        <Fragment key={version.name}>
          <dt>Version {version.name}</dt>
          <dd>
            {version.author}, <When instant={version.at} as="short" />
            {version.note && `: ${version.note}`}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

function Strip({ row, onSlip }: { row: PageRow; onSlip(): void }) {
  return (
    <>
      {row.due?.problem && <p className="notice bad">It waits: {row.due.problem}</p>}
      {row.approval && (
        <p className="notice">
          {row.approval.by} gave version {row.approval.version} in for approval <When instant={row.approval.at} as="short" />
          {row.approval.sentBack && "; it was sent back"}. <a href={`/write/${row.id}`}>Open it</a>
        </p>
      )}
      <Known id={row.id} />
      <div className="acts">
        <ActButtons acts={row.acts} places={[row.id]} />
        <button type="button" className="button plain" onClick={onSlip}>
          Its slip
        </button>
      </div>
    </>
  );
}

function Empty({ state, besideSpaces, onReset }: { state: PagesState; besideSpaces: boolean; onReset(): void }) {
  const filtered = Object.keys(filterOf(state)).length > 0;
  return (
    <p className="message">
      {state.part === "bin" && Object.keys(filterOf(state)).length === 1
        ? besideSpaces
          ? "No page is in the bin by itself."
          : "The bin is empty. What is binned stands here until it is erased, each page to whoever may restore it."
        : filtered
          ? "No page fits this."
          : "No page is here yet. Pages are started in the grid, from the slip of a space."}{" "}
      {filtered && (
        <button type="button" className="button" onClick={onReset}>
          Show every page
        </button>
      )}
    </p>
  );
}

interface TableProps {
  state: PagesState;
  onChange(change: Partial<PagesState>): void;
  rows: PageRow[];
  chosen: Chosen;
  onChoose(id: string): void;
  open: string | null;
  onOpen(id: string | null): void;
  onNearEnd(): void;
}

function Table({ state, onChange, rows, chosen, onChoose, open, onOpen, onNearEnd }: TableProps) {
  const order = orderOf(state);
  const sortBy = (by: string) => {
    const sort = by as PageSort;
    onChange(sort === state.sort ? { order: order === "up" ? "down" : "up" } : { sort, order: "" });
  };
  const slip = (row: PageRow) => onChange({ place: row.id });
  return (
    <ListTable
      label="Pages"
      rows={rows}
      columns={COLUMNS}
      shown={state.columns}
      sort={{ by: state.sort, order }}
      onSort={sortBy}
      isChosen={(row) => chosen.all || chosen.ids.has(row.id)}
      onChoose={(row) => onChoose(row.id)}
      onOpen={(row) => onOpen(open === row.id ? null : row.id)}
      keys={{
        s: slip,
        a: (row) => byKey(row, "archive", "unarchive"),
        b: (row) => byKey(row, "bin", "restore"),
        m: (row) => byKey(row, "move"),
        t: (row) => byKey(row, "takeDown"),
      }}
      open={open}
      strip={(row) => <Strip row={row} onSlip={() => slip(row)} />}
      edge={(row) => (row.outside?.public ? "public" : row.outside && row.outside.guests > 0 ? "guests" : undefined)}
      onNearEnd={onNearEnd}
    />
  );
}

/** The slip of the page that was opened, over the right side. */
const SlipOf = ({ place, tab, onChange }: { place: string; tab: string; onChange(change: Partial<PagesState>): void }) => (
  <Slip
    key={place}
    id={place}
    column={null}
    tab={tab}
    onTab={(next) => onChange({ tab: next })}
    onGo={(to, next) => onChange({ place: to, tab: next })}
    onClose={() => {
      onChange({ place: null, tab: "life" });
      goHome();
    }}
  />
);

function View() {
  const [state, change] = usePagesState();
  const filter = filterOf(state);
  const key = JSON.stringify(filter);
  const sorting = { sort: state.sort, order: orderOf(state) };
  const { rows, query } = useList(["pages", key, sorting], (after) =>
    ask(readPages, { query: { ...filter, ...sorting, ...(after ? { after } : {}) } }),
  );
  const counts = useQuery({
    queryKey: ["pageCounts", key],
    queryFn: () => ask(countPages, { query: filter }),
    placeholderData: (before) => before,
  });
  const { chosen, toggle, chooseAll, choose, clear } = useChosen(key);
  const [open, setOpen] = useState<string | null>(null);
  const total = counts.data?.total ?? 0;
  return (
    <div className={styles.view} data-slip={state.place !== null}>
      <div className={styles.main}>
        <LineOfLife
          counts={counts.data ?? null}
          part={state.part}
          onPart={(part) => change({ part, ...(part === "bin" || part === "archive" ? withLeft(state) : {}) })}
        />
        <div className={`viewBar ${styles.bar}`}>
          <FilterSentence state={state} said={counts.data?.said} onChange={change} />
          <TagsOfSite onTag={(tag) => change({ tag })} />
          <Saved state={state} onOpen={(address) => window.location.assign(`/pages${address}`)} />
          <Exporting state={state} />
          <ShownColumns shown={state.columns} onChange={(columns) => change({ columns })} />
          <span className={styles.count} role="status">
            {total.toLocaleString("en")} {total === 1 ? "page" : "pages"}
          </span>
        </div>
        {(counts.data?.toApprove ?? 0) > 0 && state.approval !== "mine" && (
          <p className={styles.toApprove}>
            {counts.data?.toApprove === 1 ? "One page waits" : `${counts.data?.toApprove.toLocaleString("en")} pages wait`} for your
            approval.{" "}
            <button type="button" className="textButton" onClick={() => change({ ...NO_FILTER, approval: "mine" })}>
              Show what waits
            </button>
          </p>
        )}
        {(chosen.all || chosen.ids.size > 0) && (
          <ChosenBar
            chosen={chosen}
            rows={rows}
            total={total}
            filter={filter}
            onAll={chooseAll}
            onShown={() => choose(rows.map(({ id }) => id))}
            onClear={clear}
          />
        )}
        <GoneSpaces counts={counts.data} onSlip={(place) => change({ place, tab: "life" })} />
        {query.error && <p className="notice bad">{query.error.message}</p>}
        {rows.length === 0 && !query.isPending ? (
          <Empty state={state} besideSpaces={(counts.data?.spaces.length ?? 0) > 0} onReset={() => change(NO_FILTER)} />
        ) : (
          <Table
            state={state}
            onChange={change}
            rows={rows}
            chosen={chosen}
            onChoose={toggle}
            open={open}
            onOpen={setOpen}
            onNearEnd={() => query.hasNextPage && !query.isFetchingNextPage && void query.fetchNextPage()}
          />
        )}
        <Jobs />
        <KeyHelp name="pages" keys={KEYS} />
      </div>
      {state.place !== null && <SlipOf place={state.place} tab={state.tab} onChange={change} />}
    </div>
  );
}

/** In the archive and the bin, when and by whom it came there matters. */
const withLeft = ({ columns }: PagesState): Partial<PagesState> =>
  columns.includes("left") ? {} : { columns: [...columns.filter((it) => it !== "tags"), "left"] };

export default function PagesView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
