/** Ceilings of the site or of a space: how far outsiders and guests get at most, whatever is granted below. */
import type { Slip } from "../../contracts/slip.ts";
import { editSentence } from "../../core/access/explain/index.ts";
import {
  abilitiesIn,
  type Ceilings as CeilingsOfPlace,
  type Edit,
  GUEST_LIMIT,
  LEVELS,
  type Level,
  levelOf,
  maskOf,
  OUTSIDER_LIMIT,
  setOfLevel,
} from "../../core/access/model/index.ts";
import { tray, useTray } from "../change/store.ts";
import { say } from "../shared/say.ts";
import { InTray, waitingAt } from "./pending.tsx";
import styles from "./slip.module.css";

const NO_NAMES = { place: (id: string) => id, group: (id: string) => id, person: (id: string) => id };
const LEVEL_CHOICES: Level[] = [0, 1, 2, 3, 4];

interface WhoProps {
  label: string;
  limit: number;
  /** What stands here; undefined: as the site has it. */
  own: CeilingsOfPlace["outsiders"];
  site: CeilingsOfPlace["outsiders"] | null;
  off: boolean;
  onChange(own: CeilingsOfPlace["outsiders"]): void;
}

function Who({ label, limit, own, site, off, onChange }: WhoProps) {
  const level = own === undefined ? "" : (levelOf(maskOf(own)) ?? "mix");
  const lower = site != null && own !== undefined && (maskOf(own) & ~maskOf(site)) !== 0;
  return (
    <div className={styles.ceiling}>
      <span>{label}</span>
      <select
        className="field"
        aria-label={`${label} at most`}
        value={String(level)}
        disabled={off}
        onChange={(event) =>
          onChange(event.target.value === "" ? undefined : abilitiesIn(setOfLevel(Number(event.target.value) as Level) & limit))
        }
      >
        {site != null && <option value="">as the site: {LEVELS[levelOf(maskOf(site)) ?? 0]}</option>}
        {level === "mix" && (
          <option value="mix" disabled>
            Mix
          </option>
        )}
        {LEVEL_CHOICES.filter((it) => (setOfLevel(it) & ~limit) === 0).map((it) => (
          <option key={it} value={it}>
            {LEVELS[it]}
          </option>
        ))}
      </select>
      {lower && <small>the site's is lower and holds: {LEVELS[levelOf(maskOf(site)) ?? 0]}</small>}
    </div>
  );
}

export function Ceilings({ slip }: { slip: Slip }) {
  const waiting = waitingAt(useTray().items, slip.id).find(({ edit }) => edit.kind === "ceilings");
  const { ceilings } = slip.rules;
  if (!ceilings) return null;
  const { own, site, mayChange } = ceilings;
  const isSite = slip.kind === "site";
  const edit = waiting?.edit.kind === "ceilings" ? waiting.edit : undefined;
  const then = (edit ? edit.to : own) ?? {};
  const change = (part: Partial<CeilingsOfPlace>) => {
    const { outsiders, guests, passes } = { ...then, ...part };
    const bare: CeilingsOfPlace = {
      ...(outsiders === undefined ? {} : { outsiders }),
      ...(guests === undefined ? {} : { guests }),
      ...(passes === undefined ? {} : { passes }),
    };
    const put: Edit = { kind: "ceilings", place: slip.id, from: own, to: Object.keys(bare).length === 0 ? null : bare };
    const sentence = editSentence(put, NO_NAMES);
    tray.stage({ id: slip.id, title: slip.title }, "ceilings", put, sentence);
    say(`In the tray: ${sentence}.`);
  };
  const passes = then.passes === undefined ? "" : String(then.passes);
  return (
    <section>
      <h3>Ceilings</h3>
      <p className="soft">Whatever is granted {isSite ? "anywhere" : "in the space"}, nobody from outside gets further than this.</p>
      <Who
        label="The public and passes"
        limit={OUTSIDER_LIMIT}
        own={then.outsiders}
        site={isSite ? null : site.outsiders}
        off={!mayChange}
        onChange={(outsiders) => change({ outsiders })}
      />
      <Who
        label="Guests"
        limit={GUEST_LIMIT}
        own={then.guests}
        site={isSite ? null : site.guests}
        off={!mayChange}
        onChange={(guests) => change({ guests })}
      />
      <div className={styles.ceiling}>
        <span>Passes</span>
        <select
          className="field"
          aria-label="Passes work"
          value={passes}
          disabled={!mayChange}
          onChange={(event) =>
            change({ passes: event.target.value === "" ? undefined : event.target.value === "true" } as Partial<CeilingsOfPlace>)
          }
        >
          {!isSite && <option value="">as the site: {site.passes ? "work" : "do not work"}</option>}
          <option value="true">work</option>
          <option value="false">do not work</option>
        </select>
        {!isSite && passes === "true" && !site.passes && <small>on the site they do not, and that holds</small>}
      </div>
      {waiting && <InTray waiting={waiting} words="as chosen" />}
      {!mayChange && <p className="soft">Changed by those with oversight.</p>}
    </section>
  );
}
