/** A place as it was, or will be by itself: its rules and its life to be read, and nothing to be changed. */
import type { Slip } from "../../contracts/slip.ts";
import type { Ceilings } from "../../core/access/model/index.ts";
import { STATE_NAMES } from "../../ui/states.ts";
import { Told, When } from "../../ui/When.tsx";
import styles from "./slip.module.css";

const AS_SITE = "as the site has it";

const ceilingsSaid = ({ outsiders, guests, passes }: Ceilings): string =>
  `Ceilings: outsiders ${outsiders?.join(", ") ?? AS_SITE}, guests ${guests?.join(", ") ?? AS_SITE}, passes ${
    passes === undefined ? AS_SITE : passes ? "allowed" : "not allowed"
  }.`;

export function RulesThen({ slip }: { slip: Slip }) {
  const { stance, grants, fences, ceilings, above } = slip.rules;
  const list = (title: string, none: string, lines: readonly string[]) => (
    <section>
      <h3>{title}</h3>
      {lines.length === 0 && <p className="soft">{none}</p>}
      <ul className={styles.above}>
        {lines.map((line) => (
          <li key={line}>
            <Told text={line} />
          </li>
        ))}
      </ul>
    </section>
  );
  const own = ceilings?.own;
  return (
    <>
      {slip.kind !== "site" && (
        <p>{stance === "fresh" ? "Fresh: what is granted above stops here." : "Follow: what is granted above holds here too."}</p>
      )}
      {list(
        "Grants that stand here",
        "None.",
        grants.map(({ text, ended }) => (ended ? `${text} (ended)` : text)),
      )}
      {list(
        "Fences",
        "None.",
        fences.map(({ fence, text }) => `${fence.kind} fence: ${text}`),
      )}
      {own && <p className="soft">{ceilingsSaid(own)}</p>}
      {above.length > 0 &&
        list(
          "From above",
          "",
          above.map((rule) => `${rule.text} (${rule.place}${rule.cutOff ? ", stopped by a fresh start" : ""})`),
        )}
    </>
  );
}

export function LifeThen({ slip }: { slip: Slip }) {
  const { owner, tags, started, lastChange } = slip.life;
  return (
    <dl className={styles.then}>
      {slip.kind !== "site" && (
        <div>
          <dt>State</dt>
          <dd>{STATE_NAMES[slip.state]}</dd>
        </div>
      )}
      {owner && (
        <div>
          <dt>Owner</dt>
          <dd dir="auto">{owner.name}</dd>
        </div>
      )}
      {tags.length > 0 && (
        <div>
          <dt>Tags</dt>
          <dd dir="auto">{tags.join(", ")}</dd>
        </div>
      )}
      {started && (
        <div>
          <dt>Started</dt>
          <dd>
            <When instant={started} as="day" />
          </dd>
        </div>
      )}
      {lastChange && (
        <div>
          <dt>Last change up to then</dt>
          <dd>
            entry {lastChange.seq}, <When instant={lastChange.at} />, {lastChange.who}
          </dd>
        </div>
      )}
    </dl>
  );
}
