/** The ledger: every change with who, when, what, note and ripple; filtered; taken back from here. */

import { QueryClientProvider, useInfiniteQuery, useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { checkLedger, type LedgerCheck, type LedgerLine, type LedgerPage, readLedger } from "../../contracts/ledger.ts";
import { LEDGER_ACTS } from "../../core/ledger/index.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { Told, When } from "../../ui/When.tsx";
import { RippleLines, RippleSummary } from "../change/RippleLines.tsx";
import { TakingBack } from "../change/TakingBack.tsx";
import { REGISTER_NAMES, Registers } from "../registers/Registers.tsx";
import { ask, queries } from "../shared/api.ts";
import { focusOn } from "../shared/focus.ts";
import { Parts } from "../shared/Parts.tsx";
import parts from "../shared/parts.module.css";
import { useAddress } from "../shared/useAddress.ts";
import styles from "./ledger.module.css";

interface Filter {
  who: string;
  act: string;
  place: string;
}

function readFilter(): Filter {
  const query = new URLSearchParams(window.location.search);
  return { who: query.get("who") ?? "", act: query.get("act") ?? "", place: query.get("place") ?? "" };
}

function addressOf(filter: Filter): string {
  const query = new URLSearchParams(Object.entries(filter).filter(([, value]) => value !== ""));
  return query.size > 0 ? `?${query}` : window.location.pathname;
}

/** What a change did, and where; what is about people or programs stands at no place. */
const lineWords = ({ title, text }: LedgerLine["what"][number]): string => (title ? `${title}: ${text}` : text);

function Line({ line }: { line: LedgerLine }) {
  const [open, setOpen] = useState(false);
  const first = line.what[0];
  return (
    <li className={styles.entry} data-open={open}>
      <button type="button" className={styles.head} data-seq={line.seq} aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className={styles.seq}>{line.seq}</span>
        <When instant={line.at} />
        <span>{line.who}</span>
        <span className={styles.act}>{line.takesBack ? `Took back entry ${line.takesBack}` : line.act}</span>
        <span className={styles.what}>
          {first ? <Told text={lineWords(first)} /> : line.note}
          {line.what.length > 1 && <span className="soft"> and {line.what.length - 1} more</span>}
        </span>
        <span className={styles.effect}>
          {line.takenBackBy ? (
            <span className="soft">taken back by {line.takenBackBy}</span>
          ) : (
            line.ripple && !line.ripple.empty && <RippleSummary ripple={line.ripple} />
          )}
        </span>
      </button>
      {open && (
        <div className={styles.body}>
          <div>
            <ul>
              {line.what.map((it, i) => (
                <li key={i} dir="auto">
                  <Told text={lineWords(it)} />
                </li>
              ))}
            </ul>
            {line.note && <p className={styles.note}>“{line.note}”</p>}
            {line.steppingIn && <p className="notice bad">This was a stepping in.</p>}
            <p className="soft">Hash {line.hash} …</p>
            {line.canTakeBack && (
              <TakingBack
                seq={line.seq}
                onDone={() => {
                  setOpen(false);
                  focusOn(`[data-seq="${line.seq}"]`);
                }}
              />
            )}
          </div>
          {line.ripple && (
            <div>
              <h3>What it did</h3>
              <RippleLines ripple={line.ripple} />
            </div>
          )}
        </div>
      )}
    </li>
  );
}

const BREAKS = {
  content: "was changed",
  link: "does not hang on the one before",
  words: "has other words than were written",
  missing: "is missing",
  order: "is older than the one before",
} as const;

/** Every break by its number, the first dozen in full. */
function brokenWords({ breaks, more }: LedgerCheck): string {
  const told = breaks.slice(0, 12).map(({ seq, what }) => `entry ${seq} ${BREAKS[what]}`);
  const rest = breaks.length - told.length;
  return `${breaks.length}${more ? " or more" : ""} breaks: ${told.join(", ")}${rest > 0 ? `, and ${rest} more` : ""}.`;
}

function Check() {
  const check = useMutation({ mutationFn: () => ask(checkLedger) });
  return (
    <>
      <button type="button" className="button" disabled={check.isPending} onClick={() => check.mutate()}>
        Verify the chain
      </button>
      {check.data && (
        <span role="status" className={check.data.sound ? styles.sound : styles.unsound}>
          {check.data.sound ? `All ${check.data.entries} entries fit.` : brokenWords(check.data)}
        </span>
      )}
      {check.error && <span>{check.error.message}</span>}
    </>
  );
}

type Named = readonly (readonly [key: string, name: string])[];

const ACTS: Named = Object.entries(LEDGER_ACTS).map(([key, { label }]) => [key, label] as const);

/** Choices of a list whose name holds the words; first that nothing is chosen. */
const among =
  (none: string, list: Named) =>
  async (words: string): Promise<Choice[]> =>
    [["", none] as const, ...list].flatMap(([key, name]) =>
      name.toLowerCase().includes(words.trim().toLowerCase()) ? [{ key, name, note: "" }] : [],
    );

function chosenOf(key: string, list: Named): Choice | null {
  const found = list.find(([it]) => it === key && key !== "");
  return found ? { key, name: found[1], note: "" } : null;
}

/** By whom, and what was done. */
function Filters({ filter, makers, onChange }: { filter: Filter; makers: LedgerPage["makers"]; onChange(part: Partial<Filter>): void }) {
  return (
    <>
      <Picker
        label="Who"
        chosen={chosenOf(
          filter.who,
          makers.map(({ id, name }) => [id, name]),
        )}
        find={among(
          "Anybody",
          makers.map(({ id, name }) => [id, name]),
        )}
        onChoose={({ key }) => onChange({ who: key })}
      />
      <Picker
        label="What"
        chosen={chosenOf(filter.act, ACTS)}
        find={among("Any change", ACTS)}
        onChoose={({ key }) => onChange({ act: key })}
      />
    </>
  );
}

function Changes() {
  const [filter, change] = useAddress(readFilter, addressOf);
  const query = useInfiniteQuery({
    queryKey: ["ledger", filter],
    queryFn: ({ pageParam }) => {
      const given = Object.entries({ ...filter, before: pageParam }).filter(([, value]) => value !== "");
      return ask(readLedger, { query: Object.fromEntries(given) });
    },
    initialPageParam: "",
    getNextPageParam: (page) => (page.next === null ? undefined : String(page.next)),
  });
  const pages = query.data?.pages ?? [];
  const first = pages[0];
  const lines = pages.flatMap((page) => page.lines);
  return (
    <div className={styles.view}>
      <div className="viewBar">
        <Filters filter={filter} makers={first?.makers ?? []} onChange={change} />
        {filter.place && (
          <button type="button" className="button" onClick={() => change({ place: "" })}>
            One place only ×
          </button>
        )}
        <span className="soft">{first ? `${first.total} entries` : ""}</span>
        <span className={styles.right}>{first?.siteKeeper && <Check />}</span>
      </div>
      {query.error && <p className="message">{query.error.message}</p>}
      {first && lines.length === 0 && (
        <p className="message">No change fits this filter. Every change of rules, versions and states stands here once it is made.</p>
      )}
      <ol className={styles.entries}>
        {lines.map((line) => (
          <Line key={line.seq} line={line} />
        ))}
        {query.hasNextPage && (
          <li className={styles.more}>
            <button type="button" className="button" disabled={query.isFetchingNextPage} onClick={() => query.fetchNextPage()}>
              Older entries
            </button>
          </li>
        )}
      </ol>
    </div>
  );
}

const PARTS = { "": "Changes", ...REGISTER_NAMES } as const;
type Part = keyof typeof PARTS;

const readPart = (): { part: Part } => {
  const part = new URLSearchParams(window.location.search).get("register") ?? "";
  return { part: part in PARTS ? (part as Part) : "" };
};

/** The changes themselves, and the registers: what stands because of them. */
function View() {
  const [{ part }, change] = useAddress<{ part: Part }>(readPart, (it) =>
    it.part === "" ? window.location.pathname : `?register=${it.part}`,
  );
  return (
    <div className={parts.whole}>
      <Parts label="Parts of the ledger" parts={PARTS} shown={part} onShow={(it) => change({ part: it })} />
      {part === "" ? <Changes /> : <Registers key={part} of={part} />}
    </div>
  );
}

export default function LedgerView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
