/** Chooses somebody or something by name: type, see who is who, move with the arrows, take with Enter. Nothing is taken before that. */
import { useCombobox } from "downshift";
import { useEffect, useState } from "react";
import styles from "./Picker.module.css";

export interface Choice {
  key: string;
  name: string;
  /** Who or what it is: "group, 12 people". */
  note: string;
}

interface Props<T extends Choice> {
  label: string;
  /** What is chosen, shown while nothing is typed. */
  chosen?: T | null;
  /** Finds choices for what is typed; for nothing typed, what comes to mind first. */
  find(words: string): Promise<T[]>;
  onChoose(choice: T): void;
  autoFocus?: boolean;
  /** Stays in place instead of lying over what is below. */
  inline?: boolean;
  className?: string;
}

const PAUSE = 120;

/** What is found for what is typed, while the list is open; `sought`: for which words, null before the first answer. */
function useChoices<T>(find: (words: string) => Promise<T[]>, words: string, isOpen: boolean) {
  const [choices, setChoices] = useState<T[]>([]);
  const [sought, setSought] = useState<string | null>(null);
  useEffect(() => {
    if (!isOpen) return setSought(null);
    let current = true;
    const wait = setTimeout(
      () =>
        void find(words).then(
          (found) => {
            if (!current) return;
            setChoices(found);
            setSought(words);
          },
          () => current && setChoices([]),
        ),
      words === "" ? 0 : PAUSE,
    );
    return () => {
      current = false;
      clearTimeout(wait);
    };
  }, [words, isOpen]);
  return { choices, sought };
}

export function Picker<T extends Choice>(props: Props<T>) {
  const { label, chosen = null, find, onChoose, autoFocus = false, inline = false, className = "" } = props;
  const [words, setWords] = useState("");
  const [isOpen, setOpen] = useState(false);
  const { choices, sought } = useChoices(find, words, isOpen);
  const box = useCombobox<T>({
    items: choices,
    inputValue: words,
    selectedItem: null,
    itemToString: (it) => it?.name ?? "",
    defaultHighlightedIndex: 0,
    stateReducer: (_state, { type, changes }) =>
      // Leaving the field takes nothing: only Enter or a click does.
      type === useCombobox.stateChangeTypes.InputBlur ? { ...changes, selectedItem: null, inputValue: "" } : changes,
    onSelectedItemChange: ({ selectedItem, type }) => {
      const taken = type === useCombobox.stateChangeTypes.InputKeyDownEnter || type === useCombobox.stateChangeTypes.ItemClick;
      setWords("");
      if (taken && selectedItem) onChoose(selectedItem);
    },
    onIsOpenChange: ({ isOpen: open }) => {
      setOpen(open);
      if (!open) setWords("");
    },
  });
  return (
    <span className={`${styles.picker} ${className}`} data-inline={inline}>
      <span className={styles.label} aria-hidden="true">
        {label}
      </span>
      <input
        {...box.getInputProps({
          "aria-label": label,
          placeholder: chosen?.name ?? "",
          className: "field",
          autoFocus,
          // At once, not with the next drawing: else quick typing loses letters.
          onChange: (event) => setWords(event.currentTarget.value),
          onKeyDown: (event) => {
            // Closing the list is not closing what the picker stands in.
            if (event.key === "Escape" && isOpen && words !== "") event.stopPropagation();
          },
        })}
        data-chosen={chosen !== null}
      />
      <ul {...box.getMenuProps({ "aria-label": label })} className={styles.list} hidden={!isOpen}>
        {isOpen &&
          choices.map((choice, index) => (
            <li key={choice.key} {...box.getItemProps({ item: choice, index })} data-on={box.highlightedIndex === index}>
              <span dir="auto">{choice.name}</span>
              <small>{choice.note}</small>
            </li>
          ))}
        {isOpen && sought !== null && choices.length === 0 && <li className={styles.none}>Nothing of that name.</li>}
      </ul>
    </span>
  );
}
