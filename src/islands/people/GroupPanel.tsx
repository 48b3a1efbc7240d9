/** The slip of a group: what is in it, what it is in, what it is granted; filled, renamed and taken away through the tray. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type GroupSlip, leaveGroup, type Named, readGroup } from "../../contracts/people.ts";
import { type GroupMember, principalKey } from "../../core/access/model/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray, useTray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { findSubjects, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import { Comparing } from "./Comparing.tsx";
import { STATE_WORDS } from "./columns.tsx";
import { Managers } from "./Managers.tsx";
import { Panel } from "./Panel.tsx";
import { InTray, waitingOf } from "./pending.tsx";
import styles from "./people.module.css";
import { stageMember } from "./staging.ts";

/** One member with what waits for it, and how to take it out. */
function Member({ slip, member, name, note }: { slip: GroupSlip; member: GroupMember; name: string; note: string }) {
  const key = principalKey(member);
  const [leaving] = waitingOf(
    useTray().items,
    "member",
    (it) => it.group === slip.id && it.remove !== undefined && principalKey(it.remove) === key,
  );
  return (
    <li>
      <span dir="auto">{name}</span> {note && <small className="soft">{note}</small>}{" "}
      {leaving ? (
        <InTray waiting={leaving} words="taken out" />
      ) : (
        (slip.mayChange || (slip.mandate && "person" in member && member.person !== slip.mandate.person)) && (
          <button
            type="button"
            className={styles.text}
            onClick={() => stageMember(slip, { remove: member }, name)}
            aria-label={`take out ${name}`}
          >
            take out
          </button>
        )
      )}
    </li>
  );
}

function Inside({ slip }: { slip: GroupSlip }) {
  const [names, setNames] = useState<ReadonlyMap<string, string>>(new Map());
  const coming = waitingOf(useTray().items, "member", (it) => it.group === slip.id && it.put !== undefined);
  const add = ({ principal, name, key }: PrincipalChoice) => {
    if ("audience" in principal) return;
    setNames(new Map([...names, [key, name]]));
    stageMember(slip, { put: principal }, name);
  };
  const { mandate } = slip;
  const find = async (words: string) => {
    const found = (await findSubjects(words)).filter(({ key }) => key !== `group:${slip.id}`);
    // A mandate is for people, not for oneself, and for guests where it says so.
    if (!mandate) return found;
    return found.filter(
      ({ principal, isGuest }) => "person" in principal && principal.person !== mandate.person && (mandate.guests || !isGuest),
    );
  };
  return (
    <>
      <ul className={styles.plainList}>
        {slip.inside.map(({ id, name }) => (
          <Member key={id} slip={slip} member={{ group: id }} name={name} note="group" />
        ))}
        {slip.members.map(({ id, name, kind, state }) => (
          <Member
            key={id}
            slip={slip}
            member={{ person: id }}
            name={name}
            note={[kind === "guest" ? "guest" : "", state ? STATE_WORDS[state] : ""].filter(Boolean).join(", ")}
          />
        ))}
        {slip.moreMembers > 0 && <li className="soft">and {slip.moreMembers.toLocaleString("en")} more</li>}
        {coming.map((it) => {
          const key = it.edit.put ? principalKey(it.edit.put) : "";
          return (
            <li key={key}>
              {names.get(key) ?? it.item.change.sentences[0]} <InTray waiting={it} words="put in" />
            </li>
          );
        })}
      </ul>
      {(slip.mayChange || mandate) && <Picker<PrincipalChoice> label="Put in" find={find} onChoose={add} className={styles.whom} />}
    </>
  );
}

function Naming({ slip }: { slip: GroupSlip }) {
  const [name, setName] = useState<string | null>(null);
  const { whole } = slip;
  const [waiting] = waitingOf(useTray().items, "group", (it) => it.group === slip.id);
  const [problem, setProblem] = useState("");
  if (!whole) return null;
  const close = () => {
    const put = { ...whole, name: (name ?? "").trim() };
    tray.stage(
      { id: `group:${slip.id}`, title: slip.name },
      "group",
      { kind: "group", group: slip.id, remove: whole, put },
      `called ${put.name}`,
    );
    say(`In the tray: ${slip.name} is called ${put.name}.`);
    setName(null);
  };
  const takeAway = async () => {
    const leaving = await ask(leaveGroup, { params: { id: slip.id } }).catch((error: Error) => setProblem(error.message));
    if (!leaving) return;
    tray.stageAll({ id: `group:${slip.id}`, title: slip.name }, "group", leaving.edits, leaving.sentences);
    say(`In the tray: ${slip.name} is taken away.`);
  };
  return (
    <div className={styles.standing}>
      {waiting ? (
        <InTray waiting={waiting} words={waiting.edit.put ? `called ${waiting.edit.put.name ?? ""}` : "taken away"} />
      ) : (
        <>
          <button type="button" className="button" aria-expanded={name !== null} onClick={() => setName(name === null ? slip.name : null)}>
            Rename
          </button>
          <button type="button" className="button" onClick={() => void takeAway()}>
            Take away
          </button>
        </>
      )}
      {problem && <p className="notice bad">{problem}</p>}
      {name !== null && (
        <form
          className={styles.naming}
          onSubmit={(event) => {
            event.preventDefault();
            if (hasWords(name) && name.length <= LIMITS.group && name.trim() !== slip.name) close();
          }}
        >
          <TextField label="Name" value={name} onChange={setName} most={LIMITS.group} />
          <button type="submit" className="button" disabled={!hasWords(name) || name.length > LIMITS.group || name.trim() === slip.name}>
            To the tray
          </button>
        </form>
      )}
    </div>
  );
}

const Links = ({ list, onGroup }: { list: Named[]; onGroup(id: string): void }) => (
  <ul className={styles.plainList}>
    {list.map(({ id, name }) => (
      <li key={id}>
        <button type="button" className={styles.text} onClick={() => onGroup(id)} dir="auto">
          {name}
        </button>
      </li>
    ))}
  </ul>
);

const gridAt = (id: string): string => `/grid?place=${encodeURIComponent(id)}&tab=rules`;

function Granted({ slip }: { slip: GroupSlip }) {
  if (slip.granted.length === 0 && slip.admitted.length === 0) return <p className="soft">Nothing, where you may see the rules.</p>;
  return (
    <ul className={styles.plainList}>
      {slip.granted.map(({ place, sentence }, i) => (
        <li key={i}>
          <a href={gridAt(place.id)} dir="auto">
            {place.name}
          </a>
          <small className="soft"> {sentence}</small>
        </li>
      ))}
      {slip.moreGranted > 0 && <li className="soft">and {slip.moreGranted} more grants</li>}
      {slip.admitted.map((place) => (
        <li key={place.id}>
          <a href={gridAt(place.id)} dir="auto">
            {place.name}
          </a>
          <small className="soft"> a fence admits it</small>
        </li>
      ))}
    </ul>
  );
}

export function GroupPanel({ id, onGroup, onClose }: { id: string; onGroup(id: string): void; onClose(): void }) {
  const { data: slip, error } = useQuery({ queryKey: ["group", id], queryFn: () => ask(readGroup, { params: { id } }) });
  if (!slip) return <Panel label="Group" above="" title="" problem={error?.message ?? "Reading …"} onClose={onClose} />;
  const guests = slip.guests > 0 ? `, ${slip.guests} of them ${slip.guests === 1 ? "a guest" : "guests"}` : "";
  return (
    <Panel
      label={`Slip of ${slip.name}`}
      above={`group, ${slip.people.toLocaleString("en")} ${slip.people === 1 ? "person" : "people"}${guests}`}
      title={slip.name}
      onClose={onClose}
    >
      {slip.notes.map((note) => (
        <p key={note} className={styles.note}>
          {note}
        </p>
      ))}
      <Naming key={slip.id} slip={slip} />
      {slip.within.length > 0 && (
        <>
          <h3>It is in</h3>
          <Links list={slip.within} onGroup={onGroup} />
        </>
      )}
      <h3>In it</h3>
      <Inside key={`in ${slip.id}`} slip={slip} />
      <h3>Who manages it</h3>
      <Managers key={`managers of ${slip.id}`} slip={slip} />
      <h3>Where it is granted what</h3>
      <Granted slip={slip} />
      <Comparing key={`beside ${slip.id}`} slip={slip} />
    </Panel>
  );
}
