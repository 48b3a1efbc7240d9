/** Why a rule is idle, in one sentence each (access-model.md, section 10). */
import { abilitiesIn, maskOf } from "../model/index.ts";
import type { Canceller, IdleRule } from "./idle.ts";
import { fenceSentence, grantSentence, type Names, principalName } from "./sentences.ts";

const cancellerWords = (it: Canceller, names: Names): string =>
  "fence" in it ? `the ${it.fence.kind} fence on ${names.place(it.place)}` : `the ceiling for ${it.ceiling} on ${names.place(it.place)}`;

const inList = (items: readonly string[]): string =>
  items.length < 2 ? (items[0] ?? "") : `${items.slice(0, -1).join(", ")} and ${items.at(-1)}`;

/** "The grant “Pilots are Reader” does nothing: …". The place is named in it. */
export function idleSentence(it: IdleRule, names: Names): string {
  const where = names.place(it.place);
  switch (it.kind) {
    case "covered": {
      const by = it.by.map(
        ({ place, grant }) => `${grantSentence(grant, names)}${place === it.place ? "" : ` (on ${names.place(place)})`}`,
      );
      return `On ${where}, “${grantSentence(it.grant, names)}” gives nothing new: ${inList(by)}.`;
    }
    case "cancelled":
      return `On ${where}, “${grantSentence(it.grant, names)}” reaches nobody: ${inList(it.by.map((by) => cancellerWords(by, names)))} takes all of it away.`;
    case "stopsNobody":
      return `The ${it.fence.kind} fence on ${where} stops nobody: without it, everybody would have just what they have now.`;
    case "admitsWithoutGrant":
      return `The ${it.fence.kind} fence on ${where} admits ${principalName(it.admitted, names)}, but no grant lets ${"person" in it.admitted ? "that person" : "anybody of them"} in.`;
    case "freshWithoutGrants":
      return `${where} starts fresh and grants nothing: only overseers still know of it.`;
    case "nobodyInGroup":
      return `On ${where}, “${grantSentence(it.grant, names)}” names a group with no active people in it.`;
    case "suspended":
      return `On ${where}, “${grantSentence(it.grant, names)}” names somebody who is suspended.`;
    case "ended":
      return `On ${where}, the grant of ${abilitiesIn(maskOf(it.grant.abilities)).join(", ")} to ${principalName(it.grant.to, names)} ended on ${(it.grant.until ?? "").slice(0, 10)}.`;
    case "landingOnly":
      return `The fence on ${where} (${fenceSentence(it.fence, names)}) stands on the landing page only: ${it.uncovered} other top-level ${it.uncovered === 1 ? "place" : "places"} of ${names.place(it.space)} lie beside it, not under it.`;
    case "deadEnds":
      return `The public can read ${where}, but not ${inList(it.links.map((id) => names.place(id)))}, to which it links.`;
  }
}
