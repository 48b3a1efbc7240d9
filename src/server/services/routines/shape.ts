/** A routine as it is asked for, read into one that can be kept. */
import type { ActionBody, RoutineBody, WhichBody } from "../../../contracts/routines.ts";
import type { Routine, RoutineAction } from "../../../core/routines/index.ts";
import { badRequest } from "../../trouble.ts";

function whichOf({ state, unusedGuests, ...rest }: WhichBody): Routine["which"] {
  const said = Object.values(rest).some((it) => it !== undefined);
  if (unusedGuests !== undefined) {
    if (state !== undefined || said) throw badRequest("A routine is about pages or about guests: say one of both.");
    return { unusedGuests };
  }
  if (state === undefined) throw badRequest("Say which pages: drafts, live pages, archived ones, or those in the bin.");
  // What is absent is not there at all: what is kept is compared by what it says.
  return { state, ...(JSON.parse(JSON.stringify(rest)) as typeof rest) };
}

function actionOf({ what, kind, note, tag, group }: ActionBody): RoutineAction {
  const need = <T>(value: T | undefined, words: string): T => {
    if (value === undefined) throw badRequest(words);
    return value;
  };
  const said = () => need(note, "Say what is to be told.");
  switch (what) {
    case "flag":
      return { what, kind: need(kind, "Say what kind of flag."), note: said() };
    case "clearFlag":
      return { what, kind: need(kind, "Say what kind of flag.") };
    case "addTag":
    case "removeTag":
      return { what, tag: need(tag, "Say which tag.") };
    case "tellGroup":
      return { what, group: need(group, "Choose the group that is told."), note: said() };
    case "tellOwner":
    case "tellHosts":
      return { what, note: said() };
    default:
      return { what };
  }
}

/** Of an order, the routine itself. */
export const routineOf = ({ which, action, cron, zone, most }: RoutineBody): Routine => ({
  which: whichOf(which),
  action: actionOf(action),
  schedule: { cron: cron.trim().replace(/\s+/g, " "), zone },
  most,
});
