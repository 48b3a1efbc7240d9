/** What opens or closes by itself in the days to come: a line of the time with a mark for each, and the same as a list by day. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { makeFeed, readFeed, withdrawFeed } from "../../contracts/feed.ts";
import { type Forecast as Answer, FORECAST_DAYS, type ForecastDays, type ForecastRow, readForecast } from "../../contracts/forecast.ts";
import { longDate, shortDate } from "../../ui/dates.ts";
import { When } from "../../ui/When.tsx";
import { ask, queries } from "../shared/api.ts";
import { Secret } from "../shared/Secret.tsx";
import styles from "./pledges.module.css";

type Kind = "breaks" | "refused" | "opens" | "closes";

const kindOf = ({ breaks, refused, opens }: ForecastRow): Kind =>
  breaks.length > 0 ? "breaks" : refused !== null ? "refused" : opens ? "opens" : "closes";

/** The time as a line; what was refused waits at its beginning. */
function Line({ rows, from, to }: Answer) {
  const [start, end] = [Date.parse(from), Date.parse(to)];
  const at = (instant: string) => Math.max(0, Math.min(100, ((Date.parse(instant) - start) / (end - start)) * 100));
  return (
    <div className={styles.time} aria-hidden="true">
      {rows.map((row, i) => (
        <i key={i} data-kind={kindOf(row)} style={{ left: `${at(row.at)}%` }} title={`${shortDate(row.at)}: ${row.sentence}`} />
      ))}
      <span>{shortDate(from)}</span>
      <span>{shortDate(to)}</span>
    </div>
  );
}

const Row = ({ row }: { row: ForecastRow }) => (
  <li data-kind={kindOf(row)}>
    <span>
      {row.place ? <a href={`/grid?place=${encodeURIComponent(row.place.id)}&tab=rules`}>{row.sentence}</a> : row.sentence}{" "}
      <small className="soft">
        <When instant={row.at} as="time" />
      </small>
    </span>
    {row.refused !== null && <p className={styles.broken}>Was refused, and waits: {row.refused}</p>}
    {row.breaks.map((sentence) => (
      <p key={sentence} className={styles.broken}>
        Breaks the pledge: {sentence}.
      </p>
    ))}
    <p className={styles.why}>
      {row.effect === null
        ? "To whom is worked out nearer to that day."
        : row.effect.length > 0
          ? row.effect.join("; ")
          : row.refused === null && "Nobody gains or loses anything by it."}
    </p>
  </li>
);

/** Rows of each day, in order. */
function byDay(rows: readonly ForecastRow[]): [day: string, rows: ForecastRow[]][] {
  const days = new Map<string, ForecastRow[]>();
  for (const row of rows) {
    const day = longDate(row.at);
    days.set(day, [...(days.get(day) ?? []), row]);
  }
  return [...days];
}

/** The same as a calendar to be read elsewhere: its address is shown once, and holds no titles unless that was chosen. */
function Feed() {
  const { data } = useQuery({ queryKey: ["feed"], queryFn: () => ask(readFeed, {}) });
  const [titles, setTitles] = useState(false);
  const done = () => queries.invalidateQueries({ queryKey: ["feed"] });
  const make = useMutation({ mutationFn: () => ask(makeFeed, { body: { titles } }), onSettled: done });
  const end = useMutation({
    mutationFn: () => ask(withdrawFeed, {}),
    onSettled: () => {
      make.reset();
      return done();
    },
  });
  const error = make.error ?? end.error;
  const feed = data?.feed;
  return (
    <details className={styles.feed}>
      <summary>As a calendar</summary>
      {make.data ? (
        <p>
          Give this address to your calendar. It is shown this once: <Secret label="Address of the calendar" text={make.data.address} />
        </p>
      ) : (
        feed && (
          <p>
            You have one {feed.titles ? "with titles" : "without titles"}, made <When instant={feed.madeAt} as="day" />
            {feed.usedAt ? (
              <>
                , last read <When instant={feed.usedAt} />
              </>
            ) : (
              ", never read"
            )}
            .
          </p>
        )
      )}
      <label>
        <input type="checkbox" checked={titles} onChange={(event) => setTitles(event.target.checked)} /> Name pages and people in it:
        whoever has the address reads them
      </label>
      <p className="acts">
        <button type="button" className="button" disabled={make.isPending} onClick={() => make.mutate()}>
          {feed ? "Make it anew" : "Make a calendar"}
        </button>
        {feed && (
          <button type="button" className="button plain" disabled={end.isPending} onClick={() => end.mutate()}>
            Withdraw it
          </button>
        )}
      </p>
      {error && <p className="notice bad">{error.message}</p>}
    </details>
  );
}

export function Forecast() {
  const [days, setDays] = useState<ForecastDays>("30");
  const { data, error } = useQuery({ queryKey: ["forecast", days], queryFn: () => ask(readForecast, { query: { days } }) });
  return (
    <section className={styles.forecast} aria-labelledby="forecast">
      <div className={styles.forecastHead}>
        <h2 id="forecast">What comes by itself</h2>
        <fieldset className={styles.days}>
          <legend className="unseen">How far</legend>
          {FORECAST_DAYS.map((it) => (
            <button key={it} type="button" aria-pressed={days === it} onClick={() => setDays(it)}>
              {it} days
            </button>
          ))}
        </fieldset>
      </div>
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
      {data && (
        <>
          <Line {...data} />
          {data.rows.length === 0 && <p className="soft">Nothing ends and nothing goes live by itself in these days.</p>}
          {byDay(data.rows).map(([day, rows]) => (
            <div key={day}>
              <h3>{day}</h3>
              <ul className={styles.comings} aria-label={day}>
                {rows.map((row, i) => (
                  <Row key={i} row={row} />
                ))}
              </ul>
            </div>
          ))}
          <Feed />
          {data.more > 0 && <p className="soft">and {data.more.toLocaleString("en")} later ones</p>}
        </>
      )}
    </section>
  );
}
