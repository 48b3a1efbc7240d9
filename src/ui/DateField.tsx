/** A date typed or chosen: nothing is taken before it is whole and confirmed, by Enter, by leaving the field, or by a choice. */
import { endOfDay } from "date-fns";
import { CalendarDays } from "lucide-react";
import { Popover } from "radix-ui";
import { lazy, Suspense, useState } from "react";
import styles from "./DateField.module.css";
import { endWords, exactDate, readDate, shortDateTime } from "./dates.ts";

interface Props {
  label: string;
  /** An instant, or empty for none. */
  value: string;
  onChange(instant: string): void;
  /** `end`: a day means its last moment. `moment`: a day without a time of day means nine in the morning. */
  as: "end" | "moment";
  /** What an empty field means, as in "without end". */
  none: string;
  /** Whether it must lie ahead. */
  ahead?: boolean;
  className?: string;
}

// Most dates are typed, or left as they are: the calendar comes when it is opened.
const Days = lazy(() => import("./Days.tsx"));

const MORNING = 9;

/** What a day without a time of day means. */
function momentOf(date: Date, as: Props["as"]): string {
  if (as === "end") return endOfDay(date).toISOString();
  return new Date(date.getFullYear(), date.getMonth(), date.getDate(), MORNING).toISOString();
}

/** A day with the time of day of another. */
const atTimeOf = (day: Date, time: Date): Date =>
  new Date(day.getFullYear(), day.getMonth(), day.getDate(), time.getHours(), time.getMinutes());

export function DateField({ label, value, onChange, as, none, ahead = false, className = "" }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const said = value === "" ? "" : as === "end" ? endWords(value) : shortDateTime(value);

  const instantOf = (date: Date, timed: boolean): string => (timed ? date.toISOString() : momentOf(date, as));
  const take = (instant: string) => {
    if (ahead && instant !== "" && Date.parse(instant) <= Date.now()) return setProblem("That lies in the past.");
    setTyped(null);
    setProblem("");
    if (instant !== value) onChange(instant);
  };
  const confirm = () => {
    if (typed === null) return;
    if (typed.trim() === said) return take(value);
    if (typed.trim() === "") return take("");
    const read = readDate(typed, new Date());
    if (read) take(instantOf(read.date, read.timed));
    else setProblem(`Not a date. For example: 16 Oct 2026${as === "moment" ? ", 14:30" : ""}, or in 4 weeks.`);
  };
  const chosen = value === "" ? undefined : new Date(value);
  const choose = (date: Date) => {
    // The time of day that stands already stays.
    const timed = as === "moment" && chosen !== undefined;
    take(instantOf(timed ? atTimeOf(date, chosen) : date, timed));
  };
  return (
    <span className={`${styles.field} ${className}`}>
      <input
        className="field"
        aria-label={label}
        aria-invalid={problem !== ""}
        placeholder={none}
        title={value === "" ? `${label}: ${none}` : exactDate(value)}
        value={typed ?? said}
        onChange={(event) => {
          setTyped(event.target.value);
          setProblem("");
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            event.preventDefault();
            confirm();
          } else if (event.key === "Escape" && typed !== null) {
            event.stopPropagation();
            setTyped(null);
            setProblem("");
          }
        }}
        onBlur={confirm}
      />
      <Calendar label={label} none={none} chosen={chosen} onChoose={choose} onNone={() => take("")} />
      {problem && (
        <small className={styles.problem} role="alert">
          {problem}
        </small>
      )}
    </span>
  );
}

interface CalendarProps extends Pick<Props, "label" | "none"> {
  chosen: Date | undefined;
  onChoose(day: Date): void;
  onNone(): void;
}

/** A month of days to choose one from, and the ends that are asked for most. */
function Calendar({ label, none, chosen, onChoose, onNone }: CalendarProps) {
  const [open, setOpen] = useState(false);
  const close = (act: () => void) => {
    act();
    setOpen(false);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={styles.opener} aria-label={`${label}: choose a day`}>
        <CalendarDays size={14} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.calendar} align="end" sideOffset={4} collisionPadding={8} aria-label={`${label}: days`}>
          <Suspense fallback={<p className="soft">Opening …</p>}>
            <Days chosen={chosen} none={none} onChoose={(day) => close(() => onChoose(day))} onNone={() => close(onNone)} />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
