/** Says of one page or of many that something is wrong. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { ManyBody } from "../../contracts/jobs.ts";
import { MOST_QUOTED, raiseFlag } from "../../contracts/review.ts";
import { FLAG_KINDS, FLAG_WORDS, type FlagKind } from "../../core/access/model/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { FormFoot } from "../shared/FormFoot.tsx";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import styles from "./review.module.css";

interface Props {
  places: readonly string[];
  /** More than are flagged in one step: they are ordered as a job, which is looked at first. */
  onMany?(order: Pick<ManyBody, "act" | "kind" | "words">): void;
  /** What they are called in a sentence. */
  words: string;
  onDone(): void;
}

export function FlagForm({ places, words, onMany, onDone }: Props) {
  const [kind, setKind] = useState<FlagKind>("outOfDate");
  const [note, setNote] = useState("");
  const [quote, setQuote] = useState("");
  const [to, setTo] = useState<PrincipalChoice | null>(null);
  const [due, setDue] = useState("");
  const raise = useMutation({
    mutationFn: () =>
      ask(raiseFlag, {
        body: {
          places: [...places],
          kind,
          note,
          ...(hasWords(quote) ? { quote } : {}),
          ...(to && "person" in to.principal ? { to: to.principal.person } : {}),
          ...(due === "" ? {} : { due }),
        },
      }),
    onSuccess: async ({ seq, done, skipped }) => {
      const left = skipped.map(({ title, why }) => `${title}: ${why}`).join(" ");
      const told = `${places.length === 1 ? words : `${done} pages`} flagged as ${FLAG_WORDS[kind]}`;
      if (seq !== null) tray.done(seq, told, true);
      say(`${seq === null ? "" : `${told}. `}${left}`);
      onDone();
      await queries.invalidateQueries();
    },
  });
  const long = note.length > LIMITS.note || quote.length > MOST_QUOTED;
  const off = !hasWords(note) ? "Say what is wrong first." : long ? "That is too long." : "";
  return (
    <form
      className={styles.asking}
      aria-label="Flag it"
      onSubmit={(event) => {
        event.preventDefault();
        if (off !== "") return;
        if (onMany) {
          onMany({ act: "flag", kind, words: note });
          onDone();
        } else raise.mutate();
      }}
    >
      <fieldset className={styles.kinds}>
        <legend>{words}: what is it?</legend>
        {FLAG_KINDS.map((it) => (
          <label key={it}>
            <input type="radio" name="flagKind" checked={kind === it} onChange={() => setKind(it)} /> {FLAG_WORDS[it]}
          </label>
        ))}
      </fieldset>
      <TextField label="What is wrong" value={note} onChange={setNote} most={LIMITS.note} />
      {places.length === 1 && (
        <TextField label="The words of the page it is about, if it is about some" value={quote} onChange={setQuote} most={MOST_QUOTED} />
      )}
      {!onMany && (
        <div className={styles.whom}>
          <Picker<PrincipalChoice> label="Who is to answer (nobody chosen: its owner)" chosen={to} find={findPersons} onChoose={setTo} />
          <div className="labelled">
            <span aria-hidden="true">Answer by</span>
            <DateField label="Answer by" value={due} onChange={setDue} as="end" none="as its kind asks" ahead />
          </div>
        </div>
      )}
      {raise.error && <p className="notice bad">{raise.error.message}</p>}
      <FormFoot act={onMany ? "Look" : "Flag it"} off={off || (raise.isPending ? "It is being done." : "")} onLeave={onDone} />
    </form>
  );
}
