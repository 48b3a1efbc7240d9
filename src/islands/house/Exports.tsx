/** Exports: the document, the effective access of a part row by row, and of the whole site in class form; now or as of an instant. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Everybody } from "../../contracts/answers.ts";
import { TextField } from "../../ui/TextField.tsx";
import { get } from "../shared/api.ts";
import { useFound } from "../shared/useFound.ts";
import styles from "./house.module.css";

const FORMATS = ["csv", "json", "xlsx"] as const;
const FILES = [
  ["cells", "place classes by person classes"],
  ["places", "what is in each place class"],
  ["people", "who is in each person class"],
  ["exceptions", "own drafts and passes, one by one"],
] as const;

const address = (path: string, query: Record<string, string>): string => `/access/v1/${path}?${new URLSearchParams(query)}`;

function Formats({ path, query }: { path: string; query: Record<string, string> }) {
  return (
    <span className={styles.formats}>
      {FORMATS.map((format) => (
        <a key={format} href={address(path, { ...query, format })} download>
          {format.toUpperCase()}
        </a>
      ))}
    </span>
  );
}

/** Whom or what to export, found by name: a space with everybody in it, a page with what is below it, one person everywhere. */
function Part({ asOf }: { asOf: Record<string, string> }) {
  const [words, setWords] = useState("");
  const places = useFound(words) ?? [];
  const { data: everybody } = useQuery({ queryKey: ["people"], queryFn: () => get<Everybody>("/api/people") });
  const wanted = words.trim().toLowerCase();
  const people = wanted.length < 2 ? [] : (everybody?.people ?? []).filter(({ name }) => name.toLowerCase().includes(wanted)).slice(0, 8);
  return (
    <>
      <TextField label="Name of a space, a page or a person" value={words} onChange={setWords} />
      <ul className={styles.list}>
        {places.slice(0, 8).map((place) => {
          const isSpace = place.space === place.title;
          return (
            <li key={place.id}>
              <span>
                {place.title} <small className="soft">{isSpace ? "space" : `in ${place.space}, with what is below`}</small>
              </span>
              <Formats path="export/effective" query={{ of: isSpace ? "space" : "subtree", id: place.id, ...asOf }} />
            </li>
          );
        })}
        {people.map((person) => (
          <li key={person.id}>
            <span>
              {person.name} <small className="soft">{person.kind}, everywhere</small>
            </span>
            <Formats path="export/effective" query={{ of: "person", id: person.id, ...asOf }} />
          </li>
        ))}
      </ul>
      {wanted.length >= 2 && places.length + people.length === 0 && <p className="soft">No place and nobody of that name.</p>}
    </>
  );
}

export function Exports() {
  const [day, setDay] = useState("");
  const instant = day && !Number.isNaN(Date.parse(day)) ? new Date(day).toISOString() : "";
  const asOf: Record<string, string> = instant ? { asOf: instant } : {};
  return (
    <section className={styles.section} aria-labelledby="exports">
      <h1 id="exports">Take out</h1>
      <label className={styles.line}>
        As of <input className="field" type="datetime-local" value={day} onChange={(event) => setDay(event.target.value)} />
        <small className="soft">{instant ? "By the rules, people and states of then." : "Left empty: now."}</small>
      </label>
      <h2>The access document</h2>
      <p className="soft">Everything about access as one file: to check, to keep, to edit and bring back.</p>
      <p className={styles.formats}>
        <a href={address("document", asOf)} download="access.json">
          Access document
        </a>
      </p>
      <h2>Who can do what, row by row</h2>
      <Part asOf={asOf} />
      <h2>The whole site in classes</h2>
      <ul className={styles.list}>
        {FILES.map(([file, what]) => (
          <li key={file}>
            <span>{what}</span>
            <Formats path="export/classes" query={{ file, ...asOf }} />
          </li>
        ))}
      </ul>
      <p className="soft">
        Programs: <a href="/access/v1/openapi.json">description of the interfaces</a>
      </p>
    </section>
  );
}
