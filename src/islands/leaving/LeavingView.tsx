/** Leaving: what would be nobody's without somebody, line by line with a successor each; what it does beside it; one button. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type LeavingLine, type LeavingPerson, leave, lookAtLeaving, readLeaving } from "../../contracts/leaving.ts";
import { DateField } from "../../ui/DateField.tsx";
import { Picker } from "../../ui/Picker.tsx";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { tray } from "../change/store.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import halves from "../shared/halves.module.css";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import styles from "./leaving.module.css";

/** Members alone take things over. */
const findMembers = async (words: string): Promise<PrincipalChoice[]> => (await findPersons(words)).filter(({ isGuest }) => !isGuest);

interface Wished {
  /** To whom everything goes that no line says otherwise of. */
  to: PrincipalChoice | null;
  /** By line; null: it stays as it is. */
  lines: Record<string, PrincipalChoice | null>;
  until: string;
}

const idOf = (it: PrincipalChoice | null): string | null => (it && "person" in it.principal ? it.principal.person : null);

const orderOf = ({ to, lines, until }: Wished) => ({
  to: idOf(to),
  lines: Object.entries(lines).map(([key, it]) => ({ key, to: idOf(it) })),
  until: until || null,
});

interface LineProps {
  line: LeavingLine;
  wished: Wished;
  change(part: Partial<Wished>): void;
}

function Line({ line, wished, change }: LineProps) {
  const own = line.key in wished.lines;
  const whom = own ? wished.lines[line.key] : wished.to;
  const [choosing, setChoosing] = useState(false);
  const choose = (it: PrincipalChoice | null) => {
    change({ lines: { ...wished.lines, [line.key]: it } });
    setChoosing(false);
  };
  return (
    <li>
      <span>
        {line.words}
        {line.examples.length > 0 && (
          <small className="soft" dir="auto">
            {line.examples.join(", ")}
          </small>
        )}
      </span>
      <span className={styles.whom}>
        {whom ? <>to {whom.name}</> : <em>stays as it is</em>}{" "}
        <button
          type="button"
          className={styles.text}
          aria-expanded={choosing}
          aria-label={`Somebody else: ${line.words}`}
          onClick={() => setChoosing(!choosing)}
        >
          somebody else
        </button>
        {whom && (
          <button type="button" className={styles.text} aria-label={`Nobody: ${line.words}`} onClick={() => choose(null)}>
            nobody
          </button>
        )}
      </span>
      {choosing && <Picker<PrincipalChoice> label={`To whom: ${line.words}`} find={findMembers} onChoose={choose} autoFocus />}
    </li>
  );
}

interface LinesProps {
  person: LeavingPerson;
  wished: Wished;
  change(part: Partial<Wished>): void;
}

const Lines = ({ person, wished, change }: LinesProps) => (
  <section className={halves.left} aria-label="What is theirs">
    <h1>{person.name} leaves</h1>
    {person.alone.length > 0 && (
      <p className="notice">Nobody else keeps {person.alone.map(({ name }) => name).join(", ")}. Hand on the rules that name them there.</p>
    )}
    {person.lines.length === 0 ? (
      <p className="soft">Nothing would be nobody's without them.</p>
    ) : (
      <>
        <Picker<PrincipalChoice> label="Everything goes to" chosen={wished.to} find={findMembers} onChoose={(to) => change({ to })} />
        <ul className={styles.lines}>
          {person.lines.map((line) => (
            <Line key={line.key} line={line} wished={wished} change={change} />
          ))}
        </ul>
      </>
    )}
    <div className={styles.until}>
      <span>Last day</span>
      <DateField label="Last day" value={wished.until} onChange={(until) => change({ until })} as="end" none="now" ahead />
    </div>
  </section>
);

function View({ id }: { id: string }) {
  const { data: person, error } = useQuery({ queryKey: ["leaving", id], queryFn: () => ask(readLeaving, { params: { id } }) });
  const [wished, setWished] = useState<Wished>({ to: null, lines: {}, until: "" });
  const [done, setDone] = useState(false);
  const order = orderOf(wished);
  const {
    look,
    current,
    error: problem,
    again,
  } = useLook(`leaving ${id}`, order, (body) => ask(lookAtLeaving, { params: { id }, body }), person !== undefined && !done);
  const staged = useStaged({
    preview: current && look ? look : null,
    apply: (acting) => ask(leave, { params: { id }, body: { ...order, ...acting } }),
    onDone: ({ seq }) => {
      setDone(true);
      tray.done(seq, `${person?.name} was seen off`);
      void queries.invalidateQueries();
    },
    again,
  });
  if (!person) return <p className="message">{error?.message ?? "Reading …"}</p>;
  return (
    <div className={halves.view}>
      <Lines person={person} wished={wished} change={(part) => setWished({ ...wished, ...part })} />
      <section className={halves.right} aria-label="What it does">
        <h2>What it does</h2>
        {done ? (
          <p className="notice good" role="status">
            Done. <a href={`/people?person=${encodeURIComponent(id)}`}>Their slip</a>, or <a href="/people">all people</a>.
          </p>
        ) : (
          <>
            {problem && (
              <p className="notice bad" role="alert">
                {problem.message}
              </p>
            )}
            <p className="soft">
              {wished.until === ""
                ? "They are suspended at once, and their sessions end."
                : "They come in until their last day is over; what is handed on goes at once."}{" "}
              All of it is one change, and is taken back as one.
            </p>
            <ChangeSheet staged={staged} act={`See ${person.name} off`} />
          </>
        )}
      </section>
    </div>
  );
}

export default function LeavingView() {
  const id = new URLSearchParams(window.location.search).get("person") ?? "";
  return (
    <QueryClientProvider client={queries}>
      <View id={id} />
    </QueryClientProvider>
  );
}
