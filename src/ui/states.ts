import type { PageState } from "../core/access/model/index.ts";

/** The states of a page as a fact beside it. */
export const STATE_NAMES: Record<PageState, string> = {
  live: "Live",
  draft: "Draft",
  scheduled: "Scheduled",
  archived: "Archived",
  binned: "In the bin",
};

/** Beside a title, where live goes without saying. */
export const STATE_MARKS: Partial<Record<PageState, string>> = {
  draft: "draft",
  scheduled: "scheduled",
  archived: "archived",
  binned: "in the bin",
};

/** In a sentence: "this is a draft". */
export const STATES_SAID: Partial<Record<PageState, string>> = { ...STATE_MARKS, draft: "a draft" };

/** On a page, for those who may open it though it is not live. */
export const STATES_FOR_READERS: Partial<Record<PageState, string>> = {
  ...STATE_NAMES,
  draft: "Draft: readers do not see this yet",
  scheduled: "Scheduled: readers do not see this yet",
};
