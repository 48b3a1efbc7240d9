/** Adding to the contents of a space: a heading, a page, an address elsewhere. */
import { useState } from "react";
import { isContentsAddress } from "../../contracts/spaceEdits.ts";
import type { ContentsEntry } from "../../core/access/model/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { findPagesIn } from "../shared/places.ts";
import styles from "./contents.module.css";

interface Props {
  space: string;
  onAdd(entry: ContentsEntry, name?: string): void;
}

const KINDS = [
  ["heading", "a heading"],
  ["page", "a page"],
  ["link", "an address"],
] as const;
type Kind = (typeof KINDS)[number][0];

function Words({ kind, onAdd }: { kind: "heading" | "link"; onAdd: Props["onAdd"] }) {
  const [words, setWords] = useState("");
  const [address, setAddress] = useState("");
  const wrong = kind === "link" && address !== "" && !isContentsAddress(address.trim());
  const ready = hasWords(words) && words.length <= LIMITS.title && (kind === "heading" || (address !== "" && !wrong));
  return (
    <form
      className={styles.adding}
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        onAdd(kind === "heading" ? { heading: words.trim() } : { link: address.trim(), words: words.trim() });
        setWords("");
        setAddress("");
      }}
    >
      <TextField label={kind === "heading" ? "Heading" : "What it is called"} value={words} onChange={setWords} most={LIMITS.title} />
      {kind === "link" && <TextField label="Address, as https://…" value={address} onChange={setAddress} />}
      {wrong && <p className={styles.wrong}>An address of the web, of mail or telephone, or one that begins with / on this site.</p>}
      <span className="acts">
        <button type="submit" className="button" disabled={!ready}>
          Add it
        </button>
      </span>
    </form>
  );
}

export function Adding({ space, onAdd }: Props) {
  const [kind, setKind] = useState<Kind | null>(null);
  const [find] = useState(() => findPagesIn(space));
  return (
    <div>
      <p className={styles.kinds}>
        Add{" "}
        {KINDS.map(([it, name]) => (
          <button
            key={it}
            type="button"
            className="textButton"
            aria-expanded={kind === it}
            onClick={() => setKind(kind === it ? null : it)}
          >
            {name}
          </button>
        ))}
      </p>
      {kind === "page" && <Picker label="Page to pin" find={find} onChoose={({ key, name }) => onAdd({ page: key }, name)} autoFocus />}
      {(kind === "heading" || kind === "link") && <Words key={kind} kind={kind} onAdd={onAdd} />}
    </div>
  );
}
