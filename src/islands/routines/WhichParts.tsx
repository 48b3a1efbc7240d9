/** Which pages a routine is about: a sentence whose parts are changed where they stand. */
import { useState } from "react";
import { DAY_FIELDS, type DayField, daysWords, isAboutGuests, ROUTINE_LIMITS, type RoutineFilter } from "../../core/routines/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { findSpaces, findTags, OUTSIDE, outsideWords } from "../shared/pageParts.ts";
import { findPersons } from "../shared/people.ts";
import { findPlaces } from "../shared/places.ts";
import { Narrowing, Options, SentencePart } from "../shared/SentencePart.tsx";
import type { Draft } from "./draft.ts";
import styles from "./routines.module.css";

const STATES: readonly [RoutineFilter["state"], string][] = [
  ["live", "live pages"],
  ["draft", "drafts"],
  ["scheduled", "scheduled pages"],
  ["archived", "archived pages"],
  ["binned", "pages in the bin"],
];

const FLAGGED: readonly ["yes" | "no", string][] = [
  ["yes", "flagged"],
  ["no", "not flagged"],
];

const DAY_WORDS: Readonly<Record<DayField, (days: string) => string>> = {
  unchanged: (days) => `not changed for ${days}`,
  unconfirmed: (days) => `not confirmed for ${days}`,
  unread: (days) => `not read for ${days}`,
  changed: (days) => `changed within ${days}`,
  confirmed: (days) => `confirmed within ${days}`,
  read: (days) => `read within ${days}`,
  due: (days) => `due within ${days}`,
};

type Name = "spaces" | "branch" | "owner" | "tag" | "readiness" | "outside" | "flagged" | DayField;

const NAMES: Readonly<Record<Name, string>> = {
  spaces: "in spaces",
  branch: "in and below a page",
  owner: "of an owner",
  tag: "with a tag",
  readiness: "of a readiness",
  outside: "by who outside reads it",
  flagged: "flagged or not",
  unchanged: "not changed for long",
  unconfirmed: "not confirmed for long",
  unread: "not read for long",
  changed: "changed lately",
  confirmed: "confirmed lately",
  read: "read lately",
  due: "due to be looked at again",
};

const isDays = (name: Name): name is DayField => (DAY_FIELDS as readonly string[]).includes(name);

/** So many days; only whole numbers are taken. */
export function DaysField({ label, value, onChange }: { label: string; value: number; onChange(days: number): void }) {
  const [typed, setTyped] = useState(String(value));
  const days = Number(typed);
  const sound = typed.trim() !== "" && Number.isInteger(days) && days >= 0 && days <= ROUTINE_LIMITS.days;
  return (
    <>
      <TextField
        label={label}
        className={styles.short}
        value={typed}
        autoFocus
        onChange={(words) => {
          setTyped(words);
          const next = Number(words);
          if (words.trim() !== "" && Number.isInteger(next) && next >= 1 && next <= ROUTINE_LIMITS.days) onChange(next);
        }}
      />
      {!sound && <p className="notice bad">A whole number of days, up to {ROUTINE_LIMITS.days.toLocaleString("en")}.</p>}
    </>
  );
}

interface Props {
  draft: Draft;
  onChange(change: Partial<Draft>): void;
}

interface EditingProps extends Props {
  which: RoutineFilter;
  name: Name;
  close(): void;
}

function Editing({ draft, which, name, onChange, close }: EditingProps) {
  const put = (change: Partial<RoutineFilter>, names: Record<string, string> = {}) => {
    onChange({ which: { ...which, ...change }, names: { ...draft.names, ...names } });
    close();
  };
  if (isDays(name)) {
    const value = which[name] ?? (name === "due" ? 14 : 90);
    return <DaysField label="Days" value={value} onChange={(days) => onChange({ which: { ...which, [name]: days } })} />;
  }
  switch (name) {
    case "spaces":
      return (
        <Picker
          label="One more space"
          find={findSpaces}
          onChoose={({ key, name: title }) => put({ spaces: [...new Set([...(which.spaces ?? []), key])] }, { [key]: title })}
          autoFocus
          inline
        />
      );
    case "branch":
      return (
        <Picker
          label="Which page"
          find={findPlaces}
          onChoose={({ key, name: title }) => put({ branch: key }, { [key]: title })}
          autoFocus
          inline
        />
      );
    case "owner":
      return (
        <Picker
          label="Whose"
          find={findPersons}
          onChoose={({ principal, name: who }) => "person" in principal && put({ owner: principal.person }, { [principal.person]: who })}
          autoFocus
          inline
        />
      );
    case "tag":
      return <Picker label="Which tag" find={findTags} onChoose={({ key }) => put({ tag: key })} autoFocus inline />;
    case "readiness":
      return (
        <TextField
          label="Which word of readiness"
          value={which.readiness ?? ""}
          onChange={(words) => onChange({ which: { ...which, readiness: words } })}
          autoFocus
        />
      );
    case "outside":
      return <Options options={OUTSIDE} onChoose={(outside) => put({ outside })} />;
    case "flagged":
      return <Options options={FLAGGED} onChoose={(flagged) => put({ flagged })} />;
  }
}

/** What a part says; empty where it is not there. */
function wordsOf(name: Name, which: RoutineFilter, names: Draft["names"]): string {
  const value = which[name];
  if (value === undefined) return "";
  if (isDays(name)) return value === 0 ? "due to be looked at again" : DAY_WORDS[name](daysWords(value as number));
  const called = (id: string) => names[id] ?? "…";
  switch (name) {
    case "spaces":
      return `in ${(which.spaces ?? []).map(called).join(", ")}`;
    case "branch":
      return `in and below ${called(which.branch ?? "")}`;
    case "owner":
      return `owned by ${called(which.owner ?? "")}`;
    case "tag":
      return `tagged ${which.tag}`;
    case "readiness":
      return `“${which.readiness}”`;
    case "outside":
      return outsideWords(value as string);
    default:
      return FLAGGED.find(([key]) => key === value)?.[1] ?? "";
  }
}

const without = (which: RoutineFilter, name: Name): RoutineFilter => {
  const { [name]: _, ...rest } = which;
  return rest as RoutineFilter;
};

export function WhichParts({ draft, onChange }: Props) {
  const { which } = draft;
  if (isAboutGuests(which))
    return (
      <SentencePart name="Which" words={`guests who read nothing for ${daysWords(which.unusedGuests)}`}>
        {() => <DaysField label="Days" value={which.unusedGuests} onChange={(unusedGuests) => onChange({ which: { unusedGuests } })} />}
      </SentencePart>
    );
  const all = Object.keys(NAMES) as Name[];
  const shown = all.filter((name) => which[name] !== undefined);
  return (
    <>
      <SentencePart name="Which" words={STATES.find(([state]) => state === which.state)?.[1] ?? ""}>
        {(close) => (
          <Options
            options={STATES}
            onChoose={(state) => {
              onChange({ which: { ...which, state } });
              close();
            }}
          />
        )}
      </SentencePart>
      {draft.space !== null && <span>in {draft.names[draft.space] ?? "its space"}</span>}
      {shown.map((name) => (
        <SentencePart
          key={name}
          name={NAMES[name]}
          words={wordsOf(name, which, draft.names)}
          onDrop={() => onChange({ which: without(which, name) })}
        >
          {(close) => <Editing draft={draft} which={which} name={name} onChange={onChange} close={close} />}
        </SentencePart>
      ))}
      <Narrowing
        options={all
          .filter((name) => which[name] === undefined && !(name === "spaces" && draft.space !== null))
          .map((name) => [name, NAMES[name]] as const)}
        onChoose={(name) => isDays(name) && onChange({ which: { ...which, [name]: name === "due" ? 14 : 90 } })}
      >
        {(name, close) => <Editing draft={draft} which={which} name={name} onChange={onChange} close={close} />}
      </Narrowing>
    </>
  );
}
