/**
 * Numbers for ids. A number never changes its meaning from one version of an index to the next: a later version knows
 * all numbers of an earlier one, and adding to it costs no copy of the whole.
 */

/** So many additions are kept beside the first map before both are poured together. */
const MOST_EXTRA = 512;

/** `N`: what is numbered; without, numbers that have no type of their own. */
export class Numbering<N extends number = number> {
  private constructor(
    private readonly base: ReadonlyMap<string, N>,
    private readonly extra: ReadonlyMap<string, N>,
  ) {}

  static of<N extends number = number>(ids: Iterable<string>): Numbering<N> {
    const base = new Map<string, N>();
    for (const id of ids) if (!base.has(id)) base.set(id, base.size as N);
    return new Numbering(base, new Map());
  }

  get size(): number {
    return this.base.size + this.extra.size;
  }

  get(id: string): N | undefined {
    return this.base.get(id) ?? (this.extra.size > 0 ? this.extra.get(id) : undefined);
  }

  *keys(): IterableIterator<string> {
    yield* this.base.keys();
    yield* this.extra.keys();
  }

  /** Whether these are the other's numbers and perhaps more. */
  goesOnFrom(other: Numbering<N>): boolean {
    if (this === other) return true;
    if (this.base !== other.base || this.extra.size < other.extra.size) return false;
    for (const [id, number] of other.extra) if (this.extra.get(id) !== number) return false;
    return true;
  }

  /** The same numbers, and the next ones for ids that have none yet. */
  with(ids: Iterable<string>): Numbering<N> {
    const extra = new Map(this.extra);
    for (const id of ids) if (!this.base.has(id) && !extra.has(id)) extra.set(id, (this.base.size + extra.size) as N);
    if (extra.size === this.extra.size) return this;
    if (extra.size <= MOST_EXTRA) return new Numbering(this.base, extra);
    return new Numbering(new Map([...this.base, ...extra]), new Map());
  }
}
