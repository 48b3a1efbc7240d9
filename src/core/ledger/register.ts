/**
 * The register of ledger acts: every kind of entry there is. Labels, filters, what is kept in memory, and taking back go
 * by it; an entry of an act that is not here cannot be written.
 */

/** What an entry may have changed for those who keep things in memory. */
export type Touches = "rules" | "titles" | "order" | "words" | "nothing";

interface LedgerActRow {
  label: string;
  touches: readonly Touches[];
  /** Taking back makes the inverse of its edits; what has no edits and is `false` here is done anew instead. */
  takenBack: boolean;
  /** It brought in a whole site: what is kept in memory is read anew. */
  whole?: true;
}

export const LEDGER_ACTS = {
  found: { label: "Founded", touches: ["rules", "titles", "order"], takenBack: false, whole: true },
  rules: { label: "Rules changed", touches: ["rules"], takenBack: true },
  import: { label: "Document brought in", touches: ["rules"], takenBack: true },
  takeBack: { label: "Taken back", touches: ["rules", "order"], takenBack: true },
  start: { label: "Draft started", touches: ["rules", "titles", "order", "words"], takenBack: true },
  place: { label: "Placed from a workbench", touches: ["rules", "titles", "order", "words"], takenBack: true },
  startSpace: { label: "Space started", touches: ["rules", "titles", "order"], takenBack: true },
  order: { label: "Order changed", touches: ["order"], takenBack: true },
  save: { label: "Version saved", touches: ["titles", "words"], takenBack: false },
  publish: { label: "Published", touches: ["rules", "titles", "words"], takenBack: true },
  submit: { label: "Given in for approval", touches: ["nothing"], takenBack: false },
  withdrawSubmission: { label: "No longer given in", touches: ["nothing"], takenBack: false },
  approve: { label: "Approved", touches: ["nothing"], takenBack: false },
  sendBack: { label: "Sent back", touches: ["nothing"], takenBack: false },
  flag: { label: "Flagged", touches: ["nothing"], takenBack: true },
  review: { label: "Reviewed", touches: ["nothing"], takenBack: true },
  routine: { label: "Routine set", touches: ["nothing"], takenBack: false },
  schedule: { label: "Scheduled", touches: ["rules"], takenBack: true },
  unschedule: { label: "Unscheduled", touches: ["rules"], takenBack: false },
  takeDown: { label: "Taken down", touches: ["rules"], takenBack: true },
  archive: { label: "Archived", touches: ["rules", "order"], takenBack: true },
  unarchive: { label: "Unarchived", touches: ["rules", "order"], takenBack: true },
  bin: { label: "Binned", touches: ["rules", "order"], takenBack: true },
  restore: { label: "Restored", touches: ["rules", "order"], takenBack: true },
  erase: { label: "Erased", touches: ["rules", "titles", "words", "order"], takenBack: false },
  move: { label: "Moved", touches: ["rules", "order"], takenBack: true },
  marks: { label: "Marks set", touches: ["rules"], takenBack: true },
  copy: { label: "Copied", touches: ["rules", "titles", "order", "words"], takenBack: true },
  invite: { label: "Asked in", touches: ["rules"], takenBack: true },
  takeUp: { label: "Invitation taken up", touches: ["rules"], takenBack: false },
  endInvitation: { label: "Invitation ended", touches: ["rules"], takenBack: false },
  sendAgain: { label: "Invitation sent again", touches: ["nothing"], takenBack: false },
  resetPassword: { label: "New password asked for somebody", touches: ["nothing"], takenBack: false },
  changePassword: { label: "Password changed", touches: ["nothing"], takenBack: false },
  bringPeople: { label: "People brought in", touches: ["rules"], takenBack: true },
  leave: { label: "Seen off", touches: ["rules"], takenBack: true },
  erasePerson: { label: "Name erased", touches: ["rules"], takenBack: false },
  meanOutside: { label: "Meant to be outside", touches: ["nothing"], takenBack: false },
  setAside: { label: "Findings set aside", touches: ["nothing"], takenBack: false },
  makeTemplate: { label: "Template made", touches: ["nothing"], takenBack: false },
  changeTemplate: { label: "Template changed", touches: ["nothing"], takenBack: false },
  makePass: { label: "Pass made", touches: ["rules"], takenBack: true },
  withdrawPass: { label: "Pass withdrawn", touches: ["rules"], takenBack: false },
  stepIn: { label: "Stepped in", touches: ["nothing"], takenBack: false },
  makeToken: { label: "Token made", touches: ["nothing"], takenBack: false },
  withdrawToken: { label: "Token withdrawn", touches: ["nothing"], takenBack: false },
  setPassword: { label: "Password set on the server", touches: ["nothing"], takenBack: false },
  bringOver: { label: "Ledger brought over to a newer form", touches: ["nothing"], takenBack: false },
} as const satisfies Record<string, LedgerActRow>;

export type LedgerAct = keyof typeof LEDGER_ACTS;

/** By name; an act called like something every object has is an unknown one. */
const rows = new Map<string, LedgerActRow>(Object.entries(LEDGER_ACTS));

/** Whether there is such an act. */
export const namesAct = (act: string): act is LedgerAct => rows.has(act);
/** How an act is called in the ledger; an entry of a newer program keeps its own name. */
export const labelOf = (act: string): string => rows.get(act)?.label ?? act;
/** Whether entries of an act change what is kept in memory of this kind; of an unknown act, whether it may. */
export const touchesOf = (act: string, what: Touches): boolean => rows.get(act)?.touches.includes(what) ?? true;
/** Whether an entry may have changed titles: by its act, or since a page that goes live again shows its live title. */
export const retitles = (act: string, edits: readonly { kind: string; to?: unknown }[]): boolean =>
  touchesOf(act, "titles") ||
  edits.some(({ kind, to }) => kind === "settings" || (kind === "state" && (to as { state?: string }).state === "live"));
/** Whether an entry of an act brought in a whole site; of an unknown act, whether it may have. */
export const bringsWhole = (act: string): boolean => rows.get(act)?.whole ?? !namesAct(act);
/** Whether entries of an act can be taken back, if they have edits. */
export const canBeTakenBack = (act: string): boolean => rows.get(act)?.takenBack ?? false;
