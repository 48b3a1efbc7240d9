import type { Slip } from "../../contracts/answers.ts";
import { longDate, shortDateTime } from "../../ui/dates.ts";
import styles from "./slip.module.css";

const STATES: Record<string, string> = { live: "Live", draft: "Draft", scheduled: "Scheduled", archived: "Archived", binned: "In the bin" };

function DateOf({ instant }: { instant: string | null }) {
  if (!instant) return <>–</>;
  return (
    <time dateTime={instant} title={instant}>
      {longDate(instant)}
    </time>
  );
}

/** State, dates, owner and versions. */
export function LifeTab({ slip }: { slip: Slip }) {
  const { life } = slip;
  const isPage = slip.kind === "page" || slip.kind === "bulletin";
  return (
    <>
      <dl className={styles.facts}>
        {slip.kind !== "site" && (
          <div>
            <dt>State</dt>
            <dd>{STATES[slip.state]}</dd>
          </div>
        )}
        {isPage && (
          <>
            <div>
              <dt>Owner</dt>
              <dd>{life.owner ?? "nobody"}</dd>
            </div>
            <div>
              <dt>Started</dt>
              <dd>
                <DateOf instant={life.started} />
              </dd>
            </div>
            <div>
              <dt>Published</dt>
              <dd>
                <DateOf instant={life.published} />
              </dd>
            </div>
            <div>
              <dt>Last change</dt>
              <dd>
                <DateOf instant={life.changed} />
              </dd>
            </div>
            <div>
              <dt>Views in 30 days</dt>
              <dd>{life.views30}</dd>
            </div>
          </>
        )}
        {life.tags.length > 0 && (
          <div>
            <dt>Tags</dt>
            <dd>{life.tags.join(", ")}</dd>
          </div>
        )}
        {life.lastChange && (
          <div>
            <dt>Last in the ledger</dt>
            <dd>
              <a href={`/ledger?place=${slip.id}`}>entry {life.lastChange.seq}</a>, {life.lastChange.who}
            </dd>
          </div>
        )}
      </dl>
      {isPage && (
        <>
          <h3>
            Versions <span className="soft">{life.versions.length === 20 ? "the newest 20" : life.versions.length}</span>
          </h3>
          {life.versions.length === 0 && <p className="soft">You oversee this page; its versions are for those who may read it.</p>}
          <ul className={styles.versions}>
            {life.versions.map((version) => (
              <li key={version.name}>
                <strong>{version.name}</strong>
                <span>{version.name.endsWith(".0") ? "live" : "working"}</span>
                <span className={styles.name}>{version.author}</span>
                <time dateTime={version.at} title={version.at} className="soft">
                  {shortDateTime(version.at)}
                </time>
                {version.note && <p>{version.note}</p>}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
