/** When a routine runs: chosen by days and a time, or typed as a cron line; with its next five times. */
import { useState } from "react";
import { nextTimes, parseCron } from "../../core/routines/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { zonesNamed } from "../../ui/zones.ts";
import { type Draft, hereZone } from "./draft.ts";
import styles from "./routines.module.css";

interface Props {
  draft: Draft;
  onChange(change: Partial<Draft>): void;
}

const DAYS: readonly [number, string][] = [
  [1, "Mon"],
  [2, "Tue"],
  [3, "Wed"],
  [4, "Thu"],
  [5, "Fri"],
  [6, "Sat"],
  [0, "Sun"],
];

/** Days and a time, where a cron line says no more than that. */
interface Simple {
  time: string;
  weekdays: readonly number[];
  monthDay: number | null;
}

const two = (value: number): string => String(value).padStart(2, "0");

function simple(cron: string): Simple | null {
  const fields = parseCron(cron);
  if (typeof fields === "string") return null;
  const { minute, hour, day, month, weekday } = fields;
  if (minute?.length !== 1 || hour?.length !== 1 || month || (day && (weekday || day.length > 1))) return null;
  return { time: `${two(hour[0] ?? 0)}:${two(minute[0] ?? 0)}`, weekdays: weekday ?? [], monthDay: day?.[0] ?? null };
}

function cronOf({ time, weekdays, monthDay }: Simple): string {
  const [hour = 0, minute = 0] = time.split(":").map(Number);
  const days = weekdays.length === 0 || weekdays.length === 7 ? "*" : [...weekdays].sort((a, b) => a - b).join(",");
  return `${minute} ${hour} ${monthDay ?? "*"} * ${monthDay === null ? days : "*"}`;
}

const isTime = (typed: string): boolean => /^([01]?\d|2[0-3]):[0-5]\d$/.test(typed.trim());

/** A clock time, typed; only whole ones are taken. */
function TimeField({ value, onChange }: { value: string; onChange(time: string): void }) {
  const [typed, setTyped] = useState(value);
  return (
    <>
      <TextField
        label="At"
        className={styles.short}
        value={typed}
        onChange={(words) => {
          setTyped(words);
          if (isTime(words)) onChange(words.trim());
        }}
      />
      {!isTime(typed) && <p className="notice bad">A time, as 06:00.</p>}
    </>
  );
}

function Days({ value, onChange }: { value: Simple; onChange(value: Simple): void }) {
  const turn = (day: number) =>
    onChange({
      ...value,
      monthDay: null,
      weekdays: value.weekdays.includes(day) ? value.weekdays.filter((it) => it !== day) : [...value.weekdays, day],
    });
  const each = value.monthDay === null;
  return (
    <fieldset className={styles.days}>
      <legend className="unseen">On which days</legend>
      <label>
        <input type="radio" name="days" checked={each} onChange={() => onChange({ ...value, monthDay: null })} />{" "}
        {value.weekdays.length === 0 ? "every day" : "on"}
      </label>
      <span className={styles.week}>
        {DAYS.map(([day, name]) => (
          <button
            key={day}
            type="button"
            className="button plain"
            aria-pressed={each && value.weekdays.includes(day)}
            onClick={() => turn(day)}
          >
            {name}
          </button>
        ))}
      </span>
      <label>
        <input type="radio" name="days" checked={!each} onChange={() => onChange({ ...value, monthDay: 1 })} /> each month, on the{" "}
        <input
          className={`field ${styles.number}`}
          aria-label="Day of the month"
          inputMode="numeric"
          value={value.monthDay ?? ""}
          placeholder="1"
          onChange={({ target }) => {
            const day = Number(target.value);
            if (Number.isInteger(day) && day >= 1 && day <= 31) onChange({ ...value, monthDay: day });
          }}
        />
      </label>
    </fieldset>
  );
}

/** The next five times, on clocks of that zone. */
export function Times({ cron, zone }: Pick<Draft, "cron" | "zone">) {
  const times = nextTimes({ cron, zone }, Date.now(), 5);
  const said = new Intl.DateTimeFormat("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone,
  });
  if (times.length === 0) return <p className="notice bad">That time never comes.</p>;
  return (
    <ol className={styles.times} aria-label="Its next times">
      {times.map((time) => (
        <li key={time} title={new Date(time).toISOString()}>
          {said.format(time)}
        </li>
      ))}
    </ol>
  );
}

export function WhenPart({ draft, onChange }: Props) {
  const chosen = simple(draft.cron);
  const [line, setLine] = useState(draft.cron);
  const wrong = parseCron(line);
  const put = (value: Simple) => {
    const cron = cronOf(value);
    setLine(cron);
    onChange({ cron });
  };
  const findZones = async (words: string) =>
    zonesNamed(words, hereZone()).map((zone) => ({ key: zone, name: zone.replaceAll("_", " "), note: "" }));
  return (
    <div className={styles.when}>
      {chosen ? (
        <>
          <Days value={chosen} onChange={put} />
          <TimeField key={chosen.time} value={chosen.time} onChange={(time) => put({ ...chosen, time })} />
        </>
      ) : (
        <p className="soft">
          Its line says more than days and a time.{" "}
          <button type="button" className="textButton" onClick={() => put({ time: "06:00", weekdays: [1], monthDay: null })}>
            Mondays at 06:00 instead
          </button>
        </p>
      )}
      <Picker
        label="On clocks of"
        chosen={{ key: draft.zone, name: draft.zone.replaceAll("_", " "), note: "" }}
        find={findZones}
        onChoose={({ key }) => onChange({ zone: key })}
      />
      <details>
        <summary>As a cron line</summary>
        <TextField
          label="Minute, hour, day of the month, month, day of the week"
          value={line}
          onChange={(words) => {
            setLine(words);
            if (typeof parseCron(words) !== "string") onChange({ cron: words.trim() });
          }}
        />
        {typeof wrong === "string" && <p className="notice bad">{wrong}</p>}
      </details>
      <Times cron={draft.cron} zone={draft.zone} />
    </div>
  );
}
