/** Rules that do nothing, or not what they seem to (access-model.md, section 10). */

import { admits, effectiveSet, givenSet, tablesAt } from "../decide/index.ts";
import {
  type AccessIndex,
  below,
  blockAt,
  type CompiledFence,
  type CompiledGrant,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  MEMBERS,
  pathOf,
} from "../index/index.ts";
import {
  close,
  ENDLESS,
  type Fence,
  type Grant,
  type Instant,
  instantAt,
  LEFT_BY_WRITE_FENCE,
  NOTHING,
  type Principal,
  READ,
} from "../model/index.ts";

/** What keeps a grant from doing anything: a fence, or a ceiling, and the place it stands at. */
export type Canceller = { place: string; fence: Fence } | { place: string; ceiling: "outsiders" | "guests" };

export type IdleRule =
  | { kind: "covered"; place: string; grant: Grant; by: { place: string; grant: Grant }[] }
  | { kind: "cancelled"; place: string; grant: Grant; by: Canceller[] }
  | { kind: "stopsNobody"; place: string; fence: Fence }
  | { kind: "admitsWithoutGrant"; place: string; fence: Fence; admitted: Principal }
  | { kind: "freshWithoutGrants"; place: string }
  | { kind: "nobodyInGroup"; place: string; grant: Grant }
  | { kind: "suspended"; place: string; grant: Grant }
  | { kind: "ended"; place: string; grant: Grant }
  | { kind: "landingOnly"; place: string; space: string; fence: Fence; uncovered: number }
  | { kind: "deadEnds"; place: string; links: string[] };

/** What two kinds of idle rules need and the access document does not hold; without it they are not looked for. */
export interface Surroundings {
  /** Landing page of each space, by id. */
  landings: ReadonlyMap<string, string>;
  /** Ids of the pages that the live version of a page links to. */
  links: ReadonlyMap<string, readonly string[]>;
}

class IdleSearch {
  readonly found: IdleRule[] = [];
  /** Grants found to do nothing: they no longer cover others, so that all that is reported may be taken away together. */
  private readonly without = new Set<CompiledGrant | CompiledFence>();

  constructor(
    private readonly index: AccessIndex,
    private readonly at: Instant,
  ) {}

  /** Those who are active now. A rule is idle by what it says, not by whose last day comes before its end: that is left aside. */
  private active(subjects: readonly CompiledSubject[]): CompiledSubject[] {
    return subjects.filter((it) => isActive(it, this.at)).map((it) => ({ ...it, activeUntil: ENDLESS }));
  }

  /** One subject of each class that can be told apart at a place: what holds for these holds for all. */
  private examples(place: CompiledPlace): CompiledSubject[] {
    return this.active(tablesAt(this.index, blockAt(this.index, place.number), this.at).examples.filter((it) => it !== undefined));
  }

  /** Examples of everybody a principal matches. */
  private named(place: CompiledPlace, principal: number): CompiledSubject[] {
    if (principal <= MEMBERS) return this.examples(place).filter((subject) => subject.matches.has(principal));
    return this.active((this.index.matching[principal] ?? []).map((subject) => this.index.subjects[subject] as CompiledSubject));
  }

  /** One place of each row at a place and below it. */
  private spots(place: CompiledPlace): CompiledPlace[] {
    const spots = new Map<string, CompiledPlace>();
    for (const it of below(this.index, place)) {
      const key = `${this.index.blockOf[it.number]}|${this.index.rowOf[it.number]}`;
      if (!spots.has(key)) spots.set(key, it);
    }
    return [...spots.values()];
  }

  grants(place: CompiledPlace): void {
    place.grants.forEach((compiled, i) => {
      const grant = place.place.grants[i] as Grant;
      const id = place.place.id;
      const nobody =
        compiled.to > MEMBERS &&
        !(this.index.matching[compiled.to] ?? []).some((it) => isActive(this.index.subjects[it] as CompiledSubject, this.at));
      if (compiled.until <= this.at) this.found.push({ kind: "ended", place: id, grant });
      else if (nobody) this.found.push({ kind: "group" in grant.to ? "nobodyInGroup" : "suspended", place: id, grant });
      else if (!(compiled.draft && place.unpublished)) this.idleGrant(place, compiled, grant);
    });
  }

  /**
   * A grant without which nobody it names would have less at its place, until it ends. That holds below, too: there
   * fences are only more and, but for spaces under the site, ceilings the same.
   */
  private idleGrant(place: CompiledPlace, compiled: CompiledGrant, grant: Grant): void {
    const end = instantAt(compiled.until === ENDLESS ? Number.MAX_VALUE : compiled.until - 1);
    const subjects = this.named(place, compiled.to);
    const withoutIt = new Set([...this.without, compiled]);
    const givesAt = (spot: CompiledPlace) => {
      const plain = spot.unpublished ? { ...spot, unpublished: false } : spot;
      return this.named(spot, compiled.to).some(
        (subject) => givenSet(this.index, subject, plain, end, this.without) !== givenSet(this.index, subject, plain, end, withoutIt),
      );
    };
    if (this.underCeilingsOfTheirOwn(place).some(givesAt)) return;
    this.without.add(compiled);
    const by = this.cancellers(place, compiled, subjects, end);
    const id = place.place.id;
    if (by.length > 0) this.found.push({ kind: "cancelled", place: id, grant, by });
    else this.found.push({ kind: "covered", place: id, grant, by: this.coverers(place, compiled, subjects, end) });
  }

  /** The place, and for the site its spaces: what is open to the world may end at a space's ceiling, what is granted to a guest go on. */
  private underCeilingsOfTheirOwn(place: CompiledPlace): CompiledPlace[] {
    if (place.place.kind !== "site") return [place];
    return [place, ...place.children.map((child) => this.index.places[child] as CompiledPlace)];
  }

  /** Fences and ceilings that take away what the grant would add for anybody it names. */
  private cancellers(place: CompiledPlace, compiled: CompiledGrant, subjects: readonly CompiledSubject[], end: number): Canceller[] {
    const found = new Map<string, Canceller>();
    const path = pathOf(this.index, place);
    for (const subject of subjects) {
      const adds = compiled.mask & ~this.granted(place, subject, compiled, end);
      if (adds === NOTHING) continue;
      for (const here of path) {
        here.fences.forEach((fence, i) => {
          const takes = adds & ~(fence.kind === "read" ? NOTHING : LEFT_BY_WRITE_FENCE);
          if (takes && !admits(fence, subject))
            found.set(`${here.number}|${i}`, { place: here.place.id, fence: here.place.fences[i] as Fence });
        });
      }
      const which = subject.class === "outsiders" || compiled.to === 0 ? "outsiders" : "guests";
      const ceiling = which === "outsiders" ? place.outsiderCeiling : place.guestCeiling;
      if (subject.class === "members" || !(adds & ~ceiling)) continue;
      const space = this.index.places[place.space];
      const lowered = space?.place.ceilings?.[which] === undefined ? this.index.places[this.index.site] : space;
      found.set(which, { place: (lowered as CompiledPlace).place.id, ceiling: which });
    }
    return [...found.values()];
  }

  /** What other grants give a subject at a place, fences and ceilings left aside, passing under the same ceiling as this one. */
  private granted(place: CompiledPlace, subject: CompiledSubject, compiled: CompiledGrant, end: number): number {
    let set = NOTHING;
    for (const { grant } of this.others(place, compiled, end)) {
      const alike = subject.class === "members" || (grant.to === 0) === (compiled.to === 0);
      if (alike && subject.matches.has(grant.to)) set |= grant.mask;
    }
    return set;
  }

  private others(place: CompiledPlace, compiled: CompiledGrant, end: number) {
    const path = pathOf(this.index, place);
    const inScope = path.slice(
      Math.max(
        0,
        path.findLastIndex(({ fresh }) => fresh),
      ),
    );
    return inScope.flatMap((here) =>
      here.grants.flatMap((grant, i) =>
        grant === compiled || grant.until <= end || this.without.has(grant)
          ? []
          : [{ grant, place: here, rule: here.place.grants[i] as Grant }],
      ),
    );
  }

  private coverers(place: CompiledPlace, compiled: CompiledGrant, subjects: readonly CompiledSubject[], end: number) {
    return this.others(place, compiled, end)
      .filter(({ grant }) => grant.mask & compiled.mask & ~READ || close(compiled.mask) === READ)
      .filter(({ grant }) => subjects.some((subject) => subject.matches.has(grant.to)))
      .map(({ place: here, rule }) => ({ place: here.place.id, grant: rule }));
  }

  fences(place: CompiledPlace): void {
    if (place.fences.length === 0) return;
    const spots = this.spots(place);
    place.fences.forEach((compiled, i) => {
      const fence = place.place.fences[i] as Fence;
      const without = new Set([compiled]);
      const stops = (subject: CompiledSubject, spot: CompiledPlace) =>
        givenSet(this.index, subject, spot, this.at) !== givenSet(this.index, subject, spot, this.at, without);
      // Each spot is asked with examples of its own: further down, more people can be told apart.
      const stopsAt = (spot: CompiledPlace) => this.examples(spot).some((subject) => !admits(compiled, subject) && stops(subject, spot));
      if (!spots.some(stopsAt) && !this.stopsOwnersOrPasses(place, stops))
        this.found.push({ kind: "stopsNobody", place: place.place.id, fence });
      compiled.admits.forEach((principal, j) => {
        const people = this.named(place, principal);
        const comesIn = spots.some((spot) =>
          this.named(spot, principal).some((subject) => givenSet(this.index, subject, spot, this.at) !== NOTHING),
        );
        if (people.length > 0 && !comesIn)
          this.found.push({ kind: "admitsWithoutGrant", place: place.place.id, fence, admitted: fence.admits[j] as Principal });
      });
    });
  }

  /** Pass holders, whom no class stands for. */
  private apart(place: CompiledPlace): CompiledSubject[] {
    return this.index.subjects.filter((subject) => {
      const opens = subject.pass ? this.index.places[this.index.placeNumbers.get(subject.pass.place) ?? -1] : undefined;
      return opens !== undefined && (this.isWithin(opens, place) || this.isWithin(place, opens));
    });
  }

  private isWithin(inner: CompiledPlace, outer: CompiledPlace): boolean {
    for (let here: CompiledPlace | undefined = inner; here; here = this.index.places[here.parent]) if (here === outer) return true;
    return false;
  }

  /** Whether a fence keeps an owner out of an own draft, or a pass holder from a page it opens. */
  private stopsOwnersOrPasses(place: CompiledPlace, stops: (subject: CompiledSubject, spot: CompiledPlace) => boolean): boolean {
    const inside = below(this.index, place);
    const owners = inside.some((spot) => {
      const owner = this.index.subjects[this.index.ownerGate[spot.number] ?? -1];
      return owner !== undefined && stops(owner, spot);
    });
    return owners || this.apart(place).some((subject) => inside.some((spot) => stops(subject, spot)));
  }

  freshPlace(place: CompiledPlace): void {
    const running = place.grants.some(({ until }) => until > this.at);
    if (place.fresh && !running) this.found.push({ kind: "freshWithoutGrants", place: place.place.id });
  }

  landing(place: CompiledPlace, landings: Surroundings["landings"]): void {
    const space = this.index.places[place.space];
    const fence = place.place.fences[0];
    if (!space || !fence || space.fences.length > 0 || landings.get(space.place.id) !== place.place.id) return;
    const uncovered = space.children.filter((child) => child !== place.number && this.index.places[child]?.fences.length === 0).length;
    if (uncovered > 0) this.found.push({ kind: "landingOnly", place: place.place.id, space: space.place.id, fence, uncovered });
  }

  /** Links on a page that outsiders read to pages that are there and that they cannot read. */
  deadEnds(place: CompiledPlace, links: readonly string[]): void {
    const anybody = this.index.subjects[0] as CompiledSubject;
    const reads = (it: CompiledPlace) => (effectiveSet(this.index, anybody, it, this.at) & READ) !== 0;
    if (links.length === 0 || place.place.state !== "live" || !reads(place)) return;
    const closed = links.filter((id) => {
      const target = this.index.places[this.index.placeNumbers.get(id) ?? -1];
      return target !== undefined && !reads(target);
    });
    if (closed.length > 0) this.found.push({ kind: "deadEnds", place: place.place.id, links: closed });
  }
}

/**
 * Every idle rule of a site at an instant (milliseconds since the epoch), in the order of the places. Grants reported as
 * covered or cancelled may all be taken away together without anybody losing anything. Implements section 10.
 */
export function idleRules(index: AccessIndex, at: Instant, around?: Surroundings): IdleRule[] {
  const search = new IdleSearch(index, at);
  for (const place of index.places) {
    search.grants(place);
    search.fences(place);
    search.freshPlace(place);
    if (!around) continue;
    search.landing(place, around.landings);
    search.deadEnds(place, around.links.get(place.place.id) ?? []);
  }
  return search.found;
}
