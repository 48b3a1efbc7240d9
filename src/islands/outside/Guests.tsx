/** Guests, each with their time on one scale of months: who is forgotten sticks out, and is ended, shortened or left with what they use. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import {
  GUEST_SHOWS,
  type GuestDetail,
  type GuestList,
  type GuestPlan,
  type GuestPlanBody,
  type GuestRow,
  type GuestShow,
  planGuests,
  readGuest,
  readGuests,
  UNUSED_DAYS,
} from "../../contracts/guests.ts";
import { LEVELS } from "../../core/access/model/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { When } from "../../ui/When.tsx";
import { tray } from "../change/store.ts";
import { ListTable } from "../list/ListTable.tsx";
import { useChosen, useList } from "../list/useList.ts";
import { ask } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import type { OutsideState } from "./address.ts";
import { COLUMNS, Scale, scaleOf } from "./guestColumns.tsx";
import styles from "./guests.module.css";
import outside from "./outside.module.css";

const SHOWS: Readonly<Record<GuestShow, string>> = {
  in: "Can come in",
  unused: `Unused for ${UNUSED_DAYS} days`,
  out: "Suspended or over",
};

const NONE: Readonly<Record<GuestShow, string>> = {
  in: "No guest reads anything the public does not, as far as you may see rules.",
  unused: `Every guest read something in ${UNUSED_DAYS} days, or came in since.`,
  out: "Nobody's time is over, and nobody is suspended, as far as you may know.",
};

type Act = GuestPlanBody["act"];

/** What an act comes to goes to the tray, guest by guest; of whom it comes to nothing, why. */
function useActs() {
  return useMutation({
    mutationFn: (body: GuestPlanBody) => ask(planGuests, { body }),
    onSuccess: (plans, { act }) => {
      for (const { guest, edits, sentences } of plans)
        if (edits.length > 0)
          tray.stageAll({ id: `person:${guest.id}`, title: guest.name }, act === "withdraw" ? "unused" : "person", edits, sentences);
      const staged = plans.filter(({ edits }) => edits.length > 0).length;
      say(staged > 0 ? `In the tray: ${staged} ${staged === 1 ? "guest" : "guests"}.` : "Nothing of it can be done.");
    },
  });
}

/** Why an act came to nothing, for those of whom it did. */
function Left({ plans }: { plans: readonly GuestPlan[] }) {
  const left = plans.filter(({ edits }) => edits.length === 0);
  if (left.length === 0) return null;
  const reasons = [...new Set(left.map(({ why }) => why))];
  return (
    <div className="notice" role="status">
      {reasons.map((why) => (
        <p key={why}>
          {left
            .filter((it) => it.why === why)
            .map(({ guest }) => guest.name)
            .join(", ")}
          : {why}
        </p>
      ))}
    </div>
  );
}

function Ways({ ways }: Pick<GuestDetail, "ways">) {
  return (
    <ul className={styles.ways} aria-label="Through which rules">
      {ways.map((way, i) => (
        <li key={i} data-unused={way.unused}>
          <span>
            {way.sentence} on{" "}
            {way.place.id === "" ? (
              way.place.name
            ) : (
              <a href={`/grid?place=${encodeURIComponent(way.place.id)}&tab=rules`} dir="auto">
                {way.place.name}
              </a>
            )}
            {way.until && (
              <>
                , until <When instant={way.until} as="end" />
              </>
            )}
          </span>
          <span className="soft">
            {way.pages.toLocaleString("en")} {way.pages === 1 ? "page" : "pages"},{" "}
            {way.usedAt ? (
              <>
                last read <When instant={way.usedAt} as="day" />
              </>
            ) : (
              "none read, as far as is kept"
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** What there is to know of one guest: through what, and page by page. */
function Detail({ id }: { id: string }) {
  const { data, error } = useQuery({ queryKey: ["outside", "guest", id], queryFn: () => ask(readGuest, { params: { id } }) });
  if (!data) return <p className={error ? "notice bad" : "soft"}>{error?.message ?? "Reading …"}</p>;
  return (
    <div className={styles.detail}>
      <section>
        <h3>Through what</h3>
        {data.ways.length === 0 ? <p className="soft">They read nothing that the public does not.</p> : <Ways ways={data.ways} />}
      </section>
      <section>
        <h3>Pages, those read last first</h3>
        <ul className={styles.pages}>
          {data.pages.map((page) => (
            <li key={page.id}>
              <a href={`/grid?place=${encodeURIComponent(page.id)}`} dir="auto" title={page.path.join(" / ")}>
                {page.name}
              </a>
              <span>{LEVELS[page.level]}</span>
              <span className="soft">{page.usedAt ? <When instant={page.usedAt} as="day" /> : "not read"}</span>
            </li>
          ))}
        </ul>
        {data.more > 0 && <p className="soft">and {data.more.toLocaleString("en")} more</p>}
      </section>
    </div>
  );
}

interface ChosenProps {
  count: number;
  busy: boolean;
  onAct(act: Act, until?: string): void;
  onClear(): void;
  field: React.RefObject<HTMLSpanElement | null>;
}

function Chosen({ count, busy, onAct, onClear, field }: ChosenProps) {
  return (
    <div className="viewBar">
      <strong>{count} chosen</strong>
      <button type="button" className="button" disabled={busy} onClick={() => onAct("end")}>
        End now
      </button>
      <span ref={field} className={styles.shorten}>
        Shorten to <DateField label="Shorten to" value="" onChange={(until) => onAct("shorten", until)} as="end" none="a day" ahead />
      </span>
      <button type="button" className="button" disabled={busy} onClick={() => onAct("withdraw")}>
        Withdraw what is unused
      </button>
      <button type="button" className="button plain" onClick={onClear}>
        Choose nobody
      </button>
    </div>
  );
}

interface PartProps {
  state: OutsideState;
  onChange(part: Partial<OutsideState>): void;
}

function Bar({ state, onChange, first }: PartProps & { first: GuestList | undefined }) {
  return (
    <div className="viewBar">
      <fieldset className={outside.shows}>
        <legend className="unseen">Which</legend>
        {GUEST_SHOWS.map((it) => (
          <button key={it} type="button" aria-pressed={state.guests === it} onClick={() => onChange({ guests: it })}>
            {SHOWS[it]} {first && <span className={styles.count}>{first.counts[it].toLocaleString("en")}</span>}
          </button>
        ))}
      </fieldset>
      {first && (
        <span className={outside.total}>
          <span className={styles.legend} aria-hidden="true">
            <b data-mark="signedIn" /> signed in <b data-mark="used" /> read
          </span>
          {first.uses.days === 0 ? (
            "When guests read pages is not kept, by the house rules"
          ) : (
            <>
              Reads are known since <When instant={first.uses.since} as="day" />, kept for {first.uses.days} days
            </>
          )}
        </span>
      )}
    </div>
  );
}

export function Guests({ state, onChange }: PartProps) {
  const query = { show: state.guests, sort: state.guestSort };
  const { rows, query: list } = useList<GuestRow, GuestList>(["outside", "guests", query], (after) =>
    ask(readGuests, { query: { ...query, ...(after === undefined ? {} : { after }) } }),
  );
  const { chosen, toggle, choose, clear } = useChosen(JSON.stringify(query));
  const [open, setOpen] = useState<string | null>(null);
  const field = useRef<HTMLSpanElement>(null);
  const acts = useActs();
  const [first] = list.data?.pages ?? [];
  const act = (guests: string[], what: Act, until: string | null = null) => {
    if (guests.length > 0) acts.mutate({ guests, act: what, until });
  };
  const ids = [...chosen.ids];
  const mineOf = (row: GuestRow) => (chosen.ids.has(row.id) ? ids : [row.id]);
  const shorten = (row: GuestRow) => {
    choose(mineOf(row));
    requestAnimationFrame(() => field.current?.querySelector("input")?.focus());
  };
  return (
    <div className={styles.guests}>
      <Bar state={state} onChange={onChange} first={first} />
      {ids.length > 0 && (
        <Chosen count={ids.length} busy={acts.isPending} onAct={(what, until) => act(ids, what, until)} onClear={clear} field={field} />
      )}
      {(acts.error ?? list.error) && (
        <p className="notice bad" role="alert">
          {(acts.error ?? list.error)?.message}
        </p>
      )}
      {acts.data && <Left plans={acts.data} />}
      {first && rows.length === 0 ? (
        <p className="message">{NONE[state.guests]}</p>
      ) : (
        <Scale.Provider value={scaleOf(rows, Date.now())}>
          <ListTable
            label="Guests"
            rows={rows}
            columns={COLUMNS}
            shown={["name", "levels", "time", "usedAt"]}
            sort={{ by: state.guestSort, order: "up" }}
            onSort={(by) => onChange({ guestSort: by as OutsideState["guestSort"] })}
            isChosen={({ id }) => chosen.ids.has(id)}
            onChoose={({ id }) => toggle(id)}
            onOpen={({ id }) => setOpen(open === id ? null : id)}
            keys={{
              e: (row) => act(mineOf(row), "end"),
              s: shorten,
              u: (row) => act(mineOf(row), "withdraw"),
              p: ({ id }) => window.location.assign(`/people?part=guests&person=${encodeURIComponent(id)}`),
            }}
            open={open}
            strip={({ id }) => <Detail id={id} />}
            edge={() => "guests"}
            onNearEnd={() => list.hasNextPage && !list.isFetchingNextPage && void list.fetchNextPage()}
          />
        </Scale.Provider>
      )}
    </div>
  );
}
