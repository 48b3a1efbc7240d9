import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { startSpace } from "../../contracts/spaces.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ask, queries } from "../shared/api.ts";
import styles from "./grid.module.css";

/** The first step on a site that has nothing yet: a space for pages to stand in. */
export function FirstSpace({ may }: { may: boolean }) {
  const [title, setTitle] = useState("");
  const [purpose, setPurpose] = useState("");
  const start = useMutation({
    mutationFn: () => ask(startSpace, { body: { title, purpose } }),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (!may) return <p className="message">There are no spaces yet. A site keeper starts the first one here.</p>;
  return (
    <form
      className={styles.first}
      onSubmit={(event) => {
        event.preventDefault();
        if (hasWords(title)) start.mutate();
      }}
    >
      <h2>Start the first space</h2>
      <p className="soft">
        A space holds pages and bulletins, and has rules of its own. It stands here afterwards, with what the public, guests and members can
        do in it; until you grant something, only site keepers can.
      </p>
      <TextField label="What it is called" value={title} onChange={setTitle} most={LIMITS.title} />
      <TextField label="What it is for, in a sentence" value={purpose} onChange={setPurpose} most={LIMITS.note} />
      {start.error && <p className="notice bad">{start.error.message}</p>}
      <button type="submit" className="button go" disabled={!hasWords(title) || start.isPending}>
        Start the space
      </button>
    </form>
  );
}
