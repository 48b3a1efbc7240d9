/** What must be chosen before an act: always open; the act waits for it. */
import { useState } from "react";
import { MOST_GIVEN_IN } from "../../contracts/acts.ts";
import type { ActSheet, ChoiceTold, Told } from "../../contracts/life.ts";
import { ARRIVALS, type Arrival, type Below, type LifeAct } from "../../core/lifecycle/index.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { findPlaces } from "../shared/places.ts";
import { ToldList } from "./Breaks.tsx";
import styles from "./life.module.css";

const BELOW: Record<Below, string> = {
  along: "They go along",
  handUp: "They are handed up, to where this page stands",
  stay: "They stay where they are",
};

/** What is still to be chosen, in a sentence; empty where nothing is. */
export function missing(act: LifeAct, sheet: ActSheet): string {
  for (const choice of sheet.choices) {
    if (choice.choose === "below" && act.below === undefined) return "Choose what becomes of the pages below.";
    if (choice.choose === "landing" && !act.landings?.some(({ space }) => space === choice.space.id)) return "Choose another landing page.";
    if (choice.choose === "arrival" && act.arrive === undefined) return "Choose how it arrives.";
    if (choice.choose === "destination" && act.to === undefined) return "Choose where it goes.";
  }
  return act.act === "move" && act.to === undefined ? "Choose where it goes." : "";
}

interface Props {
  act: LifeAct;
  sheet: ActSheet;
  /** Done as a job, batch by batch. */
  asJob?: boolean;
  onChange(act: LifeAct): void;
}

function BelowChoice({
  act,
  choice,
  onChange,
}: {
  act: LifeAct;
  choice: Extract<ChoiceTold, { choose: "below" }>;
  onChange(act: LifeAct): void;
}) {
  const { count } = choice.pages;
  return (
    <fieldset className={styles.choice}>
      <legend>
        {count.toLocaleString("en")} {count === 1 ? "page stands" : "pages stand"} below
      </legend>
      {choice.options.map((option) => (
        <label key={option}>
          <input type="radio" name="below" checked={act.below === option} onChange={() => onChange({ ...act, below: option })} />{" "}
          {BELOW[option]}
        </label>
      ))}
      <details>
        <summary>Which</summary>
        <ToldList told={choice.pages} />
      </details>
    </fieldset>
  );
}

const ARRIVES: Record<Arrival, string> = {
  draft: "As a draft",
  submit: "As a draft that is given in for approval",
};

function ArrivalChoice({ act, pages, asJob, onChange }: { act: LifeAct; pages: Told; asJob: boolean; onChange(act: LifeAct): void }) {
  const { count } = pages;
  // A job gives them in batch by batch.
  const tooMany = count > MOST_GIVEN_IN && !asJob;
  return (
    <fieldset className={styles.choice}>
      <legend>
        The space it goes into asks for approval, and {count === 1 ? "a live page" : `${count.toLocaleString("en")} live pages`} of it{" "}
        {count === 1 ? "was" : "were"} never approved there. {count === 1 ? "It arrives" : "They arrive"}
      </legend>
      {ARRIVALS.map((option) => (
        <label key={option}>
          <input
            type="radio"
            name="arrive"
            disabled={option === "submit" && tooMany}
            checked={act.arrive === option}
            onChange={() => onChange({ ...act, arrive: option })}
          />{" "}
          {ARRIVES[option]}
          {option === "submit" && tooMany ? ` (${MOST_GIVEN_IN} pages at most)` : ""}
        </label>
      ))}
      <details>
        <summary>Which</summary>
        <ToldList told={pages} />
      </details>
    </fieldset>
  );
}

function LandingChoice({
  act,
  choice,
  onChange,
}: {
  act: LifeAct;
  choice: Extract<ChoiceTold, { choose: "landing" }>;
  onChange(act: LifeAct): void;
}) {
  const { space, candidates, may } = choice;
  const chosen = act.landings?.find((it) => it.space === space.id)?.page;
  const choices = candidates.map(({ id, title }): Choice => ({ key: id, name: title, note: "live" }));
  const choose = (page: string) =>
    onChange({ ...act, landings: [...(act.landings ?? []).filter((it) => it.space !== space.id), { space: space.id, page }] });
  if (!may) return <p className="notice bad">This is the landing page of {space.title}: whoever keeps the space chooses another first.</p>;
  return (
    <div className={styles.choice}>
      <p>The landing page of {space.title} goes: another takes its place.</p>
      <Picker
        label="New landing page"
        chosen={choices.find(({ key }) => key === chosen) ?? null}
        find={async (words) => choices.filter(({ name }) => name.toLowerCase().includes(words.toLowerCase())).slice(0, 12)}
        onChoose={({ key }) => choose(key)}
        inline
      />
    </div>
  );
}

function DestinationChoice({ act, onChange, words }: { act: LifeAct; onChange(act: LifeAct): void; words: string }) {
  const [chosen, setChosen] = useState<Choice | null>(null);
  return (
    <div className={styles.choice}>
      <p>{words}</p>
      <Picker
        label="Into which space or page"
        chosen={chosen}
        find={findPlaces}
        onChoose={(choice) => {
          setChosen(choice);
          onChange({ ...act, to: choice.key });
        }}
        inline
      />
    </div>
  );
}

/** Of what comes back: what was handed up, and passes that would work again. */
function ComingBack({ act, sheet, onChange }: Props) {
  const passes = sheet.returning.filter(({ pass }) => pass !== undefined);
  const chosen = new Set(act.passes ?? []);
  const toggle = (pass: string) =>
    onChange({ ...act, passes: chosen.has(pass) ? [...chosen].filter((it) => it !== pass) : [...chosen, pass] });
  return (
    <>
      {sheet.mayBringBack > 0 && (
        <label className={styles.choice}>
          <input type="checkbox" checked={act.back === true} onChange={() => onChange({ ...act, back: act.back !== true })} /> Bring back{" "}
          {sheet.mayBringBack === 1 ? "the page that was" : `the ${sheet.mayBringBack} pages that were`} handed up then
        </label>
      )}
      {passes.length > 0 && (
        <fieldset className={styles.choice}>
          <legend>Passes that would work again; those not chosen are withdrawn for good</legend>
          {passes.map(({ pass = "", sentence }) => (
            <label key={pass}>
              <input type="checkbox" checked={chosen.has(pass)} onChange={() => toggle(pass)} /> {sentence}
            </label>
          ))}
        </fieldset>
      )}
    </>
  );
}

export function Choices({ act, sheet, asJob = false, onChange }: Props) {
  const nothing = sheet.choices.length === 0 && sheet.mayBringBack === 0 && !sheet.returning.some(({ pass }) => pass) && act.act !== "move";
  if (nothing) return null;
  return (
    <section>
      <h3>To be chosen</h3>
      {act.act === "move" && <DestinationChoice act={act} onChange={onChange} words="It goes with everything below it." />}
      {sheet.choices.map((choice) => {
        if (choice.choose === "below") return <BelowChoice key="below" act={act} choice={choice} onChange={onChange} />;
        if (choice.choose === "arrival")
          return <ArrivalChoice key="arrival" act={act} pages={choice.pages} asJob={asJob} onChange={onChange} />;
        if (choice.choose === "landing") return <LandingChoice key={choice.space.id} act={act} choice={choice} onChange={onChange} />;
        return act.act === "move" ? null : (
          <DestinationChoice
            key="to"
            act={act}
            onChange={onChange}
            words="What it stood in is in the bin: choose where it comes back to."
          />
        );
      })}
      <ComingBack act={act} sheet={sheet} onChange={onChange} />
    </section>
  );
}
