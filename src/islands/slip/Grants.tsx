/** The grants that stand on a place: each changed where it stands, what waits for it beside it. */
import { useState } from "react";
import type { Slip } from "../../contracts/slip.ts";
import { grantSentence } from "../../core/access/explain/index.ts";
import {
  type AbilitySet,
  abilitiesIn,
  close,
  describeSet,
  EVERYTHING,
  type Grant,
  grantKey,
  LEVELS,
  type Level,
  levelOf,
  limitFor,
  maskOf,
  principalKey,
  setOfLevel,
} from "../../core/access/model/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { Mix } from "../../ui/Mix.tsx";
import { Picker } from "../../ui/Picker.tsx";
import { Stair } from "../../ui/Stair.tsx";
import { Told } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { findPrincipals, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import { InTray, slipNames, type Waiting, waitingAt, waitingFor } from "./pending.tsx";
import styles from "./slip.module.css";

const LEVEL_CHOICES: Level[] = [1, 2, 3, 4, 5];

interface WhatProps {
  label: string;
  set: AbilitySet;
  /** What can be given to whom it is for. */
  limit: AbilitySet;
  onChange(set: AbilitySet): void;
}

/** What a grant gives: a level, or a mix by nine ticks. A level that stands and is above the others stays until another is chosen. */
function What({ label, set, limit, onChange }: WhatProps) {
  const [mixing, setMixing] = useState(false);
  const level = levelOf(set);
  return (
    <>
      <select
        className="field"
        aria-label={label}
        value={level ?? "mix"}
        onChange={(event) => {
          setMixing(event.target.value === "mix");
          if (event.target.value !== "mix") onChange(setOfLevel(Number(event.target.value) as Level));
        }}
      >
        {LEVEL_CHOICES.filter((it) => (setOfLevel(it) & ~limit) === 0 || it === level).map((it) => (
          <option key={it} value={it}>
            {LEVELS[it]}
          </option>
        ))}
        <option value="mix">Mix …</option>
      </select>
      {(mixing || level === null) && <Mix label={`${label}: a mix`} set={set} limit={limit} onChange={onChange} />}
    </>
  );
}

const withEnd = ({ until: _, ...endless }: Grant, until: string): Grant => (until ? { ...endless, until } : endless);

interface OneGrant {
  slip: Slip;
  rule: Slip["rules"]["grants"][number];
  waiting: Waiting | undefined;
}

function GrantLine({ slip, rule, waiting }: OneGrant) {
  const { grant, who, ended, most, managers } = rule;
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
        {managers.length > 0 && <small className="soft"> filled by {managers.join(", ")}</small>}
      </span>
      {then && (
        <>
          <What
            label={`Level of ${who}`}
            set={maskOf(then.abilities)}
            limit={limitFor(grant.to, "person" in grant.to && most < 5)}
            onChange={(set) => set !== 0 && change({ ...then, abilities: abilitiesIn(set) })}
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
  const [set, setSet] = useState<AbilitySet>(setOfLevel(1));
  const [until, setUntil] = useState("");
  const limit = to ? limitFor(to.principal, to.isGuest) : EVERYTHING;
  const given = close(set & limit) & limit;
  const add = () => {
    if (!to) return;
    const names = slipNames(slip, new Map([[principalKey(to.principal), to.name]]));
    const put: Grant = {
      to: to.principal,
      abilities: abilitiesIn(given),
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
      <What label="Level" set={given} limit={limit} onChange={(it) => it !== 0 && setSet(it)} />
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
