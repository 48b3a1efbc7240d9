/** The house rules: how far anybody from outside gets, who brings in guests, what the bin keeps, passwords, sensitive words. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type HouseRulesView, readHouse } from "../../contracts/house.ts";
import { LEAST_PASSWORD } from "../../contracts/rules.ts";
import { editSentence } from "../../core/access/explain/index.ts";
import { type Ceilings, type Edit, houseRuleWords, type HouseRules as Rules } from "../../core/access/model/index.ts";
import { PRESET_ROWS, PRESETS } from "../../core/access/presets/index.ts";
import { tray, useTray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./house.module.css";

const NO_NAMES = { place: (id: string) => id, group: (id: string) => id, person: (id: string) => id };

/** What of a rule waits in the tray. */
function useWaiting(rule: keyof Rules) {
  return useTray().items.find(({ change }) => change.edits.some((edit) => edit.kind === "house" && rule in edit.to));
}

function stageRule<K extends keyof Rules>(view: HouseRulesView, rule: K, value: Rules[K]): void {
  const edit: Edit = { kind: "house", from: { [rule]: view.rules[rule] }, to: { [rule]: value } };
  const words = houseRuleWords(rule, { [rule]: value });
  tray.stage({ id: "house", title: "House rules" }, rule, edit, words);
  say(`In the tray: ${words}.`);
}

interface RuleProps {
  rule: keyof Rules;
  view: HouseRulesView;
  children: React.ReactNode;
}

function Rule({ rule, view, children }: RuleProps) {
  const waiting = useWaiting(rule);
  return (
    <li>
      <span>
        {houseRuleWords(rule, view.rules)}
        {waiting && (
          <em>
            {" "}
            → {waiting.change.sentences[0]}, in the tray{" "}
            <button type="button" className={styles.text} onClick={() => tray.remove(waiting.id)}>
              leave it
            </button>
          </em>
        )}
      </span>
      {!waiting && children}
    </li>
  );
}

/** A number typed and confirmed. */
function NumberRule({
  label,
  now,
  least,
  most,
  onChange,
}: {
  label: string;
  now: number;
  least: number;
  most: number;
  onChange(value: number): void;
}) {
  const [typed, setTyped] = useState(String(now));
  const value = Number(typed);
  const sound = /^\d+$/.test(typed) && value >= least && value <= most;
  return (
    <form
      className={styles.line}
      onSubmit={(event) => {
        event.preventDefault();
        if (sound && value !== now) onChange(value);
      }}
    >
      <input
        className={`field ${styles.number}`}
        aria-label={label}
        inputMode="numeric"
        value={typed}
        aria-invalid={!sound}
        onChange={(event) => setTyped(event.target.value)}
      />
      <button type="submit" className="button" disabled={!sound || value === now} title={sound ? undefined : `From ${least} to ${most}.`}>
        To the tray
      </button>
    </form>
  );
}

function WordsRule({ now, onChange }: { now: readonly string[]; onChange(words: string[]): void }) {
  const [typed, setTyped] = useState(now.join(", "));
  const words = [...new Set(typed.split(",").map((it) => it.trim()))].filter(Boolean);
  const sound = words.length <= 200 && words.every((it) => it.length <= 60);
  return (
    <form
      className={styles.line}
      onSubmit={(event) => {
        event.preventDefault();
        if (sound) onChange(words);
      }}
    >
      <input
        className="field"
        aria-label="Words the house calls sensitive, with commas between"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <button
        type="submit"
        className="button"
        disabled={!sound || words.join() === now.join()}
        title={sound ? undefined : "At most 200 words of 60 characters."}
      >
        To the tray
      </button>
    </form>
  );
}

/** One act: nobody from outside gets anything anywhere, whatever is granted. */
function Closing({ view }: { view: HouseRulesView }) {
  const waiting = useTray().items.find(({ change }) =>
    change.edits.some((edit) => edit.kind === "ceilings" && edit.place === view.site.id),
  );
  const { outsiders, passes } = view.ceilings;
  const isClosed = outsiders.length === 0 && !passes;
  const close = () => {
    const to: Ceilings = { ...view.ceilings, outsiders: [], passes: false };
    const edit: Edit = { kind: "ceilings", place: view.site.id, from: view.ceilings, to };
    tray.stage({ id: view.site.id, title: view.site.name || "The site" }, "ceilings", edit, editSentence(edit, NO_NAMES));
    say("In the tray: the house is closed to outsiders. Look at the ripple, then apply.");
  };
  return (
    <section>
      <h2>Outsiders</h2>
      <p>
        {isClosed
          ? "The house is closed: neither the public nor anybody with a pass reads anything, whatever is granted."
          : "The public and passes get as far as the ceilings of the site let them."}{" "}
        <a href={`/grid?place=${encodeURIComponent(view.site.id)}&tab=rules`}>Ceilings of the site</a>
      </p>
      {waiting ? (
        <p className="soft">
          In the tray: look at its ripple below, then apply. Taking that back from the ledger opens the house again.{" "}
          <button type="button" className={styles.text} onClick={() => tray.remove(waiting.id)}>
            leave it
          </button>
        </p>
      ) : (
        !isClosed && (
          <button type="button" className="button" onClick={close}>
            Close the house to outsiders …
          </button>
        )
      )}
    </section>
  );
}

const Presets = () => (
  <section>
    <h2>Presets for a space</h2>
    <dl className={styles.presets}>
      {PRESETS.map((preset) => (
        <div key={preset}>
          <dt>{PRESET_ROWS[preset].name}</dt>
          <dd>
            {PRESET_ROWS[preset].says} Pages are looked at again every {PRESET_ROWS[preset].review} days.
          </dd>
        </div>
      ))}
    </dl>
    <p>
      <a href="/spaces/new">A new space</a>
    </p>
  </section>
);

const NUMBERS = [
  { rule: "binDays", label: "Days the bin keeps pages", least: 0, most: 3650 },
  {
    rule: "useDays",
    label: "Days for which is kept who reads: when guests last did, how many people by marks without names",
    least: 0,
    most: 3650,
  },
  { rule: "passwordLength", label: "Fewest characters of a password", least: LEAST_PASSWORD, most: 100 },
] as const;

export function HouseRules() {
  const { data: view, error } = useQuery({ queryKey: ["house"], queryFn: () => ask(readHouse) });
  if (!view) return <p className="message">{error?.message ?? "Reading …"}</p>;
  const { rules } = view;
  return (
    <>
      <section className={styles.section} aria-labelledby="rules">
        <h1 id="rules">House rules</h1>
        <ul className={styles.rules} key={JSON.stringify(rules)}>
          <Rule rule="guestsBySpaceKeepers" view={view}>
            <button type="button" className="button" onClick={() => stageRule(view, "guestsBySpaceKeepers", !rules.guestsBySpaceKeepers)}>
              {rules.guestsBySpaceKeepers ? "Site keepers alone" : "Keepers of places too"}
            </button>
          </Rule>
          {NUMBERS.map(({ rule, label, least, most }) => (
            <Rule key={rule} rule={rule} view={view}>
              <NumberRule label={label} now={rules[rule]} least={least} most={most} onChange={(value) => stageRule(view, rule, value)} />
            </Rule>
          ))}
          <Rule rule="sensitiveWords" view={view}>
            <WordsRule now={rules.sensitiveWords} onChange={(words) => stageRule(view, "sensitiveWords", words)} />
          </Rule>
        </ul>
      </section>
      <div className={styles.section}>
        <Closing view={view} />
        <Presets />
      </div>
    </>
  );
}
