/** The fences that stand on a place: whom they admit, changed where they stand; what waits for them beside them. */
import { useState } from "react";
import type { Slip } from "../../contracts/slip.ts";
import { fenceSentence, principalName } from "../../core/access/explain/index.ts";
import { type Fence, fenceKey, type Principal, principalKey } from "../../core/access/model/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { Told } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { findPrincipals, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import { InTray, slipNames, type Waiting, waitingAt, waitingFor } from "./pending.tsx";
import styles from "./slip.module.css";

type Picked = ReadonlyMap<string, string>;

interface OneFence {
  slip: Slip;
  fence: Fence;
  waiting: Waiting | undefined;
  picked: Picked;
  onPick(choice: PrincipalChoice): void;
}

function FenceLine({ slip, fence, waiting, picked, onPick }: OneFence) {
  const names = slipNames(slip, picked);
  const here = { id: slip.id, title: slip.title };
  const rule = `fence ${fenceKey(fence)}`;
  const edit = waiting?.edit.kind === "fence" ? waiting.edit : undefined;
  const then = edit ? edit.put : fence;
  const change = (admits: Principal[]) => {
    const put = { ...fence, admits };
    const sentence = `${put.kind} fence changed: ${fenceSentence(put, names)}`;
    tray.stage(here, rule, { kind: "fence", place: slip.id, remove: fence, put }, sentence);
    say(`In the tray: ${sentence}.`);
  };
  const takeAway = () => {
    tray.stage(here, rule, { kind: "fence", place: slip.id, remove: fence }, `${fence.kind} fence taken away`);
    say(`In the tray: the ${fence.kind} fence is taken away.`);
  };
  return (
    <li className={styles.fence} data-waiting={waiting !== undefined}>
      <span className={styles.name}>
        <strong>{fence.kind} fence</strong>: {fenceSentence(fence, names)}
      </span>
      {then && (
        <>
          <button type="button" className={styles.text} onClick={takeAway} aria-label={`Take away the ${fence.kind} fence`}>
            take away
          </button>
          <div className={styles.admits}>
            {then.admits.map((principal) => (
              <button
                key={principalKey(principal)}
                type="button"
                className={styles.text}
                onClick={() => change(then.admits.filter((it) => it !== principal))}
              >
                no longer admit {principalName(principal, names)}
              </button>
            ))}
            <Picker
              label="Admit also"
              find={findPrincipals}
              onChoose={(choice) => {
                onPick(choice);
                if (!then.admits.some((it) => principalKey(it) === principalKey(choice.principal)))
                  change([...then.admits, choice.principal]);
              }}
            />
          </div>
        </>
      )}
      {waiting && (
        <InTray
          waiting={waiting}
          words={then ? `admits ${then.admits.map((it) => principalName(it, names)).join(", ") || "nobody"}` : "taken away"}
        />
      )}
    </li>
  );
}

function NewFence({ slip }: { slip: Slip }) {
  const [kind, setKind] = useState<Fence["kind"]>("write");
  const [admits, setAdmits] = useState<PrincipalChoice[]>([]);
  const names = slipNames(slip, new Map(admits.map((it) => [principalKey(it.principal), it.name])));
  const put: Fence = { kind, admits: admits.map((it) => it.principal) };
  const add = () => {
    const sentence = `${kind} fence added: ${fenceSentence(put, names)}`;
    tray.stage({ id: slip.id, title: slip.title }, `new fence ${kind}`, { kind: "fence", place: slip.id, put }, sentence);
    say(`In the tray: ${sentence}.`);
    setAdmits([]);
  };
  return (
    <fieldset className={styles.adding}>
      <legend>Add a fence</legend>
      <Picker
        label="Admits"
        find={findPrincipals}
        onChoose={(choice) => setAdmits([...admits.filter((it) => it.key !== choice.key), choice])}
        className={styles.whom}
      />
      <select className="field" aria-label="Kind of fence" value={kind} onChange={(event) => setKind(event.target.value as Fence["kind"])}>
        <option value="write">write fence</option>
        <option value="read">read fence</option>
      </select>
      <button type="button" className="button" onClick={add}>
        To the tray
      </button>
      <p className="soft">{fenceSentence(put, names)}</p>
      {admits.length > 0 && (
        <p className={styles.admits}>
          {admits.map((it) => (
            <button key={it.key} type="button" className={styles.text} onClick={() => setAdmits(admits.filter((other) => other !== it))}>
              not {it.name}
            </button>
          ))}
        </p>
      )}
    </fieldset>
  );
}

export function Fences({ slip }: { slip: Slip }) {
  const waiting = waitingAt(useTray().items, slip.id);
  const [picked, setPicked] = useState<Picked>(new Map());
  const added = waiting.filter(({ edit }) => edit.kind === "fence" && edit.remove === undefined);
  return (
    <section>
      <h3>Fences that stand here</h3>
      {slip.rules.fences.length === 0 && <p className="soft">None.</p>}
      <ul className={styles.rules}>
        {slip.rules.fences.map(({ fence }) => (
          <FenceLine
            key={fenceKey(fence)}
            slip={slip}
            fence={fence}
            waiting={waitingFor(waiting, "fence", fenceKey(fence))}
            picked={picked}
            onPick={(choice) => setPicked(new Map([...picked, [principalKey(choice.principal), choice.name]]))}
          />
        ))}
        {added.map((it) => (
          <li key={it.sentence} className={styles.fence} data-waiting>
            <span className={styles.name}>
              <Told text={it.sentence} />
            </span>
            <InTray waiting={it} words="new" />
          </li>
        ))}
      </ul>
      <NewFence slip={slip} />
    </section>
  );
}
