/** A pledge said as a sentence with blanks, tried before it is kept. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type PledgeTried, tryPledge } from "../../contracts/pledges.ts";
import { abilityPhrase } from "../../core/access/explain/index.ts";
import { ABILITIES, type Ability, type Edit, type Pledge, type PledgeWho } from "../../core/access/model/index.ts";
import { LIMITS } from "../../core/words.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray } from "../change/store.ts";
import { ask } from "../shared/api.ts";
import { findTags } from "../shared/pageParts.ts";
import { findSubjects } from "../shared/people.ts";
import { findPlaces } from "../shared/places.ts";
import { say } from "../shared/say.ts";
import styles from "./pledges.module.css";
import { Witnesses } from "./Witnesses.tsx";

const CLASSES = { outsiders: "outsiders", guests: "guests", members: "members" } as const;
type WhoKind = keyof typeof CLASSES | "some";
const WHERES = { anywhere: "anywhere", below: "at and below", tag: "on pages tagged" } as const;
type WhereKind = keyof typeof WHERES;
const STATES = { "": "in whatever state", live: "while live", draft: "while a draft", archived: "while in the archive" } as const;

interface Said {
  who: WhoKind;
  some: (Choice & { who: PledgeWho }) | null;
  rule: Pledge["rule"];
  ability: Ability;
  where: WhereKind;
  place: Choice | null;
  tag: Choice | null;
  state: keyof typeof STATES;
  why: string;
}

const BLANK: Said = {
  who: "outsiders",
  some: null,
  rule: "never",
  ability: "read",
  where: "tag",
  place: null,
  tag: null,
  state: "",
  why: "",
};

const findSome = async (words: string) =>
  (await findSubjects(words)).flatMap(({ key, name, note, principal }) =>
    "audience" in principal ? [] : [{ key, name, note, who: principal }],
  );

/** The pledge that was said; null while a blank is open. */
function pledgeOf({ who, some, rule, ability, where, place, tag, state, why }: Said): Omit<Pledge, "id"> | null {
  const covered = who === "some" ? some?.who : { class: who };
  if (!covered || (where === "below" && !place) || (where === "tag" && !tag)) return null;
  return {
    who: covered,
    rule,
    ability,
    where: {
      ...(where === "below" && place ? { subtree: place.key } : {}),
      ...(where === "tag" && tag ? { tag: tag.key } : {}),
      ...(state === "" ? {} : { state }),
    },
    ...(why.trim() === "" ? {} : { why: why.trim() }),
  };
}

interface BlankProps<T extends string> {
  label: string;
  value: T;
  options: Readonly<Record<T, string>>;
  onChange(value: T): void;
}

function Blank<T extends string>({ label, value, options, onChange }: BlankProps<T>) {
  return (
    <select className={`field ${styles.blank}`} aria-label={label} value={value} onChange={(event) => onChange(event.target.value as T)}>
      {(Object.keys(options) as T[]).map((it) => (
        <option key={it} value={it}>
          {options[it]}
        </option>
      ))}
    </select>
  );
}

const ABILITY_OPTIONS = Object.fromEntries(ABILITIES.map((it) => [it, abilityPhrase(it)])) as Record<Ability, string>;

function Sentence({ said, change }: { said: Said; change(part: Partial<Said>): void }) {
  return (
    <div className={styles.blanks}>
      <Blank label="Who" value={said.who} options={{ ...CLASSES, some: "somebody, or a group" }} onChange={(who) => change({ who })} />
      {said.who === "some" && <Picker label="Whom it is about" chosen={said.some} find={findSome} onChoose={(some) => change({ some })} />}
      <Blank
        label="Never or always"
        value={said.rule}
        options={{ never: "never", always: "always" }}
        onChange={(rule) => change({ rule })}
      />
      <Blank label="What" value={said.ability} options={ABILITY_OPTIONS} onChange={(ability) => change({ ability })} />
      <Blank label="Where" value={said.where} options={WHERES} onChange={(where) => change({ where })} />
      {said.where === "below" && (
        <Picker label="Which place" chosen={said.place} find={findPlaces} onChoose={(place) => change({ place })} />
      )}
      {said.where === "tag" && <Picker label="Which tag" chosen={said.tag} find={findTags} onChoose={(tag) => change({ tag })} />}
      <Blank label="In which state" value={said.state} options={STATES} onChange={(state) => change({ state })} />
    </div>
  );
}

const Outcome = ({ tried }: { tried: PledgeTried }) =>
  tried.count === 0 ? (
    <p className="notice good" role="status">
      This holds today.
    </p>
  ) : (
    <div role="status">
      <p className="notice bad">
        This does not hold today: broken at {tried.places.toLocaleString("en")} {tried.places === 1 ? "place" : "places"}. It can be kept
        all the same, with a reason.
      </p>
      <Witnesses {...tried} />
    </div>
  );

export function NewPledge() {
  const [said, setSaid] = useState(BLANK);
  const tries = useMutation({ mutationFn: (pledge: Omit<Pledge, "id">) => ask(tryPledge, { body: pledge }) });
  const pledge = pledgeOf(said);
  const change = (part: Partial<Said>) => {
    tries.reset();
    setSaid((before) => ({ ...before, ...part }));
  };
  const keep = () => {
    if (!pledge || !tries.data) return;
    const id = `pledge-${crypto.randomUUID().slice(0, 13)}`;
    const edit: Edit = { kind: "pledge", pledge: id, put: { id, ...pledge } };
    tray.stage({ id: "pledges", title: "Pledges" }, id, edit, `pledged: ${tries.data.sentence}`);
    say(`In the tray: ${tries.data.sentence}.`);
    tries.reset();
    setSaid(BLANK);
  };
  return (
    <section aria-labelledby="newPledge">
      <h2 id="newPledge">A new pledge</h2>
      <p className="soft">A change that would break a pledge is refused, unless a site keeper overrides it and says why.</p>
      <Sentence said={said} change={change} />
      <TextField
        label="Why, for those who meet it (may stay empty)"
        value={said.why}
        onChange={(why) => change({ why })}
        most={LIMITS.note}
      />
      <div className="acts">
        <button
          type="button"
          className="button"
          disabled={!pledge || tries.isPending}
          title={pledge ? undefined : "Fill in the blanks first."}
          onClick={() => pledge && tries.mutate(pledge)}
        >
          Try it
        </button>
        <button type="button" className="button go" disabled={!tries.data} title={tries.data ? undefined : "Try it first."} onClick={keep}>
          Keep it
        </button>
      </div>
      {tries.error && (
        <p className="notice bad" role="alert">
          {tries.error.message}
        </p>
      )}
      {tries.data && <Outcome tried={tries.data} />}
    </section>
  );
}
