import { useMutation } from "@tanstack/react-query";
import { ArrowDown, ArrowUp } from "lucide-react";
import type { ReactNode } from "react";
import type { Links } from "../../contracts/links.ts";
import { reorder, type Standing } from "../../contracts/moving.ts";
import type { Slip } from "../../contracts/slip.ts";
import { unschedule } from "../../contracts/writing.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { When } from "../../ui/When.tsx";
import { tray, useTray } from "../change/store.ts";
import { ActButtons } from "../life/ActButtons.tsx";
import { Copying } from "../life/Copying.tsx";
import { ReviewPart } from "../review/ReviewPart.tsx";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { Arranged, Readiness, ReadinessWords } from "./Marks.tsx";
import { Owner, Tags } from "./OwnerAndTags.tsx";
import { Landing, SpaceSettings } from "./SpaceSettings.tsx";
import styles from "./slip.module.css";

const DateOf = ({ instant }: { instant: string | null }) => (instant ? <When instant={instant} as="day" /> : <>–</>);

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** Where a page stands among the pages beside it, and how to put it elsewhere among them. */
function Order({ id, title, order }: { id: string; title: string; order: Standing }) {
  const { nth, of, earlier, later } = order;
  const put = useMutation({
    mutationFn: ({ after }: { after: string | null; words: string }) => ask(reorder, { body: { place: id, after } }),
    onSuccess: async ({ seq }, { words }) => {
      tray.done(seq, `${title} stands one ${words} among the pages beside it`);
      say(`${title} stands one ${words}.`);
      await queries.invalidateQueries();
    },
  });
  const button = (words: string, to: { after: string | null } | null) => (
    <button
      type="button"
      className="button"
      disabled={to === null || put.isPending}
      onClick={() => to && put.mutate({ after: to.after, words })}
    >
      {words === "earlier" ? <ArrowUp size={14} aria-hidden="true" /> : <ArrowDown size={14} aria-hidden="true" />} One {words}
    </button>
  );
  return (
    <Fact name="Beside it">
      {nth} of {of} pages
      {(earlier || later) && (
        <span className={styles.order}>
          {button("earlier", earlier)} {button("later", later)}
        </span>
      )}
      {put.error && <p className="notice bad">{put.error.message}</p>}
    </Fact>
  );
}

/** Pages that link here, and links from here that some readers cannot follow. */
function LinksHere({ links, onGo }: { links: Links; onGo(place: string): void }) {
  const { from, total, hidden, nowhere } = links;
  return (
    <>
      <h3>
        What links here <span className="soft">{total + hidden || ""}</span>
      </h3>
      {total + hidden === 0 && <p className="soft">No page does.</p>}
      <ul className={styles.linked}>
        {from.map(({ id, title, working }) => (
          <li key={id}>
            <button type="button" className={styles.text} onClick={() => onGo(id)} dir="auto">
              {title}
            </button>
            {working && <span className="soft"> in its working version</span>}
          </li>
        ))}
      </ul>
      {total > from.length && <p className="soft">and {total - from.length} more</p>}
      {hidden > 0 && (
        <p className="soft">
          {from.length > 0 ? "and " : ""}
          {hidden} {hidden === 1 ? "page" : "pages"} you cannot see
        </p>
      )}
      {nowhere.map(({ title, readers, outside }, i) => (
        <p key={i} className="notice">
          Its link to {title} leads nowhere for {readers} of its readers{outside ? ", some from outside" : ""}.
        </p>
      ))}
    </>
  );
}

/** The newest versions, as far as the asker may open them. */
const Versions = ({ id, life }: { id: string; life: Slip["life"] }) => (
  <>
    <h3>
      Versions <span className="soft">{life.versions.length === 20 ? "the newest 20" : life.versions.length || ""}</span>
    </h3>
    {life.versions.length === 0 && <p className="soft">You oversee this page; its versions are for those who may read it.</p>}
    <ul className={styles.versions}>
      {life.versions.map((version) => (
        <li key={version.name}>
          <a href={`/versions/${id}?to=${version.name}`}>{version.name}</a>
          <span>{version.name.endsWith(".0") ? "live" : "working"}</span>
          <span className={styles.name}>{version.author}</span>
          <span className="soft">
            <When instant={version.at} />
          </span>
          {version.note && <p>{version.note}</p>}
        </li>
      ))}
    </ul>
  </>
);

/** What can be done with it, and what of that waits in the tray. */
function LifeActs({ slip, onGo }: { slip: Slip; onGo(place: string): void }) {
  const waiting = useTray().items.find(({ act }) => act?.places.includes(slip.id));
  if (waiting)
    return (
      <p className={styles.inTray}>
        {waiting.change.sentences[0]}: in the tray{" "}
        <button type="button" className={styles.text} onClick={() => tray.remove(waiting.id)}>
          leave it
        </button>
      </p>
    );
  const copies = slip.address !== null && (slip.kind === "page" || slip.kind === "bulletin") && slip.state !== "binned";
  if (slip.acts.length === 0 && !copies) return null;
  return (
    <div className="acts">
      <ActButtons acts={slip.acts} places={[slip.id]} />
      {copies && <Copying id={slip.id} onGo={onGo} />}
    </div>
  );
}

/** Ends a schedule of a page. */
function Unschedule({ id, what }: { id: string; what: "live" | "archive" }) {
  const end = useMutation({
    mutationFn: () => ask(unschedule, { params: { id }, query: { what } }),
    onSuccess: async () => {
      say(what === "live" ? "It does not go live by itself any more." : "It is not archived by itself any more.");
      await queries.invalidateQueries();
    },
  });
  return (
    <>
      {" "}
      <button type="button" className={styles.text} disabled={end.isPending} onClick={() => end.mutate()}>
        unschedule
      </button>
      {end.error && <p className="notice bad">{end.error.message}</p>}
    </>
  );
}

/** What is said of a space besides its rules. */
const SpaceFacts = ({ slip }: { slip: Slip }) => {
  const { space } = slip.life;
  return (
    <>
      {space && (
        <>
          <Fact name="Address">
            <SpaceSettings slip={slip} space={space} />
          </Fact>
          <Fact name="Contents">
            <a href={`/spaces/contents?space=${slip.id}`}>what readers find, and in which order</a>
          </Fact>
          <Fact name="Templates">
            <a href={`/templates?in=${slip.id}`}>what its pages are begun from</a>
          </Fact>
          <Fact name="Landing page">
            <Landing slip={slip} space={space} />
          </Fact>
        </>
      )}
      <Fact name="Its pages stand">
        <Arranged slip={slip} />
      </Fact>
      <Fact name="Words of readiness">
        <ReadinessWords slip={slip} />
      </Fact>
    </>
  );
};

/** State, dates, owner and versions. */
export function LifeTab({ slip, onGo }: { slip: Slip; onGo(place: string): void }) {
  const { life } = slip;
  const isPage = slip.kind === "page" || slip.kind === "bulletin";
  return (
    <>
      <LifeActs slip={slip} onGo={onGo} />
      <dl className={styles.facts}>
        {slip.kind !== "site" && <Fact name="State">{STATE_NAMES[slip.state]}</Fact>}
        {isPage && (
          <>
            <Fact name="Owner">
              <Owner slip={slip} />
            </Fact>
            {life.due && (
              <Fact name="Goes live">
                <When instant={life.due.at} />, version {life.due.version}
                {slip.acts.includes("archive") && <Unschedule id={slip.id} what="live" />}
                {life.due.problem && <p className="notice bad">It did not: {life.due.problem}</p>}
              </Fact>
            )}
            {life.archives && (
              <Fact name="Is archived">
                <When instant={life.archives.at} />
                {slip.acts.includes("archive") && <Unschedule id={slip.id} what="archive" />}
                {life.archives.problem && <p className="notice bad">It was not: {life.archives.problem}</p>}
              </Fact>
            )}
            <Fact name="Started">
              <DateOf instant={life.started} />
            </Fact>
            <Fact name="Published">
              <DateOf instant={life.published} />
            </Fact>
            {life.changed && (
              <Fact name="Last change">
                <DateOf instant={life.changed} />
              </Fact>
            )}
            {life.order && life.order.of > 1 && <Order id={slip.id} title={slip.title} order={life.order} />}
            {life.views30 !== null && <Fact name="Views in 30 days">{life.views30}</Fact>}
          </>
        )}
        {(life.tags.length > 0 || (isPage && life.mayTag)) && (
          <Fact name="Tags">
            <Tags slip={slip} />
          </Fact>
        )}
        {isPage && (life.readiness !== null || life.readinessWords.length > 0) && (
          <Fact name="Readiness">
            <Readiness slip={slip} />
          </Fact>
        )}
        {slip.kind === "space" && <SpaceFacts slip={slip} />}
        {life.lastChange && (
          <Fact name="Last in the ledger">
            <a href={`/ledger?place=${slip.id}`}>entry {life.lastChange.seq}</a>, {life.lastChange.who}
          </Fact>
        )}
      </dl>
      {isPage && <ReviewPart slip={slip} />}
      {life.links && <LinksHere links={life.links} onGo={onGo} />}
      {isPage && <Versions id={slip.id} life={life} />}
    </>
  );
}
