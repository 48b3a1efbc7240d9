/** Stepping in (access-model.md, section 6): an overseer opens a page that is closed to them, knowingly and for a while. */

import { effectiveSet, hasOversight } from "../decide/index.ts";
import type { AccessIndex, CompiledPlace, CompiledSubject } from "../index/index.ts";
import { type Instant, READ } from "../model/index.ts";

export const STEP_IN_MINUTES = 60;

/** One person's stepping in at one place, until an instant (milliseconds since the epoch). */
export interface StepIn {
  person: string;
  place: string;
  until: number;
}

/** Whether somebody may step in: they oversee the page and cannot read it. */
export function mayStepIn(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): boolean {
  const isPage = place.place.kind === "page" || place.place.kind === "bulletin";
  return isPage && hasOversight(index, subject, place, at) && !(effectiveSet(index, subject, place, at) & READ);
}

/** Whether a stepping in opens a page to somebody now: theirs, at this very place, not over, and they oversee it still. */
export function opensByStepIn(
  index: AccessIndex,
  steps: readonly StepIn[],
  subject: CompiledSubject,
  place: CompiledPlace,
  at: Instant,
): boolean {
  const own = steps.some((step) => step.person === subject.person?.id && step.place === place.place.id && step.until > at);
  return own && hasOversight(index, subject, place, at);
}
