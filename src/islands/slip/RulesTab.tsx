/** The rules of a place, edited through the tray: stance, grants, fences; below them what comes from above. */
import { useState } from "react";
import type { Everybody, Slip } from "../../contracts/answers.ts";
import { abilitiesIn, LEVELS, type Level, levelOf, maskOf, setOfLevel } from "../../core/access/abilities.ts";
import type { Fence, Grant, Principal } from "../../core/access/document.ts";
import { fenceSentence, grantSentence, type Names } from "../../core/access/sentences.ts";
import { Stair } from "../../ui/Stair.tsx";
import { stage } from "../tray/store.ts";
import { PrincipalPicker } from "./PrincipalPicker.tsx";
import styles from "./slip.module.css";

const namesOf = (everybody: Everybody): Names => ({
  place: (id) => id,
  person: (id) => everybody.people.find((it) => it.id === id)?.name ?? id,
  group: (id) => everybody.groups.find((it) => it.id === id)?.name ?? id,
});

const LEVEL_CHOICES: Level[] = [1, 2, 3, 4, 5];

function LevelSelect({ level, onChange, label }: { level: Level | null; onChange(level: Level): void; label: string }) {
  return (
    <select className="field" aria-label={label} value={level ?? "mix"} onChange={(event) => onChange(Number(event.target.value) as Level)}>
      {level === null && (
        <option value="mix" disabled>
          Mix
        </option>
      )}
      {LEVEL_CHOICES.map((it) => (
        <option key={it} value={it}>
          {LEVELS[it]}
        </option>
      ))}
    </select>
  );
}

interface Part {
  slip: Slip;
  names: Names;
}

function Grants({ slip, names, everybody }: Part & { everybody: Everybody }) {
  const here = { id: slip.id, title: slip.title };
  const replace = (old: Grant, put: Grant) =>
    stage(
      here,
      [{ kind: "grant", place: slip.id, remove: old, put }],
      [`grant changed: ${grantSentence(put, names)} (before: ${grantSentence(old, names)})`],
    );
  return (
    <section>
      <h3>Grants that stand here</h3>
      {slip.rules.grants.length === 0 && <p className="soft">None: what holds here comes from above.</p>}
      <ul className={styles.rules}>
        {slip.rules.grants.map(({ grant, who, ended }) => (
          <li key={JSON.stringify(grant)} data-ended={ended}>
            <Stair set={maskOf(grant.abilities)} />
            <span className={styles.name}>
              {who}
              {grant.draft && <small> also before it is live</small>}
              {ended && <small> ended</small>}
            </span>
            <LevelSelect
              label={`Level of ${who}`}
              level={levelOf(maskOf(grant.abilities))}
              onChange={(level) => replace(grant, { ...grant, abilities: abilitiesIn(setOfLevel(level)) })}
            />
            <label className={styles.until}>
              until{" "}
              <input
                type="date"
                className="field"
                aria-label={`${who} until`}
                title="Until the end of this day, in your time zone; empty: without end"
                value={grant.until ? grant.until.slice(0, 10) : ""}
                onChange={(event) => {
                  const { until: _, ...endless } = grant;
                  replace(grant, event.target.value ? { ...endless, until: endOfDay(event.target.value) } : endless);
                }}
              />
            </label>
            <button
              type="button"
              className={styles.text}
              onClick={() =>
                stage(here, [{ kind: "grant", place: slip.id, remove: grant }], [`grant taken away: ${grantSentence(grant, names)}`])
              }
              aria-label={`Take away the grant to ${who}`}
            >
              take away
            </button>
          </li>
        ))}
      </ul>
      <NewGrant slip={slip} names={names} everybody={everybody} />
    </section>
  );
}

/** The last moment of a day, as the person at the screen counts days. */
const endOfDay = (day: string): string => new Date(`${day}T23:59:59.999`).toISOString();

function NewGrant({ slip, names, everybody }: Part & { everybody: Everybody }) {
  const [to, setTo] = useState<Principal | null>(null);
  const [level, setLevel] = useState<Level>(1);
  const [until, setUntil] = useState("");
  const add = () => {
    if (!to) return;
    const put: Grant = { to, abilities: abilitiesIn(setOfLevel(level)), ...(until ? { until: endOfDay(until) } : {}) };
    stage({ id: slip.id, title: slip.title }, [{ kind: "grant", place: slip.id, put }], [`grant added: ${grantSentence(put, names)}`]);
    setTo(null);
    setUntil("");
  };
  return (
    <fieldset className={styles.adding}>
      <legend>Add a grant</legend>
      <PrincipalPicker everybody={everybody} value={to} onChange={setTo} label="To whom" />
      <LevelSelect label="Level" level={level} onChange={setLevel} />
      <label className={styles.until}>
        until{" "}
        <input
          type="date"
          className="field"
          aria-label="Until"
          title="Until the end of this day; empty: without end"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
      </label>
      <button type="button" className="button" disabled={!to} onClick={add}>
        To the tray
      </button>
    </fieldset>
  );
}

function Fences({ slip, names, everybody }: Part & { everybody: Everybody }) {
  const here = { id: slip.id, title: slip.title };
  const [kind, setKind] = useState<Fence["kind"]>("write");
  const [admits, setAdmits] = useState<Principal[]>([]);
  const edit = (old: Fence, put: Fence) =>
    stage(here, [{ kind: "fence", place: slip.id, remove: old, put }], [`${put.kind} fence changed: ${fenceSentence(put, names)}`]);
  return (
    <section>
      <h3>Fences that stand here</h3>
      {slip.rules.fences.length === 0 && <p className="soft">None.</p>}
      <ul className={styles.rules}>
        {slip.rules.fences.map(({ fence, text, names: admitted }) => (
          <li key={JSON.stringify(fence)} className={styles.fence}>
            <span className={styles.name}>
              <strong>{fence.kind} fence</strong>: {text}
            </span>
            <button
              type="button"
              className={styles.text}
              onClick={() => stage(here, [{ kind: "fence", place: slip.id, remove: fence }], [`${fence.kind} fence taken away`])}
              aria-label={`Take away the ${fence.kind} fence`}
            >
              take away
            </button>
            <div className={styles.admits}>
              {fence.admits.map((principal, i) => (
                <button
                  key={JSON.stringify(principal)}
                  type="button"
                  className={styles.text}
                  onClick={() => edit(fence, { ...fence, admits: fence.admits.filter((it) => it !== principal) })}
                >
                  no longer admit {admitted[i]}
                </button>
              ))}
              <PrincipalPicker
                everybody={everybody}
                value={null}
                label="Admit also"
                onChange={(it) => it && edit(fence, { ...fence, admits: [...fence.admits, it] })}
              />
            </div>
          </li>
        ))}
      </ul>
      <fieldset className={styles.adding}>
        <legend>Add a fence</legend>
        <select
          className="field"
          aria-label="Kind of fence"
          value={kind}
          onChange={(event) => setKind(event.target.value as Fence["kind"])}
        >
          <option value="write">write fence</option>
          <option value="read">read fence</option>
        </select>
        <PrincipalPicker everybody={everybody} value={null} label="Admits" onChange={(it) => it && setAdmits([...admits, it])} />
        <button
          type="button"
          className="button"
          onClick={() => {
            const put: Fence = { kind, admits };
            stage(here, [{ kind: "fence", place: slip.id, put }], [`${kind} fence added: ${fenceSentence(put, names)}`]);
            setAdmits([]);
          }}
        >
          To the tray
        </button>
        <p className="soft">{fenceSentence({ kind, admits }, names)}</p>
      </fieldset>
    </section>
  );
}

export function RulesTab({ slip, everybody }: { slip: Slip; everybody: Everybody }) {
  if (!slip.knowsOthers) return <p className="soft">Seeing and changing the rules here needs Keeper, or oversight.</p>;
  const names = namesOf(everybody);
  const { stance } = slip.rules;
  const turn = () => {
    const to = stance === "fresh" ? "follow" : "fresh";
    const sentence = to === "fresh" ? "starts fresh: what is granted above stops here" : "follows what is granted above again";
    stage({ id: slip.id, title: slip.title }, [{ kind: "stance", place: slip.id, from: stance, to }], [sentence]);
  };
  return (
    <>
      {slip.kind !== "site" && (
        <section>
          <h3>Stance</h3>
          <p className={styles.stance}>
            <span>{stance === "fresh" ? "Fresh: what is granted above stops here." : "Follow: what is granted above holds here too."}</span>
            <button type="button" className="button" onClick={turn}>
              {stance === "fresh" ? "Follow again" : "Start fresh"}
            </button>
          </p>
        </section>
      )}
      <Grants slip={slip} names={names} everybody={everybody} />
      <Fences slip={slip} names={names} everybody={everybody} />
      {slip.rules.above.length > 0 && (
        <section>
          <h3>From above</h3>
          <ul className={styles.above}>
            {slip.rules.above.map((rule, i) => (
              <li key={i} data-cut={rule.cutOff}>
                <span>{rule.text}</span>{" "}
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
