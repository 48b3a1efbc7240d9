/** Who was asked in: what waits to be taken up, sent again or ended, and what became of the others. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { endInvitation, type HandedOn, type InvitationRow, readInvitations, sendAgain } from "../../contracts/inviting.ts";
import { When } from "../../ui/When.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { Secret } from "../shared/Secret.tsx";
import { say } from "../shared/say.ts";
import styles from "./inviting.module.css";

const STATES = { waiting: "not taken up yet, until", taken: "taken up", ended: "ended" } as const;

function Line({ row }: { row: InvitationRow }) {
  const [handed, setHanded] = useState<HandedOn | null>(null);
  const again = useMutation({
    mutationFn: () => ask(sendAgain, { params: { id: row.id } }),
    onSuccess: async (it) => {
      setHanded(it);
      say(`Sent again to ${row.name}. The link before works no more.`);
      await queries.invalidateQueries({ queryKey: ["invitations"] });
    },
  });
  const end = useMutation({
    mutationFn: () => ask(endInvitation, { params: { id: row.id } }),
    onSuccess: async ({ seq }) => {
      tray.done(seq, `The invitation of ${row.name} ended`, false);
      await queries.invalidateQueries();
    },
  });
  const problem = again.error ?? end.error;
  return (
    <li>
      <span className={styles.invited}>
        <span>
          <a href={`/people?part=${row.kind}s&person=${encodeURIComponent(row.id)}`} dir="auto">
            {row.name}
          </a>{" "}
          <small className="soft">
            {row.kind}, {row.email}, asked in by {row.by} <When instant={row.at} as="day" />: {STATES[row.state]}{" "}
            <When instant={row.state === "waiting" ? row.until : (row.outcomeAt ?? row.at)} as="day" />
          </small>
        </span>
        {row.state === "waiting" && (
          <span className={styles.lineActs}>
            <button type="button" className="button" disabled={again.isPending} onClick={() => again.mutate()}>
              Send again
            </button>
            <button type="button" className="button" disabled={end.isPending} onClick={() => end.mutate()}>
              End it
            </button>
          </span>
        )}
      </span>
      {handed?.link && <Secret label={`Link for ${row.name}`} text={handed.link} />}
      {handed && !handed.link && <small className="soft">Mail is on its way.</small>}
      {problem && (
        <p className="notice bad" role="alert">
          {problem.message}
        </p>
      )}
    </li>
  );
}

export function Invitations() {
  const { data } = useQuery({ queryKey: ["invitations"], queryFn: () => ask(readInvitations) });
  const rows = data?.invitations ?? [];
  if (rows.length === 0) return null;
  const waiting = rows.filter(({ state }) => state === "waiting").length;
  return (
    <section className={styles.sentBefore} aria-labelledby="invitations">
      <h2 id="invitations">
        Asked in before <small className="soft">{waiting > 0 ? `${waiting} not taken up yet` : ""}</small>
      </h2>
      <ul>
        {rows.map((row) => (
          <Line key={row.id} row={row} />
        ))}
      </ul>
      {data && data.more > 0 && <p className="soft">and {data.more.toLocaleString("en")} older ones</p>}
    </section>
  );
}
