import { Popover } from "radix-ui";
import { type KeyboardEvent, useRef, useState } from "react";
import { MOST_WISHED_PLACES } from "../../contracts/change.ts";
import type { GridColumn } from "../../contracts/grid.ts";
import {
  type AbilitySet,
  abilitiesIn,
  LEVELS,
  type Level,
  levelOf,
  limitFor,
  NOTHING,
  principalBehind,
  readViewpoint,
  setOfLevel,
  type Wished,
} from "../../core/access/model/index.ts";
import { Mix } from "../../ui/Mix.tsx";
import { Stair } from "../../ui/Stair.tsx";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";

interface Props {
  row: ShownRow;
  /** What the cell shows now. */
  now: AbilitySet;
  column: GridColumn;
  /** How many rows it is for, and how many of them are not theirs to set. */
  wished: { rows: number; off: number };
  onChoose(what: Wished): void;
  onWhy(): void;
  onClose(): void;
}

const CHOICES: Level[] = [0, 1, 2, 3, 4, 5];

interface RungsProps {
  /** Why none can be chosen; empty where one can. */
  reason: string;
  most: Level;
  choices: Level[];
  current: Level | null;
  onChoose(what: Wished): void;
  onMix(): void;
}

function Rungs({ reason, most, choices, current, onChoose, onMix }: RungsProps) {
  return (
    <>
      {reason && <p>{reason}</p>}
      {!reason && most < 5 && <p className="soft">At most {LEVELS[most]}: more can be given to groups and members only.</p>}
      {choices.map((level) => (
        <button key={level} type="button" aria-current={level === current} onClick={() => onChoose({ level })}>
          <Stair set={setOfLevel(level)} />
          <span>
            {LEVELS[level]}
            {level === current && <small> as now</small>}
          </span>
          <kbd>{level}</kbd>
        </button>
      ))}
      {choices.length > 0 && (
        <button type="button" aria-current={current === null} onClick={onMix}>
          <span aria-hidden="true" />
          <span>Mix …{current === null && <small> as now</small>}</span>
          <kbd>x</kbd>
        </button>
      )}
    </>
  );
}

interface MixingProps {
  column: GridColumn;
  set: AbilitySet;
  onChange(set: AbilitySet): void;
  onChoose(what: Wished): void;
  onLeave(): void;
}

/** The ladder's last step: any mix, by nine ticks. */
function Mixing({ column, set, onChange, onChoose, onLeave }: MixingProps) {
  const viewpoint = readViewpoint(column.key);
  const principal = viewpoint && principalBehind(viewpoint);
  const limit = principal ? limitFor(principal, "person" in principal && column.most < 5) : NOTHING;
  return (
    <div className={styles.mixing}>
      <Mix label={`A mix for ${column.name}`} set={set & limit} limit={limit} onChange={onChange} />
      <span className="acts">
        <button type="button" className="button main" onClick={() => onChoose({ abilities: abilitiesIn(set & limit) })}>
          Set this mix
        </button>
        <button type="button" className="button plain" onClick={onLeave}>
          Back to the levels
        </button>
      </span>
    </div>
  );
}

/** The ladder of levels for one cell; what is chosen becomes a wish, and its best change goes to the tray. */
export function Ladder({ row, now, column, wished, onChoose, onWhy, onClose }: Props) {
  const [mix, setMix] = useState<AbilitySet | null>(null);
  const reason = !column.settable
    ? "This column stands for no group or person of its own, so no level can be set in it."
    : wished.rows > MOST_WISHED_PLACES
      ? `At most ${MOST_WISHED_PLACES} rows are set at once.`
      : wished.off === 0
        ? ""
        : wished.rows > 1
          ? `Not for ${wished.off} of the ${wished.rows} rows that are chosen: that needs Keeper, or oversight.`
          : "Setting a level here needs Keeper, or oversight.";
  /** The cell it stands at: the focus goes back there. */
  const home = useRef<HTMLElement | null>(null);
  const choices = reason ? [] : CHOICES.filter((level) => level <= column.most);
  const press = (event: KeyboardEvent) => {
    // What happens on the ladder stays there: the cell beneath would open it again.
    event.stopPropagation();
    const level = choices.find((it) => String(it) === event.key);
    if (mix !== null) return;
    if (level !== undefined) onChoose({ level });
    else if (event.key === "w") onWhy();
    else if (event.key === "x" && choices.length > 0) setMix(now);
  };
  return (
    <Popover.Root open onOpenChange={(open) => !open && onClose()}>
      <Popover.Anchor
        className={styles.anchor}
        ref={(anchor) => {
          home.current = anchor?.closest<HTMLElement>("[role=gridcell]") ?? home.current;
        }}
      />
      <Popover.Portal>
        <Popover.Content
          className={styles.ladder}
          align="start"
          sideOffset={4}
          collisionPadding={12}
          aria-label={`${column.name} on ${row.title}`}
          onClick={(event) => event.stopPropagation()}
          onFocus={(event) => event.stopPropagation()}
          onKeyDown={press}
          onOpenAutoFocus={(event) => {
            event.preventDefault();
            const list = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>("button");
            ([...list].find((it) => it.ariaCurrent === "true") ?? list[0])?.focus();
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            home.current?.focus();
          }}
        >
          {wished.rows > 1 && !reason && <p className="soft">For the {wished.rows} rows that are chosen.</p>}
          {mix === null ? (
            <>
              <Rungs
                reason={reason}
                most={column.most}
                choices={choices}
                current={levelOf(now)}
                onChoose={onChoose}
                onMix={() => setMix(now)}
              />
              <button type="button" className={styles.whyButton} onClick={onWhy}>
                <span>Why it is as it is</span>
                <kbd>w</kbd>
              </button>
            </>
          ) : (
            <Mixing column={column} set={mix} onChange={setMix} onChoose={onChoose} onLeave={() => setMix(null)} />
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
