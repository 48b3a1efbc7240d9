/** The grants that stand on a place: each changed where it stands, what waits for it beside it. */
import { useState } from "react";
import type { Slip } from "../../contracts/slip.ts";
import { grantSentence } from "../../core/access/explain/index.ts";
import {
  abilitiesIn,
  describeSet,
  type Grant,
  grantKey,
  highestLevelFor,
  LEVELS,
  type Level,
  levelOf,
  maskOf,
  principalKey,
  setOfLevel,
} from "../../core/access/model/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { Picker } from "../../ui/Picker.tsx";
import { Stair } from "../../ui/Stair.tsx";
import { Told } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { findPrincipals, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import { InTray, slipNames, type Waiting, waitingAt, waitingFor } from "./pending.tsx";
import styles from "./slip.module.css";

const LEVEL_CHOICES: Level[] = [1, 2, 3, 4, 5];

/** Levels that can be given; one that stands and is above them stays in the list until another is chosen. */
function LevelSelect({ level, most, onChange, label }: { level: Level | null; most: Level; onChange(level: Level): void; label: string }) {
  return (
    <select className="field" aria-label={label} value={level ?? "mix"} onChange={(event) => onChange(Number(event.target.value) as Level)}>
      {level === null && (
        <option value="mix" disabled>
          Mix
        </option>
      )}
      {LEVEL_CHOICES.filter((it) => it <= most || it === level).map((it) => (
        <option key={it} value={it}>
          {LEVELS[it]}
        </option>
      ))}
    </select>
  );
}

const withEnd = ({ until: _, ...endless }: Grant, until: string): Grant => (until ? { ...endless, until } : endless);

interface OneGrant {
  slip: Slip;
  rule: Slip["rules"]["grants"][number];
  waiting: Waiting | undefined;
}

function GrantLine({ slip, rule, waiting }: OneGrant) {
  const { grant, who, ended, most } = rule;
  const names = slipNames(slip, new Map());
  const here = { id: slip.id, title: slip.title };
  /** As it will be: what waits for it, else what stands. */
  const edit = waiting?.edit.kind === "grant" ? waiting.edit : undefined;
  const then = edit ? edit.put : grant;
  const change = (put: Grant) => {
    const sentence = `grant changed: ${grantSentence(put, names)} (before: ${grantSentence(grant, names)})`;
    tray.stage(here, `grant ${grantKey(grant)}`, { kind: "grant", place: slip.id, remove: grant, put }, sentence);
    say(`In the tray: ${grantSentence(put, names)}.`);
  };
  const takeAway = () => {
    const sentence = `grant taken away: ${grantSentence(grant, names)}`;
    tray.stage(here, `grant ${grantKey(grant)}`, { kind: "grant", place: slip.id, remove: grant }, sentence);
    say(`In the tray: the grant to ${who} is taken away.`);
  };
  return (
    <li data-ended={ended} data-waiting={waiting !== undefined}>
      <Stair set={maskOf(grant.abilities)} />
      <span className={styles.name} dir="auto">
        {who}
        {grant.draft && <small> also before it is live</small>}
        {ended && <small> ended</small>}
      </span>
      {then && (
        <>
          <LevelSelect
            label={`Level of ${who}`}
            level={levelOf(maskOf(then.abilities))}
            most={most}
            onChange={(level) => change({ ...then, abilities: abilitiesIn(setOfLevel(level)) })}
          />
          <span className={styles.until}>
            until{" "}
            <DateField
              label={`${who} until`}
              as="end"
              none="without end"
              ahead
              value={then.until ?? ""}
              onChange={(until) => change(withEnd(then, until))}
            />
          </span>
          <button type="button" className={styles.text} onClick={takeAway} aria-label={`Take away the grant to ${who}`}>
            take away
          </button>
        </>
      )}
      {waiting && (
        <InTray
          waiting={waiting}
          words={then ? `${describeSet(maskOf(then.abilities))}${then.until ? " until then" : ""}` : "taken away"}
        />
      )}
    </li>
  );
}

function NewGrant({ slip }: { slip: Slip }) {
  const [to, setTo] = useState<PrincipalChoice | null>(null);
  const [level, setLevel] = useState<Level>(1);
  const [until, setUntil] = useState("");
  const most = to ? highestLevelFor(to.principal, to.isGuest) : 5;
  const add = () => {
    if (!to) return;
    const names = slipNames(slip, new Map([[principalKey(to.principal), to.name]]));
    const put: Grant = {
      to: to.principal,
      abilities: abilitiesIn(setOfLevel(Math.min(level, most) as Level)),
      ...(until ? { until } : {}),
    };
    const rule = `new grant ${principalKey(put.to)}`;
    const sentence = `grant added: ${grantSentence(put, names)}`;
    tray.stage({ id: slip.id, title: slip.title }, rule, { kind: "grant", place: slip.id, put }, sentence);
    say(`In the tray: ${grantSentence(put, names)}.`);
    setTo(null);
    setUntil("");
  };
  return (
    <fieldset className={styles.adding}>
      <legend>Add a grant</legend>
      <Picker<PrincipalChoice> label="To whom" chosen={to} find={findPrincipals} onChoose={setTo} className={styles.whom} />
      <LevelSelect label="Level" level={Math.min(level, most) as Level} most={most} onChange={setLevel} />
      <span className={styles.until}>
        until <DateField label="Until" as="end" none="without end" ahead value={until} onChange={setUntil} />
      </span>
      <button type="button" className="button" disabled={!to} title={to ? undefined : "Choose to whom first."} onClick={add}>
        To the tray
      </button>
    </fieldset>
  );
}

export function Grants({ slip }: { slip: Slip }) {
  const waiting = waitingAt(useTray().items, slip.id);
  const added = waiting.filter(({ edit }) => edit.kind === "grant" && edit.remove === undefined);
  return (
    <section>
      <h3>Grants that stand here</h3>
      {slip.rules.grants.length === 0 && <p className="soft">None: what holds here comes from above.</p>}
      <ul className={styles.rules}>
        {slip.rules.grants.map((rule) => (
          <GrantLine key={grantKey(rule.grant)} slip={slip} rule={rule} waiting={waitingFor(waiting, "grant", grantKey(rule.grant))} />
        ))}
        {added.map((it) => (
          <li key={it.sentence} data-waiting>
            <span className={styles.whole}>
              <Told text={it.sentence} />
            </span>
            <InTray waiting={it} words="new" />
          </li>
        ))}
      </ul>
      <NewGrant slip={slip} />
    </section>
  );
}
