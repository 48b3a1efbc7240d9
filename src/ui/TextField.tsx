import { type Ref, useId } from "react";

interface Props {
  label: string;
  value: string;
  onChange(value: string): void;
  className?: string;
  ref?: Ref<HTMLInputElement>;
  /** Most characters that are kept; said before it is too late. */
  most?: number;
  /** For a field that opens where somebody asked for it. */
  autoFocus?: boolean;
}

const NEAR = 40;

/** How many characters are left, when they run short; how many are too many. */
export function Remaining({ value, most, id }: { value: string; most: number; id?: string }) {
  const left = most - value.length;
  if (left > NEAR) return null;
  return (
    <small id={id} className={left < 0 ? "remaining over" : "remaining"} role="status">
      {left < 0 ? `${-left} too many of ${most}` : `${left} left of ${most}`}
    </small>
  );
}

/** A one-line text under its label. */
export function TextField({ label, value, onChange, className = "", ref, most, autoFocus = false }: Props) {
  const told = useId();
  return (
    <>
      <label className="labelled">
        <span>{label}</span>
        <input
          ref={ref}
          className={`field ${className}`}
          aria-label={label}
          aria-describedby={most ? told : undefined}
          aria-invalid={most !== undefined && value.length > most}
          // biome-ignore lint/a11y/noAutofocus: it opens where somebody asked for it
          autoFocus={autoFocus}
          value={value}
          dir="auto"
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
      {most !== undefined && <Remaining value={value} most={most} id={told} />}
    </>
  );
}
