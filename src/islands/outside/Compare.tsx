/** Two viewpoints beside each other: the tree of the places where they differ, what each has there, and why. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { compareViewpoints, compareWhy, type DifferingRow, exportCompared, type ViewpointsCompared } from "../../contracts/outside.ts";
import { DateField } from "../../ui/DateField.tsx";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { levelWord, Stair } from "../../ui/Stair.tsx";
import { ask } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import { findGroups, findSubjects } from "../shared/people.ts";
import { comparedOf, type OutsideState } from "./address.ts";
import styles from "./outside.module.css";

const KINDS: Choice[] = [
  { key: "public", name: "The public", note: "everybody, signed in or not" },
  { key: "guests", name: "Any guest", note: "imagined, in no group" },
  { key: "members", name: "Any member", note: "imagined, in no group" },
];

/** The public, an imagined guest or member, whoever is in a group, somebody who is here. */
async function findEyes(words: string): Promise<Choice[]> {
  const wanted = words.trim().toLowerCase();
  const kinds = KINDS.filter(({ name }) => name.toLowerCase().includes(wanted));
  return wanted === "" ? kinds : [...kinds, ...(await findSubjects(words))];
}

/** The same eyes in one more group: who is imagined can be in several. */
function alsoIn(eyes: string, group: string): string | null {
  const id = group.split(":")[1] ?? "";
  if (eyes === "members" || eyes === "guests") return `${eyes.slice(0, -1)}+${id}`;
  if (eyes.startsWith("group:")) return `member+${eyes.slice(6)}+${id}`;
  return /^(member|guest)\+/.test(eyes) ? `${eyes}+${id}` : null;
}

interface EyesProps {
  label: string;
  eyes: string;
  name: string;
  onChange(eyes: string): void;
}

function Eyes({ label, eyes, name, onChange }: EyesProps) {
  const [more, setMore] = useState(false);
  const imagined = alsoIn(eyes, "group:x") !== null;
  return (
    <div className={styles.eyes}>
      <Picker<Choice> label={label} chosen={{ key: eyes, name, note: "" }} find={findEyes} onChoose={({ key }) => onChange(key)} />
      <p>
        <strong dir="auto">{name}</strong>{" "}
        {imagined && (
          <button type="button" className="textButton" aria-expanded={more} onClick={() => setMore(!more)}>
            also in a group …
          </button>
        )}
      </p>
      {more && imagined && (
        <Picker<Choice>
          label={`${label}, also in`}
          find={findGroups}
          autoFocus
          onChoose={({ key }) => {
            setMore(false);
            onChange(alsoIn(eyes, key) ?? eyes);
          }}
        />
      )}
    </div>
  );
}

function Why({ row, state }: { row: DifferingRow; state: OutsideState }) {
  const { data, error } = useQuery({
    queryKey: ["compareWhy", row.id, comparedOf(state)],
    queryFn: () => ask(compareWhy, { query: { place: row.id, ...comparedOf(state) } }),
  });
  if (error) return <p className="notice bad">{error.message}</p>;
  return (
    <div className={styles.whys}>
      {data?.sides.map(({ answer, steps }, i) => (
        <div key={i}>
          <p>{answer}</p>
          <ol>
            {steps.slice(1).map((step, nth) => (
              <li key={nth}>{step}</li>
            ))}
          </ol>
        </div>
      ))}
    </div>
  );
}

const Has = ({ set }: { set: number }) => (
  <span className={styles.has}>
    <Stair set={set} /> {set === 0 ? "nothing" : levelWord(set)}
  </span>
);

function Tree({ found, state }: { found: ViewpointsCompared; state: OutsideState }) {
  const [open, setOpen] = useState("");
  const key = JSON.stringify(comparedOf(state));
  useEffect(() => setOpen(""), [key]);
  return (
    <ul className={styles.tree} aria-label="Where they differ">
      {found.rows.map((row, i) => (
        <li key={`${row.id} ${i}`} data-differs={row.sets !== null}>
          <div style={{ paddingLeft: row.depth * 18 }}>
            {row.sets ? (
              <button type="button" aria-expanded={open === row.id} onClick={() => setOpen(open === row.id ? "" : row.id)} dir="auto">
                {row.title}
              </button>
            ) : (
              <span className="soft" dir="auto">
                {row.title ?? "…"}
              </span>
            )}
          </div>
          {row.sets ? row.sets.map((set, nth) => <Has key={nth} set={set} />) : null}
          {open === row.id && row.sets && <Why row={row} state={state} />}
        </li>
      ))}
    </ul>
  );
}

interface CompareProps {
  state: OutsideState;
  looksBack: boolean;
  onChange(part: Partial<OutsideState>): void;
}

export function Compare({ state, looksBack, onChange }: CompareProps) {
  const { data, error } = useQuery({
    queryKey: ["compareViewpoints", comparedOf(state)],
    queryFn: () => ask(compareViewpoints, { query: comparedOf(state) }),
    placeholderData: keepPreviousData,
  });
  const [first = "", second = ""] = data?.names ?? [];
  return (
    <div className={styles.compare}>
      <section className={styles.sides} aria-label="Whose eyes">
        <Eyes label="First viewpoint" eyes={state.a} name={first} onChange={(a) => onChange({ a })} />
        <Eyes label="Second viewpoint" eyes={state.b} name={second} onChange={(b) => onChange({ b })} />
        {looksBack && (
          <div className={styles.eyes}>
            <span className={styles.asOf} aria-hidden="true">
              As of
            </span>
            <DateField label="As of" as="moment" none="now" value={state.at} onChange={(at) => onChange({ at })} />
          </div>
        )}
      </section>
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
      {data && (
        <>
          <p className={styles.summary} role="status">
            {data.differ === 0
              ? "They do not differ anywhere, as far as you may see rules."
              : `They differ at ${data.differ.toLocaleString("en")} ${data.differ === 1 ? "place" : "places"}.`}
            {data.unshown > 0 && ` ${data.unshown.toLocaleString("en")} of them are not shown: take them out as a file.`}{" "}
            <Formats of={exportCompared} query={comparedOf(state)} />
          </p>
          {data.differ > 0 && (
            <div className={styles.treeHead} aria-hidden="true">
              <span>Place</span>
              <span>{first}</span>
              <span>{second}</span>
            </div>
          )}
          <Tree found={data} state={state} />
        </>
      )}
    </div>
  );
}
