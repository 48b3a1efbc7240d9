/** One part of a sentence that is changed where it stands: what it says, how to change it, how to leave it out. */
import { X } from "lucide-react";
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import styles from "./sentence.module.css";

interface Props {
  words: string;
  /** What it is about, for whoever hears it read. */
  name: string;
  /** Absent: it cannot be left out. */
  onDrop?(): void;
  children(close: () => void): ReactNode;
}

export function SentencePart({ words, name, onDrop, children }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <span className={styles.part}>
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger className={styles.words} aria-label={`${name}: ${words}`} dir="auto">
          {words}
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content className={styles.editing} align="start" sideOffset={4}>
            {children(() => setOpen(false))}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      {onDrop && (
        <button type="button" onClick={onDrop} aria-label={`Leave out: ${words}`}>
          <X size={12} />
        </button>
      )}
    </span>
  );
}

/** Choices to be pressed, one under the other. */
export function Options<K extends string>({ options, onChoose }: { options: readonly (readonly [K, string])[]; onChoose(key: K): void }) {
  return (
    <ul className={styles.options}>
      {options.map(([key, words]) => (
        <li key={key}>
          <button type="button" className="button plain" onClick={() => onChoose(key)}>
            {words}
          </button>
        </li>
      ))}
    </ul>
  );
}

interface NarrowingProps<K extends string> {
  /** What may still be added. */
  options: readonly (readonly [K, string])[];
  onChoose?(key: K): void;
  /** How it is said what is added; null: choosing it says it all. */
  children(key: K, close: () => void): ReactNode;
}

/** Adds a part to a sentence: what is to be added first, then what it says. */
export function Narrowing<K extends string>({ options, onChoose, children }: NarrowingProps<K>) {
  const [adding, setAdding] = useState<K | null>(null);
  const choose = (key: K) => {
    setAdding(key);
    onChoose?.(key);
  };
  const asked = adding === null ? null : children(adding, () => setAdding(null));
  return (
    <Popover.Root onOpenChange={(open) => !open && setAdding(null)}>
      <Popover.Trigger className="button plain">narrow …</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="start" sideOffset={4}>
          {asked ?? <Options options={options} onChoose={choose} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
