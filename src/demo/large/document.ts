/** A made-up site of any size, the same for the same sizes: for measuring, and for `npm run demo:large`. */
import {
  type AccessDocument,
  abilitiesIn,
  DEFAULT_CEILINGS,
  type Fence,
  type Grant,
  type Group,
  type Level,
  type PageState,
  type Pass,
  type Person,
  type Place,
  type Pledge,
  type Principal,
  setOfLevel,
} from "../../core/access/model/index.ts";
import { Dice } from "./dice.ts";
import { groupName, pageTitle, personName, spaceTitle, TAGS } from "./names.ts";

export interface Sizes {
  places: number;
  people: number;
  groups: number;
  /** Places with rules of their own, spaces included. */
  ruled: number;
}

export const LARGE: Sizes = { places: 100_000, people: 10_000, groups: 500, ruled: 5_000 };

/** The same proportions at another number of places. */
export const sized = (places: number): Sizes => {
  const part = places / LARGE.places;
  const scale = (count: number) => Math.max(10, Math.round(count * part));
  return { places, people: scale(LARGE.people), groups: scale(LARGE.groups), ruled: scale(LARGE.ruled) };
};

const grant = (to: Principal, level: Level, rest: Partial<Grant> = {}): Grant => ({
  to,
  abilities: abilitiesIn(setOfLevel(level)),
  ...rest,
});

function peopleOf(dice: Dice, count: number): Person[] {
  return Array.from({ length: count }, (_, i) => ({
    id: `p${i}`,
    name: personName(i),
    kind: i > 0 && dice.chance(0.1) ? ("guest" as const) : ("member" as const),
    status: i > 0 && dice.chance(0.03) ? ("suspended" as const) : ("active" as const),
  }));
}

/** Departments that divide the people, teams across them, and unions of groups: as an organisation grows them. */
function groupsOf(dice: Dice, people: readonly Person[], count: number): Group[] {
  const departments = Math.ceil(count * 0.2);
  const unions = Math.floor(count * 0.1);
  return Array.from({ length: count }, (_, i): Group => {
    const head = { id: `g${i}`, name: groupName(i) };
    if (i < departments) return { ...head, members: people.filter((_, p) => p % departments === i).map(({ id }) => ({ person: id })) };
    if (i < count - unions) {
      const size = dice.between(4, 24);
      return { ...head, members: dice.several(people, size).map(({ id }) => ({ person: id })) };
    }
    const inner = dice.several([...Array(count - unions).keys()], dice.between(2, 4));
    return { ...head, members: inner.map((it) => ({ group: `g${it}` })) };
  });
}

class Site {
  readonly places: Place[] = [];
  /** Pages in the archive or the bin. */
  private readonly gone = new Map<string, "archived" | "binned">();

  constructor(
    private readonly dice: Dice,
    private readonly people: readonly Person[],
    private readonly groups: readonly Group[],
    private readonly sizes: Sizes,
  ) {}

  private group = (): Principal => ({ group: this.dice.pick(this.groups).id });
  private member = (): Principal => ({ person: this.dice.pick(this.people.filter(({ kind }) => kind === "member")).id });
  private somebody = (): Principal => ({ person: this.dice.pick(this.people).id });

  build(): Place[] {
    const { sizes, dice } = this;
    const spaces = Math.max(2, Math.round(sizes.places / 400));
    this.add({ id: "site", kind: "site", title: "The large site", grants: [grant({ person: "p0" }, 5), grant(this.group(), 5)] });
    for (let i = 0; i < spaces; i++) this.space(i);
    const rulesOnPages = Math.max(0, sizes.ruled - spaces - 1);
    const pages = sizes.places - spaces - 1;
    const open: string[][] = Array.from({ length: spaces }, (_, i) => [`s${i}`]);
    for (let i = 0; i < pages; i++) {
      // A twentieth of all pages lies in the first space; the rest is spread unevenly.
      const space = i % 20 === 0 ? 0 : Math.floor(spaces * dice.next() ** 1.5);
      this.page(i, space, open[space] as string[], dice.chance(rulesOnPages / pages));
    }
    return this.places;
  }

  private add(place: Partial<Place> & Pick<Place, "id" | "kind" | "title">): void {
    this.places.push({ state: "live", stance: "follow", tags: [], grants: [], fences: [], ...place });
  }

  private space(i: number): void {
    const { dice } = this;
    const grants = [grant(this.group(), 5), grant(this.group(), 4), grant(this.group(), 3)];
    if (dice.chance(0.7)) grants.push(grant({ audience: "members" }, dice.chance(0.5) ? 1 : 2));
    if (dice.chance(0.15)) grants.push(grant({ audience: "public" }, 1));
    if (dice.chance(0.3)) grants.push(grant(this.group(), 2, { until: "2030-01-01T00:00:00.000Z" }));
    const fences: Fence[] = dice.chance(0.1) ? [{ kind: "write", admits: [this.group(), this.group()] }] : [];
    const ceilings = dice.chance(0.2) ? { outsiders: [] as [] } : undefined;
    const title = spaceTitle(i);
    this.add({ id: `s${i}`, kind: "space", parent: "site", title, grants, fences, ...(ceilings ? { ceilings } : {}) });
  }

  private page(i: number, space: number, open: string[], ruled: boolean): void {
    const { dice } = this;
    const id = `x${i}`;
    const bulletin = dice.chance(0.04);
    // Close to the place the last pages went to, so that branches grow some levels deep.
    const parent = bulletin ? `s${space}` : dice.chance(0.3) ? (open[0] as string) : dice.pick(open.slice(-40));
    // What went along into the archive or the bin lies there with what it stands in.
    const state = this.gone.get(parent) ?? dice.weighted<PageState>({ live: 85, draft: 7, scheduled: 1, archived: 5, binned: 2 });
    const isGone = state === "archived" || state === "binned";
    if (isGone) this.gone.set(id, state);
    this.add({
      id,
      kind: bulletin ? "bulletin" : "page",
      parent,
      title: pageTitle(i),
      state,
      owner: this.people[Math.floor(dice.next() * this.people.length)]?.id ?? "p0",
      tags: dice.chance(0.2) ? [dice.pick(TAGS)] : [],
      ...(ruled ? this.rules() : {}),
      ...(isGone && dice.chance(0.2) ? { was: "draft" as const } : {}),
    });
    if (!bulletin && dice.chance(isGone ? 0.05 : 0.35)) open.push(id);
  }

  private rules(): Pick<Place, "grants" | "fences" | "stance"> {
    const { dice } = this;
    const fresh = dice.chance(0.08);
    const grants: Grant[] = fresh ? [grant(this.group(), 4)] : [];
    if (dice.chance(0.5)) grants.push(grant(this.group(), dice.between(1, 4) as Level));
    if (dice.chance(0.3)) grants.push(grant(this.somebody(), dice.between(1, 3) as Level));
    if (dice.chance(0.1)) grants.push(grant(this.member(), 5));
    if (dice.chance(0.05)) grants.push(grant({ audience: "public" }, 1));
    const fences: Fence[] = [];
    if (dice.chance(0.15)) fences.push({ kind: "write", admits: [this.group()] });
    if (dice.chance(0.15)) fences.push({ kind: "read", admits: [this.group(), this.group(), this.member()] });
    if (grants.length + fences.length === 0) grants.push(grant({ audience: "accounts" }, 2));
    return { grants, fences, stance: fresh ? "fresh" : "follow" };
  }
}

function passesOf(dice: Dice, places: readonly Place[]): Pass[] {
  const pages = places.filter(({ kind, state }) => kind === "page" && state === "live");
  return Array.from({ length: Math.ceil(places.length / 1000) }, (_, i) => ({
    id: `k${i}`,
    place: dice.pick(pages).id,
    below: dice.chance(0.3),
    revoked: dice.chance(0.1),
  }));
}

function pledgesOf(dice: Dice, places: readonly Place[]): Pledge[] {
  const spaces = places.filter(({ kind }) => kind === "space");
  return Array.from({ length: 12 }, (_, i): Pledge => {
    const where = { space: dice.pick(spaces).id, ...(i % 3 === 0 ? { tag: dice.pick(TAGS) } : {}) };
    return {
      id: `pledge${i}`,
      who: { class: i % 2 ? "outsiders" : "guests" },
      rule: "never",
      ability: i % 4 === 3 ? "discuss" : "read",
      where,
    };
  });
}

/** The whole document: deterministic for its sizes. */
export function largeDocument(sizes: Sizes = LARGE): AccessDocument {
  const dice = new Dice(sizes.places + 7);
  const people = peopleOf(dice, sizes.people);
  const groups = groupsOf(dice, people, sizes.groups);
  const places = new Site(dice, people, groups, sizes).build();
  return {
    tesoroAccess: 1,
    ceilings: DEFAULT_CEILINGS,
    people,
    groups,
    places,
    passes: passesOf(dice, places),
    pledges: pledgesOf(dice, places),
  };
}
