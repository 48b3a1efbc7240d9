import { Popover } from "radix-ui";
import { type KeyboardEvent, useRef } from "react";
import type { GridColumn } from "../../contracts/grid.ts";
import { type AbilitySet, LEVELS, type Level, levelOf, setOfLevel } from "../../core/access/model/index.ts";
import { Stair } from "../../ui/Stair.tsx";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";

interface Props {
  row: ShownRow;
  /** What the cell shows now. */
  now: AbilitySet;
  column: GridColumn;
  onChoose(level: Level): void;
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
  onChoose(level: Level): void;
}

function Rungs({ reason, most, choices, current, onChoose }: RungsProps) {
  return (
    <>
      {reason && <p>{reason}</p>}
      {!reason && most < 5 && <p className="soft">At most {LEVELS[most]}: more can be given to groups and members only.</p>}
      {choices.map((level) => (
        <button key={level} type="button" aria-current={level === current} onClick={() => onChoose(level)}>
          <Stair set={setOfLevel(level)} />
          <span>
            {LEVELS[level]}
            {level === current && <small> as now</small>}
          </span>
          <kbd>{level}</kbd>
        </button>
      ))}
    </>
  );
}

/** The ladder of levels for one cell; what is chosen becomes a wish, and its best change goes to the tray. */
export function Ladder({ row, now, column, onChoose, onWhy, onClose }: Props) {
  const reason = !column.settable
    ? "This column stands for no group or person of its own, so no level can be set in it."
    : row.editable
      ? ""
      : "Setting a level here needs Keeper, or oversight.";
  /** The cell it stands at: the focus goes back there. */
  const home = useRef<HTMLElement | null>(null);
  const choices = reason ? [] : CHOICES.filter((level) => level <= column.most);
  const press = (event: KeyboardEvent) => {
    // What happens on the ladder stays there: the cell beneath would open it again.
    event.stopPropagation();
    const level = choices.find((it) => String(it) === event.key);
    if (level !== undefined) onChoose(level);
    else if (event.key === "w") onWhy();
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
          <Rungs reason={reason} most={column.most} choices={choices} current={levelOf(now)} onChoose={onChoose} />
          <button type="button" className={styles.whyButton} onClick={onWhy}>
            <span>Why it is as it is</span>
            <kbd>w</kbd>
          </button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
