/** Pledges: broken ones first, each with where and why it does not hold and what would mend it; and a new one, from a sentence with blanks. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type PledgeRow, type PledgeTurn, readPledge, readPledges } from "../../contracts/pledges.ts";
import { When } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import { Forecast } from "./Forecast.tsx";
import { NewPledge } from "./NewPledge.tsx";
import styles from "./pledges.module.css";
import { Witnesses } from "./Witnesses.tsx";

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** "since 17 Oct, by Lena (entry 12: Moved)". */
const Since = ({ turn }: { turn: PledgeTurn }) => (
  <>
    since <When instant={turn.at} as="day" />,{" "}
    {turn.entry ? `by ${turn.entry.who} (entry ${turn.entry.seq}: ${turn.entry.act})` : "by itself: something ended"}
  </>
);

/** When it broke and mended before. */
const History = ({ turns }: Pick<PledgeRow, "turns">) =>
  turns.length < 2 ? null : (
    <ol className={styles.turns} aria-label="When it broke and mended">
      {turns.slice(1).map((turn) => (
        <li key={turn.at + String(turn.broken)} className="soft">
          {turn.broken ? "broken" : "held"} <Since turn={turn} />
        </li>
      ))}
    </ol>
  );

function Detail({ row }: { row: PledgeRow }) {
  const { data, error } = useQuery({
    queryKey: ["pledges", row.pledge.id],
    queryFn: () => ask(readPledge, { params: { id: row.pledge.id } }),
    enabled: row.count > 0,
  });
  return (
    <div className={styles.detail}>
      {row.count > 0 && (data ? <Witnesses {...data} /> : <p className={error ? "notice bad" : "soft"}>{error?.message ?? "Reading …"}</p>)}
      <History turns={row.turns} />
    </div>
  );
}

/** Takes a pledge away, through the tray. */
function takeAway({ pledge, sentence }: PledgeRow): void {
  tray.stage(
    { id: "pledges", title: "Pledges" },
    pledge.id,
    { kind: "pledge", pledge: pledge.id, remove: pledge },
    `no longer: ${sentence}`,
  );
  say(`In the tray: ${sentence} is not pledged any more.`);
}

function Line({ row, open, onOpen }: { row: PledgeRow; open: boolean; onOpen(): void }) {
  const { pledge, sentence, count, places, turns } = row;
  const waits = useTray().items.some(({ change }) => change.edits.some((edit) => edit.kind === "pledge" && edit.pledge === pledge.id));
  const press = lineKeys({ Enter: onOpen, d: () => takeAway(row) });
  const [last] = turns;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: its keys act on it
    <li tabIndex={0} data-broken={count > 0} data-pledge={pledge.id} onKeyDown={press}>
      <div className={styles.line}>
        <div>
          <button type="button" className={styles.sentence} aria-expanded={open} onClick={onOpen}>
            {capital(sentence)}.
          </button>
          {pledge.why && <p className={styles.why}>{pledge.why}</p>}
          <p className={styles.why}>
            {count > 0 ? (
              <strong className={styles.broken}>
                Broken at {places.toLocaleString("en")} {places === 1 ? "place" : "places"}, {count.toLocaleString("en")}{" "}
                {count === 1 ? "time" : "times"}
              </strong>
            ) : (
              "Holds"
            )}
            {last && last.broken === count > 0 && (
              <>
                {" "}
                <Since turn={last} />
              </>
            )}
          </p>
        </div>
        {waits ? (
          <span className="soft">in the tray</span>
        ) : (
          <button type="button" className="button plain" onClick={() => takeAway(row)} title={`Not pledged any more: ${sentence}`}>
            Take away <kbd>d</kbd>
          </button>
        )}
      </div>
      {open && <Detail row={row} />}
    </li>
  );
}

export function Pledges() {
  const { data, error } = useQuery({ queryKey: ["pledges"], queryFn: () => ask(readPledges) });
  const broken = data?.pledges.filter(({ count }) => count > 0) ?? [];
  const [opened, setOpened] = useState<string | null | undefined>(undefined);
  // What is broken is open from the start: it is what one comes for.
  const open = opened === undefined ? (broken[0]?.pledge.id ?? null) : opened;
  return (
    <>
      <section className={styles.list} aria-labelledby="pledges">
        <h1 id="pledges">What must stay true</h1>
        {error && (
          <p className="notice bad" role="alert">
            {error.message}
          </p>
        )}
        {data?.pledges.length === 0 && (
          <p className="message">Nothing is pledged yet. Say at the right what must stay true, and try whether it does.</p>
        )}
        <ul className={styles.pledges} aria-label="Pledges">
          {data?.pledges.map((row) => (
            <Line
              key={row.pledge.id}
              row={row}
              open={open === row.pledge.id}
              onOpen={() => setOpened(open === row.pledge.id ? null : row.pledge.id)}
            />
          ))}
        </ul>
      </section>
      <div className={styles.making}>
        <NewPledge />
        <Forecast />
      </div>
    </>
  );
}
