/** What has to be said before a page is set aside or handed on, right under the acts. */
import { useState } from "react";
import { hasWords, LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { FormFoot } from "../shared/FormFoot.tsx";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import styles from "./review.module.css";
import type { Settling } from "./settling.ts";

interface Props {
  /** Whether what is set aside is due by its period: then it is asked for again at a date. */
  due: boolean;
  onSettle(settling: Settling): void;
  onLeave(): void;
}

export function SettingAside({ due, onSettle, onLeave }: Props) {
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const off = hasWords(reason) ? "" : "Say why first.";
  return (
    <form
      className={styles.asking}
      aria-label="Set aside"
      onSubmit={(event) => {
        event.preventDefault();
        if (off === "") onSettle({ how: "setAside", reason, ...(until === "" ? {} : { until }) });
      }}
    >
      <TextField label="Why it is set aside" value={reason} onChange={setReason} most={LIMITS.note} autoFocus />
      {due && <DateField label="Asked for again" value={until} onChange={setUntil} as="end" none="after its period" ahead />}
      <FormFoot act="Set aside" off={off} onLeave={onLeave} />
    </form>
  );
}

export function HandingOn({ onSettle, onLeave }: Omit<Props, "due">) {
  const [to, setTo] = useState<PrincipalChoice | null>(null);
  const [note, setNote] = useState("");
  const person = to && "person" in to.principal ? to.principal.person : "";
  const off = person === "" ? "Choose who is to answer first." : "";
  return (
    <form
      className={styles.asking}
      aria-label="Hand on"
      onSubmit={(event) => {
        event.preventDefault();
        if (to && off === "") onSettle({ how: "hand", to: person, name: to.name, note });
      }}
    >
      <Picker<PrincipalChoice> label="Who is to answer" chosen={to} find={findPersons} onChoose={setTo} autoFocus />
      <TextField label="A word with it" value={note} onChange={setNote} most={LIMITS.note} />
      <FormFoot act="Hand on" off={off} onLeave={onLeave} />
    </form>
  );
}
