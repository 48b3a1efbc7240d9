/** The rules of a place, edited through the tray: stance, grants, fences; below them what comes from above. */
import type { Slip } from "../../contracts/slip.ts";
import { Told } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { MakePass } from "../passes/MakePass.tsx";
import { PassList } from "../passes/PassList.tsx";
import { Ceilings } from "./Ceilings.tsx";
import { Fences } from "./Fences.tsx";
import { Grants } from "./Grants.tsx";
import { InTray, waitingAt } from "./pending.tsx";
import styles from "./slip.module.css";

function Stance({ slip }: { slip: Slip }) {
  const { stance } = slip.rules;
  const waiting = waitingAt(useTray().items, slip.id).find(({ edit }) => edit.kind === "stance");
  const turn = () => {
    const to = stance === "fresh" ? "follow" : "fresh";
    const sentence = to === "fresh" ? "starts fresh: what is granted above stops here" : "follows what is granted above again";
    tray.stage({ id: slip.id, title: slip.title }, "stance", { kind: "stance", place: slip.id, from: stance, to }, sentence);
  };
  return (
    <section>
      <h3>Stance</h3>
      <p className={styles.stance}>
        <span>{stance === "fresh" ? "Fresh: what is granted above stops here." : "Follow: what is granted above holds here too."}</span>
        {waiting ? (
          <InTray waiting={waiting} words={stance === "fresh" ? "follows again" : "starts fresh"} />
        ) : (
          <button type="button" className="button" onClick={turn}>
            {stance === "fresh" ? "Follow again" : "Start fresh"}
          </button>
        )}
      </p>
    </section>
  );
}

/** Secret links to a page; of a space, those to anything in it. */
function Passes({ slip }: { slip: Slip }) {
  if (slip.kind === "site") return null;
  const isPage = slip.kind !== "space";
  return (
    <section>
      <h3>Passes</h3>
      <PassList place={slip.id} placed={!isPage} none={isPage ? "No pass opens this page." : "No pass opens a page in this space."} />
      {isPage && slip.state === "live" && <MakePass place={slip.id} title={slip.title} />}
    </section>
  );
}

export function RulesTab({ slip }: { slip: Slip }) {
  if (!slip.knowsOthers) return <p className="soft">Seeing and changing the rules here needs Keeper, or oversight.</p>;
  return (
    <>
      {slip.kind !== "site" && <Stance slip={slip} />}
      <Grants slip={slip} />
      <Fences slip={slip} />
      <Ceilings slip={slip} />
      <Passes slip={slip} />
      {slip.rules.above.length > 0 && (
        <section>
          <h3>From above</h3>
          <ul className={styles.above}>
            {slip.rules.above.map((rule, i) => (
              <li key={i} data-cut={rule.cutOff}>
                <span>
                  <Told text={rule.text} />
                </span>{" "}
                <small>
                  {rule.place}
                  {rule.cutOff && ", stopped by a fresh start"}
                </small>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
