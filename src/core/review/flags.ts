/** The life of a flag (lifecycle.md, "Review"): by when it wants an answer, whose that is, and how it ends. */
import type { FlagKind, FlagOutcome, PageFlag } from "../access/model/index.ts";

/** Days within which a flag wants an answer, where whoever raises it says nothing else. */
export const ANSWER_WITHIN: Readonly<Record<FlagKind, number>> = { outOfDate: 14, doubtful: 14, incomplete: 30, sensitive: 2, noOwner: 14 };

const DAY = 86_400_000;

/** When a flag wants an answer that is raised at an instant (milliseconds since the epoch). */
export const answerBy = (kind: FlagKind, at: number): string => new Date(at + ANSWER_WITHIN[kind] * DAY).toISOString();

/** Who is to answer a flag: who it is addressed to, else the owner of its page; null: nobody by name. */
export const answererOf = ({ to }: Pick<PageFlag, "to">, owner: string | null): string | null => to ?? owner;

/** A flag that is raised at an instant (milliseconds since the epoch); it wants an answer when its kind does, unless that is said. */
export const raised = (said: Omit<PageFlag, "at" | "due"> & Partial<Pick<PageFlag, "due">>, at: number): PageFlag => ({
  ...said,
  due: said.due ?? answerBy(said.kind, at),
  at: new Date(at).toISOString(),
});

/** An open flag, ended. */
export const ended = (flag: PageFlag, outcome: FlagOutcome, { by, at, reason }: { by: string; at: string; reason: string }): PageFlag => ({
  ...flag,
  outcome,
  endedBy: by,
  endedAt: at,
  ...(reason === "" ? {} : { reason }),
});
