/** Acts and what they break, in words: the one place where the life of a page is put into sentences. */
import { type LifeAct, type LifeActName, labelOfAct, pastOfAct } from "./acts.ts";
import type { Impact } from "./impact.ts";

const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

/** Lines of an impact, in the order in which they are told. */
export const IMPACT_LINES = [
  "links",
  "landings",
  "passes",
  "guests",
  "pledges",
  "routines",
  "schedules",
] as const satisfies readonly (keyof Impact)[];
export type ImpactLine = (typeof IMPACT_LINES)[number];

/** One line of an impact: how many there are, and how many of them matter to people from outside. */
export function impactSentence(line: ImpactLine, count: number, outside = 0): string {
  const some =
    outside === 0 ? "" : outside === count ? ", all of them for readers from outside" : `, ${outside} of them for readers from outside`;
  switch (line) {
    case "links":
      return `${counted(count, "link")} from other pages ${count === 1 ? "leads" : "lead"} nowhere then${some}`;
    case "landings":
      return `${counted(count, "space")} ${count === 1 ? "gets" : "get"} another landing page`;
    case "passes":
      return `${counted(count, "pass", "passes")} ${count === 1 ? "opens" : "open"} nothing any more`;
    case "guests":
      return `${counted(count, "guest")} ${count === 1 ? "has" : "have"} nothing left to read but what is public`;
    case "pledges":
      return `${counted(count, "pledge")} ${count === 1 ? "names" : "name"} what is changed`;
    case "routines":
      return `${counted(count, "routine")} ${count === 1 ? "names" : "name"} what goes`;
    case "schedules":
      return `${counted(count, "schedule")} ${count === 1 ? "ends" : "end"}`;
  }
}

/** "Bin “Berth plan” with 3 pages below": the act and its object. `title` of the first place, as it may be told. */
export function actTitle(act: LifeActName, title: string, { more, along }: { more: number; along: number }): string {
  const others = more === 0 ? "" : ` and ${counted(more, "more", "more")}`;
  const below = along === 0 ? "" : ` with ${counted(along, "page")} below`;
  return `${labelOfAct(act)} ${title}${others}${below}`;
}

/** How an act can be taken back, and what of it cannot. */
export function takingBackSentence(act: LifeActName): string {
  switch (act) {
    case "erase":
      return "This cannot be taken back: texts, versions and titles go for good. The ledger keeps that something was erased, and when.";
    case "move":
      return "It can be taken back from the ledger. Old addresses lead to the new place.";
    case "unarchive":
    case "restore":
      return "It can be taken back from the ledger; a withdrawn pass stays withdrawn.";
    default:
      return "It can be taken back from the ledger, exactly. A schedule that ends does not come back.";
  }
}

/** What a ledger entry says of an act at one of the places it was done to. */
export function actDone({ act, below }: LifeAct, { along, handedUp }: { along: number; handedUp: number }): string {
  const with_ = along > 0 ? `, with ${counted(along, "page")} below` : "";
  const up = below === "handUp" && handedUp > 0 ? `; ${counted(handedUp, "page")} handed up` : "";
  return `${pastOfAct(act)}${with_}${up}`;
}
