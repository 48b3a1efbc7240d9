/** When a page is to be looked at again (lifecycle.md, "Review"). */
import { ENDLESS, type Instant, instantAt } from "../access/model/index.ts";

/** Days a review period may have. */
export const PERIOD_LIMITS = { least: 1, most: 3650 } as const;
const DAY = 86_400_000;

/** Whether so many days are a review period; null: none is one, too. */
export const isPeriod = (days: number | null): boolean =>
  days === null || (Number.isInteger(days) && days >= PERIOD_LIMITS.least && days <= PERIOD_LIMITS.most);

export interface Reviewed {
  /** When it last went live; null: it never did, and nothing is to be reviewed. */
  published: Instant | null;
  confirmed: Instant | null;
  asideUntil: Instant | null;
  /** Days of its own review period, and of its space's; null: none. */
  period: number | null;
  ofSpace: number | null;
}

/** The period a page goes by, in days: its own, else its space's, else none. */
export const periodOf = ({ period, ofSpace }: Pick<Reviewed, "period" | "ofSpace">): number | null => period ?? ofSpace;

/**
 * The instant (milliseconds since the epoch) at which a page is due: a period after it was last confirmed or published,
 * but not before what it was set aside until; `ENDLESS` where it has no period, or never was live.
 */
export function dueAt(page: Reviewed): Instant {
  const days = periodOf(page);
  if (days === null || page.published === null) return ENDLESS;
  const last = Math.max(page.published, page.confirmed ?? page.published);
  return instantAt(Math.max(last + days * DAY, page.asideUntil ?? last));
}
