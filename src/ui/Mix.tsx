/** Any closed set of abilities by nine ticks: each brings along what it needs, and takes along what needs it. */
import { ABILITIES, type Ability, type AbilitySet, bitOf, describeSet, withAbility, withoutAbility } from "../core/access/model/index.ts";
import styles from "./Mix.module.css";

/** What each gives, in a few words. */
const GIVES: Readonly<Record<Ability, string>> = {
  read: "read",
  discuss: "comment",
  revise: "write",
  add: "add pages beneath",
  publish: "publish, take down",
  arrange: "rename, move, reorder",
  retire: "archive, bin, restore",
  admit: "change who has access",
  govern: "keep: settings, erasing",
};

/** A set as a sentence: "may read and write; not comment, add pages beneath". */
export function mixSentence(set: AbilitySet): string {
  const [can, cannot] = [true, false].map((has) => ABILITIES.filter((it) => ((set & bitOf(it)) !== 0) === has).map((it) => GIVES[it]));
  if (!can || can.length === 0) return "may do nothing";
  const listed = can.length === 1 ? can[0] : `${can.slice(0, -1).join("; ")}; and ${can.at(-1)}`;
  return `may ${listed}${cannot?.length ? `. Not: ${cannot.join("; ")}` : ""}`;
}

interface Props {
  label: string;
  set: AbilitySet;
  /** What can be given at all. */
  limit: AbilitySet;
  onChange(set: AbilitySet): void;
}

export const Mix = ({ label, set, limit, onChange }: Props) => (
  <fieldset className={styles.mix}>
    <legend>{label}</legend>
    {ABILITIES.map((ability) => {
      const has = (set & bitOf(ability)) !== 0;
      const off = (withAbility(set, ability) & ~limit) !== 0;
      return (
        <label key={ability} data-off={off}>
          <input
            type="checkbox"
            checked={has}
            disabled={off && !has}
            onChange={() => onChange(has ? withoutAbility(set, ability) : withAbility(set, ability))}
          />{" "}
          {GIVES[ability]}
        </label>
      );
    })}
    <p role="status">
      {describeSet(set).startsWith("custom") ? "Mix" : describeSet(set)}: {mixSentence(set)}.
    </p>
  </fieldset>
);
