/** Who was let into a private draft: each with what they may do, changed and withdrawn where it stands. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Helper, letHelperIn } from "../../contracts/workbench.ts";
import { Picker } from "../../ui/Picker.tsx";
import { ask } from "../shared/api.ts";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import styles from "./workbench.module.css";

const LEVELS = ["read", "comment", "write"] as const;

export function Helpers({ id, helpers, onChanged }: { id: string; helpers: Helper[]; onChanged(): Promise<unknown> }) {
  const [adding, setAdding] = useState(false);
  const put = useMutation({
    mutationFn: ({ person, level }: { person: string; name: string; level: Helper["level"] | "none" }) =>
      ask(letHelperIn, { params: { id }, body: { person, level } }),
    onSuccess: async (_, { name, level }) => {
      say(level === "none" ? `${name} is let out.` : `${name} is let in to ${level}.`);
      await onChanged();
    },
  });
  const letIn = ({ principal, name }: PrincipalChoice) => {
    setAdding(false);
    if ("person" in principal) put.mutate({ person: principal.person, name, level: "read" });
  };
  return (
    <section className={styles.helpers} aria-label="Helpers">
      <h3>Helpers</h3>
      {helpers.length === 0 && <p className="soft">Nobody else knows of this draft.</p>}
      <ul>
        {helpers.map(({ id: person, name, guest, level, shutOut }) => (
          <li key={person}>
            <span dir="auto" data-outside={guest}>
              {name}
              {guest && <small className="soft"> guest</small>}
            </span>
            <fieldset>
              <legend className="unseen">What {name} may do</legend>
              {LEVELS.map((it) => (
                <label key={it}>
                  <input
                    type="radio"
                    name={`level-${person}`}
                    checked={it === level}
                    onChange={() => put.mutate({ person, name, level: it })}
                  />{" "}
                  {it}
                </label>
              ))}
            </fieldset>
            <button
              type="button"
              className="textButton"
              aria-label={`let out ${name}`}
              onClick={() => put.mutate({ person, name, level: "none" })}
            >
              let out
            </button>
            {shutOut && <small className="notice">cannot open it: suspended, gone, or kept out by the ceiling for guests</small>}
          </li>
        ))}
      </ul>
      <button type="button" className="textButton" aria-expanded={adding} onClick={() => setAdding(!adding)}>
        let somebody in
      </button>
      {adding && <Picker<PrincipalChoice> label="Whom to let in" find={findPersons} onChoose={letIn} autoFocus />}
      {put.error && (
        <p className="notice bad" role="alert">
          {put.error.message}
        </p>
      )}
    </section>
  );
}
