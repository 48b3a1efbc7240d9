/** Which levels can be given to whom at all: what is offered is never refused afterwards (sections 4 and 11). */
import type { Level } from "./abilities.ts";
import type { Principal } from "./document.ts";

/**
 * The highest level that a grant can give a principal: the public itself never holds more than Commenter, an audience and
 * a guest are never granted `govern`. `isGuest` says whether a person named is a guest.
 */
export function highestLevelFor(principal: Principal, isGuest = false): Level {
  if ("audience" in principal) return principal.audience === "public" ? 2 : 4;
  return "person" in principal && isGuest ? 4 : 5;
}
