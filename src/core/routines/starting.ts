/** Routines to start from (lifecycle.md, "Routines"): each is changed before it is kept, and switched off until then. */
import type { Routine } from "./model.ts";

export interface Starting {
  name: string;
  routine: Omit<Routine, "schedule"> & { cron: string };
}

const MONDAYS = "0 6 * * 1";
const NIGHTLY = "30 2 * * *";

export const STARTING: readonly Starting[] = [
  {
    name: "Untouched for a year",
    routine: {
      which: { state: "live", unchanged: 365, unconfirmed: 365 },
      action: { what: "flag", kind: "outOfDate", note: "Nobody changed or confirmed this for a year. Is it still right?" },
      cron: MONDAYS,
      most: 50,
    },
  },
  {
    name: "Due in two weeks",
    routine: {
      which: { state: "live", due: 14 },
      action: { what: "tellOwner", note: "This is to be looked at again soon." },
      cron: MONDAYS,
      most: 200,
    },
  },
  {
    name: "Drafts forgotten",
    routine: {
      which: { state: "draft", unchanged: 90 },
      action: { what: "tellOwner", note: "Nobody wrote on this draft for 90 days. Publish it, or put it in the bin." },
      cron: "0 6 1 * *",
      most: 100,
    },
  },
  { name: "Empty the bin", routine: { which: { state: "binned" }, action: { what: "erase" }, cron: NIGHTLY, most: 100 } },
  {
    name: "Guests unused",
    routine: {
      which: { unusedGuests: 90 },
      action: { what: "tellHosts", note: "They read nothing for 90 days. Are they still to be let in?" },
      cron: "0 6 1 * *",
      most: 100,
    },
  },
];
