/** Which levels can be given to whom at all: what is offered is never refused afterwards (sections 4 and 11). */
import {
  type Ability,
  type AbilitySet,
  close,
  EVERYTHING,
  GOVERN,
  GUEST_LIMIT,
  type Level,
  maskOf,
  OUTSIDER_LIMIT,
  setOfLevel,
} from "./abilities.ts";
import type { Principal } from "./document.ts";

/**
 * The highest level that a grant can give a principal: the public itself never holds more than Commenter, an audience and
 * a guest are never granted `govern`. `isGuest` says whether a person named is a guest.
 */
export function highestLevelFor(principal: Principal, isGuest = false): Level {
  if ("audience" in principal) return principal.audience === "public" ? 2 : 4;
  return "person" in principal && isGuest ? 4 : 5;
}

/** The abilities that a grant can give a principal at all: what more there is, no document holds (section 11). */
export function limitFor(principal: Principal, isGuest = false): AbilitySet {
  if ("audience" in principal) {
    if (principal.audience === "public") return OUTSIDER_LIMIT;
    return principal.audience === "accounts" ? GUEST_LIMIT : EVERYTHING & ~GOVERN;
  }
  return "person" in principal && isGuest ? GUEST_LIMIT : EVERYTHING;
}

/** Exactly a level, or exactly a mix of abilities. */
export type Wished = { level: Level } | { abilities: Ability[] };

/** What is wished for, closed. */
export const wishedSet = (it: Wished): AbilitySet => ("level" in it ? setOfLevel(it.level) : close(maskOf(it.abilities)));
