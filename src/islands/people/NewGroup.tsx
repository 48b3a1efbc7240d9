/** A new group: its name, and who is in it, by typing names or by pasting a list of them. */
import { useState } from "react";
import { hasWords, LIMITS } from "../../core/words.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { Chips } from "../shared/Chips.tsx";
import { findSubjects, type PrincipalChoice } from "../shared/people.ts";
import styles from "./people.module.css";
import { stageGroup } from "./staging.ts";

const MOST_PASTED = 500;

const same = (a: string, b: string): boolean => a.localeCompare(b, "en", { sensitivity: "base" }) === 0;

/** For each name of a pasted list the one person or group of that name; names that none or several have are told. */
async function readPasted(text: string): Promise<{ found: PrincipalChoice[]; unclear: string[] }> {
  const names = [...new Set(text.split(/[\n;,\t]+/).map((it) => it.trim()))].filter(Boolean);
  const found: PrincipalChoice[] = [];
  const unclear: string[] = [];
  for (const name of names.slice(0, MOST_PASTED)) {
    const fitting = (await findSubjects(name.slice(0, 100))).filter((it) => same(it.name, name));
    const [one] = fitting;
    if (one && fitting.length === 1) found.push(one);
    else unclear.push(fitting.length > 1 ? `${name} (several of this name: choose one above)` : name);
  }
  const left = names.length - MOST_PASTED;
  return { found, unclear: left > 0 ? [...unclear, `${left} names past the first ${MOST_PASTED}`] : unclear };
}

export function NewGroup({ onDone }: { onDone(): void }) {
  const [name, setName] = useState("");
  const [members, setMembers] = useState<PrincipalChoice[]>([]);
  const [pasted, setPasted] = useState("");
  const [unclear, setUnclear] = useState<string[]>([]);
  const [reading, setReading] = useState(false);
  const add = (choices: readonly PrincipalChoice[]) =>
    setMembers((before) => [...before, ...choices.filter(({ key }) => !before.some((it) => it.key === key))]);
  const take = async () => {
    setReading(true);
    const read = await readPasted(pasted).finally(() => setReading(false));
    add(read.found);
    setUnclear(read.unclear);
    setPasted("");
  };
  const sound = hasWords(name) && name.length <= LIMITS.group;
  const make = () => {
    const inIt = members.flatMap(({ principal, name: called }) => ("audience" in principal ? [] : [{ member: principal, name: called }]));
    stageGroup(name.trim(), inIt);
    onDone();
  };
  return (
    <form
      className={styles.newGroup}
      aria-label="A new group"
      onSubmit={(event) => {
        event.preventDefault();
        if (sound) make();
      }}
    >
      <TextField label="Name of the group" value={name} onChange={setName} most={LIMITS.group} />
      <Picker<PrincipalChoice> label="Put in" find={findSubjects} onChoose={(it) => add([it])} />
      <label className="labelled">
        <span>Or a list of names, one a line</span>
        <textarea className="field" rows={3} value={pasted} onChange={(event) => setPasted(event.target.value)} />
      </label>
      <button type="button" className="button" disabled={pasted.trim() === "" || reading} onClick={() => void take()}>
        {reading ? "Looking for them …" : "Take the list"}
      </button>
      {unclear.length > 0 && (
        <p className="notice" role="status">
          Not found, and left out: {unclear.join(", ")}.
        </p>
      )}
      <Chips label="In it" chosen={members} onChange={setMembers} />
      <span className="acts">
        <button type="submit" className="button main" disabled={!sound} title={sound ? undefined : "It needs a name."}>
          To the tray
        </button>
        <button type="button" className="button plain" onClick={onDone}>
          Leave it
        </button>
      </span>
    </form>
  );
}
