/**
 * Dates as the person at the screen counts days; the exact instant and its zone belong in the title. In the browser the
 * zone is the browser's; on the server, where pages come without any script, it is the one a cookie told, or the server's.
 */
import { addDays, addMonths, addWeeks, addYears, type Day, endOfDay, isValid, nextDay, parse, previousDay } from "date-fns";

const formats = new Map<string, Intl.DateTimeFormat>();

/** Formats are dear to make, and a list has hundreds of dates. */
function format(name: string, options: Intl.DateTimeFormatOptions, zone: string | undefined): Intl.DateTimeFormat {
  const key = `${name} ${zone ?? ""}`;
  let known = formats.get(key);
  if (!known) {
    known = new Intl.DateTimeFormat("en-GB", zone ? { ...options, timeZone: zone } : options);
    formats.set(key, known);
  }
  return known;
}

const LONG: Intl.DateTimeFormatOptions = { day: "numeric", month: "long", year: "numeric" };
const DAY: Intl.DateTimeFormatOptions = { day: "numeric", month: "short", year: "numeric" };
const CLOCK: Intl.DateTimeFormatOptions = { hour: "2-digit", minute: "2-digit", hourCycle: "h23" };
const EXACT: Intl.DateTimeFormatOptions = { ...LONG, ...CLOCK, second: "2-digit", timeZoneName: "longOffset" };

/** "23 November 2026"; empty for no date. */
export const longDate = (instant: string | null | undefined, zone?: string): string =>
  instant ? format("long", LONG, zone).format(new Date(instant)) : "";

/** "23 Nov 2026". */
export const shortDate = (instant: string, zone?: string): string => format("day", DAY, zone).format(new Date(instant));

/** "23 Nov 2026, 14:05". */
export const shortDateTime = (instant: string, zone?: string): string =>
  `${shortDate(instant, zone)}, ${format("clock", CLOCK, zone).format(new Date(instant))}`;

let here = "";
/** The zone of this browser, or this server; dear to ask for as well. */
export function ownZone(): string {
  here ||= Intl.DateTimeFormat().resolvedOptions().timeZone;
  return here;
}

/** "23 November 2026 at 14:05:00 GMT+1, Europe/Lisbon": for the title of a date. */
export const exactDate = (instant: string, zone?: string): string =>
  `${format("exact", EXACT, zone).format(new Date(instant))}, ${zone ?? ownZone()}`;

/** An end as people say it: the day alone where it is the end of that day, else with the time. */
export function endWords(instant: string): string {
  const at = new Date(instant);
  return at.getTime() === endOfDay(at).getTime() ? shortDate(instant) : shortDateTime(instant);
}

const INSTANT = /\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:\d\d)/g;

/** A sentence in pieces: every second one is an instant that stood in it. */
export function piecesWithInstants(text: string): string[] {
  const pieces: string[] = [];
  let from = 0;
  for (const match of text.matchAll(INSTANT)) {
    if (!isValid(new Date(match[0]))) continue;
    pieces.push(text.slice(from, match.index), match[0]);
    from = match.index + match[0].length;
  }
  return [...pieces, text.slice(from)];
}

/** A sentence whose instants are said as the person at the screen counts days. */
export const withLocalDates = (text: string): string =>
  piecesWithInstants(text)
    .map((piece, i) => (i % 2 === 1 ? endWords(piece) : piece))
    .join("");

const DAYS = ["d MMM yyyy", "d MMMM yyyy", "yyyy-MM-dd", "d.M.yyyy", "d/M/yyyy", "d MMM yy"];
const CLOCKS = ["", ", HH:mm", " HH:mm", "'T'HH:mm", " 'at' HH:mm"];
const STEPS = { day: addDays, week: addWeeks, month: addMonths, year: addYears };
const NUMBERS = new Map([
  ["a", 1],
  ["an", 1],
  ["one", 1],
  ["two", 2],
  ["three", 3],
]);
const WEEKDAYS = ["sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"];
const FIRST_YEAR = 1970;
const LAST_YEAR = 2999;

export interface ReadDate {
  date: Date;
  /** Whether a time of day was said. */
  timed: boolean;
}

/** Reads "16 Oct 2026", "2026-10-16 14:30", "tomorrow", "in 4 weeks", "2 weeks ago", "last Monday"; null where it is no date. Days are those of this zone. */
export function readDate(text: string, now: Date): ReadDate | null {
  const words = text.trim().replace(/\s+/g, " ");
  const near = new Map([
    ["today", 0],
    ["tomorrow", 1],
    ["yesterday", -1],
  ]).get(words.toLowerCase());
  if (near !== undefined) return { date: addDays(now, near), timed: false };
  const [, which, weekday = ""] = /^(last|next) ([a-z]+)$/i.exec(words) ?? [];
  const nth = WEEKDAYS.findIndex((name) => weekday.length > 2 && name.startsWith(weekday.toLowerCase()));
  if (nth >= 0) return { date: (which?.toLowerCase() === "last" ? previousDay : nextDay)(now, nth as Day), timed: false };
  const [, back = "", ago = ""] = /^(\d{1,4}|a|an|one|two|three) (day|week|month|year)s? ago$/i.exec(words) ?? [];
  if (ago)
    return { date: STEPS[ago.toLowerCase() as keyof typeof STEPS](now, -(NUMBERS.get(back.toLowerCase()) ?? Number(back))), timed: false };
  const [, number = "", unit = ""] = /^in (\d{1,4}|a|an|one|two|three) (day|week|month|year)s?$/i.exec(words) ?? [];
  if (unit) {
    const step = STEPS[unit.toLowerCase() as keyof typeof STEPS];
    return { date: step(now, NUMBERS.get(number.toLowerCase()) ?? Number(number)), timed: false };
  }
  const start = new Date(now.getFullYear(), now.getMonth(), now.getDate());
  for (const day of DAYS)
    for (const clock of CLOCKS) {
      const date = parse(words, day + clock, start);
      if (isValid(date) && date.getFullYear() >= FIRST_YEAR && date.getFullYear() <= LAST_YEAR) return { date, timed: clock !== "" };
    }
  return null;
}
