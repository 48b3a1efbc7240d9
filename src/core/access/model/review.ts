/** What is kept of the review of a page beside the document (lifecycle.md, "Review"): flags, and when it was confirmed. */

export const FLAG_KINDS = ["outOfDate", "doubtful", "incomplete", "sensitive", "noOwner"] as const;
export type FlagKind = (typeof FLAG_KINDS)[number];

/** How a flag ended. That its page was archived or binned is told by the page. */
export const FLAG_OUTCOMES = ["confirmed", "revised", "setAside"] as const;
export type FlagOutcome = (typeof FLAG_OUTCOMES)[number];

export interface PageFlag {
  kind: FlagKind;
  /** Who raised it; absent: somebody who was not signed in. */
  by?: string;
  /** When it was raised, and by when it wants an answer: instants in UTC. */
  at: string;
  due: string;
  /** Who is to answer it; absent: the owner of the page. */
  to?: string;
  /** What whoever raised it says. */
  note: string;
  /** The words of the page it is about, where it is about some. */
  quote?: string;
  /** Absent: it is open. */
  outcome?: FlagOutcome;
  endedBy?: string;
  endedAt?: string;
  /** Why it was set aside, or what was done. */
  reason?: string;
}

/** Where the review of a page stands. */
export interface ReviewMark {
  /** When it was last confirmed, and by whom. */
  confirmed?: string;
  by?: string;
  /** Until then it is not asked about by itself, though it is due. */
  asideUntil?: string;
}

export const FLAG_WORDS: Readonly<Record<FlagKind, string>> = {
  outOfDate: "out of date",
  doubtful: "doubtful",
  incomplete: "incomplete",
  sensitive: "sensitive",
  noOwner: "no owner",
};

export const OUTCOME_WORDS: Readonly<Record<FlagOutcome, string>> = {
  confirmed: "confirmed as it is",
  revised: "revised",
  setAside: "set aside",
};

export const isOpen = (flag: Pick<PageFlag, "outcome">): boolean => flag.outcome === undefined;

/** What becomes of a flag between what it was and what it is (absent: it is none); null: it is not to become that. */
export function flagStep(
  before: PageFlag | undefined,
  after: PageFlag | undefined,
): "raise" | "hand" | "end" | "reopen" | "withdraw" | null {
  if (!before) return after && isOpen(after) ? "raise" : null;
  if (!after) return "withdraw";
  const same = (["kind", "by", "at", "note", "quote"] as const).every((part) => before[part] === after[part]);
  if (!same) return null;
  if (isOpen(before)) return isOpen(after) ? "hand" : "end";
  return isOpen(after) ? "reopen" : null;
}
