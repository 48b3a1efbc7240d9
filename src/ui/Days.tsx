/** A month of days to choose one from, and the ends that are asked for most. */
import { addMonths, addWeeks, addYears } from "date-fns";
import { DayPicker } from "react-day-picker";
import styles from "./DateField.module.css";

interface Props {
  chosen: Date | undefined;
  /** What no date means, as in "without end". */
  none: string;
  onChoose(day: Date): void;
  onNone(): void;
}

const SHORTCUTS: { name: string; of(now: Date): Date }[] = [
  { name: "in 4 weeks", of: (now) => addWeeks(now, 4) },
  { name: "in 3 months", of: (now) => addMonths(now, 3) },
  { name: "in a year", of: (now) => addYears(now, 1) },
];

export default function Days({ chosen, none, onChoose, onNone }: Props) {
  return (
    <>
      <DayPicker
        mode="single"
        selected={chosen}
        defaultMonth={chosen ?? new Date()}
        onSelect={(day) => day && onChoose(day)}
        weekStartsOn={1}
      />
      <div className={styles.shortcuts}>
        {SHORTCUTS.map(({ name, of }) => (
          <button key={name} type="button" className="button plain" onClick={() => onChoose(of(new Date()))}>
            {name}
          </button>
        ))}
        <button type="button" className="button plain" onClick={onNone}>
          {none}
        </button>
      </div>
    </>
  );
}
