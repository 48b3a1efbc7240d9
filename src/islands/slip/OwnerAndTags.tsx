/** Whose page it is and what it is marked with, each changed where it stands, through the tray. */
import { useState } from "react";
import { isTag, MOST_TAGS } from "../../contracts/checks.ts";
import type { Slip } from "../../contracts/slip.ts";
import { editSentence } from "../../core/access/explain/index.ts";
import type { Edit } from "../../core/access/model/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray, useTray } from "../change/store.ts";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import { InTray, type Waiting, waitingAt } from "./pending.tsx";
import styles from "./slip.module.css";

const waitingOf = (waiting: readonly Waiting[], kind: Edit["kind"]) => waiting.find(({ edit }) => edit.kind === kind);

export function Owner({ slip }: { slip: Slip }) {
  const { owner, mayHandOver } = slip.life;
  const [changing, setChanging] = useState(false);
  const waiting = waitingOf(waitingAt(useTray().items, slip.id), "owner");
  const give = ({ principal, name }: PrincipalChoice) => {
    if (!("person" in principal)) return;
    const names = new Map([
      [principal.person, name],
      [owner?.id ?? "", owner?.name ?? ""],
    ]);
    const edit: Edit = { kind: "owner", place: slip.id, from: owner?.id ?? null, to: principal.person };
    const named = { place: (id: string) => id, group: (id: string) => id, person: (id: string) => names.get(id) ?? id };
    tray.stage({ id: slip.id, title: slip.title }, "owner", edit, editSentence(edit, named));
    setChanging(false);
  };
  return (
    <>
      {owner?.name ?? "nobody"}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={waiting.sentence.replace(/^owner: | \(before.*$/g, "")} />
      ) : (
        mayHandOver && (
          <button type="button" className={styles.text} aria-expanded={changing} onClick={() => setChanging(!changing)}>
            hand over
          </button>
        )
      )}
      {changing && <Picker<PrincipalChoice> label="New owner" find={findPersons} onChoose={give} autoFocus className={styles.whom} />}
    </>
  );
}

/** What is wrong with tags as they are typed; empty where nothing is. */
function problemWith(tags: readonly string[]): string {
  if (tags.length > MOST_TAGS) return `At most ${MOST_TAGS} tags.`;
  const long = tags.find((tag) => !isTag(tag));
  return long === undefined ? "" : `“${long.slice(0, 50)}” is no tag: words of at most 40 characters.`;
}

export function Tags({ slip }: { slip: Slip }) {
  const { tags, mayTag } = slip.life;
  const [typed, setTyped] = useState<string | null>(null);
  const waiting = waitingOf(waitingAt(useTray().items, slip.id), "tags");
  const wanted = [...new Set((typed ?? "").split(",").map((tag) => tag.trim()))].filter(Boolean);
  const problem = problemWith(wanted);
  const stage = () => {
    const edit: Edit = { kind: "tags", place: slip.id, from: tags, to: wanted };
    const none = { place: (id: string) => id, group: (id: string) => id, person: (id: string) => id };
    tray.stage({ id: slip.id, title: slip.title }, "tags", edit, editSentence(edit, none));
    setTyped(null);
  };
  return (
    <>
      {tags.join(", ") || "none"}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={waiting.sentence.replace(/^tags: | \(before.*$/g, "")} />
      ) : (
        mayTag && (
          <button
            type="button"
            className={styles.text}
            aria-expanded={typed !== null}
            onClick={() => setTyped(typed === null ? tags.join(", ") : null)}
          >
            change
          </button>
        )
      )}
      {typed !== null && (
        <span className={styles.tagging}>
          <TextField label="Tags, with commas between" value={typed} onChange={setTyped} />
          <button type="button" className="button" disabled={problem !== ""} title={problem || undefined} onClick={stage}>
            To the tray
          </button>
          {problem && <small role="status">{problem}</small>}
        </span>
      )}
    </>
  );
}
