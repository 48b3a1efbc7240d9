import type { Slip, SlipPerson } from "../../contracts/slip.ts";
import { type Level, setOfLevel } from "../../core/access/model/index.ts";
import { Stair } from "../../ui/Stair.tsx";
import { Asked } from "../asked/Asked.tsx";
import styles from "./slip.module.css";

const HEADS: { title: string; holds(person: SlipPerson): boolean }[] = [
  { title: "Outside", holds: (it) => it.kind !== "member" },
  { title: "Members", holds: (it) => it.kind === "member" },
];

/** Everybody with access, the outside first, then by level; each with the way to its why. */
export function WhoTab({ slip, onWhy }: { slip: Slip; onWhy(column: string): void }) {
  if (!slip.knowsOthers) return <p className="soft">Knowing who else has access here needs Keeper, or oversight.</p>;
  return (
    <>
      <Asked place={slip.id} none="" />
      {HEADS.map(({ title, holds }) => {
        const people = slip.people.filter(holds);
        return (
          <section key={title}>
            <h3>
              {title} <span className="soft">{people.length}</span>
            </h3>
            {title === "Outside" && slip.mayAskIn && (
              <p>
                <a href={`/people/invite?place=${encodeURIComponent(slip.id)}&title=${encodeURIComponent(slip.title)}`}>Ask a guest in …</a>
              </p>
            )}
            {people.length === 0 && (
              <p className="soft">{title === "Outside" ? "Nobody from outside gets in here." : "No member has anything here."}</p>
            )}
            <ul className={styles.people}>
              {people.map((person) => (
                <li key={person.viewpoint} data-outside={person.kind !== "member"}>
                  <Stair set={person.level.startsWith("custom") ? 1 << 2 : setOfLevel(person.steps as Level)} />
                  <span className={styles.name}>{person.name}</span>
                  <span className="soft">
                    {person.level.startsWith("custom") ? "Mix" : person.level}
                    {person.oversight && " · overseer"}
                  </span>
                  {slip.address && person.kind !== "pass" && (
                    <a href={`/eyes/${person.viewpoint}${slip.address}`} aria-label={`Walk as ${person.name}`}>
                      walk
                    </a>
                  )}
                  <button type="button" className={styles.text} onClick={() => onWhy(person.viewpoint)} aria-label={`Why ${person.name}`}>
                    why
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}
