/** Making a template: blank, or from a page one may read and what is below it. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { listTemplates, makeTemplate } from "../../contracts/templates.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { ask } from "../shared/api.ts";
import { findPages } from "../shared/places.ts";
import { say } from "../shared/say.ts";
import styles from "./templates.module.css";

interface Props {
  place: string;
  ofSite: boolean;
  /** With the id of its first page. */
  onMade(page: string): void;
}

const NOTHING = { name: "", about: "", from: null as Choice | null, below: false };

export function NewTemplate({ place, ofSite, onMade }: Props) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(NOTHING);
  const { name, about, from, below } = typed;
  const make = useMutation({
    mutationFn: async () => {
      const body = { in: place, name: name.trim(), about: about.trim(), below, ...(from ? { from: from.key } : {}) };
      const { id } = await ask(makeTemplate, { body });
      const { templates } = await ask(listTemplates, { query: { in: place } });
      return templates.find((it) => it.id === id)?.pages[0]?.id ?? "";
    },
    onSuccess: (page) => {
      say(`The template ${name} is made.`);
      setTyped(NOTHING);
      setOpen(false);
      onMade(page);
    },
  });
  const fits = hasWords(name) && name.length <= LIMITS.name && about.length <= LIMITS.note;
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        Make a template …
      </button>
    );
  return (
    <form
      className={styles.making}
      aria-label="A new template"
      onSubmit={(event) => {
        event.preventDefault();
        if (fits) make.mutate();
      }}
    >
      <TextField label="What it is called" value={name} onChange={(it) => setTyped({ ...typed, name: it })} most={LIMITS.name} />
      <TextField
        label="What it is for, in a sentence"
        value={about}
        onChange={(it) => setTyped({ ...typed, about: it })}
        most={LIMITS.note}
      />
      <Picker<Choice>
        label="From a page (left out: blank)"
        chosen={from}
        find={findPages}
        onChoose={(it) => setTyped({ ...typed, from: it })}
      />
      {from && (
        <label className={styles.tick}>
          <input type="checkbox" checked={below} onChange={(event) => setTyped({ ...typed, below: event.target.checked })} /> With what is
          below it, as far as you read it
        </label>
      )}
      <p className="soft">Whoever may begin pages {ofSite ? "in any space" : "in this space"} reads what stands in it.</p>
      {make.error && (
        <p className="notice bad" role="alert">
          {make.error.message}
        </p>
      )}
      <span className="acts">
        <button type="submit" className="button main" disabled={!fits || make.isPending}>
          Make it
        </button>
        <button type="button" className="button plain" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </span>
    </form>
  );
}
