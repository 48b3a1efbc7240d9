/** The right end of the masthead: find, whose eyes, theme, who one is. */
import { BookOpen, Eye, FilePlus2, MoonStar, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { watchFocus } from "../shared/focus.ts";
import { useViewKey } from "../shared/KeyHelp.tsx";
import { watchDeskCount } from "./deskCount.ts";
import { FindOrDo } from "./FindOrDo.tsx";
import styles from "./tools.module.css";

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
  keepsSite: boolean;
}

export default function Tools({ name, theme, isMember, keepsSite }: Props) {
  useEffect(rememberZone, []);
  useEffect(watchFocus, []);
  useEffect(watchDeskCount, []);
  return (
    <div className={styles.tools}>
      <FindOrDo isMember={isMember} keepsSite={keepsSite} />
      {isMember && <BeginDraft />}
      {isMember && (
        <a className={styles.icon} href="/" aria-label="Reading" title="Reading: the front door">
          <BookOpen size={16} />
        </a>
      )}
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
