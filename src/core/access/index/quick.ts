/**
 * The quickest form of an index: cells and classes in flat arrays, a few numbers for each place. Filled row by row as
 * questions come; versions of an index share the arrays, each with its own numbers for the places.
 */
import type { Instant, PlaceNumber } from "../model/index.ts";

/** Flat arrays that only grow, so that what an earlier version reads there never changes. */
export class Arena {
  private classesUsed = 0;
  private cellsUsed = 0;
  private readonly bases = new WeakMap<object, number>();

  private constructor(
    public classes: Uint16Array | Uint32Array,
    public cells: Uint16Array,
  ) {}

  static empty(): Arena {
    return new Arena(new Uint16Array(1 << 12), new Uint16Array(1 << 12));
  }

  get size(): number {
    return this.cellsUsed + this.classesUsed;
  }

  /** Where the classes of a block's subjects begin. */
  baseOfClasses(list: Uint16Array | Uint32Array): number {
    const known = this.bases.get(list);
    if (known !== undefined) return known;
    const base = this.classesUsed;
    const wide = list instanceof Uint32Array || this.classes instanceof Uint32Array;
    if (base + list.length > this.classes.length || wide !== this.classes instanceof Uint32Array) {
      const size = Math.max(this.classes.length * 2, base + list.length);
      const grown = wide ? new Uint32Array(size) : new Uint16Array(size);
      grown.set(this.classes.subarray(0, base));
      this.classes = grown;
    }
    this.classes.set(list, base);
    this.classesUsed += list.length;
    this.bases.set(list, base);
    return base;
  }

  /** Where the cells of a row begin. */
  baseOfCells(list: Uint16Array): number {
    const known = this.bases.get(list);
    if (known !== undefined) return known;
    const base = this.cellsUsed;
    if (base + list.length > this.cells.length) {
      const grown = new Uint16Array(Math.max(this.cells.length * 2, base + list.length));
      grown.set(this.cells.subarray(0, base));
      this.cells = grown;
    }
    this.cells.set(list, base);
    this.cellsUsed += list.length;
    this.bases.set(list, base);
    return base;
  }
}

/** For each place four numbers: where its block's classes and its row's cells begin (-1: not filled), whose own draft it is, nothing. */
export const STRIDE_BITS = 2;
/** Beyond this many numbers in the flat arrays they are begun anew. */
const MOST = 30_000_000;

export class Quick {
  info: Int32Array;
  /** The instants, milliseconds since the epoch, for which everything filled holds. */
  from = Number.NEGATIVE_INFINITY;
  until = Number.POSITIVE_INFINITY;

  constructor(
    owners: Int32Array,
    public arena: Arena,
    earlier?: Quick,
  ) {
    const size = owners.length << STRIDE_BITS;
    if (earlier?.info.length === size) this.info = earlier.info.slice();
    else {
      this.info = new Int32Array(size).fill(-1);
      if (earlier) this.info.set(earlier.info);
    }
    if (earlier) {
      this.from = earlier.from;
      this.until = earlier.until;
    } else for (let place = 0; place < owners.length; place++) this.setOwner(place as PlaceNumber, owners[place] as number);
  }

  setOwner(place: PlaceNumber, owner: number): void {
    this.info[(place << STRIDE_BITS) + 2] = owner;
  }

  forget(place: PlaceNumber): void {
    this.info[(place << STRIDE_BITS) + 1] = -1;
  }

  /** Begins anew where an instant lies outside of what is filled, or too much is. */
  prepareFor(at: Instant): void {
    const full = this.arena.size > MOST;
    if (!full && at >= this.from && at < this.until) return;
    for (let i = 1; i < this.info.length; i += 1 << STRIDE_BITS) this.info[i] = -1;
    this.from = Number.NEGATIVE_INFINITY;
    this.until = Number.POSITIVE_INFINITY;
    if (full) this.arena = Arena.empty();
  }

  /** Notes where the places of a row find their answers, and for how long. */
  fill(places: readonly number[], classOf: Uint16Array | Uint32Array, cells: Uint16Array, window: { from: number; until: number }): void {
    const classes = this.arena.baseOfClasses(classOf);
    const base = this.arena.baseOfCells(cells);
    for (const place of places) {
      this.info[place << STRIDE_BITS] = classes;
      this.info[(place << STRIDE_BITS) + 1] = base;
    }
    this.from = Math.max(this.from, window.from);
    this.until = Math.min(this.until, window.until);
  }
}
