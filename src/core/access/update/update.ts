/**
 * Taking in a change: the index after some edits, made from the index before. Whatever the edits do not touch is shared
 * between the two, so that comparing them (`ripple.ts`) looks at the rest only.
 */

import { namedIn } from "../decide/index.ts";
import {
  type AccessIndex,
  type Block,
  type CompiledPlace,
  compile,
  compilePlace,
  endsAfter,
  gatherRows,
  NO_RULES,
  ownerGateOf,
  peopleEndsOf,
  placeOf,
  Quick,
  rowKey,
} from "../index/index.ts";
import {
  type AccessDocument,
  applyEdits,
  type Edit,
  type EditConflict,
  isBeside,
  type Person,
  type PlaceNumber,
  placeOfEdit,
} from "../model/index.ts";
import { carryTables } from "./carry.ts";
import { updateCast } from "./updateCast.ts";

export type Updated = { ok: true; index: AccessIndex } | { ok: false; conflicts: EditConflict[] };

/** Whether two edits were made alike; a no where they only mean the same costs nothing but work. */
const isSame = (a: Edit, b: Edit | undefined): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** What edits of an index led to last: an act is planned, completed and judged by the same edits, one after the other. */
const latest = new WeakMap<AccessIndex, { edits: readonly Edit[]; index: AccessIndex }>();

/** Makes edits and returns the index of what comes of them, or every edit that does not fit. The index before stays as it is. */
export function update(before: AccessIndex, edits: readonly Edit[]): Updated {
  const held = edits.filter((edit) => !isBeside(edit));
  const known = latest.get(before);
  const same = known?.edits.length === held.length && held.every((edit, i) => isSame(edit, known.edits[i]));
  const updated: Updated = known && same ? { ok: true, index: known.index } : updateWith(before, held);
  if (!updated.ok) return updated;
  const { index } = updated;
  latest.set(before, { edits: held, index });
  if (held.length === edits.length) return updated;
  const checked = applyEdits(index.document, edits.filter(isBeside), (id) => index.placeNumbers.get(id));
  return checked.ok ? updated : checked;
}

function updateWith(before: AccessIndex, edits: readonly Edit[]): Updated {
  if (edits.length === 0) return { ok: true, index: before };
  const applied = applyEdits(before.document, edits, (id) => before.placeNumbers.get(id));
  if (!applied.ok) return applied;
  // A space is a block of its own, and neither blocks nor places have room between them: it is rare enough to begin anew.
  if (edits.some((edit) => edit.kind === "erase" || (edit.kind === "start" && edit.as === "space")))
    return { ok: true, index: compile(applied.document) };
  return { ok: true, index: new Update(before, applied.document, edits).index() };
}

class Update {
  private readonly places: CompiledPlace[];
  private readonly dirty = new Set<number>();
  /** Blocks whose places came, went or changed, so that their rows are gathered anew. */
  private readonly reshaped = new Set<number>();
  private readonly cast;
  private readonly placeNumbers;
  private readonly blockOf: Int32Array;

  constructor(
    private readonly before: AccessIndex,
    private readonly document: AccessDocument,
    private readonly edits: readonly Edit[],
  ) {
    this.cast = updateCast(before, document, edits);
    this.placeNumbers = before.placeNumbers.with(edits.flatMap((edit) => (edit.kind === "start" ? [edit.place] : [])));
    this.places = before.places.slice();
    // Arrays that stay as they are, are shared: copying what a change does not touch is most of what it costs.
    const rehangs = edits.some((edit) => edit.kind === "start" || edit.kind === "move");
    this.blockOf = rehangs ? lengthened(before.blockOf, document.places.length) : before.blockOf;
  }

  index(): AccessIndex {
    const { before, document } = this;
    for (const edit of this.edits) if (edit.kind === "start" || edit.kind === "move") this.hang(edit);
    const ids = new Set(this.edits.map((edit) => (edit.kind === "pass" ? null : placeOfEdit(edit))));
    const touched = [...ids].flatMap((id) => (id === null ? [] : (this.placeNumbers.get(id) as PlaceNumber)));
    for (const number of touched) this.remake(number);
    this.spreadToPeople();
    const rowOf = this.reshaped.size > 0 ? lengthened(before.rowOf, document.places.length) : before.rowOf;
    const blocks = before.blocks.slice();
    for (const number of this.dirty) blocks[number] = this.renewedBlock(number, rowOf);
    const ownerGate = this.ownerGate(touched);
    const after: AccessIndex = {
      ...this.cast.cast,
      document,
      places: this.places,
      placeNumbers: this.placeNumbers,
      site: before.site,
      blocks,
      blockOf: this.blockOf,
      rowOf,
      ownerGate,
      peopleEnds: this.cast.cast.subjects === before.subjects ? before.peopleEnds : peopleEndsOf(this.cast.cast.subjects),
      ends: endsAfter(before.ends, this.edits),
      quick: new Quick(ownerGate, before.quick.arena, before.quick),
      kept: before.kept,
    };
    for (const number of this.dirty) {
      const block = blocks[number] as Block;
      carryTables(before, before.blocks[number] as Block, after, block);
      for (const place of block.places) {
        after.quick.forget(place);
        after.quick.setOwner(place, ownerGate[place] as number);
      }
    }
    return after;
  }

  /** Hangs a place that starts or moves under its new parent. */
  private hang(edit: Extract<Edit, { kind: "start" | "move" }>): void {
    const number = this.placeNumbers.get(edit.place) as PlaceNumber;
    const children = (id: string, change: (list: readonly PlaceNumber[]) => readonly PlaceNumber[]) => {
      const parent = this.placeNumbers.get(id) as PlaceNumber;
      const place = this.places[parent] as CompiledPlace;
      this.places[parent] = { ...place, children: change(place.children) };
      this.mark(this.blockOf[parent] as number, true);
    };
    if (edit.kind === "move") children(edit.from, (list) => list.filter((it) => it !== number));
    children(edit.kind === "move" ? edit.to : edit.parent, (list) => [...list, number]);
    if (edit.kind !== "start") return;
    // Stands in for the place until it is compiled, so that several edits may follow on one another.
    const above = this.places[this.placeNumbers.get(edit.parent) as number] as CompiledPlace;
    this.places[number] = this.compiled(number, above, NO_RULES);
    this.blockOf[number] = this.blockOf[above.number] as number;
  }

  private compiled(number: PlaceNumber, above: CompiledPlace | undefined, children: readonly PlaceNumber[]): CompiledPlace {
    const { document, cast } = this;
    const place = document.places[number] as AccessDocument["places"][number];
    return compilePlace(place, number, above, children, document, cast.cast.principalNumbers, this.places[number]);
  }

  private mark(block: number, reshaped: boolean): void {
    this.dirty.add(block);
    if (reshaped) this.reshaped.add(block);
  }

  /** Compiles a place anew, and whatever is in it as far as that changes what it takes over from above. */
  private remake(root: PlaceNumber): void {
    const waiting = [root];
    for (let number = waiting.pop(); number !== undefined; number = waiting.pop()) {
      const old = this.places[number] as CompiledPlace;
      const parent = this.document.places[number]?.parent;
      const stays = old.place.parent === parent;
      const above = parent === undefined ? undefined : this.places[stays ? old.parent : (this.placeNumbers.get(parent) as number)];
      const made = this.compiled(number, above, old.children);
      this.places[number] = made;
      const reshapes = old.space !== made.space || rowKey(old) !== rowKey(made) || !this.before.places[number];
      this.mark(this.blockOf[number] as number, reshapes);
      if (reshapes && made.space !== number && made.space >= 0) this.blockOf[number] = this.blockOf[made.space] as number;
      this.mark(this.blockOf[number] as number, reshapes);
      if (number === this.before.site) for (let block = 0; block < this.before.blocks.length; block++) this.mark(block, false);
      if (takesOverDifferently(old, made) || this.before.places[number]?.space !== made.space) waiting.push(...made.children);
    }
  }

  /** Blocks in which somebody now counts differently: whole audiences changed, or a principal that a rule there names. */
  private spreadToPeople(): void {
    const { everywhere, principals } = this.cast.changed;
    if (!everywhere && principals.size === 0) return;
    this.before.blocks.forEach((block, number) => {
      const named = namedIn(this.before, block);
      if (everywhere || [...principals].some((principal) => named.has(principal))) this.mark(number, false);
    });
  }

  private renewedBlock(number: number, rowOf: Int32Array): Block {
    const old = this.before.blocks[number] as Block;
    if (!this.reshaped.has(number)) {
      const rows = old.rows.map((row) => ({ ...row, example: this.places[row.example.number] as CompiledPlace }));
      return { ...old, rows, named: null, tables: null };
    }
    if (this.blockOf === this.before.blockOf) return gatherRows(old.space, old.places, this.places, rowOf);
    const places = old.places.filter((place) => this.blockOf[place] === number);
    const known = new Set(places);
    for (const edit of this.edits) {
      if (edit.kind !== "start" && edit.kind !== "move") continue;
      const waiting = [this.placeNumbers.get(edit.place) as PlaceNumber];
      for (let inner = waiting.pop(); inner !== undefined; inner = waiting.pop()) {
        if (this.blockOf[inner] === number && !known.has(inner)) {
          known.add(inner);
          places.push(inner);
        }
        waiting.push(...(this.places[inner] as CompiledPlace).children);
      }
    }
    return gatherRows(old.space, places, this.places, rowOf);
  }

  /** Whose own drafts places are; the very list of before where that is as it was. */
  private ownerGate(touched: readonly PlaceNumber[]): Int32Array {
    const { before, places } = this;
    const numbers = [...touched];
    // A guest who becomes a member owns drafts as one, and the other way round.
    const people = new Set(this.edits.flatMap((edit) => (edit.kind === "person" ? [(edit.put as Person).id] : [])));
    if (people.size > 0)
      for (const { number, unpublished, place } of places) if (unpublished && people.has(place.owner ?? "")) numbers.push(number);
    const changed = numbers
      .map((number) => ({ number, owner: ownerGateOf(this.cast.cast, places[number] as CompiledPlace) }))
      .filter(({ number, owner }) => before.ownerGate[number] !== owner);
    if (changed.length === 0) return before.ownerGate;
    const gate = lengthened(before.ownerGate, places.length);
    for (const { number, owner } of changed) gate[number] = owner;
    return gate;
  }
}

function lengthened(list: Int32Array, length: number): Int32Array {
  if (length === list.length) return list.slice();
  const longer = new Int32Array(length);
  longer.set(list);
  return longer;
}

/** Whether what stands below a place takes over something else from it than before. */
const takesOverDifferently = (old: CompiledPlace, made: CompiledPlace): boolean =>
  old.ruled !== made.ruled ||
  old.space !== made.space ||
  old.outsiderCeiling !== made.outsiderCeiling ||
  old.guestCeiling !== made.guestCeiling ||
  old.passes !== made.passes;

/** The index with other titles, which change nobody's access. The index before stays as it is. */
export function retitle(before: AccessIndex, titles: ReadonlyMap<string, string>): AccessIndex {
  const changed = [...titles].flatMap(([id, title]) => {
    const place = placeOf(before, id);
    return place && place.place.title !== title ? [{ ...place, place: { ...place.place, title } }] : [];
  });
  if (changed.length === 0) return before;
  const places = before.places.slice();
  const inDocument = before.document.places.slice();
  for (const place of changed) {
    places[place.number] = place;
    inDocument[place.number] = place.place;
  }
  return { ...before, places, document: { ...before.document, places: inDocument } };
}
