/** The filter, said as a sentence whose parts are edited where they stand. */
import { Popover } from "radix-ui";
import { useState } from "react";
import type { PageCounts } from "../../contracts/pages.ts";
import { listTags } from "../../contracts/tags.ts";
import { DateField } from "../../ui/DateField.tsx";
import { shortDate } from "../../ui/dates.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { ask } from "../shared/api.ts";
import { findSubjects } from "../shared/people.ts";
import { findPlaces } from "../shared/places.ts";
import { Options, SentencePart } from "../shared/SentencePart.tsx";
import sentence from "../shared/sentence.module.css";
import type { PagesState } from "./address.ts";
import styles from "./pages.module.css";

interface Props {
  state: PagesState;
  onChange(change: Partial<PagesState>, step?: "small"): void;
}

const OUTSIDE: Record<string, string> = {
  any: "read by outsiders",
  public: "read by the public",
  guests: "read by guests",
  none: "read by nobody outside",
};

async function findTags(words: string): Promise<Choice[]> {
  const { tags } = await ask(listTags, { query: { q: words } });
  return tags.map(({ tag, count }) => ({ key: tag, name: tag, note: `${count} ${count === 1 ? "page" : "pages"}` }));
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
          find={async (words) => (await findPlaces(words)).filter(({ note }) => note.startsWith("space") === (name === "space"))}
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
      return <Options options={Object.entries(OUTSIDE)} onChoose={put} />;
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
  const [adding, setAdding] = useState<Name | null>(null);
  const { space = "a space", branch = "a page", owner = "somebody" } = said ?? {};
  const parts: [Name, string][] = [
    ["space", `in ${space}`],
    ["branch", `in and below ${branch}`],
    ["owner", `owned by ${owner}`],
    ["tag", `tagged ${state.tag}`],
    ["readiness", `“${state.readiness}”`],
    ["outside", OUTSIDE[state.outside] ?? ""],
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
      <Popover.Root onOpenChange={(open) => !open && setAdding(null)}>
        <Popover.Trigger className="button plain">narrow …</Popover.Trigger>
        <Popover.Portal>
          <Popover.Content className={sentence.editing} align="start" sideOffset={4}>
            {adding ? (
              <Editing name={adding} state={state} onChange={onChange} close={() => setAdding(null)} />
            ) : (
              <ul className={sentence.options}>
                {(Object.keys(NAMES) as Name[])
                  .filter((name) => state[name] === "")
                  .map((name) => (
                    <li key={name}>
                      <button type="button" className="button plain" onClick={() => setAdding(name)}>
                        {NAMES[name]}
                      </button>
                    </li>
                  ))}
                <li>
                  <button type="button" className="button plain" onClick={() => onChange({ held: "yes" })}>
                    that could not go on at their time
                  </button>
                </li>
                {(["due", "flagged"] as const).map((review) => (
                  <li key={review}>
                    <button type="button" className="button plain" onClick={() => onChange({ review })}>
                      {review === "due" ? "that are due to be looked at again" : "that are flagged"}
                    </button>
                  </li>
                ))}
                <li>
                  <button type="button" className="button plain" onClick={() => onChange({ approval: "waiting" })}>
                    that wait for approval
                  </button>
                </li>
              </ul>
            )}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
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
