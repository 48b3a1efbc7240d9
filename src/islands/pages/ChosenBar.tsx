/** What can be done with the rows that are chosen: a few at once by the sheet of an act, many as a job. */
import { useState } from "react";
import { MOST_AT_ONCE } from "../../contracts/acts.ts";
import type { ManyBody } from "../../contracts/jobs.ts";
import type { PageRow, PagesFilter } from "../../contracts/pages.ts";
import { MOST_AT_ONCE_IN_REVIEW } from "../../contracts/review.ts";
import { LIFE_ACTS, type LifeActName, labelOfAct } from "../../core/lifecycle/index.ts";
import { PeriodField } from "../../ui/PeriodField.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { openMany } from "../jobs/opened.ts";
import { openAct } from "../life/opened.ts";
import type { Chosen } from "../list/useList.ts";
import { FlagForm } from "../review/FlagForm.tsx";
import styles from "./pages.module.css";

interface Props {
  chosen: Chosen;
  rows: PageRow[];
  total: number;
  filter: PagesFilter;
  onAll(): void;
  onShown(): void;
  onClear(): void;
}

type Which = { places?: string[]; filter?: PagesFilter };
const MARKS = { add: "Add tags", remove: "Take tags away", readiness: "Set readiness", period: "Review period" } as const;

/** What is said of all that is chosen: tags, a word of readiness, how often it is looked at again. */
function Marks({ which }: { which: Which }) {
  const [kind, setKind] = useState<keyof typeof MARKS | null>(null);
  const [words, setWords] = useState("");
  const [days, setDays] = useState<number | null>(null);
  const list = words
    .split(",")
    .map((it) => it.trim())
    .filter(Boolean);
  const go = () => {
    if (kind === "readiness") openMany({ act: "readiness", readiness: words.trim() || null, ...which });
    else if (kind === "period") openMany({ act: "period", period: days, ...which });
    else if (kind) openMany({ act: "tag", [kind]: list, ...which });
    setKind(null);
    setWords("");
  };
  if (kind === null)
    return (
      <>
        {(Object.keys(MARKS) as (keyof typeof MARKS)[]).map((it) => (
          <button key={it} type="button" className="button" onClick={() => setKind(it)}>
            {MARKS[it]} …
          </button>
        ))}
      </>
    );
  return (
    <span className={styles.marks}>
      {kind === "period" ? (
        <PeriodField label="Days until they are looked at again (empty: as their space has it)" value={days} onChange={setDays} />
      ) : (
        <TextField
          label={kind === "readiness" ? "Word of readiness, empty for none" : `${MARKS[kind]}, with commas between`}
          value={words}
          onChange={setWords}
        />
      )}
      <button type="button" className="button" disabled={(kind === "add" || kind === "remove") && list.length === 0} onClick={go}>
        Look
      </button>
      <button type="button" className="button plain" onClick={() => setKind(null)}>
        Leave it
      </button>
    </span>
  );
}

/** Says of all that is chosen that something is wrong with it. */
function Flagging({ ids, count, which }: { ids: readonly string[]; count: number; which: Which }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        Flag …
      </button>
    );
  const words = count === 1 ? "It" : `${count.toLocaleString("en")} pages`;
  const many = which.filter !== undefined || ids.length > MOST_AT_ONCE_IN_REVIEW;
  const onMany = many ? { onMany: (order: Pick<ManyBody, "act" | "kind" | "words">) => openMany({ ...order, ...which }) } : {};
  return <FlagForm places={ids} words={words} {...onMany} onDone={() => setOpen(false)} />;
}

export function ChosenBar({ chosen, rows, total, filter, onAll, onShown, onClear }: Props) {
  const ids = [...chosen.ids];
  const count = chosen.all ? total : ids.length;
  const known = chosen.all ? rows : rows.filter(({ id }) => chosen.ids.has(id));
  const possible = LIFE_ACTS.filter((act) => known.some((row) => row.acts.includes(act)));
  const which = chosen.all ? { filter } : { places: ids };
  // What was chosen by a filter may be somewhere else by now.
  if (count === 0) return null;
  const start = (act: LifeActName) => {
    if (!chosen.all && ids.length <= MOST_AT_ONCE && act !== "erase")
      openAct({ act, places: known.filter((row) => row.acts.includes(act)).map(({ id }) => id) });
    else openMany({ act, ...which });
  };
  return (
    <section className={styles.chosen} aria-label="Chosen pages">
      <strong>{count.toLocaleString("en")} chosen</strong>
      {!chosen.all && (
        <>
          <button type="button" className="button plain" onClick={onShown}>
            all shown
          </button>
          <button type="button" className="button plain" onClick={onAll}>
            all {total.toLocaleString("en")} that fit
          </button>
        </>
      )}
      <span className={styles.acts}>
        {possible.map((act) => (
          <button key={act} type="button" className="button" data-act={act} onClick={() => start(act)}>
            {labelOfAct(act)} …
          </button>
        ))}
        <Marks which={which} />
        <Flagging ids={ids} count={count} which={which} />
        <button type="button" className="button plain" onClick={onClear}>
          choose none
        </button>
      </span>
    </section>
  );
}
