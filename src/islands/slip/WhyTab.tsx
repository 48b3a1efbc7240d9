import { useQuery } from "@tanstack/react-query";
import { Check, Minus } from "lucide-react";
import { useState } from "react";
import { readWhy } from "../../contracts/slip.ts";
import type { Ability } from "../../core/access/model/index.ts";
import { Told } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import styles from "./slip.module.css";

const NAMES: Record<Ability, string> = {
  read: "read",
  discuss: "comment",
  revise: "write",
  add: "add pages",
  publish: "publish",
  arrange: "move",
  retire: "archive, bin",
  admit: "admit",
  govern: "govern",
};

interface Props {
  place: string;
  column: string;
  /** As of this instant; empty: now. */
  at: string;
  onGo(place: string): void;
}

/** Why a viewpoint has or lacks an ability here: the answer in one sentence, then every source or every obstacle. */
export function WhyTab({ place, column, at, onGo }: Props) {
  const [asked, setAsked] = useState<Ability | null>(null);
  const { data: why, error } = useQuery({
    queryKey: ["why", place, column, asked, at],
    queryFn: () =>
      ask(readWhy, { query: { place, viewpoint: column, ...(asked ? { ability: asked } : {}), ...(at === "" ? {} : { at }) } }),
  });
  if (error) return <p>{error.message}</p>;
  if (!why) return <p className="soft">Asking …</p>;
  const has = why.abilities.find((it) => it.ability === why.ability)?.has ?? false;
  return (
    <>
      <p className={styles.who}>
        <strong>{why.who}</strong> {why.level === "Nothing" ? "has nothing here" : `is ${why.level} here`}.{" "}
        <span className="soft">{why.stands}</span>
      </p>
      <p className={styles.answer} data-has={has} role="status">
        <Told text={why.answer} />
      </p>
      {why.steps.length > 1 && (
        <>
          <h3>{has ? "Everything that gives it" : "Everything that stops it"}</h3>
          <ol className={styles.steps}>
            {why.steps.map((step, i) => (
              <li key={i}>
                <Told text={step.text} />
              </li>
            ))}
          </ol>
        </>
      )}
      {why.oversight && <p className="soft">{why.oversight} Oversight is not reading: it lets them change the rules here.</p>}
      {why.steps[0]?.place && why.steps[0].place !== place && (
        <p>
          <button type="button" className="button" onClick={() => onGo(why.steps[0]?.place ?? place)}>
            Go to the rule to change
          </button>
        </p>
      )}
      <h3>Ask about another ability</h3>
      <div className={styles.abilities}>
        {why.abilities.map(({ ability, has: held }) => (
          <button key={ability} type="button" aria-pressed={ability === why.ability} data-held={held} onClick={() => setAsked(ability)}>
            {held ? <Check size={13} aria-label="can" /> : <Minus size={13} aria-label="cannot" />} {NAMES[ability]}
          </button>
        ))}
      </div>
    </>
  );
}
