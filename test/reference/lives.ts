/** A small site whose pages live: acts are planned by the core and made to plain lists of slots and landing pages, as the server does. */
import { generateKeyBetween } from "fractional-indexing";
import { type AccessIndex, compile, placeOf } from "../../src/core/access/index/index.ts";
import {
  type AccessDocument,
  applyEdits,
  DEFAULT_CEILINGS,
  type Edit,
  type Instant,
  type Place,
  STATES,
} from "../../src/core/access/model/index.ts";
import {
  actsOn,
  assumed,
  firstLandings,
  LIFE_ACTS,
  type LifeAct,
  type LifeFacts,
  type Placing,
  planAct,
} from "../../src/core/lifecycle/index.ts";

export interface Step {
  act: number;
  place: number;
  more: number;
  choice: number;
  to: number;
}

export const compareKeys = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
const YEAR = 366 * 86_400_000;

export class World {
  index: AccessIndex;
  previous: AccessIndex;
  slots = new Map<string, string>();
  landings = new Map<string, string>();
  left = new Map<string, { edits: readonly Edit[]; at: Instant }>();
  erased = new Set<string>();
  last: Edit[] = [];
  factsBefore: LifeFacts;

  constructor(
    drawn: readonly { parent: number; state: number; bulletin: boolean }[],
    readonly at: Instant,
  ) {
    const bare = { stance: "follow" as const, tags: [], grants: [], fences: [] };
    const places: Place[] = [
      { ...bare, id: "site", kind: "site", state: "live" },
      { ...bare, id: "s1", kind: "space", parent: "site", state: "live" },
      { ...bare, id: "s2", kind: "space", parent: "site", state: "live", grants: [{ to: { audience: "public" }, abilities: ["read"] }] },
    ];
    drawn.forEach(({ parent, state, bulletin }, i) => {
      const above = places.filter(
        ({ kind, state: it }) => kind === "space" || (kind === "page" && it !== "binned" && it !== "archived" && !bulletin),
      );
      const on = above[parent % above.length] as Place;
      const it = STATES[state] ?? "live";
      const gone = it === "archived" || it === "binned";
      places.push({
        ...bare,
        id: `p${i}`,
        kind: bulletin ? "bulletin" : "page",
        parent: on.id,
        state: it,
        ...(gone ? { was: "live" as const } : {}),
        owner: "ana",
        tags: i % 3 === 0 ? ["a"] : [],
        grants: i % 4 === 0 ? [{ to: { person: "ana" }, abilities: ["read"] }] : [],
      });
    });
    const live = places.filter(({ kind, state }) => kind === "page" && state === "live");
    const document: AccessDocument = {
      tesoroAccess: 1,
      ceilings: DEFAULT_CEILINGS,
      people: [{ id: "ana", kind: "member", status: "active" }],
      groups: [],
      places,
      passes: live.slice(0, 2).map(({ id }, i) => ({ id: `k${i}`, place: id, below: i === 1, revoked: false })),
      pledges: [],
    };
    this.index = compile(document);
    this.previous = this.index;
    let key: string | null = null;
    for (const { id, kind } of places)
      if (kind === "page") {
        key = generateKeyBetween(key, null);
        this.slots.set(id, key);
      }
    for (const space of ["s1", "s2"]) {
      const number = placeOf(this.index, space)?.number;
      const landing = this.index.places.find((it) => it.space === number && it.place.kind === "page" && it.place.state === "live");
      if (landing) this.landings.set(space, landing.place.id);
    }
    for (const { id, state } of places)
      if (state === "archived" || state === "binned") this.left.set(id, { edits: [], at: (at - YEAR) as Instant });
    this.factsBefore = this.facts();
  }

  private facts = (): LifeFacts => ({
    slots: new Map(this.slots),
    landings: new Map(this.landings),
    left: new Map(this.left),
    keepsDays: 90,
  });

  /** An act that a step stands for, with choices made somehow; null where nothing of the kind can be done. */
  draw({ act, place, more, choice, to }: Step): LifeAct | null {
    const name = LIFE_ACTS[act % LIFE_ACTS.length] as LifeAct["act"];
    const fit = this.index.document.places.filter((it) => actsOn(it.kind, it).includes(name));
    const first = fit[place % Math.max(1, fit.length)];
    if (!first) return null;
    const second = choice % 3 === 0 ? fit[more % fit.length] : undefined;
    const targets = this.index.document.places.filter(({ kind, state }) => (kind === "space" || kind === "page") && state !== "binned");
    const target = targets[to % Math.max(1, targets.length)];
    if (!target) return null;
    return {
      act: name,
      places: [...new Set([first.id, ...(second ? [second.id] : [])])],
      ...(name === "archive" || name === "bin" ? { below: choice % 2 ? ("along" as const) : ("handUp" as const) } : {}),
      ...(name === "unarchive" || name === "restore"
        ? { below: choice % 5 === 0 ? ("stay" as const) : ("along" as const), back: choice % 2 === 0 }
        : {}),
      ...(name === "move" || name === "restore" ? { to: target.id } : {}),
    };
  }

  /** Plans an act and makes it; `choose`: what is to be chosen is chosen in the first way there is. Whether it could be done. */
  make(act: LifeAct, choose: "choose" | "as it is" = "choose"): boolean {
    const facts = this.facts();
    let it = act;
    let plan = planAct(this.index, facts, it, this.at);
    for (let i = 0; choose === "choose" && plan.choices.length > 0 && i < 6; i++) {
      const further = assumed(it, plan.choices);
      if (!further) break;
      it = further;
      plan = planAct(this.index, facts, it, this.at);
    }
    if (plan.choices.length > 0 || plan.misfits.length > 0) return false;
    this.factsBefore = facts;
    return this.apply(plan.edits, plan.placings);
  }

  /** Makes edits, and sets slots and landing pages by them, as the server does. */
  apply(edits: readonly Edit[], placings: readonly Placing[] = []): boolean {
    const applied = applyEdits(this.index.document, edits);
    if (!applied.ok) return false;
    const after = compile(applied.document);
    const made = [...edits];
    made.push(...firstLandings(this.index, after, this.facts(), edits));
    const siblings = (parent: string, but: string) =>
      after.document.places
        .flatMap((it) =>
          it.parent === parent && it.kind === "page" && it.id !== but ? [{ id: it.id, slot: this.slots.get(it.id) ?? "" }] : [],
        )
        .sort((a, b) => compareKeys(a.slot, b.slot));
    const put = (id: string, slot: string) => {
      const from = this.slots.get(id) as string;
      this.slots.set(id, slot);
      return { kind: "order" as const, place: id, from, to: slot };
    };
    const placed = new Set(edits.flatMap((it) => (it.kind === "order" ? [it.place] : [])));
    for (const edit of edits) if (edit.kind === "order") this.slots.set(edit.place, edit.to);
    const waiting = [
      ...placings,
      ...edits.flatMap((it) => (it.kind === "move" && !placings.some(({ place }) => place === it.place) ? [{ place: it.place }] : [])),
    ];
    // Those still to be placed stand nowhere yet: their old slots mean nothing in the new list.
    const pending = new Set(waiting.map(({ place }) => place));
    for (const { place, after: behind } of waiting as Placing[]) {
      if (placed.has(place) || !this.slots.has(place)) continue;
      const list = siblings(placeOf(after, place)?.place.parent ?? "", place).filter(({ id }) => !pending.has(id));
      const i = behind === undefined ? list.length - 1 : behind === null ? -1 : list.findIndex(({ id }) => id === behind);
      const at = behind !== undefined && behind !== null && i < 0 ? list.length - 1 : i;
      made.push(put(place, generateKeyBetween(list[at]?.slot ?? null, list[at + 1]?.slot ?? null)));
      pending.delete(place);
    }
    for (const edit of made) {
      if (edit.kind === "landing") {
        if (edit.to === null) this.landings.delete(edit.place);
        else this.landings.set(edit.place, edit.to);
      }
      if (edit.kind === "erase") {
        this.erased.add(edit.place);
        this.slots.delete(edit.place);
        this.landings.delete(edit.place);
      }
    }
    for (const edit of made)
      if (edit.kind === "state" && (edit.to.state === "archived" || edit.to.state === "binned"))
        this.left.set(edit.place, { edits: made, at: (this.at - YEAR) as Instant });
    this.previous = this.index;
    this.index = after;
    this.last = made;
    return true;
  }
}
