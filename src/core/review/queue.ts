/** In which order pages are to be reviewed (lifecycle.md, "Review": "the queue sorts by what matters"). */
import type { FlagKind, Instant } from "../access/model/index.ts";

/** A page that waits to be reviewed: what is known of it that says how much it matters. */
export interface Waiting {
  id: string;
  /** When its review is due; null: not asked for by its period. */
  due: Instant | null;
  flags: readonly { kind: FlagKind; due: Instant }[];
  /** Views in the last 30 days. */
  views: number;
  /** Who outside can read it. */
  outside: "public" | "guests" | "nobody";
}

const DAY = 86_400_000;

/**
 * What counts how much. A sensitive flag stands before everything else; then what outsiders read, how often it is read
 * (each doubling counts the same), how long it is overdue (up to a year), and what is said of it.
 */
export const WEIGHTS = {
  kind: { sensitive: 2_000, doubtful: 120, outOfDate: 90, noOwner: 70, incomplete: 50 } satisfies Record<FlagKind, number>,
  /** Due by its period alone. */
  due: 40,
  outside: { public: 150, guests: 80, nobody: 0 } satisfies Record<Waiting["outside"], number>,
  /** For each doubling of the views. */
  views: 25,
  /** For each week overdue, at most so many weeks. */
  week: 4,
  mostWeeks: 52,
} as const;

/** Since when a page waits: the earliest instant at which its review or a flag of it was due. */
export const waitsSince = ({ due, flags }: Pick<Waiting, "due" | "flags">): number =>
  Math.min(due ?? Number.POSITIVE_INFINITY, ...flags.map((flag) => flag.due));

/** How much a page matters at an instant (milliseconds since the epoch): a whole number, more before less. */
export function weightOf(page: Waiting, at: Instant): number {
  const { kind, outside, views, week, mostWeeks, due } = WEIGHTS;
  const said = page.flags.length === 0 ? due : Math.max(...page.flags.map((flag) => kind[flag.kind]));
  const weeks = Math.max(0, Math.min(mostWeeks, Math.floor((at - waitsSince(page)) / (7 * DAY))));
  return said + outside[page.outside] + Math.floor(views * Math.log2(1 + page.views)) + weeks * week;
}

/** Pages in the order in which they are to be reviewed; what weighs the same by what waits longer, then by id. */
export function queueOrder<W extends Waiting>(pages: readonly W[], at: Instant): W[] {
  const weighed = pages.map((page) => ({ page, weight: weightOf(page, at), since: waitsSince(page) }));
  weighed.sort((a, b) => b.weight - a.weight || a.since - b.since || (a.page.id < b.page.id ? -1 : a.page.id > b.page.id ? 1 : 0));
  return weighed.map(({ page }) => page);
}
