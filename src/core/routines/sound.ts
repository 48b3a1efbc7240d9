/** Whether a routine is one that can be kept: bad choices are told one by one, in sentences. */
import { DAY_FIELDS, isAboutGuests, isTelling, ROUTINE_LIMITS, type Routine, type RoutineAction, type RoutineFilter } from "./model.ts";
import { isZone, nextTimes, parseCron } from "./schedule.ts";

const isDays = (value: number, least: number): boolean => Number.isInteger(value) && value >= least && value <= ROUTINE_LIMITS.days;

/** A span that can never be: changed within 10 days, and not for 20. */
const SPANS = [
  ["unchanged", "changed", "changed"],
  ["unconfirmed", "confirmed", "confirmed"],
  ["unread", "read", "read"],
] as const;

function filterTroubles(which: RoutineFilter): string[] {
  const wrong = DAY_FIELDS.filter((field) => which[field] !== undefined && !isDays(which[field] as number, field === "due" ? 0 : 1));
  const never = SPANS.filter(([not, within]) => which[not] !== undefined && which[within] !== undefined && which[not] >= which[within]);
  const live = which.state !== "live" && which.due !== undefined ? ["Only live pages are due to be looked at again."] : [];
  return [
    ...(wrong.length > 0 ? [`Days are whole numbers up to ${ROUTINE_LIMITS.days.toLocaleString("en")}.`] : []),
    ...never.map(([, , word]) => `Nothing is both ${word} within that time and not ${word} for longer: one of the two has to go.`),
    ...live,
  ];
}

/** States in which an action can do anything at all. */
const STATES_FOR: Partial<Record<RoutineAction["what"], { states: readonly RoutineFilter["state"][]; why: string }>> = {
  erase: { states: ["binned"], why: "Only what is in the bin is erased: choose pages in the bin." },
  archive: { states: ["live", "draft", "scheduled"], why: "Archiving is for live pages and drafts." },
  bin: { states: ["live", "draft", "scheduled", "archived"], why: "What is in the bin is not put there again." },
  flag: { states: ["live", "draft", "scheduled"], why: "Flags are for live pages and drafts." },
};

/** Whether anything but a state is said: what takes away whatever there is would empty the house. */
const isNarrowed = ({ state: _, ...rest }: RoutineFilter): boolean => Object.values(rest).some((it) => it !== undefined);

function actionTroubles({ which, action }: Routine): string[] {
  if (isAboutGuests(which))
    return action.what === "tellHosts" ? [] : ["About guests, whoever brought them in can be told; nothing else is done to them."];
  if (action.what === "tellHosts") return ["Whoever brought in guests is told of guests: say which guests, not which pages."];
  const fits = STATES_FOR[action.what];
  const takesAway = action.what === "archive" || action.what === "bin";
  return [
    ...(fits && !fits.states.includes(which.state) ? [fits.why] : []),
    ...(takesAway && !isNarrowed(which) ? ["That fits every page there is: narrow it before it takes pages away."] : []),
  ];
}

/** What stands in the way of keeping a routine at an instant (milliseconds since the epoch), each in a sentence; empty: nothing. */
export function troublesOf(routine: Routine, at: number): string[] {
  const { which, schedule, most } = routine;
  const cron = parseCron(schedule.cron);
  const limit = isTelling(routine.action) ? ROUTINE_LIMITS.mostTold : ROUTINE_LIMITS.most;
  const zone = isZone(schedule.zone) ? [] : ["There is no time zone of that name."];
  const never =
    typeof cron !== "string" && zone.length === 0 && nextTimes(schedule, at, 1).length === 0
      ? ["That time never comes: no day is like that."]
      : [];
  return [
    ...(typeof cron === "string" ? [cron] : []),
    ...zone,
    ...never,
    ...(Number.isInteger(most) && most >= 1 && most <= limit
      ? []
      : [`A run ${isTelling(routine.action) ? "tells of" : "takes"} 1 to ${limit.toLocaleString("en")} pages.`]),
    ...(isAboutGuests(which)
      ? isDays(which.unusedGuests, 1)
        ? []
        : [`Days are whole numbers up to ${ROUTINE_LIMITS.days.toLocaleString("en")}.`]
      : filterTroubles(which)),
    ...actionTroubles(routine),
  ];
}
