/** People: who is here, and through what. Members, guests and groups. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { type PeopleSort, type PeopleTable as PeopleTableAnswer, type PersonRow, readGroups, readPeople } from "../../contracts/people.ts";
import { Picker } from "../../ui/Picker.tsx";
import { Asked } from "../asked/Asked.tsx";
import { ListTable } from "../list/ListTable.tsx";
import { useChosen, useList } from "../list/useList.ts";
import { PassList } from "../passes/PassList.tsx";
import passes from "../passes/passes.module.css";
import { ask, queries } from "../shared/api.ts";
import { goHome } from "../shared/focus.ts";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { findGroups, type PrincipalChoice } from "../shared/people.ts";
import { PARTS, type Part, type PeopleState, usePeopleState } from "./address.ts";
import { COLUMNS, columnsFor } from "./columns.tsx";
import { GroupOutline, outlineOf } from "./GroupOutline.tsx";
import { GroupPanel } from "./GroupPanel.tsx";
import { NewGroup } from "./NewGroup.tsx";
import { PersonPanel } from "./PersonPanel.tsx";
import styles from "./people.module.css";
import { stageMember } from "./staging.ts";

const KEYS: [string, string][] = [
  ["Arrows, Home, End", "move"],
  ["Space", "choose somebody"],
  ["Enter", "the slip of somebody"],
  ["l, d", "of who asks for access: let in, decline"],
  ["Escape", "close what lies nearest"],
  ["?", "these keys, and away with them"],
];

type Change = (change: Partial<PeopleState>, step?: "small") => void;

/** Whoever is chosen is put into a group together. */
function Chosen({ rows, onClear }: { rows: PersonRow[]; onClear(): void }) {
  const put = ({ principal, name }: PrincipalChoice) => {
    if (!("group" in principal)) return;
    for (const row of rows) stageMember({ id: principal.group, name }, { put: { person: row.id } }, row.name);
    onClear();
  };
  return (
    <div className="viewBar">
      <strong>{rows.length} chosen</strong>
      <Picker<PrincipalChoice> label="Put them into a group" find={findGroups} onChoose={put} />
      <button type="button" className="button plain" onClick={onClear}>
        Choose nobody
      </button>
    </div>
  );
}

const orderOf = ({ sort, order }: PeopleState): "up" | "down" => order || (sort === "name" || sort === "until" ? "up" : "down");

function PeopleTable({ state, change, mayChange }: { state: PeopleState; change: Change; mayChange: boolean }) {
  const kind = state.part === "guests" ? "guest" : "member";
  const { words, group } = state;
  // What is for site keepers is asked for by them alone, whatever an address says.
  const filter = {
    kind,
    ...(words ? { words } : {}),
    ...(group ? { group } : {}),
    ...(mayChange && state.state ? { state: state.state } : {}),
  } as const;
  const sort = mayChange || state.sort === "groups" ? state.sort : "name";
  const sorting = { sort, order: orderOf({ ...state, sort }) };
  const { rows, query } = useList<PersonRow, PeopleTableAnswer>(["people", filter, sorting], (after) =>
    ask(readPeople, { query: { ...filter, ...sorting, ...(after ? { after } : {}) } }),
  );
  const { chosen, toggle, clear } = useChosen(JSON.stringify(filter));
  const picked = rows.filter(({ id }) => chosen.ids.has(id));
  const total = query.data?.pages[0]?.total ?? 0;
  const sortBy = (by: string) =>
    change(by === sort ? { order: sorting.order === "up" ? "down" : "up" } : { sort: by as PeopleSort, order: "" });
  return (
    <>
      {mayChange && picked.length > 0 && <Chosen rows={picked} onClear={clear} />}
      {query.error && <p className="notice bad">{query.error.message}</p>}
      {rows.length === 0 && !query.isPending ? (
        <p className="message">
          {words || group || state.state ? "Nobody fits this." : `There are no ${PARTS[state.part].toLowerCase()} yet.`}
        </p>
      ) : (
        <ListTable
          label={PARTS[state.part]}
          rows={rows}
          columns={COLUMNS}
          shown={columnsFor(mayChange, kind === "guest" ? "guests" : "members")}
          sort={{ by: sort, order: sorting.order }}
          onSort={sortBy}
          isChosen={({ id }) => chosen.ids.has(id)}
          onChoose={({ id }) => toggle(id)}
          onOpen={({ id }) => change({ person: id, open: null })}
          open={null}
          strip={() => null}
          edge={(row) => (row.kind === "guest" ? "guests" : undefined)}
          onNearEnd={() => query.hasNextPage && !query.isFetchingNextPage && void query.fetchNextPage()}
        />
      )}
      <p className={styles.total} role="status">
        {total.toLocaleString("en")} {total === 1 ? kind : `${kind}s`}
      </p>
    </>
  );
}

const isOfPeople = (part: Part): boolean => part === "members" || part === "guests";

const STATES = { "": "Everybody", in: "who can come in", out: "suspended or over" } as const;

function Bar({ state, change, mayChange, onNew }: { state: PeopleState; change: Change; mayChange: boolean; onNew(): void }) {
  return (
    <div className={`viewBar ${styles.bar}`}>
      <fieldset className={styles.parts}>
        <legend className="unseen">Parts</legend>
        {(Object.keys(PARTS) as Part[]).map((part) => (
          <button
            key={part}
            type="button"
            aria-pressed={state.part === part}
            onClick={() => change({ part, state: "", sort: "name", order: "" })}
          >
            {PARTS[part]}
          </button>
        ))}
      </fieldset>
      {state.part !== "passes" && state.part !== "asking" && (
        <label className="beside">
          Name holds
          <input className="field" value={state.words} onChange={(event) => change({ words: event.target.value }, "small")} />
        </label>
      )}
      {mayChange && isOfPeople(state.part) && (
        <fieldset className={styles.parts}>
          <legend className="unseen">Who</legend>
          {(Object.keys(STATES) as (keyof typeof STATES)[]).map((it) => (
            <button key={it} type="button" aria-pressed={state.state === it} onClick={() => change({ state: it })}>
              {STATES[it]}
            </button>
          ))}
        </fieldset>
      )}
      {mayChange && isOfPeople(state.part) && (
        <span className={styles.new}>
          <a className="button plain" href="/people/bring">
            From a table
          </a>
          <a className="button" href="/people/invite">
            <Plus size={14} aria-hidden="true" /> Ask in
          </a>
        </span>
      )}
      {mayChange && state.part === "groups" && (
        <button type="button" className={`button ${styles.new}`} onClick={onNew}>
          <Plus size={14} aria-hidden="true" /> A new group
        </button>
      )}
    </div>
  );
}

function View() {
  const [state, change] = usePeopleState();
  const [making, setMaking] = useState(false);
  const groups = useQuery({ queryKey: ["groups"], queryFn: () => ask(readGroups) });
  const mayChange = groups.data?.mayChange ?? false;
  const close = () => {
    change({ person: null, open: null });
    goHome();
  };
  const openGroup = (id: string) => change({ open: id, person: null });
  const lines = outlineOf(groups.data?.groups ?? [], state.words);
  return (
    <div className={styles.view} data-slip={state.person !== null || state.open !== null}>
      <div className={styles.main}>
        <Bar state={state} change={change} mayChange={mayChange} onNew={() => setMaking(true)} />
        {state.part === "asking" ? (
          <div className={styles.scroller}>
            <Asked none="Nobody asks for access to anything that you may admit to. Whoever comes upon a page that is not open to them may ask." />
          </div>
        ) : state.part === "passes" ? (
          <div className={styles.scroller}>
            <div className={passes.part}>
              <PassList place={null} placed none="No pass was made yet. One is made at a page: in its slip, under Rules." />
            </div>
          </div>
        ) : state.part === "groups" ? (
          <div className={styles.scroller}>
            {making && <NewGroup onDone={() => setMaking(false)} />}
            {groups.error && <p className="notice bad">{groups.error.message}</p>}
            {groups.data && lines.length === 0 && (
              <p className="message">{state.words ? "No group fits this." : "There are no groups yet."}</p>
            )}
            <GroupOutline lines={lines} open={state.open} onOpen={openGroup} />
          </div>
        ) : (
          groups.data && <PeopleTable key={state.part} state={state} change={change} mayChange={mayChange} />
        )}
        <KeyHelp name="people" keys={KEYS} />
      </div>
      {state.person !== null && <PersonPanel key={state.person} id={state.person} onGroup={openGroup} onClose={close} />}
      {state.open !== null && <GroupPanel key={state.open} id={state.open} onGroup={openGroup} onClose={close} />}
    </div>
  );
}

export default function PeopleView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
