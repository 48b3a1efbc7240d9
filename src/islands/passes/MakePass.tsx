/** Making a pass for a page: what for, with what is below or not, until when; what it opens is shown first, its link once. */
import { useState } from "react";
import { lookAtPass, type MadePass, makePass } from "../../contracts/passes.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import { Secret } from "../shared/Secret.tsx";
import styles from "./passes.module.css";

function Form({ place, title, onMade, onLeave }: { place: string; title: string; onMade(made: MadePass): void; onLeave(): void }) {
  const [name, setName] = useState("");
  const [below, setBelow] = useState(false);
  const [until, setUntil] = useState("");
  const body = { place, below, until: until || null };
  const { look, current, error, again } = useLook("pass", body, (order) => ask(lookAtPass, { body: order }));
  const sound = hasWords(name) && name.length <= LIMITS.name;
  const staged = useStaged({
    preview: sound && current && look ? look : null,
    apply: (acting) => ask(makePass, { body: { ...body, name, ...acting } }),
    onDone: (made) => {
      onMade(made);
      void queries.invalidateQueries();
    },
    again,
  });
  return (
    <section className={styles.making} aria-label={`A pass for ${title}`}>
      <TextField label="What it is for" value={name} onChange={setName} most={LIMITS.name} />
      <label>
        <input type="checkbox" checked={below} onChange={(event) => setBelow(event.target.checked)} /> with what is below the page
      </label>
      <span>
        Until <DateField label="Pass until" value={until} onChange={setUntil} as="end" none="until withdrawn" ahead />
      </span>
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
      <ChangeSheet staged={staged} act="Make the pass" leave={{ words: "Leave it", go: onLeave }}>
        {!sound && <p className="soft">Say what it is for: that is how you find it again.</p>}
      </ChangeSheet>
    </section>
  );
}

export function MakePass({ place, title }: { place: string; title: string }) {
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<MadePass | null>(null);
  if (made)
    return (
      <div className="notice good" role="status">
        <p>Copy it now: it is not shown again. Whoever holds it reads the page, without an account.</p>
        <Secret label="The pass" text={made.link} />
        <button type="button" className="button" onClick={() => setMade(null)}>
          I have it
        </button>
      </div>
    );
  if (!making)
    return (
      <button type="button" className="button" onClick={() => setMaking(true)}>
        Make a pass
      </button>
    );
  return (
    <Form
      place={place}
      title={title}
      onMade={(it) => {
        setMade(it);
        setMaking(false);
      }}
      onLeave={() => setMaking(false)}
    />
  );
}
