import type { Preview } from "../../contracts/change.ts";
import { LIMITS } from "../../core/words.ts";
import { Remaining } from "../../ui/TextField.tsx";

interface Props {
  /** Refusals that a reason lifts. */
  lifted: Preview["refusals"];
  value: string;
  onChange(value: string): void;
  className?: string | undefined;
}

/** Says what a change needs a reason for, and takes it; nothing where none is needed. */
export function ReasonField({ lifted, value, onChange, className }: Props) {
  if (lifted.length === 0) return null;
  return (
    <label className={className}>
      {[...new Set(lifted.map((it) => it.message))].join(" ")} Reason:
      <input className="field" value={value} onChange={(event) => onChange(event.target.value)} />
      <Remaining value={value} most={LIMITS.note} />
    </label>
  );
}
