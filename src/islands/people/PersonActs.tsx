/** What is done about somebody besides their standing: another in their place, guest or member, a new password, their name erased. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { askForNewPassword } from "../../contracts/accounts.ts";
import { askInKnown, type HandedOn } from "../../contracts/inviting.ts";
import { erasePerson, type Replacing, readJoining, readReplacing, readTurning } from "../../contracts/leaving.ts";
import type { PersonSlip } from "../../contracts/people.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import { Secret } from "../shared/Secret.tsx";
import { say } from "../shared/say.ts";
import styles from "./people.module.css";

type Doing = "replace" | "erase" | null;

/** Erasing is final: their name is typed. */
function Erase({ slip }: { slip: PersonSlip }) {
  const [typed, setTyped] = useState("");
  const erase = useMutation({
    mutationFn: () => ask(erasePerson, { params: { id: slip.id }, body: { name: typed, note: "" } }),
    onSuccess: async ({ seq }) => {
      tray.done(seq, "Their name and address were erased", false);
      await queries.invalidateQueries();
    },
  });
  const fits = typed.trim() === slip.name.trim();
  return (
    <div className={styles.erasing}>
      <p>
        Their name and mail address go everywhere, also from the ledger, which still verifies. What they wrote stays. This cannot be taken
        back.
      </p>
      <TextField label={`Type their name: ${slip.name}`} value={typed} onChange={setTyped} />
      <button
        type="button"
        className="button"
        disabled={!fits || erase.isPending}
        title={fits ? undefined : "Type the name first."}
        onClick={() => erase.mutate()}
      >
        Erase name and address
      </button>
      {erase.error && (
        <p className="notice bad" role="alert">
          {erase.error.message}
        </p>
      )}
    </div>
  );
}

/** A link asked for: for a new password or, where they have no account, to come in; mailed, or handed on once. */
function AskFor({ slip }: { slip: PersonSlip }) {
  const [handed, setHanded] = useState<HandedOn | null>(null);
  const asks = useMutation({
    mutationFn: () => ask(slip.hasAccount ? askForNewPassword : askInKnown, { params: { id: slip.id } }),
    onSuccess: (it) => {
      setHanded(it);
      say("Asked for. It is in the ledger, and they are told.");
    },
  });
  return (
    <>
      <button type="button" className="button" disabled={asks.isPending} onClick={() => asks.mutate()}>
        {slip.hasAccount ? "New password …" : "Ask in …"}
      </button>
      {handed?.link && <Secret label={`Link for ${slip.name}`} text={handed.link} />}
      {handed && !handed.link && <p className="soft">Mail is on its way to them.</p>}
      {asks.error && (
        <p className="notice bad" role="alert">
          {asks.error.message}
        </p>
      )}
    </>
  );
}

/** Who else is here under the same address: what they have is brought together under one of them. */
function SameAddress({ slip, onJoin }: { slip: PersonSlip; onJoin(other: PersonSlip["sameAddress"][number]): void }) {
  return slip.sameAddress.map((other) => (
    <p key={other.id} className="notice">
      <span dir="auto">{other.name}</span> is here under the same address
      {other.by ? `, asked in by ${other.by}` : ""}
      {other.hasAccount ? ", and has an account" : ", and has no account yet"}.{" "}
      <button type="button" className="button" onClick={() => onJoin(other)}>
        Join them
      </button>
    </p>
  ));
}

export function PersonActs({ slip }: { slip: PersonSlip }) {
  const [doing, setDoing] = useState<Doing>(null);
  const [problem, setProblem] = useState("");
  const stage = async (title: string, rule: string, read: () => Promise<Replacing>) => {
    try {
      const { edits, sentences } = await read();
      setProblem(edits.length === 0 ? "No rule, group or pledge names them." : "");
      if (edits.length === 0) return;
      tray.stageAll({ id: `person:${slip.id}`, title }, rule, edits, sentences);
      say(`In the tray: ${title}, ${edits.length} changes.`);
      setDoing(null);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const replace = ({ principal, name }: PrincipalChoice) => {
    if (!("person" in principal)) return;
    const by = principal.person;
    void stage(`${name} for ${slip.name}`, "replaced", () => ask(readReplacing, { params: { id: slip.id }, query: { by } }));
  };
  const join = ({ id, name }: PersonSlip["sameAddress"][number]) =>
    void stage(`${name} joined with ${slip.name}`, "joined", () => ask(readJoining, { params: { id: slip.id }, query: { with: id } }));
  const other = slip.kind === "guest" ? "member" : "guest";
  const toggle = (what: Doing) => setDoing(doing === what ? null : what);
  return (
    <>
      <button type="button" className="button" aria-expanded={doing === "replace"} onClick={() => toggle("replace")}>
        Replace in rules …
      </button>
      <button
        type="button"
        className="button"
        onClick={() => void stage(`${slip.name} becomes a ${other}`, "kind", () => ask(readTurning, { params: { id: slip.id } }))}
      >
        Make a {other}
      </button>
      {slip.state === "active" && <AskFor slip={slip} />}
      {slip.state === "suspended" && (
        <button type="button" className="button" aria-expanded={doing === "erase"} onClick={() => toggle("erase")}>
          Erase name …
        </button>
      )}
      {doing === "replace" && <Picker<PrincipalChoice> label="By whom" find={findPersons} onChoose={replace} autoFocus />}
      {doing === "erase" && <Erase slip={slip} />}
      {problem && <p className="notice">{problem}</p>}
      <SameAddress slip={slip} onJoin={join} />
    </>
  );
}
