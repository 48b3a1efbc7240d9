/**
 * Numbers for ids. A number never changes its meaning from one version of an index to the next: a later version knows
 * all numbers of an earlier one, and adding to it costs no copy of the whole.
 */

/** So many additions are kept beside the first map before both are poured together. */
const MOST_EXTRA = 512;

export class Numbering {
  private constructor(
    private readonly base: ReadonlyMap<string, number>,
    private readonly extra: ReadonlyMap<string, number>,
  ) {}

  static of(ids: Iterable<string>): Numbering {
    const base = new Map<string, number>();
    for (const id of ids) if (!base.has(id)) base.set(id, base.size);
    return new Numbering(base, new Map());
  }

  get size(): number {
    return this.base.size + this.extra.size;
  }

  get(id: string): number | undefined {
    return this.base.get(id) ?? (this.extra.size > 0 ? this.extra.get(id) : undefined);
  }

  *keys(): IterableIterator<string> {
    yield* this.base.keys();
    yield* this.extra.keys();
  }

  /** Whether these are the other's numbers and perhaps more. */
  goesOnFrom(other: Numbering): boolean {
    if (this === other) return true;
    if (this.base !== other.base || this.extra.size < other.extra.size) return false;
    for (const [id, number] of other.extra) if (this.extra.get(id) !== number) return false;
    return true;
  }

  /** The same numbers, and the next ones for ids that have none yet. */
  with(ids: Iterable<string>): Numbering {
    const extra = new Map(this.extra);
    for (const id of ids) if (!this.base.has(id) && !extra.has(id)) extra.set(id, this.base.size + extra.size);
    if (extra.size === this.extra.size) return this;
    if (extra.size <= MOST_EXTRA) return new Numbering(this.base, extra);
    return new Numbering(new Map([...this.base, ...extra]), new Map());
  }
}
