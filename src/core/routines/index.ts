/** Routines (lifecycle.md, "Routines"): which pages they are about, what they would do to each, and when they run. */
export { AGAIN_AFTER, type DoneBefore, leftAlone } from "./doing.ts";
export { isErasableFrom, type PageFacts } from "./facts.ts";
export { reasonsOf } from "./filter.ts";
export {
  ACTION_NAMES,
  type ActionName,
  DAY_FIELDS,
  type DayField,
  type GuestFilter,
  isAboutGuests,
  isFinal,
  isTelling,
  ROUTINE_LIMITS,
  type Routine,
  type RoutineAction,
  type RoutineFilter,
} from "./model.ts";
export { isZone, nextTimes, parseCron, type Schedule, scheduleWords } from "./schedule.ts";
export { actionWords, daysWords, filterWords, finalWords, type RoutineNames, routineSentence } from "./sentences.ts";
export { troublesOf } from "./sound.ts";
export { STARTING, type Starting } from "./starting.ts";
