import type { Ref } from "react";

interface Props {
  label: string;
  value: string;
  onChange(value: string): void;
  className?: string;
  ref?: Ref<HTMLInputElement>;
}

/** A one-line text whose label stands in it until something is typed. */
export function TextField({ label, value, onChange, className = "", ref }: Props) {
  return (
    <input
      ref={ref}
      className={`field ${className}`}
      placeholder={label}
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
