/** What a routine does, in one sentence (lifecycle.md, "Routines"). */
import { FLAG_WORDS, type PageState } from "../access/model/index.ts";
import { OUTSIDE_WORDS } from "../words.ts";
import { type GuestFilter, isAboutGuests, type Routine, type RoutineAction, type RoutineFilter } from "./model.ts";
import { scheduleWords } from "./schedule.ts";

/** Gives the names of what a routine names by id. */
export interface RoutineNames {
  place(id: string): string;
  person(id: string): string;
  group(id: string): string;
}

const STATES: Readonly<Record<PageState, string>> = {
  draft: "drafts",
  scheduled: "scheduled pages",
  live: "live pages",
  archived: "archived pages",
  binned: "pages in the bin",
};

const list = (words: readonly string[]): string =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;

/** So many days, as one says them: "a year", "2 weeks", "90 days". */
export function daysWords(days: number): string {
  if (days % 365 === 0) return days === 365 ? "a year" : `${days / 365} years`;
  if (days % 7 === 0 && days <= 56) return days === 7 ? "a week" : `${days / 7} weeks`;
  return days === 1 ? "a day" : `${days.toLocaleString("en")} days`;
}

/**
 * Which pages a filter means: "live pages in Quay Operations, not confirmed for a year"; confined to a space, it says that
 * one, too.
 */
export function filterWords(said: RoutineFilter | GuestFilter, names: RoutineNames, space: string | null): string {
  if (isAboutGuests(said)) return `guests who read nothing for ${daysWords(said.unusedGuests)}`;
  const which = space === null || said.spaces ? said : { ...said, spaces: [space] };
  const { spaces, branch, owner, tag, readiness, outside, flagged } = which;
  const where =
    branch === undefined
      ? spaces?.length
        ? `in ${list(spaces.map(names.place))}`
        : "in any space"
      : `in and below ${names.place(branch)}`;
  const parts: [unknown, string][] = [
    [branch !== undefined && spaces?.length, `in ${list((spaces ?? []).map(names.place))}`],
    [space !== null && said.spaces, `in ${names.place(space ?? "")}`],
    [owner !== undefined, `owned by ${names.person(owner ?? "")}`],
    [tag !== undefined, `tagged ${tag}`],
    [readiness !== undefined, `“${readiness}”`],
    [outside !== undefined, OUTSIDE_WORDS[outside ?? "any"]],
    [flagged !== undefined, flagged === "yes" ? "flagged" : "not flagged"],
    [which.unchanged !== undefined, `not changed for ${daysWords(which.unchanged ?? 0)}`],
    [which.unconfirmed !== undefined, `not confirmed for ${daysWords(which.unconfirmed ?? 0)}`],
    [which.unread !== undefined, `not read for ${daysWords(which.unread ?? 0)}`],
    [which.changed !== undefined, `changed within ${daysWords(which.changed ?? 0)}`],
    [which.confirmed !== undefined, `confirmed within ${daysWords(which.confirmed ?? 0)}`],
    [which.read !== undefined, `read within ${daysWords(which.read ?? 0)}`],
    [which.due !== undefined, which.due === 0 ? "due to be looked at again" : `due within ${daysWords(which.due ?? 0)}`],
  ];
  const narrowed = parts.flatMap(([is, words]) => (is ? [words] : []));
  return [`${STATES[which.state]} ${where}`, ...narrowed].join(", ");
}

/** What is done, with its object left open: "raise “out of date” for the owner of each of". */
export function actionWords(action: RoutineAction, names: RoutineNames): { verb: string; after: string } {
  switch (action.what) {
    case "flag":
      return { verb: "flag", after: ` as ${FLAG_WORDS[action.kind]}, for their owners to answer` };
    case "clearFlag":
      return { verb: `clear the flag “${FLAG_WORDS[action.kind]}” of`, after: "" };
    case "addTag":
      return { verb: "tag", after: ` with ${action.tag}` };
    case "removeTag":
      return { verb: `take the tag ${action.tag} from`, after: "" };
    case "tellOwner":
      return { verb: "tell owners of their", after: "" };
    case "tellGroup":
      return { verb: `tell ${names.group(action.group)} of`, after: "" };
    case "archive":
      return { verb: "archive", after: "" };
    case "bin":
      return { verb: "put", after: " in the bin" };
    case "erase":
      return { verb: "erase", after: ", once the bin has kept them for as long as the house rules say" };
    case "tellHosts":
      return { verb: "name", after: " to whoever brought them in" };
  }
}

/** The whole of it: "Mondays at 06:00, Europe/Lisbon: flag live pages in any space, …; at most 50 a run." */
export function routineSentence(routine: Routine, names: RoutineNames, space: string | null): string {
  const { verb, after } = actionWords(routine.action, names);
  const things = isAboutGuests(routine.which) ? "guests" : "pages";
  const most = `at most ${routine.most.toLocaleString("en")} ${things} a run`;
  return `${scheduleWords(routine.schedule)}: ${verb} ${filterWords(routine.which, names, space)}${after}; ${most}.`;
}

/** What taking back a run of it does not bring back, said beforehand; null: all of it is taken back. */
export function finalWords({ what }: RoutineAction): string | null {
  if (what === "erase") return "Erasing cannot be taken back.";
  return what === "tellOwner" || what === "tellGroup" || what === "tellHosts" ? "Mail that was sent cannot be taken back." : null;
}
