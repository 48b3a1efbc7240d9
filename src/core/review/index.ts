/** Review (lifecycle.md, "Review"): when a page is due, flags and their life, and in which order both are looked at. */
export { dueAt, isPeriod, PERIOD_LIMITS, periodOf, type Reviewed } from "./due.ts";
export { ANSWER_WITHIN, answerBy, answererOf, ended, raised } from "./flags.ts";
export { queueOrder, type Waiting, WEIGHTS, waitsSince, weightOf } from "./queue.ts";
