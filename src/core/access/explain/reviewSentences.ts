/** What changes about the review of a page, in sentences. */
import { type Edit, FLAG_WORDS, flagStep, OUTCOME_WORDS, type PageFlag, type ReviewMark, type Swap } from "../model/index.ts";

/** Gives the names of people. */
interface Names {
  person(id: string): string;
}

const periodWords = (days: number | null): string => (days === null ? "as its space has it" : `every ${days} days`);

const reviewedSentence = (from: ReviewMark, to: ReviewMark): string =>
  to.confirmed !== from.confirmed
    ? to.confirmed
      ? `confirmed as it is, ${to.confirmed}`
      : "no longer confirmed"
    : to.asideUntil
      ? `its review is set aside until ${to.asideUntil}`
      : "its review is no longer set aside";

/** A change of a flag: what became of it, and what was said. */
function flagSentence({ remove, put }: Swap<PageFlag>, names: Names): string {
  const flag = put ?? remove;
  const step = flagStep(remove, put);
  const what = `flag “${flag ? FLAG_WORDS[flag.kind] : ""}”`;
  const said = (words: string | undefined) => (words ? `: ${words}` : "");
  switch (step) {
    case "end":
      return `${what} answered: ${put?.outcome ? OUTCOME_WORDS[put.outcome] : ""}${said(put?.reason)}`;
    case "hand":
      return `${what} handed to ${put?.to ? names.person(put.to) : "its owner"}, answer by ${put?.due}`;
    case "reopen":
      return `${what} is open again`;
    case "withdraw":
      return `${what} withdrawn`;
    default:
      return `${what} raised${said(put?.note)}`;
  }
}

/** What an edit of a page's review does. */
export function reviewSentence(edit: Extract<Edit, { kind: "reviewPeriod" | "reviewed" | "flag" }>, names: Names): string {
  if (edit.kind === "flag") return flagSentence(edit, names);
  if (edit.kind === "reviewed") return reviewedSentence(edit.from, edit.to);
  return `looked at again: ${periodWords(edit.to)} (before: ${periodWords(edit.from)})`;
}
