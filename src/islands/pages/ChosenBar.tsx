/** What can be done with the rows that are chosen: a few at once by the sheet of an act, many as a job. */
import { useState } from "react";
import { MOST_AT_ONCE } from "../../contracts/acts.ts";
import type { PageRow, PagesFilter } from "../../contracts/pages.ts";
import { LIFE_ACTS, type LifeActName, labelOfAct } from "../../core/lifecycle/index.ts";
import { TextField } from "../../ui/TextField.tsx";
import { openMany } from "../jobs/opened.ts";
import { openAct } from "../life/opened.ts";
import type { Chosen } from "../list/useList.ts";
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

/** Tags added or taken away, or a word of readiness, of all that is chosen. */
function Marks({ which }: { which: { places?: string[]; filter?: PagesFilter } }) {
  const [kind, setKind] = useState<"add" | "remove" | "readiness" | null>(null);
  const [words, setWords] = useState("");
  const list = words
    .split(",")
    .map((it) => it.trim())
    .filter(Boolean);
  const go = () => {
    if (kind === "readiness") openMany({ act: "readiness", readiness: words.trim() || null, ...which });
    else if (kind) openMany({ act: "tag", [kind]: list, ...which });
    setKind(null);
    setWords("");
  };
  const names = { add: "Add tags", remove: "Take tags away", readiness: "Set readiness" } as const;
  if (kind === null)
    return (
      <>
        {(["add", "remove", "readiness"] as const).map((it) => (
          <button key={it} type="button" className="button" onClick={() => setKind(it)}>
            {names[it]} …
          </button>
        ))}
      </>
    );
  return (
    <span className={styles.marks}>
      <TextField
        label={kind === "readiness" ? "Word of readiness, empty for none" : `${names[kind]}, with commas between`}
        value={words}
        onChange={setWords}
      />
      <button type="button" className="button" disabled={kind !== "readiness" && list.length === 0} onClick={go}>
        Look
      </button>
      <button type="button" className="button plain" onClick={() => setKind(null)}>
        Leave it
      </button>
    </span>
  );
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
        <button type="button" className="button plain" onClick={onClear}>
          choose none
        </button>
      </span>
    </section>
  );
}
