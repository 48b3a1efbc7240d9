/** Where a pledge does not hold: for whom, why, and the change that would mend it. */
import type { PledgeWitness, PledgeWitnesses } from "../../contracts/pledges.ts";
import { LEVELS } from "../../core/access/model/index.ts";
import { tray, useTray } from "../change/store.ts";
import styles from "./pledges.module.css";

function Mend({ witness: { place, mend } }: { witness: PledgeWitness }) {
  const waits = useTray().items.some((it) => it.place === place.id);
  if (mend === null) return <span className="soft">No one wish mends this: see the rules.</span>;
  if ("pass" in mend) return <a href="/outside?part=passes">Withdraw the pass</a>;
  if (waits) return <span className="soft">in the tray</span>;
  const { column, name, level } = mend;
  return (
    <button
      type="button"
      className="button"
      title={`${name} at ${LEVELS[level]} here: the best change for that goes to the tray`}
      onClick={() => void tray.wish({ id: place.id, title: place.name }, { column, name, level })}
    >
      Mend it
    </button>
  );
}

const some = ({ who, count }: PledgeWitness): string => {
  const more = count - who.length;
  const names = who.map((name, i) => (i > 0 ? name.replace(/^Whoever/, "whoever") : name)).join(", ");
  return more > 0 ? `${names} and ${more.toLocaleString("en")} more` : names;
};

export const Witnesses = ({ witnesses, more }: PledgeWitnesses) => (
  <ul className={styles.witnesses} aria-label="Where it does not hold">
    {witnesses.map((witness) => (
      <li key={witness.place.id}>
        <div>
          <a href={`/grid?place=${encodeURIComponent(witness.place.id)}&tab=rules`} dir="auto">
            {witness.place.name}
          </a>{" "}
          <small className="soft" dir="auto">
            {witness.path.join(" / ")}
          </small>
          <p className={styles.why}>
            {some(witness)}. {witness.steps.join(" ")}
          </p>
        </div>
        <Mend witness={witness} />
      </li>
    ))}
    {more > 0 && <li className="soft">and {more.toLocaleString("en")} more places</li>}
  </ul>
);
