/** Find or do: pages, people, groups, and the commands of the view one is in, by a few letters and the arrows. */
import { Search } from "lucide-react";
import { type RefObject, useEffect, useRef, useState } from "react";
import { findSubjects, type PrincipalChoice } from "../shared/people.ts";
import { placeNote, useFound } from "../shared/useFound.ts";
import { type Command, commandsFor, rankOf } from "./commands.ts";
import styles from "./tools.module.css";

/** "/" leads to the box from anywhere but where one types. */
function useSlash(box: RefObject<HTMLInputElement | null>): void {
  useEffect(() => {
    const focus = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, textarea, select, [contenteditable]");
      if (event.key !== "/" || typing) return;
      event.preventDefault();
      box.current?.focus();
    };
    window.addEventListener("keydown", focus);
    return () => window.removeEventListener("keydown", focus);
  }, [box]);
}

const LEAST_LETTERS = 2;
const PAUSE = 140;
const MOST_PEOPLE = 5;

/** People and groups of that name, for members. */
function usePeople(words: string, isMember: boolean): Command[] {
  const [found, setFound] = useState<Command[]>([]);
  useEffect(() => {
    if (!isMember || words.trim().length < LEAST_LETTERS) return setFound([]);
    let current = true;
    const wait = setTimeout(async () => {
      const answer = await findSubjects(words).catch(() => []);
      if (current) setFound(answer.slice(0, MOST_PEOPLE).map(asCommand));
    }, PAUSE);
    return () => {
      current = false;
      clearTimeout(wait);
    };
  }, [words, isMember]);
  return found;
}

function asCommand({ key, name, note, principal, isGuest }: PrincipalChoice): Command {
  const address =
    "group" in principal
      ? `/people?part=groups&group=${encodeURIComponent(principal.group)}`
      : "person" in principal
        ? `/people?part=${isGuest ? "guests" : "members"}&person=${encodeURIComponent(principal.person)}`
        : "/people";
  return { key, name, note, run: () => window.location.assign(address) };
}

/** Everything that fits: what can be done, pages and spaces, people and groups. */
function useAll(words: string, open: boolean, { isMember, keepsSite }: Props): Command[] | null {
  const places = useFound(words);
  const people = usePeople(words, isMember);
  const [commands, setCommands] = useState<Command[]>([]);
  // What the view offers is looked up with each letter: it may have changed meanwhile.
  useEffect(() => setCommands(isMember && open ? commandsFor(words, keepsSite) : []), [words, open]);
  if (!open || (places === null && commands.length === 0)) return null;
  const found = (places ?? []).map(
    (it): Command => ({
      key: `place:${it.id}`,
      name: it.title,
      note: placeNote(it),
      run: () => window.location.assign(isMember ? `/grid?place=${encodeURIComponent(it.id)}` : it.address),
    }),
  );
  const all = [...commands, ...found, ...people];
  // What begins with the words comes first, whatever it is; of what fits alike, what can be done, then places, then people.
  return all
    .map((it, nth) => ({ it, nth, rank: it.key.startsWith("go:/grid?at") ? -1 : (rankOf(it.name, words) ?? 3) }))
    .sort((a, b) => a.rank - b.rank || a.nth - b.nth)
    .map(({ it }) => it);
}

interface ListProps {
  list: readonly Command[];
  at: number;
  onGo(to: Command): void;
  onAt(at: number): void;
}

const List = ({ list, at, onGo, onAt }: ListProps) => (
  <div className={styles.found} id="found" role="listbox" aria-label="Found">
    {list.length === 0 && <p>Nothing of that name that you may see or do.</p>}
    {list.map((it, i) => (
      <div
        key={it.key}
        id={`found-${i}`}
        role="option"
        tabIndex={-1}
        aria-selected={i === at}
        data-found={it.key.split(":")[0]}
        // The focus stays in the box until it is done.
        onMouseDown={(event) => {
          event.preventDefault();
          onGo(it);
        }}
        onMouseEnter={() => onAt(i)}
      >
        <span dir="auto">{it.name}</span>
        <small>{it.note}</small>
      </div>
    ))}
  </div>
);

interface Props {
  isMember: boolean;
  keepsSite: boolean;
}

export function FindOrDo(props: Props) {
  const [words, setWords] = useState("");
  const [open, setOpen] = useState(true);
  const [at, setAt] = useState(0);
  const box = useRef<HTMLInputElement>(null);
  const list = useAll(words, open, props);
  useSlash(box);
  const go = (to: Command | undefined) => {
    if (!to) return;
    setWords("");
    setOpen(false);
    box.current?.blur();
    to.run();
  };
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt((i) => Math.min(i + 1, (list?.length ?? 1) - 1));
    else if (event.key === "ArrowUp") setAt((i) => Math.max(i - 1, 0));
    else if (event.key === "Enter") go(list?.[at]);
    else if (event.key === "Escape") setWords("");
    else return;
    event.preventDefault();
  };
  return (
    <div className={styles.find}>
      <Search size={15} aria-hidden="true" />
      <input
        ref={box}
        role="combobox"
        aria-label="Find or do"
        aria-expanded={list !== null}
        aria-controls="found"
        aria-activedescendant={list?.[at] ? `found-${at}` : undefined}
        placeholder="Find or do  ( / )"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={onKey}
        onBlur={() => setTimeout(() => setOpen(false), 150)}
      />
      {list && <List list={list} at={at} onGo={go} onAt={setAt} />}
    </div>
  );
}
