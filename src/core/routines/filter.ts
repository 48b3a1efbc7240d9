/** Whether a page is one that a routine is about, and by what (lifecycle.md, "Routines"). */
import type { Instant } from "../access/model/index.ts";
import { isErasableFrom, type PageFacts } from "./facts.ts";
import type { RoutineFilter } from "./model.ts";

const DAY = 86_400_000;

/** A page was looked at by somebody last: confirmed, or published anew; null: it never was. */
const affirmed = ({ published, confirmed }: PageFacts): Instant | null =>
  published === null ? null : (Math.max(published, confirmed ?? published) as Instant);

const days = (count: number): string => `${count.toLocaleString("en")} ${count === 1 ? "day" : "days"}`;
const ago = (at: Instant, now: Instant): string => days(Math.max(0, Math.floor((now - at) / DAY)));

const OUTSIDE: Readonly<Record<NonNullable<RoutineFilter["outside"]>, readonly PageFacts["outside"][]>> = {
  public: ["public", "both"],
  guests: ["guests", "both"],
  any: ["public", "guests", "both"],
  none: ["nobody"],
};

/**
 * The reasons for which a page fits a filter at an instant (milliseconds since the epoch), each in a few words, of what changes
 * by itself: how long nothing was done to it, when it is due. Null: it does not fit.
 */
export function reasonsOf(page: PageFacts, which: RoutineFilter, at: Instant): string[] | null {
  return standsFit(page, which) && flagsFit(page, which) ? timesFit(page, which, at) : null;
}

function standsFit(page: PageFacts, { state, spaces, branch, owner, tag, readiness, outside }: RoutineFilter): boolean {
  if (page.state !== state) return false;
  if (spaces && !spaces.includes(page.space)) return false;
  if (branch !== undefined && !page.path.includes(branch)) return false;
  if (owner !== undefined && page.owner !== owner) return false;
  if (tag !== undefined && !page.tags.includes(tag)) return false;
  if (readiness !== undefined && page.readiness !== readiness) return false;
  return outside === undefined || OUTSIDE[outside].includes(page.outside);
}

const flagsFit = ({ flags }: PageFacts, { flagged }: RoutineFilter): boolean =>
  flagged === undefined || flags.length > 0 === (flagged === "yes");

function timesFit(page: PageFacts, which: RoutineFilter, at: Instant): string[] | null {
  const { changed, viewed, due } = page;
  const looked = affirmed(page);
  const reasons: string[] = [];
  /** Something happened before so many days, or within them. */
  const hold = (count: number | undefined, fits: (since: number) => boolean, words: () => string): boolean => {
    if (count === undefined) return true;
    if (!fits(at - count * DAY)) return false;
    reasons.push(words());
    return true;
  };
  const all =
    hold(
      which.unchanged,
      (since) => changed <= since,
      () => `not changed for ${ago(changed, at)}`,
    ) &&
    hold(
      which.changed,
      (since) => changed > since,
      () => `changed ${ago(changed, at)} ago`,
    ) &&
    hold(
      which.unconfirmed,
      (since) => looked !== null && looked <= since,
      () => `not confirmed for ${ago(looked as Instant, at)}`,
    ) &&
    hold(
      which.confirmed,
      (since) => looked !== null && looked > since,
      () => `confirmed ${ago(looked as Instant, at)} ago`,
    ) &&
    hold(
      which.unread,
      (since) => viewed === null || viewed <= since,
      () => (viewed === null ? "never read" : `not read for ${ago(viewed, at)}`),
    ) &&
    hold(
      which.read,
      (since) => viewed !== null && viewed > since,
      () => `read ${ago(viewed as Instant, at)} ago`,
    );
  if (!all || !dueFits(page, which, at)) return null;
  if (which.due !== undefined && due !== null)
    reasons.push(due <= at ? `due for ${ago(due, at)}` : `due in ${days(Math.ceil((due - at) / DAY))}`);
  if (page.state === "binned" && isErasableFrom(page, at)) reasons.push("the bin has kept it long enough");
  return reasons;
}

const dueFits = ({ due, state }: PageFacts, which: RoutineFilter, at: Instant): boolean =>
  which.due === undefined || (state === "live" && due !== null && due <= at + which.due * DAY);
