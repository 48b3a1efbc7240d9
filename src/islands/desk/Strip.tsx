/** What stands beneath the row one is on: just enough to decide, and what has to be said before it is settled. */
import { useQuery } from "@tanstack/react-query";
import { addDays, endOfDay } from "date-fns";
import { useState } from "react";
import { readAsked } from "../../contracts/asked.ts";
import type { DeskAct, DeskRow } from "../../contracts/desk.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { Told } from "../../ui/When.tsx";
import { Declining, LettingIn } from "../asked/Asked.tsx";
import { HandingOn, SettingAside } from "../review/Asking.tsx";
import { ask } from "../shared/api.ts";
import { FormFoot } from "../shared/FormFoot.tsx";
import type { Saying } from "./acts.ts";
import styles from "./desk.module.css";

export type Asks = DeskAct | "later";

interface Props {
  row: DeskRow;
  asks: Asks | null;
  problem: string;
  /** Acts that there is no room for in the row. */
  others: readonly DeskAct[];
  onAct(act: DeskAct): void;
  onLater(): void;
  onSay(saying: Saying): void;
  onLeave(): void;
}

/** Why, in a line. */
function Reason({ label, act, onSay, onLeave }: { label: string; act: string } & Pick<Props, "onSay" | "onLeave">) {
  const [reason, setReason] = useState("");
  const off = hasWords(reason) ? "" : "Say why first.";
  return (
    <form
      className={styles.asking}
      aria-label={label}
      onSubmit={(event) => {
        event.preventDefault();
        if (off === "") onSay({ reason });
      }}
    >
      <TextField label={label} value={reason} onChange={setReason} most={LIMITS.note} autoFocus />
      <FormFoot act={act} off={off} onLeave={onLeave} />
    </form>
  );
}

const SHORTCUTS: readonly [string, number][] = [
  ["tomorrow", 1],
  ["in a week", 7],
  ["in 4 weeks", 28],
];

/** Off the desk until a date: not settled, only not for now. */
function Later({ onSay, onLeave }: Pick<Props, "onSay" | "onLeave">) {
  const inDays = (days: number) => endOfDay(addDays(new Date(), days)).toISOString();
  const [until, setUntil] = useState(inDays(7));
  return (
    <form
      className={styles.asking}
      aria-label="Set aside until"
      onSubmit={(event) => {
        event.preventDefault();
        if (until !== "") onSay({ until });
      }}
    >
      <span className="labelled">
        <span aria-hidden="true">Not on the desk until</span>
        <DateField label="Not on the desk until" value={until} onChange={setUntil} as="end" none="" ahead />
      </span>
      <span className="acts">
        <button type="submit" className="button go" ref={(it) => it?.focus()}>
          Not for now
        </button>
        {SHORTCUTS.map(([words, days]) => (
          <button key={words} type="button" className="button" onClick={() => onSay({ until: inDays(days) })}>
            {words}
          </button>
        ))}
        <button type="button" className="button plain" onClick={onLeave}>
          Leave it
        </button>
      </span>
    </form>
  );
}

/** Somebody asks for access: the change that lets them in, with its ripple; or a word on why not. */
function Requested({ id, how, onLeave }: { id: string; how: "letIn" | "decline"; onLeave(): void }) {
  const { data, error } = useQuery({ queryKey: ["asked", ""], queryFn: () => ask(readAsked, { query: {} }) });
  const row = data?.rows.find((it) => it.id === id);
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!row) return <p className="soft">{data ? "Somebody decided on it already." : "Opening …"}</p>;
  return how === "letIn" ? <LettingIn row={row} onClose={onLeave} /> : <Declining row={row} onClose={onLeave} />;
}

function Form({ asks, onSay, onLeave }: Pick<Props, "onSay" | "onLeave"> & { asks: Asks }) {
  if (asks === "later") return <Later onSay={onSay} onLeave={onLeave} />;
  const { how } = asks;
  switch (how.do) {
    case "hand":
      return <HandingOn onLeave={onLeave} onSettle={(it) => it.how === "hand" && onSay({ to: it.to, reason: it.note })} />;
    case "setReviewAside":
      return (
        <SettingAside
          due={how.row.due}
          onLeave={onLeave}
          onSettle={(it) => it.how === "setAside" && onSay({ reason: it.reason, ...(it.until ? { until: it.until } : {}) })}
        />
      );
    case "setFindingsAside":
      return <Reason label="Why it may stand there" act="Set aside" onSay={onSay} onLeave={onLeave} />;
    case "sendBack":
      return <Reason label="What is still to be done" act="Send back" onSay={onSay} onLeave={onLeave} />;
    case "letIn":
    case "decline":
      return <Requested id={how.request} how={how.do} onLeave={onLeave} />;
    default:
      return null;
  }
}

export function Strip({ row, asks, problem, others, onAct, onLater, onSay, onLeave }: Props) {
  return (
    <div className={styles.strip}>
      {row.lines.map((line, i) => (
        <p key={i} dir="auto">
          <Told text={line} />
        </p>
      ))}
      <p className="soft">
        If nothing is done, <Told text={row.otherwise} />.
      </p>
      <span className={styles.others}>
        {others.map((act) => (
          <button key={act.key} type="button" className="button" onClick={() => onAct(act)}>
            {act.name} <kbd>{act.key}</kbd>
          </button>
        ))}
        <button type="button" className="button plain" onClick={onLater}>
          Not for now … <kbd>z</kbd>
        </button>
      </span>
      {problem && (
        <p className="notice bad" role="alert">
          {problem}
        </p>
      )}
      {asks && <Form asks={asks} onSay={onSay} onLeave={onLeave} />}
    </div>
  );
}
