/** What the parts of a judgement share: refusals, each said once, and how the maker of a change stands at places before it. */
import { type AbilitySet, abilitiesIn, maskOf, NOTHING } from "./abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, siteOf } from "./accessIndex.ts";
import { effectiveSet, hasOversight } from "./evaluate.ts";
import type { RippleEntry } from "./ripple.ts";

export type RefusalCode = "notAllowed" | "givesMoreThanHeld" | "onlyOverseers" | "lastKey" | "pledge" | "reasonNeeded";

export interface Refusal {
  code: RefusalCode;
  /** Place it is about, where there is one. */
  place?: string;
  /** A sentence without names of things: what is refused and why. */
  message: string;
  /** Pledge that would break. */
  pledge?: string;
}

export interface Standing {
  set: AbilitySet;
  oversight: boolean;
  place: CompiledPlace | undefined;
}

/** Whether a member oversees the site. */
export const isSiteKeeper = (index: AccessIndex, subject: CompiledSubject, at: number): boolean =>
  hasOversight(index, subject, siteOf(index), at);

/** Collects refusals, each said once, and knows how the maker stands at places before the change. */
export class Judge {
  readonly refusals: Refusal[] = [];
  readonly keepsSite: boolean;
  private readonly standings = new Map<string, Standing>();

  constructor(
    readonly before: AccessIndex,
    readonly maker: CompiledSubject,
    readonly at: number,
  ) {
    this.keepsSite = isSiteKeeper(before, maker, at);
  }

  refuse(refusal: Refusal): void {
    const known = this.refusals.some((it) => it.code === refusal.code && it.place === refusal.place && it.pledge === refusal.pledge);
    if (!known) this.refusals.push(refusal);
  }

  standing(id: string): Standing {
    const known = this.standings.get(id);
    if (known) return known;
    const { before, maker, at } = this;
    const place = placeOf(before, id);
    const made = place
      ? { set: effectiveSet(before, maker, place, at), oversight: hasOversight(before, maker, place, at), place }
      : { set: NOTHING, oversight: false, place };
    this.standings.set(id, made);
    return made;
  }

  owns(place: CompiledPlace | undefined): boolean {
    return place !== undefined && place.place.owner === this.maker.person?.id && this.maker.class === "members" && !this.maker.suspended;
  }

  /** Nobody gives what they lack: the test is on the outcome. `holds` says what the maker has at a place. */
  outcome(entries: readonly RippleEntry[], holds: (standing: Standing) => AbilitySet): void {
    if (this.keepsSite) return;
    for (const entry of entries) {
      const gains = maskOf(entry.gains);
      if (gains === NOTHING && entry.oversight !== "gained") continue;
      for (const id of entry.places) {
        const standing = this.standing(id);
        if (standing.oversight) continue;
        if (entry.oversight === "gained")
          this.refuse({ code: "onlyOverseers", place: id, message: "Only those with oversight give oversight." });
        const lacking = gains & ~holds(standing);
        if (lacking) this.refuse({ code: "givesMoreThanHeld", place: id, message: lackingMessage(lacking) });
      }
    }
  }
}

export const lackingMessage = (abilities: AbilitySet): string =>
  `Nobody gives what they lack: you do not hold ${abilitiesIn(abilities).join(", ")} here.`;
