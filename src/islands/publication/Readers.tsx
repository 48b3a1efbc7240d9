/** Who will read it, the outside first, which links they cannot follow; and reading or writing there as it is to be instead. */
import { useState } from "react";
import { MOST_READER_WISHES, type PublicationSheet } from "../../contracts/publication.ts";
import { LEVELS, type Level, setOfLevel } from "../../core/access/model/index.ts";
import { Picker } from "../../ui/Picker.tsx";
import { Stair } from "../../ui/Stair.tsx";
import { findPrincipals, type PrincipalChoice } from "../shared/people.ts";
import type { Order, Wished } from "./order.ts";
import styles from "./publication.module.css";

export const some = (names: readonly string[]): string =>
  names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");

const Counts = ({ readers }: Pick<PublicationSheet, "readers">) => (
  <dl className={styles.readers}>
    <div data-outside={readers.public}>
      <dt>The public</dt>
      <dd>{readers.public ? "will read it" : "will not see it"}</dd>
    </div>
    <div data-outside={readers.guests > 0}>
      <dt>Guests</dt>
      <dd>{readers.guests === 0 ? "none" : readers.guestNames.length > 0 ? some(readers.guestNames) : readers.guests}</dd>
    </div>
    {readers.passes > 0 && (
      <div data-outside>
        <dt>Passes</dt>
        <dd>{readers.passes} open it</dd>
      </div>
    )}
    <div>
      <dt>Members</dt>
      <dd>{readers.members.toLocaleString("en")}</dd>
    </div>
  </dl>
);

/** Levels somebody can be given: the public at most Commenter, guests no Keeper. */
const mostFor = ({ principal, isGuest }: PrincipalChoice): Level =>
  "audience" in principal && principal.audience === "public"
    ? 2
    : isGuest || ("audience" in principal && principal.audience === "accounts")
      ? 4
      : 5;

function WishLine({ wish, onLevel, onDrop }: { wish: Wished; onLevel(level: Level): void; onDrop(): void }) {
  const { who, level } = wish;
  return (
    <li>
      <span dir="auto">{who.name}</span>
      <span className={styles.levels} role="radiogroup" aria-label={`What ${who.name} can do there`}>
        {LEVELS.slice(0, mostFor(who) + 1).map((name, i) => (
          <button
            key={name}
            type="button"
            role="radio"
            aria-checked={i === level}
            aria-label={name}
            title={name}
            onClick={() => onLevel(i as Level)}
          >
            <Stair set={setOfLevel(i as Level)} />
          </button>
        ))}
      </span>
      <small>{LEVELS[level]}</small>
      <button type="button" className="textButton" onClick={onDrop} aria-label={`as it comes from above: ${who.name}`}>
        as it comes from above
      </button>
    </li>
  );
}

interface WishesProps {
  sheet: PublicationSheet;
  wishes: Wished[];
  onChange(wishes: Wished[]): void;
}

/** Narrowed or widened right here: what is wished, and the rules it comes to. */
function Wishes({ sheet, wishes, onChange }: WishesProps) {
  const [adding, setAdding] = useState(false);
  const { rules } = sheet;
  if (!sheet.mayWish && wishes.length === 0) return null;
  const add = (who: PrincipalChoice) => {
    setAdding(false);
    onChange([...wishes.filter((it) => it.who.key !== who.key), { who, level: 1 }]);
  };
  return (
    <>
      <ul className={styles.wishes} aria-label="Otherwise than by what stands above">
        {wishes.map((wish) => (
          <WishLine
            key={wish.who.key}
            wish={wish}
            onLevel={(level) => onChange(wishes.map((it) => (it === wish ? { ...it, level } : it)))}
            onDrop={() => onChange(wishes.filter((it) => it !== wish))}
          />
        ))}
      </ul>
      {rules && rules.sentences.length > 0 && (
        <p className="soft">
          By {rules.sentences.join("; ")} ({rules.besides}).
          {rules.exceptions.length > 0 && ` ${some(rules.exceptions)} oversee it, and keep what that gives.`}
        </p>
      )}
      {wishes.length < MOST_READER_WISHES && (
        <button type="button" className="textButton" aria-expanded={adding} onClick={() => setAdding(!adding)}>
          {wishes.length === 0 ? "let others read it, or fewer" : "and somebody else"}
        </button>
      )}
      {adding && <Picker<PrincipalChoice> label="Whose reading is to change" find={findPrincipals} onChoose={add} autoFocus />}
    </>
  );
}

interface Props {
  sheet: PublicationSheet;
  order: Order;
  onChange(change: Partial<Order>): void;
}

export function Readers({ sheet, order, onChange }: Props) {
  return (
    <section className={styles.part} aria-label="Readers">
      <h3>Who will read it</h3>
      <Counts readers={sheet.readers} />
      <Wishes sheet={sheet} wishes={order.wishes} onChange={(wishes) => onChange({ wishes })} />
      {sheet.deadLinks.map((link, i) => (
        <p key={i} className="notice">
          Its link to {link.title} leads nowhere for {link.readers} of them{link.outside ? ", some from outside" : ""}.
        </p>
      ))}
    </section>
  );
}
