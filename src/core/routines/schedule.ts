/**
 * When a routine runs (lifecycle.md, "Routines"): a cron line of five fields (minute, hour, day of the month, month, day of the
 * week) on the clocks of a named zone. Where both days are narrowed, either will do.
 */

export interface Schedule {
  cron: string;
  /** "Europe/Lisbon". */
  zone: string;
}

/** The values each field lets through, in order; null: any. */
export interface CronFields {
  minute: readonly number[] | null;
  hour: readonly number[] | null;
  day: readonly number[] | null;
  month: readonly number[] | null;
  /** 0 is Sunday. */
  weekday: readonly number[] | null;
}

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const WEEKDAYS = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"];

const FIELDS: readonly { name: keyof CronFields; called: string; least: number; most: number; words: readonly string[] }[] = [
  { name: "minute", called: "minute", least: 0, most: 59, words: [] },
  { name: "hour", called: "hour", least: 0, most: 23, words: [] },
  { name: "day", called: "day of the month", least: 1, most: 31, words: [] },
  { name: "month", called: "month", least: 1, most: 12, words: MONTHS },
  { name: "weekday", called: "day of the week", least: 0, most: 7, words: WEEKDAYS },
];

/** A value of a field, by number or name; null: it is none. */
function numberOf(word: string, { least, most, words }: (typeof FIELDS)[number]): number | null {
  const named = words.indexOf(word.toLowerCase());
  if (named >= 0) return named + (words === MONTHS ? 1 : 0);
  if (!/^\d{1,2}$/.test(word)) return null;
  const value = Number(word);
  return value >= least && value <= most ? value : null;
}

/** The values of one part of a field ("1-5", steps of 15, "mon"); null: it is none. */
function valuesOf(part: string, field: (typeof FIELDS)[number]): number[] | null {
  const [span = "", step, more] = part.split("/");
  if (more !== undefined || (step !== undefined && !/^[1-9]\d?$/.test(step))) return null;
  const [first = "", last, rest] = span.split("-");
  if (rest !== undefined) return null;
  const from = span === "*" ? field.least : numberOf(first, field);
  const to = span === "*" ? field.most : last === undefined ? (step === undefined ? from : field.most) : numberOf(last, field);
  if (from === null || to === null || from > to) return null;
  const by = Number(step ?? 1);
  return Array.from({ length: Math.floor((to - from) / by) + 1 }, (_, i) => from + i * by);
}

function fieldOf(text: string, field: (typeof FIELDS)[number]): readonly number[] | null | string {
  if (text === "*") return null;
  const parts = text.split(",").map((part) => valuesOf(part, field));
  if (parts.some((part) => part === null))
    return `The ${field.called} of “${text}” is none: numbers ${field.least} to ${field.most}, * for any.`;
  const values = parts.flatMap((part) => part ?? []).map((value) => (field.name === "weekday" ? value % 7 : value));
  return [...new Set(values)].sort((a, b) => a - b);
}

/** Reads a cron line; a sentence that says what is wrong with it where it is none. */
export function parseCron(cron: string): CronFields | string {
  const texts = cron.trim().split(/\s+/);
  if (texts.length !== FIELDS.length || cron.length > 200)
    return "A cron line has five fields: minute, hour, day of the month, month, day of the week.";
  const fields = FIELDS.map((field, i) => fieldOf(texts[i] ?? "", field));
  const wrong = fields.find((field) => typeof field === "string");
  if (typeof wrong === "string") return wrong;
  return Object.fromEntries(FIELDS.map(({ name }, i) => [name, fields[i]])) as unknown as CronFields;
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

const clocks = new Map<string, Intl.DateTimeFormat | null>();

function clockOf(zone: string): Intl.DateTimeFormat | null {
  const known = clocks.get(zone);
  if (known !== undefined) return known;
  let clock: Intl.DateTimeFormat | null;
  try {
    clock = new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      hourCycle: "h23",
      year: "numeric",
      month: "numeric",
      day: "numeric",
      hour: "numeric",
      minute: "numeric",
      second: "numeric",
    });
  } catch {
    clock = null;
  }
  if (clocks.size > 500) clocks.clear();
  clocks.set(zone, clock);
  return clock;
}

/** Whether there is a zone of that name. */
export const isZone = (zone: string): boolean => /^[A-Za-z][\w+\-/]{0,60}$/.test(zone) && clockOf(zone) !== null;

/** How far clocks of a zone are ahead of UTC at an instant, in milliseconds. */
function aheadAt(clock: Intl.DateTimeFormat, instant: number): number {
  const whole = Math.floor(instant / 1_000) * 1_000;
  const at: Record<string, number> = {};
  for (const { type, value } of clock.formatToParts(whole)) at[type] = Number(value);
  const { year = 0, month = 1, day = 1, hour = 0, minute = 0, second = 0 } = at;
  return Date.UTC(year, month - 1, day, hour, minute, second) - whole;
}

/**
 * The instant at which clocks of a zone show a time (as if it were in UTC, in milliseconds). Shown twice: the first of both;
 * never, since clocks jump over it: as long after the jump as it would have been.
 */
function instantOfWall(clock: Intl.DateTimeFormat, wall: number): number {
  const before = aheadAt(clock, wall - DAY);
  const after = aheadAt(clock, wall + DAY);
  const fitting = [wall - before, wall - after].filter((instant) => instant + aheadAt(clock, instant) === wall);
  return fitting.length > 0 ? Math.min(...fitting) : wall - before;
}

function isDay({ day, month, weekday }: CronFields, date: Date): boolean {
  if (month && !month.includes(date.getUTCMonth() + 1)) return false;
  const ofMonth = day?.includes(date.getUTCDate()) ?? true;
  const ofWeek = weekday?.includes(date.getUTCDay()) ?? true;
  return day && weekday ? ofMonth || ofWeek : ofMonth && ofWeek;
}

const count = (length: number): number[] => Array.from({ length }, (_, i) => i);

/** So far ahead a time is looked for: the 29th of February comes back within it, whatever the century. */
const FARTHEST_DAYS = 9 * 366;

/**
 * The next times (instants, milliseconds since the epoch, ascending) of a schedule after an instant, at most `most`; fewer, or
 * none, where it does not come that often within nine years, or is no schedule. A time that clocks show twice counts once.
 */
export function nextTimes({ cron, zone }: Schedule, after: number, most: number): number[] {
  const fields = parseCron(cron);
  const clock = isZone(zone) ? clockOf(zone) : null;
  if (typeof fields === "string" || !clock) return [];
  const hours = fields.hour ?? count(24);
  const minutes = fields.minute ?? count(60);
  const found = new Set<number>();
  // A day earlier: what clocks jump over comes later than it says.
  const first = Math.floor((after + aheadAt(clock, after)) / DAY) * DAY - DAY;
  for (let day = first; day <= first + FARTHEST_DAYS * DAY && found.size < most; day += DAY) {
    if (!isDay(fields, new Date(day))) continue;
    const times = hours.flatMap((hour) => minutes.map((minute) => day + hour * HOUR + minute * MINUTE));
    for (const instant of timesOf(clock, times)) if (instant > after) found.add(instant);
  }
  return [...found].sort((a, b) => a - b).slice(0, most);
}

/** Instants of times of one day; where clocks stand alike all that day and the days beside it, they need not be asked each time. */
function timesOf(clock: Intl.DateTimeFormat, times: readonly number[]): number[] {
  const [first = 0] = times;
  const last = times.at(-1) ?? first;
  const ahead = aheadAt(clock, first - DAY);
  if (ahead === aheadAt(clock, first) && ahead === aheadAt(clock, last + DAY)) return times.map((time) => time - ahead);
  return times.map((time) => instantOfWall(clock, time));
}

const two = (value: number): string => String(value).padStart(2, "0");
const DAY_NAMES = ["Sundays", "Mondays", "Tuesdays", "Wednesdays", "Thursdays", "Fridays", "Saturdays"];
const MONTH_NAMES = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

const list = (words: readonly string[], between = "and"): string =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} ${between} ${words.at(-1)}`;

const nth = (value: number): string =>
  `${value}${value % 100 >= 11 && value % 100 <= 13 ? "th" : (["th", "st", "nd", "rd"][value % 10] ?? "th")}`;

function timeWords({ hour, minute }: CronFields): string {
  if (hour && minute && hour.length * minute.length <= 4)
    return `at ${list(hour.flatMap((h) => minute.map((m) => `${two(h)}:${two(m)}`)))}`;
  const past = minute === null ? "every minute" : `at ${list(minute.map((m) => `:${two(m)}`))}`;
  return hour === null ? `${past} of every hour` : `${past} of the hours ${list(hour.map(String))}`;
}

const isWorkweek = (weekday: readonly number[]): boolean => weekday.join() === "1,2,3,4,5";

/** When it runs, in words: "Mondays at 06:00, Europe/Lisbon". A line that is none says what is wrong with it. */
export function scheduleWords({ cron, zone }: Schedule): string {
  const fields = parseCron(cron);
  if (typeof fields === "string") return fields;
  const { day, month, weekday } = fields;
  const ofWeek =
    weekday && weekday.length < 7 ? (isWorkweek(weekday) ? "Monday to Friday" : list(weekday.map((it) => DAY_NAMES[it] ?? ""))) : "";
  const ofMonth = day ? `on the ${list(day.map(nth))}` : "";
  const days = weekday && day ? `${ofMonth} or ${ofWeek || "every day"}` : ofMonth || ofWeek || "every day";
  const months = month ? ` of ${list(month.map((it) => MONTH_NAMES[it - 1] ?? ""))}` : day ? " of every month" : "";
  const words = `${days}${months} ${timeWords(fields)}, ${zone.replaceAll("_", " ")}`;
  return words.charAt(0).toUpperCase() + words.slice(1);
}
