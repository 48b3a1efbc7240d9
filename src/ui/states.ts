import type { PageState } from "../core/access/document.ts";

/** The states of a page as a fact beside it. */
export const STATE_NAMES: Record<PageState, string> = {
  live: "Live",
  draft: "Draft",
  scheduled: "Scheduled",
  archived: "Archived",
  binned: "In the bin",
};
