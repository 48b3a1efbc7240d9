/**
 * What can be done from the box in the masthead: going somewhere, and whatever the view one is in offers at this moment. The
 * latter is what stands on its buttons: so what one may not do is left out, as it is there.
 */
import { readDate, shortDate } from "../../ui/dates.ts";

export interface Command {
  key: string;
  name: string;
  /** Where it is, or what it leads to. */
  note: string;
  run(): void;
}

const goTo = (address: string) => () => window.location.assign(address);
const leads = (name: string, note: string, address: string): Command => ({ key: `go:${address}`, name, note, run: goTo(address) });

const SECTIONS = ["Desk", "Grid", "Outside", "People", "Pages", "Review", "Routines", "Ledger"] as const;

/** What leads on from anywhere. */
function everywhere(keepsSite: boolean): Command[] {
  return [
    ...SECTIONS.map((name) => leads(name, "section", `/${name.toLowerCase()}`)),
    ...(keepsSite ? [leads("House", "section", "/house")] : []),
    leads("Reads", "what is read, and what is not", "/reads"),
    leads("Workbench", "your private drafts", "/workbench"),
    leads("Begin a draft", "on your workbench", "/workbench/new"),
    leads("Walk as the public", "the pages as strangers see them", "/eyes/public"),
    leads("Account", "your name, password and sessions", "/account"),
    ...(keepsSite
      ? [
          leads("Invite a guest", "for some pages, until a date", "/people/invite"),
          leads("Bring people in", "from a table", "/people/bring"),
          leads("Start a space", "how open shall it be?", "/spaces/new"),
          leads("Outbox", "mail as it was sent", "/house?part=outbox"),
          leads("Pledges", "what must stay true", "/house?part=pledges"),
        ]
      : []),
  ];
}

/** What a button says, without its key. */
function wordsOf(button: HTMLElement): string {
  const label = button.getAttribute("aria-label");
  if (label) return label;
  const copy = button.cloneNode(true) as HTMLElement;
  for (const key of copy.querySelectorAll("kbd, .unseen, svg")) key.remove();
  return (copy.textContent ?? "").replace(/\s+/g, " ").trim();
}

const BUTTONS = "main button.button, main a.button, main [role=tab], main button[aria-pressed]";
const MOST_LETTERS = 60;

/** What the view one is in offers, each name once; of rows, the one one is on. */
function ofView(): Command[] {
  const all = [...document.querySelectorAll<HTMLElement>(BUTTONS)].filter(
    (it) => it.offsetParent !== null && !it.matches(":disabled, [aria-disabled=true]") && it.closest("[inert], [hidden]") === null,
  );
  const here = (it: HTMLElement) => (it.closest("[aria-current=true], [data-current=true]") ? 0 : 1);
  const found = new Map<string, Command>();
  for (const button of all.sort((a, b) => here(a) - here(b))) {
    const name = wordsOf(button);
    if (name === "" || name.length > MOST_LETTERS || found.has(name)) continue;
    const note = button.closest("aside[aria-label], section[aria-label]")?.getAttribute("aria-label") ?? "in this view";
    found.set(name, {
      key: `do:${name}`,
      name,
      note,
      run: () => {
        button.focus();
        button.click();
      },
    });
  }
  return [...found.values()];
}

/** "as of last Monday": the grid as it was then, or will be; for site keepers. */
function asOf(words: string, keepsSite: boolean): Command[] {
  const [, said = ""] = /^as of (.+)$/i.exec(words.trim()) ?? [];
  const date = said === "" || !keepsSite ? null : readDate(said, new Date());
  if (!date) return [];
  const at = date.date.toISOString();
  const query = new URLSearchParams(window.location.pathname === "/grid" ? window.location.search : "");
  query.set("at", at);
  return [{ ...leads(`As of ${shortDate(at)}`, "the grid as it was, or will be, then", `/grid?${query}`), key: "go:/grid?at" }];
}

/** How well a name fits what was typed: 0 best; null where it does not. */
export function rankOf(name: string, words: string): number | null {
  const wanted = words.trim().toLowerCase();
  const said = name.toLowerCase();
  if (wanted === "") return null;
  if (said.startsWith(wanted)) return 0;
  const parts = wanted.split(/\s+/);
  const own = said.split(/[^\p{L}\p{N}]+/u);
  if (parts.every((part) => own.some((it) => it.startsWith(part)))) return 1;
  return parts.every((part) => said.includes(part)) ? 2 : null;
}

const MOST = 6;

/** Commands that fit, the best first; of what fits alike, those of the view first. */
export function commandsFor(words: string, keepsSite: boolean): Command[] {
  const all = [...ofView(), ...everywhere(keepsSite)].flatMap((command, nth) => {
    const rank = rankOf(command.name, words);
    return rank === null ? [] : [{ command, rank, nth }];
  });
  return [...asOf(words, keepsSite), ...all.sort((a, b) => a.rank - b.rank || a.nth - b.nth).map(({ command }) => command)].slice(0, MOST);
}
