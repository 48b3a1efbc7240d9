/** Who fills a group without keeping the site: named by site keepers, through the tray. */
import { useState } from "react";
import type { GroupSlip } from "../../contracts/people.ts";
import { MOST_MANAGERS } from "../../contracts/peopleEdits.ts";
import type { Manager } from "../../core/access/model/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { tray, useTray } from "../change/store.ts";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import { say } from "../shared/say.ts";
import { InTray, waitingOf } from "./pending.tsx";
import styles from "./people.module.css";

const bare = (list: GroupSlip["managers"]): Manager[] => list.map(({ person, guests }) => ({ person, guests }));

export function Managers({ slip }: { slip: GroupSlip }) {
  const [names, setNames] = useState<Record<string, string>>({});
  const [waiting] = waitingOf(useTray().items, "managers", (it) => it.group === slip.id);
  const from = bare(slip.managers);
  const then = waiting?.edit.to ?? from;
  const nameOf = (id: string) => slip.managers.find(({ person }) => person === id)?.name ?? names[id] ?? id;
  const put = (to: Manager[], words: string) => {
    tray.stage({ id: `group:${slip.id}`, title: slip.name }, "managers", { kind: "managers", group: slip.id, from, to }, words);
    say(`In the tray: ${slip.name}, ${words}.`);
  };
  const add = ({ principal, name }: PrincipalChoice) => {
    if (!("person" in principal) || then.some(({ person }) => person === principal.person)) return;
    setNames({ ...names, [principal.person]: name });
    put([...then, { person: principal.person, guests: false }], `managed by ${name} as well`);
  };
  const members = async (words: string) => (await findPersons(words)).filter(({ isGuest }) => !isGuest);
  return (
    <>
      <p className="soft">Whom they put in gets what the group gets, wherever that is; themselves and other groups they cannot.</p>
      <ul className={styles.plainList} aria-label="Managers">
        {then.map(({ person, guests }) => (
          <li key={person}>
            <span dir="auto">{nameOf(person)}</span>{" "}
            {slip.mayChange ? (
              <>
                <label>
                  <input
                    type="checkbox"
                    checked={guests}
                    onChange={(event) =>
                      put(
                        then.map((it) => (it.person === person ? { person, guests: event.target.checked } : it)),
                        `${nameOf(person)} ${event.target.checked ? "puts in guests, too" : "puts in members alone"}`,
                      )
                    }
                  />{" "}
                  guests, too
                </label>{" "}
                <button
                  type="button"
                  className={styles.text}
                  aria-label={`not any more: ${nameOf(person)}`}
                  onClick={() =>
                    put(
                      then.filter((it) => it.person !== person),
                      `no longer managed by ${nameOf(person)}`,
                    )
                  }
                >
                  not any more
                </button>
              </>
            ) : (
              guests && <small className="soft">guests, too</small>
            )}
          </li>
        ))}
      </ul>
      {then.length === 0 && <p className="soft">Nobody but site keepers.</p>}
      {waiting && <InTray waiting={waiting} words="changed" />}
      {slip.mayChange && then.length < MOST_MANAGERS && (
        <Picker<PrincipalChoice> label="Let somebody manage it" find={members} onChoose={add} className={styles.whom} />
      )}
    </>
  );
}
