/** What a routine's action would do to a page that fits, or why it leaves it as it is (lifecycle.md, "Routines"). */
import type { FlagKind, Instant } from "../access/model/index.ts";
import { isErasableFrom, type PageFacts } from "./facts.ts";
import type { RoutineAction } from "./model.ts";

const DAY = 86_400_000;

/** What was said of a page already is not said again within so many days: a notice, a flag that was answered. */
export const AGAIN_AFTER = { tell: 30, flag: 90 } as const;

/** What this routine, or somebody, did to a page before. */
export interface DoneBefore {
  /** When the routine last sent a notice about it. */
  told: Instant | null;
  /** When a flag of the kind it raises was last answered. */
  answered: Partial<Record<FlagKind, Instant>>;
}

const within = (last: Instant | null | undefined, days: number, at: Instant): boolean =>
  last !== null && last !== undefined && last > at - days * DAY;

/** Why an action leaves a page as it is at an instant (milliseconds since the epoch); null: it is done to it. */
export function leftAlone(action: RoutineAction, page: PageFacts, before: DoneBefore, at: Instant): string | null {
  switch (action.what) {
    case "flag":
      if (page.state === "archived" || page.state === "binned") return `It is ${page.state}: nobody would answer a flag.`;
      if (page.flags.includes(action.kind)) return "It is flagged so already.";
      return within(before.answered[action.kind], AGAIN_AFTER.flag, at)
        ? `Such a flag was answered within ${AGAIN_AFTER.flag} days.`
        : null;
    case "clearFlag":
      return page.flags.includes(action.kind) ? null : "It bears no such flag.";
    case "addTag":
      return page.tags.includes(action.tag) ? "It has the tag already." : null;
    case "removeTag":
      return page.tags.includes(action.tag) ? null : "It does not have the tag.";
    case "tellOwner":
      if (page.owner === null) return "It has no owner.";
      return toldLately(before, at);
    case "tellGroup":
      return toldLately(before, at);
    case "archive":
      return page.state === "binned" || page.state === "archived" ? `It is ${page.state} already.` : null;
    case "bin":
      return page.state === "binned" ? "It is in the bin already." : null;
    case "erase":
      if (page.state !== "binned") return "It is not in the bin.";
      return isErasableFrom(page, at) ? null : "The bin has not kept it long enough.";
    case "tellHosts":
      return "This is about guests.";
  }
}

const toldLately = ({ told }: DoneBefore, at: Instant): string | null =>
  within(told, AGAIN_AFTER.tell, at) ? `It was told within ${AGAIN_AFTER.tell} days.` : null;
