/** The filter, said as a sentence whose parts are edited where they stand. */
import type { PageCounts } from "../../contracts/pages.ts";
import { DateField } from "../../ui/DateField.tsx";
import { shortDate } from "../../ui/dates.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { findPagesAlone, findSpaces, findTags, OUTSIDE, outsideWords } from "../shared/pageParts.ts";
import { findSubjects } from "../shared/people.ts";
import { Narrowing, Options, SentencePart } from "../shared/SentencePart.tsx";
import type { PagesState } from "./address.ts";
import styles from "./pages.module.css";

interface Props {
  state: PagesState;
  onChange(change: Partial<PagesState>, step?: "small"): void;
}

const findOwners = async (words: string): Promise<Choice[]> =>
  (await findSubjects(words))
    .filter(({ principal }) => "person" in principal)
    .map((it) => ({ ...it, key: it.key.replace(/^person:/, "") }));

type Name = "space" | "branch" | "owner" | "tag" | "readiness" | "outside" | "since" | "before";

const NAMES: Record<Name, string> = {
  space: "in a space",
  branch: "in and below a page",
  owner: "of an owner",
  tag: "with a tag",
  readiness: "of a readiness",
  outside: "by who outside reads it",
  since: "changed since",
  before: "untouched since",
};

/** What is added by choosing it: there is nothing more to say of it. */
const AT_ONCE: Readonly<Record<string, Partial<PagesState>>> = {
  "that could not go on at their time": { held: "yes" },
  "that are due to be looked at again": { review: "due" },
  "that are flagged": { review: "flagged" },
  "that wait for approval": { approval: "waiting" },
};

const isName = (key: string): key is Name => key in NAMES;

/** What a part of the sentence is changed with. */
function Editing({ name, state, onChange, close }: Props & { name: Name; close(): void }) {
  const put = (value: string) => {
    onChange({ [name]: value });
    if (name !== "readiness") close();
  };
  switch (name) {
    case "space":
    case "branch":
      return (
        <Picker
          label={name === "space" ? "Which space" : "Which page"}
          find={name === "space" ? findSpaces : findPagesAlone}
          onChoose={({ key }) => put(key)}
          autoFocus
          inline
        />
      );
    case "owner":
      return <Picker label="Whose" find={findOwners} onChoose={({ key }) => put(key)} autoFocus inline />;
    case "tag":
      return <Picker label="Which tag" find={findTags} onChoose={({ key }) => put(key)} autoFocus inline />;
    case "readiness":
      return <TextField label="Which word of readiness" value={state.readiness} onChange={put} />;
    case "outside":
      return <Options options={OUTSIDE} onChoose={put} />;
    default:
      return <DateField label={NAMES[name]} value={state[name]} onChange={put} as="moment" none="any time" />;
  }
}

const PART_WORDS = {
  drafts: "Drafts",
  scheduled: "Scheduled pages",
  live: "Live pages",
  archive: "Archived pages",
  bin: "Pages in the bin",
} as const;

export function FilterSentence({ state, said, onChange }: Props & { said: PageCounts["said"] | undefined }) {
  const { space = "a space", branch = "a page", owner = "somebody" } = said ?? {};
  const parts: [Name, string][] = [
    ["space", `in ${space}`],
    ["branch", `in and below ${branch}`],
    ["owner", `owned by ${owner}`],
    ["tag", `tagged ${state.tag}`],
    ["readiness", `“${state.readiness}”`],
    ["outside", outsideWords(state.outside)],
    ["since", state.since ? `changed since ${shortDate(state.since)}` : ""],
    ["before", state.before ? `untouched since ${shortDate(state.before)}` : ""],
  ];
  const shown = parts.filter(([name]) => state[name] !== "");
  return (
    <div className={styles.sentence}>
      <span>{state.part ? PART_WORDS[state.part] : "All pages"}</span>
      {shown.map(([name, words]) => (
        <SentencePart key={name} name={NAMES[name]} words={words} onDrop={() => onChange({ [name]: "" })}>
          {(close) => <Editing name={name} state={state} onChange={onChange} close={close} />}
        </SentencePart>
      ))}
      {state.held === "yes" && (
        <SentencePart name="waiting" words="that could not go on at their time" onDrop={() => onChange({ held: "" })}>
          {() => <p>Pages whose schedule was refused when its instant came.</p>}
        </SentencePart>
      )}
      {state.review !== "" && (
        <SentencePart
          name="review"
          words={state.review === "due" ? "that are due to be looked at again" : "that are flagged"}
          onDrop={() => onChange({ review: "" })}
        >
          {() => (
            <p>{state.review === "due" ? "Live pages whose review period is over." : "Pages somebody said something is wrong with."}</p>
          )}
        </SentencePart>
      )}
      {state.approval !== "" && (
        <SentencePart
          name="approval"
          words={state.approval === "mine" ? "that wait for you to approve them" : "that wait for approval"}
          onDrop={() => onChange({ approval: "" })}
        >
          {() => <p>Pages a version of which was given in for approval and not answered.</p>}
        </SentencePart>
      )}
      <Narrowing
        options={[
          ...Object.entries(NAMES).filter(([name]) => isName(name) && state[name] === ""),
          ...Object.keys(AT_ONCE).map((words): [string, string] => [words, words]),
        ]}
        onChoose={(key) => AT_ONCE[key] && onChange(AT_ONCE[key])}
      >
        {(key, close) => (isName(key) ? <Editing name={key} state={state} onChange={onChange} close={close} /> : null)}
      </Narrowing>
      <label className="beside">
        whose title holds
        <input
          className={`field ${styles.holds}`}
          aria-label="Title holds"
          value={state.words}
          onChange={(event) => onChange({ words: event.target.value }, "small")}
        />
      </label>
    </div>
  );
}
