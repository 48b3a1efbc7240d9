/** Asking people in: who, where and how long at the left; what exactly they will see at the right, before anything is sent. */
import { QueryClientProvider } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type InvitationLook, type InviteBody, invite, lookAtInvitation, type Sent } from "../../contracts/inviting.ts";
import { find } from "../../contracts/search.ts";
import { LIMITS } from "../../core/words.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import halves from "../shared/halves.module.css";
import { Secret } from "../shared/Secret.tsx";
import { Invitations } from "./Invitations.tsx";
import { InviteFields } from "./InviteFields.tsx";
import styles from "./inviting.module.css";
import { Sight } from "./Sight.tsx";
import { NOTHING_YET, orderOf, readList, type Wished } from "./wished.ts";

/** What was sent: links to hand on, where nothing sends mail. */
function WasSent({ sent, onMore }: { sent: Sent; onMore(): void }) {
  const links = sent.people.filter(({ link }) => link !== null);
  return (
    <section className="notice good" role="status">
      <p>
        {sent.people.length === 1 ? `${sent.people[0]?.name} is asked in.` : `${sent.people.length} people are asked in.`}{" "}
        {links.length > 0 ? "Nothing sends mail here: hand the link on yourself. It is shown this once." : "Mail is on its way."}
      </p>
      {links.map(({ id, name, link }) => (
        <div key={id} className={styles.handed}>
          <strong dir="auto">{name}</strong>
          <Secret label={`Link for ${name}`} text={link ?? ""} />
        </div>
      ))}
      <button type="button" className="button" onClick={onMore}>
        Ask in somebody else
      </button>
    </section>
  );
}

/** Where the view was opened for a place, it stands in the order from the start. */
function usePlaceOfAddress(change: (part: Partial<Wished>) => void): void {
  useEffect(() => {
    const place = new URLSearchParams(window.location.search).get("place");
    if (!place) return;
    const title = new URLSearchParams(window.location.search).get("title") ?? "";
    void ask(find, { query: { q: title.slice(0, 100) } })
      .then((found) => found.find(({ id }) => id === place)?.title ?? title)
      .catch(() => title)
      .then((name) => change({ places: [{ key: place, name, note: "" }] }));
  }, []);
}

const notTaken = (look: InvitationLook | undefined): boolean => look?.taken.length === 0;

function View({ keeper }: { keeper: boolean }) {
  const [wished, setWished] = useState<Wished>(NOTHING_YET);
  const [sent, setSent] = useState<Sent | null>(null);
  const change = (part: Partial<Wished>) => setWished((before) => ({ ...before, ...part }));
  usePlaceOfAddress(change);
  const { order, missing } = orderOf(wished, keeper);
  const { look, current, error, again } = useLook("invitation", order, (body) => ask(lookAtInvitation, { body }));
  const ready = order !== null && current && notTaken(look) && wished.message.length <= LIMITS.note;
  const staged = useStaged({
    preview: ready && look ? look.preview : null,
    apply: (acting) => ask(invite, { body: { ...(order as InviteBody), message: wished.message, ...acting } }),
    onDone: (done) => {
      setSent(done);
      void queries.invalidateQueries();
    },
    again,
  });
  const many = readList(wished.list).people.length;
  return (
    <div className={halves.view}>
      <InviteFields wished={wished} keeper={keeper} change={change} />
      <section className={halves.right} aria-label="What comes of it">
        {sent ? (
          <WasSent
            sent={sent}
            onMore={() => {
              setSent(null);
              setWished(NOTHING_YET);
            }}
          />
        ) : (
          <>
            <h2>What they will see</h2>
            {missing && <p className="soft">{missing}</p>}
            {error && (
              <p className="notice bad" role="alert">
                {error.message}
              </p>
            )}
            {look?.taken.map(({ email, says }) => (
              <p key={email} className="notice bad" role="alert">
                {says}
              </p>
            ))}
            {look && <Sight sight={look.sight} places={wished.places.map(({ name }) => name)} />}
            <ChangeSheet staged={staged} act={many > 1 ? `Ask ${many} people in` : "Ask in"} folded="The ripple, person by person" />
          </>
        )}
        <Invitations />
      </section>
    </div>
  );
}

export default function InviteView({ keeper }: { keeper: boolean }) {
  return (
    <QueryClientProvider client={queries}>
      <View keeper={keeper} />
    </QueryClientProvider>
  );
}
