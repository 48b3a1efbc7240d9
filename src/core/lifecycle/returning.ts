/**
 * Planning what comes back, out of the archive or the bin (lifecycle.md, "Restoring"): to its parent and its slot, with what
 * left together with it; and what will not be as before, and why.
 */
import { type AccessIndex, below, type CompiledPlace, placeOf, spaceIdOf } from "../access/index/index.ts";
import { type Edit, endOf, leadsTo, markOf, type Pass } from "../access/model/index.ts";
import type { LifeAct } from "./acts.ts";
import type { LifeFacts } from "./facts.ts";
import type { Making } from "./making.ts";
import { branchOf, isPage, parentOf } from "./tree.ts";

type EditOf<K extends Edit["kind"]> = Extract<Edit, { kind: K }>;

const NO_EDITS: readonly Edit[] = [];

/** A change that took places away, to be asked place by place: of a large branch each is asked for. */
class Leaving {
  private readonly states = new Set<string>();
  private readonly movedFrom = new Map<string, EditOf<"move">[]>();
  private readonly orders = new Map<string, EditOf<"order">>();
  private readonly landings = new Set<string | null>();

  private constructor(edits: readonly Edit[]) {
    for (const edit of edits) {
      if (edit.kind === "state") this.states.add(edit.place);
      else if (edit.kind === "move") this.addMove(edit);
      else if (edit.kind === "order" && !this.orders.has(edit.place)) this.orders.set(edit.place, edit);
      else if (edit.kind === "landing") this.landings.add(edit.from);
    }
  }

  private addMove(edit: EditOf<"move">): void {
    const known = this.movedFrom.get(edit.from);
    if (known) known.push(edit);
    else this.movedFrom.set(edit.from, [edit]);
  }

  private static readonly known = new WeakMap<readonly Edit[], Leaving>();

  /** The change that a place left by; one without edits where that is not known. */
  static of(facts: LifeFacts, place: CompiledPlace): Leaving {
    const edits = facts.left.get(place.place.id)?.edits ?? NO_EDITS;
    const made = Leaving.known.get(edits) ?? new Leaving(edits);
    Leaving.known.set(edits, made);
    return made;
  }

  left = (id: string): boolean => this.states.has(id);
  handedUpFrom = (id: string): readonly EditOf<"move">[] => this.movedFrom.get(id) ?? [];
  orderOf = (id: string): EditOf<"order"> | undefined => this.orders.get(id);
  wasLanding = (id: string): boolean => this.landings.has(id);
}

/** What left in the same change as a place and is still below it as it left it: it comes back with it. */
function companions(index: AccessIndex, facts: LifeFacts, place: CompiledPlace): CompiledPlace[] {
  const leaving = Leaving.of(facts, place);
  return branchOf(index, place).filter((it) => it !== place && leaving.left(it.place.id) && it.place.state === place.place.state);
}

/** The nearest place above that is not in the bin, unless it comes back as well; null where even the space is. */
function standsIn(index: AccessIndex, place: CompiledPlace, coming: ReadonlySet<CompiledPlace>): CompiledPlace | null {
  let above = parentOf(index, place);
  const there = (it: CompiledPlace) => it.place.state !== "binned" || coming.has(it);
  while (above && isPage(above) && !there(above)) above = parentOf(index, above);
  if (!above || !there(above)) return null;
  const space = index.places[above.space];
  return space && !there(space) ? null : above;
}

/** Whether what stands somewhere may come to a place that was chosen. */
const fitsInto = (place: CompiledPlace, to: CompiledPlace, index: AccessIndex): boolean => {
  const space = index.places[to.space];
  if (to.place.state === "binned" || space?.place.state === "binned") return false;
  return to.place.kind === "space" || (to.place.kind === "page" && place.place.kind === "page");
};

/** Where a place comes back to; its own parent where nothing is in the way. */
function comeBack(making: Making, place: CompiledPlace, { to }: LifeAct, coming: ReadonlySet<CompiledPlace>): boolean {
  const { index } = making;
  const { id, kind, parent = "", state } = place.place;
  if (kind === "space" || state !== "binned") return true;
  const own = parentOf(index, place);
  const found = standsIn(index, place, coming);
  const chosen = to === undefined ? undefined : placeOf(index, to);
  const into = found ?? (chosen && fitsInto(place, chosen, index) ? chosen : null);
  if (!into) {
    if (chosen) making.misfit(place, "it cannot stand where it would go");
    const asked = making.choices.find((it) => it.choose === "destination");
    if (asked?.choose === "destination") asked.pages.push(id);
    else making.choices.push({ choose: "destination", pages: [id] });
    return false;
  }
  if (into === own) return true;
  making.follow({ kind: "move", place: id, from: parent, to: into.place.id });
  if (kind === "page") making.placings.push({ place: id });
  making.returning.push({ what: "elsewhere", place: id, to: into.place.id });
  return true;
}

/** Pages that were handed up when a place left: those that still are where that put them are offered to come back. */
function bringBack(making: Making, place: CompiledPlace, { back = false }: LifeAct): void {
  const { index, facts } = making;
  const leaving = Leaving.of(facts, place);
  for (const edit of leaving.handedUpFrom(place.place.id)) {
    const page = placeOf(index, edit.place);
    const still = page?.place.parent === edit.to && page.place.state !== "binned";
    if (!page || !still) {
      if (page) making.returning.push({ what: "movedSince", place: edit.place, under: edit.from });
      continue;
    }
    making.returning.push({ what: "handedUp", place: edit.place, under: edit.from, comesBack: back });
    if (!back) continue;
    making.follow({ kind: "move", place: edit.place, from: edit.to, to: edit.from });
    const slot = leaving.orderOf(edit.place);
    const now = facts.slots.get(edit.place);
    if (slot && now !== undefined) making.follow({ kind: "order", place: edit.place, from: now, to: slot.from });
  }
}

/** Passes on what comes back that nothing else stops: those not chosen are withdrawn. */
function choosePasses(making: Making, chosen: readonly string[], coming: readonly CompiledPlace[]): void {
  const { index, at } = making;
  const reached = new Set(coming.flatMap((place) => (isPage(place) ? [place] : below(index, place))).map(({ place }) => place.id));
  const waits = (pass: Pass) => !pass.revoked && reached.has(pass.place) && endOf(pass.until) > at;
  for (const pass of index.document.passes.filter(waits)) {
    const works = chosen.includes(pass.id);
    making.returning.push({ what: "pass", pass: pass.id, place: pass.place, works });
    if (!works) making.follow({ kind: "pass", pass: pass.id, remove: pass, put: { ...pass, revoked: true } });
  }
}

/** Unarchiving and restoring. */
export function planReturning(making: Making, act: LifeAct, chosen: readonly CompiledPlace[]): void {
  const { index, facts } = making;
  if (act.act !== "unarchive" && act.act !== "restore") return;
  const asked = new Set(chosen);
  const stays = act.below === "stay";
  const along = stays ? [] : chosen.flatMap((place) => companions(index, facts, place)).filter((place) => !asked.has(place));
  const coming = [...chosen, ...new Set(along)];
  const set = new Set(coming);
  for (const place of coming) {
    const to = leadsTo(act.act, place.place.kind, place.place);
    if (!to || !comeBack(making, place, act, set)) continue;
    const edit: Edit = { kind: "state", place: place.place.id, from: markOf(place.place), to };
    making.edits.push(edit);
    if (!asked.has(place)) making.along.add(edit);
    if (place.place.was === "scheduled" && to.state === "draft") making.returning.push({ what: "draft", place: place.place.id });
    bringBack(making, place, act);
    if (Leaving.of(facts, place).wasLanding(place.place.id)) {
      const space = spaceIdOf(index, place);
      making.returning.push({ what: "notLanding", place: place.place.id, space });
    }
  }
  making.below.along.push(...new Set(along.map(({ place }) => place.id)));
  choosePasses(making, act.passes ?? [], coming);
}
