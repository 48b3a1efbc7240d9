/** Rules that do nothing, or not what they seem to: by kind, each with what mends it, put in the tray by its key. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { exportIdle, IDLE_KINDS, type IdleKind, type IdleRow, readIdle } from "../../contracts/idle.ts";
import { tray, useTray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import styles from "./idle.module.css";

const KIND_WORDS: Readonly<Record<IdleKind, string>> = {
  deadEnds: "Links that lead the public nowhere",
  landingOnly: "Fences on a landing page alone",
  admitsWithoutGrant: "Admitted, and let in by no grant",
  cancelled: "Grants that are taken away again",
  suspended: "Grants to somebody suspended",
  nobodyInGroup: "Grants to a group with nobody in it",
  freshWithoutGrants: "Starts fresh, and grants nothing",
  stopsNobody: "Fences that stop nobody",
  covered: "Grants that give nothing new",
  ended: "Grants that ended",
};

/** One mend of each rule waits in the tray at most. */
const ruleOf = (row: IdleRow): string => `idle ${row.mend?.sentence ?? ""}`;

function mend(row: IdleRow): void {
  if (!row.mend) return;
  tray.stage({ id: row.place.id, title: row.place.name }, ruleOf(row), row.mend.edit, row.mend.sentence);
  say(`In the tray: ${row.mend.sentence}.`);
}

function Line({ row, waits }: { row: IdleRow; waits: boolean }) {
  const press = lineKeys(waits ? {} : { m: () => mend(row) });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: its keys act on it
    <li tabIndex={0} className={styles.line} onKeyDown={press}>
      <div>
        <a href={`/grid?place=${encodeURIComponent(row.place.id)}&tab=rules`} tabIndex={-1} dir="auto">
          {row.place.name}
        </a>{" "}
        <small className="soft" dir="auto">
          {row.path.join(" / ")}
        </small>
        <p>{row.sentence}</p>
      </div>
      {waits ? (
        <span className="soft">in the tray</span>
      ) : row.mend ? (
        <button type="button" className="button" title={row.mend.sentence} onClick={() => mend(row)}>
          Mend <kbd>m</kbd>
        </button>
      ) : (
        <span className="soft">to be thought about</span>
      )}
    </li>
  );
}

interface Props {
  kind: IdleKind | "";
  onKind(kind: IdleKind | ""): void;
}

export function IdleRules({ kind, onKind }: Props) {
  const query = kind === "" ? {} : { kind };
  const { data, error } = useQuery({
    queryKey: ["idle", kind],
    queryFn: () => ask(readIdle, { query }),
    placeholderData: keepPreviousData,
  });
  const waiting = new Set(useTray().items.map(({ id }) => id));
  const all = data?.counts.reduce((sum, { count }) => sum + count, 0) ?? 0;
  const choice = (it: IdleKind | "", words: string, count: number) => (
    <li key={it}>
      <button type="button" aria-pressed={kind === it} disabled={count === 0 && kind !== it} onClick={() => onKind(it)}>
        {words}
      </button>
      <span>{count.toLocaleString("en")}</span>
    </li>
  );
  return (
    <div className={styles.view}>
      <aside className={styles.kinds} aria-label="Kinds">
        <ul>
          {choice("", "All of them", all)}
          {IDLE_KINDS.map((it) => choice(it, KIND_WORDS[it], data?.counts.find((of) => of.kind === it)?.count ?? 0))}
        </ul>
        <p className="acts">
          <Formats of={exportIdle} query={query} />
        </p>
      </aside>
      <div className={styles.list}>
        {error && (
          <p className="notice bad" role="alert">
            {error.message}
          </p>
        )}
        {!data && !error && <p className="message">Looking at every rule …</p>}
        {data && data.rows.length === 0 && <p className="message">Every rule here does what it says, as far as you may see rules.</p>}
        <ul aria-label="Idle rules">
          {data?.rows.map((row, i) => (
            <Line key={`${row.place.id} ${i}`} row={row} waits={waiting.has(`rule:${row.place.id}:${ruleOf(row)}`)} />
          ))}
        </ul>
        {data && data.more > 0 && (
          <p className="message">and {data.more.toLocaleString("en")} more: choose a kind, or take them out as a file.</p>
        )}
      </div>
    </div>
  );
}
