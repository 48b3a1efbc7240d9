/** A review period: so many days, or none. */
import { useState } from "react";
import { isPeriod, PERIOD_LIMITS } from "../core/review/index.ts";
import { TextField } from "./TextField.tsx";

interface Props {
  label: string;
  /** Days; null: none. */
  value: number | null;
  /** Only sound ones come; `null` for an empty field. */
  onChange(days: number | null): void;
}

/** What was typed as days; undefined where it is none. */
function readDays(typed: string): number | null | undefined {
  if (typed.trim() === "") return null;
  return isPeriod(Number(typed)) ? Number(typed) : undefined;
}

export function PeriodField({ label, value, onChange }: Props) {
  const [typed, setTyped] = useState(value === null ? "" : String(value));
  const change = (words: string) => {
    setTyped(words);
    const days = readDays(words);
    if (days !== undefined) onChange(days);
  };
  return (
    <>
      <TextField label={label} value={typed} onChange={change} />
      {readDays(typed) === undefined && (
        <p className="notice bad" role="alert">
          A whole number of days, {PERIOD_LIMITS.least} to {PERIOD_LIMITS.most.toLocaleString("en")}; empty for none.
        </p>
      )}
    </>
  );
}
