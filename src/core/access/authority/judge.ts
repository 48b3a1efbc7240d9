import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf } from "../index/index.ts";
import { type AbilitySet, abilitiesIn, type Instant, maskOf, NOTHING } from "../model/index.ts";
import type { PlaceGroup, RippleLines } from "../ripple/index.ts";
import { type Act, may, type Standing } from "./acts.ts";
import { isSiteKeeper, standings } from "./standing.ts";

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

/** How the maker stands at a place, and the place, where there is one. */
export type StandingThere = Standing & { place: CompiledPlace | undefined };

/** Collects refusals, each said once, and knows how the maker stands at places before the change. */
export class Judge {
  readonly refusals: Refusal[] = [];
  readonly keepsSite: boolean;
  private readonly standings = new Map<string | null, StandingThere>();
  private readonly said = new Set<string>();
  private readonly standingAt: (place: CompiledPlace | undefined) => Standing;

  constructor(
    readonly before: AccessIndex,
    readonly maker: CompiledSubject,
    readonly at: Instant,
  ) {
    this.keepsSite = isSiteKeeper(before, maker, at);
    this.standingAt = standings(before, maker, at);
  }

  refuse(refusal: Refusal): void {
    const key = `${refusal.code}|${refusal.place ?? ""}|${refusal.pledge ?? ""}`;
    if (!this.said.has(key)) this.refusals.push(refusal);
    this.said.add(key);
  }

  /** How the maker stands at a place; for null, on the whole site. */
  standing(id: string | null): StandingThere {
    const known = this.standings.get(id);
    if (known) return known;
    const place = id === null ? undefined : placeOf(this.before, id);
    const made = Object.assign(this.standingAt(place), { place });
    this.standings.set(id, made);
    return made;
  }

  /** Refuses unless the table of acts lets the maker do this at a place (null: on the whole site). */
  need(act: Act, place: string | null, facts?: Partial<Standing>, code: RefusalCode = "notAllowed"): void {
    const standing = this.standing(place);
    const message = may(act, facts ? { ...standing, ...facts } : standing);
    if (message !== null) this.refuse({ code, message, ...(place === null ? {} : { place }) });
  }

  /** Nobody gives what they lack: the test is on the outcome. `holds` says what the maker has at a place. */
  outcome({ places, entries }: RippleLines, holds: (standing: StandingThere) => AbilitySet): void {
    if (this.keepsSite) return;
    const known: Map<AbilitySet, string[]>[] = [];
    const placesByHeld = (group: number): Map<AbilitySet, string[]> => {
      known[group] ??= this.placesByHeld(places[group] as PlaceGroup, holds);
      return known[group];
    };
    for (const entry of entries) {
      const gains = maskOf(entry.gains);
      const oversight = entry.oversight === "gained";
      if (gains === NOTHING && !oversight) continue;
      for (const [held, ids] of entry.groups.flatMap((group) => [...placesByHeld(group)])) {
        const lacking = gains & ~held;
        if (!lacking && !oversight) continue;
        for (const place of ids) {
          if (oversight) this.refuse({ code: "onlyOverseers", place, message: "Only those with oversight give oversight." });
          if (lacking) this.refuse({ code: "givesMoreThanHeld", place, message: lackingMessage(lacking) });
        }
      }
    }
  }

  /** The places of a group by what the maker holds there; those where they oversee are not among them. */
  private placesByHeld(group: PlaceGroup, holds: (standing: StandingThere) => AbilitySet): Map<AbilitySet, string[]> {
    const found = new Map<AbilitySet, string[]>();
    for (const id of group) {
      const standing = this.standing(id);
      if (standing.oversight) continue;
      const held = holds(standing);
      const list = found.get(held);
      if (list) list.push(id);
      else found.set(held, [id]);
    }
    return found;
  }
}

export const lackingMessage = (abilities: AbilitySet): string =>
  `Nobody gives what they lack: you do not hold ${abilitiesIn(abilities).join(", ")} here.`;
