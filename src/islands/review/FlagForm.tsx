/** Says of one page or of many that something is wrong. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { raiseFlag } from "../../contracts/review.ts";
import { FLAG_KINDS, FLAG_WORDS, type FlagKind } from "../../core/access/model/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { FormFoot } from "../shared/FormFoot.tsx";
import { say } from "../shared/say.ts";
import styles from "./review.module.css";

interface Props {
  places: readonly string[];
  /** What they are called in a sentence. */
  words: string;
  onDone(): void;
}

export function FlagForm({ places, words, onDone }: Props) {
  const [kind, setKind] = useState<FlagKind>("outOfDate");
  const [note, setNote] = useState("");
  const raise = useMutation({
    mutationFn: () => ask(raiseFlag, { body: { places: [...places], kind, note } }),
    onSuccess: async ({ seq, done, skipped }) => {
      const left = skipped.map(({ title, why }) => `${title}: ${why}`).join(" ");
      const told = `${places.length === 1 ? words : `${done} pages`} flagged as ${FLAG_WORDS[kind]}`;
      if (seq !== null) tray.done(seq, told, true);
      say(`${seq === null ? "" : `${told}. `}${left}`);
      onDone();
      await queries.invalidateQueries();
    },
  });
  const off = !hasWords(note) ? "Say what is wrong first." : note.length > LIMITS.note ? "That is too long." : "";
  return (
    <form
      className={styles.asking}
      aria-label="Flag it"
      onSubmit={(event) => {
        event.preventDefault();
        if (off === "") raise.mutate();
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
      {raise.error && <p className="notice bad">{raise.error.message}</p>}
      <FormFoot act="Flag it" off={off || (raise.isPending ? "It is being done." : "")} onLeave={onDone} />
    </form>
  );
}
