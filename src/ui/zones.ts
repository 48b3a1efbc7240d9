/** Wall clocks of other zones: what a clock there shows at an instant, and which instant a time on it is. */
import { TZDate } from "@date-fns/tz";

/** A time as a clock on the wall shows it: local to wherever it hangs. */
const wallOf = (date: Date): [number, number, number, number, number] => [
  date.getFullYear(),
  date.getMonth(),
  date.getDate(),
  date.getHours(),
  date.getMinutes(),
];

/** The instant at which a clock here shows what a clock there shows at another. */
export const asIfHere = (instant: string, zone: string): string =>
  instant === "" ? "" : new Date(...wallOf(new TZDate(new Date(instant).getTime(), zone))).toISOString();

const HOUR = 3_600_000;

export interface ThereAndThen {
  instant: string;
  /** The clock there leaves this time out, or shows it twice: then what was taken. Empty where neither is so. */
  said: string;
}

const two = (value: number): string => String(value).padStart(2, "0");

/** The instant at which a clock there shows what a clock here shows now; where clocks there jump, what becomes of it. */
export function asIfThere(here: string, zone: string): ThereAndThen {
  if (here === "") return { instant: "", said: "" };
  const wall = wallOf(new Date(here));
  const there = new TZDate(...wall, zone);
  const at = there.getTime();
  const instant = new Date(at).toISOString();
  const clock = (date: Date) => `${two(date.getHours())}:${two(date.getMinutes())}`;
  if (wallOf(there).join() !== wall.join())
    return { instant, said: `Clocks there jump over ${two(wall[3])}:${two(wall[4])} on that day: it will be ${clock(there)}.` };
  const shows = (other: number) => wallOf(new TZDate(other, zone)).join() === wall.join();
  const earlier = shows(at - HOUR);
  if (earlier || shows(at + HOUR)) {
    const first = new Date(earlier ? at - HOUR : at).toISOString();
    return { instant: first, said: `Clocks there show ${clock(there)} twice on that day: the first time is meant.` };
  }
  return { instant, said: "" };
}

/** Zones whose name holds what was typed, the own one first. */
export function zonesNamed(words: string, own: string): string[] {
  const wanted = words.trim().toLowerCase().replaceAll(" ", "_");
  return [...new Set([own, "UTC", ...Intl.supportedValuesOf("timeZone")])].filter((it) => it.toLowerCase().includes(wanted)).slice(0, 40);
}
