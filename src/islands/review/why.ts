/** Why a page stands in the queue, and since when, in words. */
import type { QueueRow } from "../../contracts/review.ts";
import { FLAG_WORDS } from "../../core/access/model/index.ts";

const DAY = 86_400_000;

/** What is said of it: each kind of flag once, then whether its review is due. */
export function whyWords({ flags, due }: Pick<QueueRow, "flags" | "due">): string {
  const kinds = [...new Set(flags.map(({ kind }) => FLAG_WORDS[kind]))];
  return [...kinds, ...(due === null ? [] : ["due"])].join(", ");
}

/** How long it is overdue; how long there is left of a flag that still has time. */
export function overdueWords({ since }: Pick<QueueRow, "since">, now: number): string {
  const days = Math.floor((now - Date.parse(since)) / DAY);
  if (days < 0) return days === -1 ? "answer by tomorrow" : `answer within ${-days} days`;
  return days === 0 ? "since today" : days === 1 ? "1 day overdue" : `${days.toLocaleString("en")} days overdue`;
}

export const READERS_OUTSIDE = { public: "the public reads it", guests: "guests read it", nobody: "inside only" } as const;
