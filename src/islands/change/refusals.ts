import type { Preview } from "../../contracts/change.ts";

type Refusals = Preview["refusals"];

/** What is in the way of a change: refusals that stop it, and those that a given reason lifts. */
export function sortRefusals(preview: Preview | null): { stops: Refusals; liftedByReason: Refusals } {
  const refusals = preview?.refusals ?? [];
  const lifted = (code: string) => code === "reasonNeeded" || code === "pledge";
  return { stops: refusals.filter((it) => !lifted(it.code)), liftedByReason: refusals.filter((it) => lifted(it.code)) };
}
