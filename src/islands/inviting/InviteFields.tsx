/** Who is asked in, to what, at which level, until when, and with which words. */
import { LEVELS } from "../../core/access/model/index.ts";
import { LIMITS } from "../../core/words.ts";
import { DateField } from "../../ui/DateField.tsx";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { Remaining } from "../../ui/TextField.tsx";
import { Chips } from "../shared/Chips.tsx";
import halves from "../shared/halves.module.css";
import { findGroups, type PrincipalChoice } from "../shared/people.ts";
import { findPlaces } from "../shared/places.ts";
import styles from "./inviting.module.css";
import type { Wished } from "./wished.ts";

const LEVEL_CHOICES = [1, 2, 3, 4] as const;
const with1 = <T extends { key: string }>(list: readonly T[], it: T): T[] =>
  list.some(({ key }) => key === it.key) ? [...list] : [...list, it];

interface Props {
  wished: Wished;
  keeper: boolean;
  change(part: Partial<Wished>): void;
}

const Kind = ({ wished, change }: Pick<Props, "wished" | "change">) => (
  <fieldset className={styles.kind}>
    <legend className="unseen">As what</legend>
    {(["guest", "member"] as const).map((kind) => (
      <label key={kind}>
        <input type="radio" name="kind" checked={wished.kind === kind} onChange={() => change({ kind })} />{" "}
        {kind === "guest" ? "as guests, until a day" : "as members"}
      </label>
    ))}
  </fieldset>
);

const Where = ({ wished, keeper, change }: Props) => (
  <>
    <div className={styles.people}>
      <Picker<Choice> label="To see: spaces or pages" find={findPlaces} onChoose={(it) => change({ places: with1(wished.places, it) })} />
      <Chips label="To see, chosen" chosen={wished.places} onChange={(places) => change({ places })} />
    </div>
    {wished.places.length > 0 && (
      <label className="labelled">
        <span>As</span>
        <select
          className="field"
          value={wished.level}
          onChange={(event) => change({ level: Number(event.target.value) as Wished["level"] })}
        >
          {LEVEL_CHOICES.map((level) => (
            <option key={level} value={level}>
              {LEVELS[level]}
            </option>
          ))}
        </select>
      </label>
    )}
    {keeper && (
      <div className={styles.people}>
        <Picker<PrincipalChoice> label="Into groups" find={findGroups} onChoose={(it) => change({ groups: with1(wished.groups, it) })} />
        <Chips label="Groups, chosen" chosen={wished.groups} onChange={(groups) => change({ groups })} />
      </div>
    )}
  </>
);

export const InviteFields = ({ wished, keeper, change }: Props) => (
  <section className={halves.left} aria-label="Who is asked in">
    <h1>Asking in</h1>
    {keeper && <Kind wished={wished} change={change} />}
    <label className="labelled">
      <span>Who: name and mail address, one a line</span>
      <textarea
        className="field"
        rows={3}
        placeholder="Ana Silva <ana@example.org>"
        value={wished.list}
        onChange={(event) => change({ list: event.target.value })}
      />
    </label>
    <Where wished={wished} keeper={keeper} change={change} />
    <div className={styles.until}>
      <span>Until</span>
      <DateField
        label="Until"
        value={wished.until}
        onChange={(until) => change({ until })}
        as="end"
        none={wished.kind === "guest" ? "a day is needed" : "no end"}
        ahead
      />
    </div>
    <label className="labelled">
      <span>What they read first</span>
      <textarea className="field" rows={3} value={wished.message} onChange={(event) => change({ message: event.target.value })} />
    </label>
    <Remaining value={wished.message} most={LIMITS.note} />
    <p className="soft">Each gets a link of their own that works once, for 14 days. What nobody takes up ends by itself.</p>
  </section>
);
