/** Exports: the document, the effective access of a part row by row, and of the whole site in class form; now or as of an instant. */

import { useState } from "react";
import { findPeople } from "../../contracts/people.ts";
import { exportClasses, exportDocument, exportEffective } from "../../contracts/programs.ts";
import { find } from "../../contracts/search.ts";
import { DateField } from "../../ui/DateField.tsx";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { ask } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import { placeNote } from "../shared/useFound.ts";
import styles from "./house.module.css";

const FILES = [
  ["cells", "place classes by person classes"],
  ["places", "what is in each place class"],
  ["people", "who is in each person class"],
  ["exceptions", "own drafts and passes, one by one"],
] as const;

/** Something whose access can be taken out: a space with everybody in it, a page with what is below it, one person everywhere. */
interface PartChoice extends Choice {
  query: Record<string, string>;
}

async function findParts(words: string): Promise<PartChoice[]> {
  const [places, { people }] = await Promise.all([ask(find, { query: { q: words } }), ask(findPeople, { query: { q: words } })]);
  return [
    ...places.slice(0, 8).map((place) => ({
      key: place.id,
      name: place.title,
      note: place.kind === "space" ? placeNote(place) : `${placeNote(place)}, with what is below`,
      query: { of: place.kind === "space" ? "space" : "subtree", id: place.id },
    })),
    ...people.slice(0, 8).map(({ id, name, kind }) => ({
      key: `person:${id}`,
      name,
      note: `${kind}, everywhere`,
      query: { of: "person", id },
    })),
  ];
}

function Part({ asOf }: { asOf: Record<string, string> }) {
  const [chosen, setChosen] = useState<PartChoice | null>(null);
  return (
    <>
      <Picker<PartChoice>
        label="Name of a space, a page or a person"
        chosen={chosen}
        find={findParts}
        onChoose={setChosen}
        className={styles.part}
      />
      {chosen ? (
        <ul className={styles.list}>
          <li>
            <span dir="auto">
              {chosen.name} <small className="soft">{chosen.note}</small>
            </span>
            <span className={styles.formats}>
              <Formats of={exportEffective} query={{ ...chosen.query, ...asOf }} />
            </span>
          </li>
        </ul>
      ) : (
        <p className="soft">Once one is chosen, its files stand here.</p>
      )}
    </>
  );
}

export function Exports() {
  const [instant, setInstant] = useState("");
  const asOf: Record<string, string> = instant ? { asOf: instant } : {};
  return (
    <section className={styles.section} aria-labelledby="exports">
      <h1 id="exports">Take out</h1>
      <p className={styles.line}>
        As of <DateField label="As of" as="moment" none="now" value={instant} onChange={setInstant} />
        <small className="soft">{instant ? "By the rules, people and states of then." : "Left empty: now."}</small>
      </p>
      <h2>The access document</h2>
      <p className="soft">Everything about access as one file: to check, to keep, to edit and bring back.</p>
      <p className={styles.formats}>
        <a href={`${exportDocument.path}?${new URLSearchParams(asOf)}`} download="access.json">
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
            <span className={styles.formats}>
              <Formats of={exportClasses} query={{ file, ...asOf }} />
            </span>
          </li>
        ))}
      </ul>
      <p className="soft">
        Programs: <a href="/access/v1/openapi.json">description of the interfaces</a>
      </p>
    </section>
  );
}
