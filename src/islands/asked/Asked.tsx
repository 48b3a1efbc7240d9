/** Who asks for access where one may admit: what they say, the best change that lets them in and its ripple, until a date; or declined. */
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type AskedRow, decline, letIn, lookAtLettingIn, readAsked } from "../../contracts/asked.ts";
import { LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { ask, queries } from "../shared/api.ts";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import styles from "./asked.module.css";

const settled = async (words: string) => {
  say(words);
  await queries.invalidateQueries();
};

/** The change that lets them in, with its end and its ripple. */
export function LettingIn({ row, onClose }: { row: AskedRow; onClose(): void }) {
  const [until, setUntil] = useState("");
  const end = until === "" ? null : until;
  const params = { id: row.id };
  const { data, error, refetch } = useQuery({
    queryKey: ["lettingIn", row.id, end],
    queryFn: () => ask(lookAtLettingIn, { params, body: { until: end } }),
    placeholderData: keepPreviousData,
  });
  const staged = useStaged({
    preview: data?.preview ?? null,
    apply: (acting) => ask(letIn, { params, body: { ...acting, until: end } }),
    onDone: () => void settled(`${row.who.name} is let in to ${row.place.name}.`),
    again: () => void refetch(),
  });
  return (
    <section className={styles.letting} aria-label={`Let ${row.who.name} in`}>
      <span className="labelled">
        <span aria-hidden="true">Until</span>
        <DateField label="Until" as="end" none="without end" ahead value={until} onChange={setUntil} />
      </span>
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
      {data?.preview ? (
        <ChangeSheet staged={staged} act="Let them in" leave={{ words: "Not now", go: onClose }}>
          <ul className={styles.edits}>
            {data.sentences.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          {data.endless && <p className="notice">They come in by a fence that lets them through: this does not end by itself.</p>}
        </ChangeSheet>
      ) : (
        data && <p className="notice">{data.why}</p>
      )}
    </section>
  );
}

export function Declining({ row, onClose }: { row: AskedRow; onClose(): void }) {
  const [word, setWord] = useState("");
  const act = useMutation({
    mutationFn: () => ask(decline, { params: { id: row.id }, body: { word } }),
    onSuccess: () => settled(`${row.who.name} is not let in. They are not told.`),
  });
  return (
    <form
      className={styles.declining}
      onSubmit={(event) => {
        event.preventDefault();
        act.mutate();
      }}
    >
      <TextField label="A word on why, for those who may admit here" value={word} onChange={setWord} most={LIMITS.note} autoFocus />
      <span className="acts">
        <button type="submit" className="button" disabled={act.isPending || word.length > LIMITS.note}>
          Decline
        </button>
        <button type="button" className="button plain" onClick={onClose}>
          Not now
        </button>
      </span>
      {act.error && (
        <p className="notice bad" role="alert">
          {act.error.message}
        </p>
      )}
    </form>
  );
}

function Line({ row, placed }: { row: AskedRow; placed: boolean }) {
  const [open, setOpen] = useState<"in" | "decline" | null>(null);
  const toggle = (what: "in" | "decline") => setOpen(open === what ? null : what);
  const press = lineKeys({ l: () => toggle("in"), ...(row.declined ? {} : { d: () => toggle("decline") }) });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: its keys act on it
    <li className={styles.line} tabIndex={0} data-asked={row.who.id} data-guest={row.who.kind === "guest"} onKeyDown={press}>
      <p>
        <a href={`/people?part=${row.who.kind}s&person=${encodeURIComponent(row.who.id)}`} tabIndex={-1} dir="auto">
          {row.who.name}
        </a>
        {row.who.kind === "guest" && ", guest"}
        {row.broughtInBy && `, brought in by ${row.broughtInBy}`}{" "}
        {placed && (
          <>
            asks to read{" "}
            <a href={`/grid?place=${encodeURIComponent(row.place.id)}`} tabIndex={-1} dir="auto">
              {row.place.name}
            </a>{" "}
            <small className="soft" dir="auto">
              {row.path.join(" / ")}
            </small>
          </>
        )}
      </p>
      <blockquote dir="auto">{row.reason}</blockquote>
      <p className="soft">
        asked <When instant={row.at} as="day" />, lapses <When instant={row.lapses} as="day" />
        {row.declined && (
          <>
            ; declined by {row.declined.by}, <When instant={row.declined.at} as="day" />
            {row.declined.word && (
              <>
                : “<span dir="auto">{row.declined.word}</span>”
              </>
            )}
          </>
        )}
      </p>
      <span className="acts">
        <button type="button" className="button" aria-expanded={open === "in"} onClick={() => toggle("in")}>
          Let in … <kbd>l</kbd>
        </button>
        {!row.declined && (
          <button type="button" className="button plain" aria-expanded={open === "decline"} onClick={() => toggle("decline")}>
            Decline … <kbd>d</kbd>
          </button>
        )}
      </span>
      {open === "in" && <LettingIn row={row} onClose={() => setOpen(null)} />}
      {open === "decline" && <Declining row={row} onClose={() => setOpen(null)} />}
    </li>
  );
}

/** Everybody who asks, or who asks for one place; `none`: what stands there where nobody does. */
export function Asked({ place, none }: { place?: string; none: string }) {
  const { data, error } = useQuery({
    queryKey: ["asked", place ?? ""],
    queryFn: () => ask(readAsked, { query: place === undefined ? {} : { place } }),
  });
  if (error)
    return (
      <p className="notice bad" role="alert">
        {error.message}
      </p>
    );
  if (!data) return null;
  if (data.rows.length === 0) return none === "" ? null : <p className="message">{none}</p>;
  return (
    <>
      {place !== undefined && <h3>Asking for access</h3>}
      <ul className={styles.lines} aria-label="Who asks for access">
        {data.rows.map((row) => (
          <Line key={row.id} row={row} placed={place === undefined} />
        ))}
      </ul>
      {data.more > 0 && <p className="soft">and {data.more.toLocaleString("en")} older ones</p>}
    </>
  );
}
