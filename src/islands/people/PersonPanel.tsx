/** The slip of a person: what they are in, own and keep, what they can do where; suspended, let back in and given an end through the tray. */
import { useQuery } from "@tanstack/react-query";
import { type PersonSlip, readPerson } from "../../contracts/people.ts";
import type { Person } from "../../core/access/model/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { When } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { STATE_WORDS } from "./columns.tsx";
import { LevelBars } from "./LevelBars.tsx";
import { Panel } from "./Panel.tsx";
import { PersonActs } from "./PersonActs.tsx";
import { InTray, waitingOf } from "./pending.tsx";
import styles from "./people.module.css";

const counted = (count: number, one: string): string => `${count.toLocaleString("en")} ${count === 1 ? one : `${one}s`}`;

/** What is changed of a person, said in a few words. */
const saidOf = (before: Person, after: Person): string =>
  [
    ...(before.status === after.status ? [] : [after.status === "suspended" ? "suspended" : "let back in"]),
    ...(before.kind === after.kind ? [] : [`a ${after.kind} from now on`]),
    ...((before.until ?? null) === (after.until ?? null) ? [] : [after.until ? `until ${after.until}` : "without an end"]),
  ].join(", ") || "as before";

function Standing({ slip, whole }: { slip: PersonSlip; whole: Person }) {
  const [waiting] = waitingOf(useTray().items, "person", (edit) => edit.person === slip.id);
  const now = waiting?.edit.put ?? whole;
  const stage = (change: Partial<Person>) => {
    const { until, ...rest } = { ...now, ...change };
    const put: Person = { ...rest, ...(until == null ? {} : { until }) };
    const words = saidOf(whole, put);
    tray.stage({ id: `person:${slip.id}`, title: slip.name }, "person", { kind: "person", person: slip.id, remove: whole, put }, words);
    say(`In the tray: ${slip.name}, ${words}.`);
  };
  return (
    <div className={styles.standing}>
      {waiting && <InTray waiting={waiting} words={saidOf(whole, now)} />}
      <button type="button" className="button" onClick={() => stage({ status: now.status === "suspended" ? "active" : "suspended" })}>
        {now.status === "suspended" ? "Let back in" : "Suspend"}
      </button>
      <a className="button" href={`/people/leaving?person=${encodeURIComponent(slip.id)}`}>
        See off …
      </a>
      <PersonActs slip={slip} />
      <DateField label="Until" value={now.until ?? ""} onChange={(until) => stage({ until: until || null })} as="end" none="no end" />
    </div>
  );
}

function Groups({ slip, onGroup }: { slip: PersonSlip; onGroup(id: string): void }) {
  if (slip.groups.length === 0) return <p className="soft">In no group.</p>;
  return (
    <ul className={styles.plainList}>
      {slip.groups.map(({ id, name, through }) => (
        <li key={id}>
          <button type="button" className={styles.text} onClick={() => onGroup(id)} dir="auto">
            {name}
          </button>
          {through.length > 0 && <small className="soft"> through {through.join(", then ")}</small>}
        </li>
      ))}
    </ul>
  );
}

const Owns = ({ owns }: Pick<PersonSlip, "owns">) => (
  <>
    <h3>Owns {counted(owns.count, "page")}</h3>
    {owns.pages.length > 0 && (
      <ul className={styles.plainList}>
        {owns.pages.slice(0, 8).map(({ id, name }) => (
          <li key={id} dir="auto">
            <a href={`/pages?place=${encodeURIComponent(id)}`}>{name}</a>
          </li>
        ))}
        {owns.count > 8 && <li className="soft">and {(owns.count - Math.min(8, owns.pages.length)).toLocaleString("en")} more</li>}
      </ul>
    )}
  </>
);

function Reach({ slip }: { slip: PersonSlip }) {
  if (slip.reach.length === 0) return <p className="soft">Nothing on any page that you may know of.</p>;
  return (
    <table className={styles.reach}>
      <tbody>
        {slip.reach.map(({ space, levels }) => (
          <tr key={space.id}>
            <th scope="row" dir="auto">
              <a href={`/grid?place=${encodeURIComponent(space.id)}&columns=${encodeURIComponent(`person:${slip.id}`)}`}>{space.name}</a>
            </th>
            <td>
              <LevelBars levels={levels} />
            </td>
          </tr>
        ))}
        {slip.moreReach > 0 && (
          <tr>
            <td colSpan={2} className="soft">
              and in {counted(slip.moreReach, "more space")}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

export function PersonPanel({ id, onGroup, onClose }: { id: string; onGroup(id: string): void; onClose(): void }) {
  const { data: slip, error } = useQuery({ queryKey: ["person", id], queryFn: () => ask(readPerson, { params: { id } }) });
  if (!slip) return <Panel label="Person" above="" title="" problem={error?.message ?? "Reading …"} onClose={onClose} />;
  const state = slip.state ? STATE_WORDS[slip.state] : "";
  return (
    <Panel label={`Slip of ${slip.name}`} above={[slip.kind, state].filter(Boolean).join(", ")} title={slip.name} onClose={onClose}>
      {slip.until && (
        <p className="soft">
          <When instant={slip.until} as="end" />
        </p>
      )}
      {slip.hasAccount !== null && (
        <p className="soft">
          {slip.hasAccount ? (
            slip.signedIn ? (
              <>
                Last signed in <When instant={slip.signedIn} />
              </>
            ) : (
              "Never signed in."
            )
          ) : (
            "No account yet."
          )}
          {slip.by && <> Brought in by {slip.by}.</>}
        </p>
      )}
      {slip.whole && <Standing slip={slip} whole={slip.whole} />}
      <h3>In groups</h3>
      <Groups slip={slip} onGroup={onGroup} />
      {slip.keeps.length > 0 && (
        <>
          <h3>Keeps</h3>
          <ul className={styles.plainList}>
            {slip.keeps.map(({ id: space, name, alone }) => (
              <li key={space} dir="auto">
                {name} {alone && <strong className={styles.alone}>nobody else does</strong>}
              </li>
            ))}
          </ul>
        </>
      )}
      <Owns owns={slip.owns} />
      {slip.drafts !== null && slip.drafts > 0 && <p className="soft">{counted(slip.drafts, "private draft")} on their workbench.</p>}
      <h3>What they can do, by space</h3>
      <Reach slip={slip} />
    </Panel>
  );
}
