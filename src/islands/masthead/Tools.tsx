/** The right end of the masthead: find, whose eyes, theme, who one is. */
import { Eye, FilePlus2, MoonStar, Search, Sun } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { FoundPlace } from "../../contracts/search.ts";
import { watchFocus } from "../shared/focus.ts";
import { useViewKey } from "../shared/KeyHelp.tsx";
import { placeNote, useFound } from "../shared/useFound.ts";
import { watchDeskCount } from "./deskCount.ts";
import styles from "./tools.module.css";

/** "/" leads to the box from anywhere but where one types. */
function useSlash(box: React.RefObject<HTMLInputElement | null>): void {
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

/** The page that one looks at or writes, where the address says so: a draft can begin as a copy of it. */
function pageHere(): string {
  const { pathname, search } = window.location;
  const [, written] = /^\/(?:write|versions)\/([\w]+)$/.exec(pathname) ?? [];
  return written ?? new URLSearchParams(search).get("place") ?? "";
}

/** A draft on the workbench is begun from anywhere: by its key, or here. */
function BeginDraft() {
  const go = () => {
    const page = pageHere();
    window.location.assign(`/workbench/new${page ? `?copy=${encodeURIComponent(page)}` : ""}`);
  };
  useViewKey("+", go);
  return (
    <button type="button" className={styles.icon} onClick={go} aria-label="Begin a draft" title="Begin a draft on your workbench ( + )">
      <FilePlus2 size={16} />
    </button>
  );
}

interface FoundListProps {
  found: FoundPlace[];
  at: number;
  onGo(to: FoundPlace): void;
  onAt(at: number): void;
}

const FoundList = ({ found, at, onGo, onAt }: FoundListProps) => (
  <div className={styles.found} id="found" role="listbox" aria-label="Found">
    {found.length === 0 && <p>No page or space you may see has this in its title.</p>}
    {found.map((it, i) => (
      <div
        key={it.id}
        id={`found-${it.id}`}
        role="option"
        tabIndex={-1}
        aria-selected={i === at}
        onMouseDown={() => onGo(it)}
        onMouseEnter={() => onAt(i)}
      >
        <span dir="auto">{it.title}</span>
        <small>{placeNote(it)}</small>
      </div>
    ))}
  </div>
);

/** Finds a place and goes there: members to its row in the grid, guests to the page itself. */
function FindBox({ isMember }: { isMember: boolean }) {
  const [words, setWords] = useState("");
  const [open, setOpen] = useState(true);
  const answer = useFound(words);
  const found = open ? answer : null;
  const [at, setAt] = useState(0);
  const box = useRef<HTMLInputElement>(null);

  useSlash(box);
  const go = (to: FoundPlace | undefined) => {
    if (to) window.location.href = isMember ? `/grid?place=${to.id}` : to.address;
  };
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt((i) => Math.min(i + 1, (found?.length ?? 1) - 1));
    else if (event.key === "ArrowUp") setAt((i) => Math.max(i - 1, 0));
    else if (event.key === "Enter") go(found?.[at]);
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
        aria-label="Find a place"
        aria-expanded={found !== null}
        aria-controls="found"
        aria-activedescendant={found?.[at] ? `found-${found[at]?.id}` : undefined}
        placeholder="Find a page or space  ( / )"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={onKey}
        onBlur={() => setTimeout(() => setOpen(false), 150)}
      />
      {found && <FoundList found={found} at={at} onGo={go} onAt={setAt} />}
    </div>
  );
}

function ThemeSwitch({ theme }: { theme: "light" | "dark" | null }) {
  const [dark, setDark] = useState(() => (theme ? theme === "dark" : window.matchMedia("(prefers-color-scheme: dark)").matches));
  const turn = () => {
    const next = dark ? "light" : "dark";
    // biome-ignore lint/suspicious/noDocumentCookie: the server reads it to send the page in the right theme at once.
    document.cookie = `theme=${next};path=/;max-age=31536000;samesite=lax`;
    document.documentElement.dataset.theme = next;
    setDark(!dark);
  };
  return (
    <button
      type="button"
      className={styles.icon}
      onClick={turn}
      aria-label={dark ? "Light theme" : "Dark theme"}
      title={dark ? "Light theme" : "Dark theme"}
    >
      {dark ? <Sun size={16} /> : <MoonStar size={16} />}
    </button>
  );
}

/** Tells the server the zone of this browser, for the dates on pages that come without any script. */
function rememberZone(): void {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  // biome-ignore lint/suspicious/noDocumentCookie: as with the theme.
  document.cookie = `zone=${encodeURIComponent(timeZone)};path=/;max-age=31536000;samesite=lax`;
}

interface Props {
  name: string;
  theme: "light" | "dark" | null;
  isMember: boolean;
}

export default function Tools({ name, theme, isMember }: Props) {
  useEffect(rememberZone, []);
  useEffect(watchFocus, []);
  useEffect(watchDeskCount, []);
  return (
    <div className={styles.tools}>
      <FindBox isMember={isMember} />
      {isMember && <BeginDraft />}
      {isMember && (
        <a className={styles.eyes} href="/eyes/public" title="Walk the knowledge base as the public sees it">
          <Eye size={16} aria-hidden="true" /> As the public
        </a>
      )}
      <ThemeSwitch theme={theme} />
      <a className={styles.name} href="/account">
        {name}
      </a>
      <form method="post" action="/sign-out">
        <button type="submit" className={styles.out}>
          Sign out
        </button>
      </form>
    </div>
  );
}
