/** Two lists of things with ids side by side, numbered together: by the later list's numbers where these go on from the earlier one's. */
export class Pairing {
  readonly count: number;
  private readonly pairs: { earlier: number; later: number }[] | null;
  private fromEarlier: ReadonlyMap<number, number> | null = null;
  private fromLater: ReadonlyMap<number, number> | null = null;
  private readonly earlierCount: number;

  constructor(earlier: readonly string[] | number, later: readonly string[] | number) {
    if (typeof earlier === "number" || typeof later === "number") {
      this.earlierCount = typeof earlier === "number" ? earlier : earlier.length;
      this.pairs = null;
      this.count = typeof later === "number" ? later : later.length;
      return;
    }
    this.earlierCount = earlier.length;
    const numbers = new Map(later.map((id, i) => [id, i]));
    const known = new Set(earlier);
    this.pairs = [
      ...earlier.map((id, i) => ({ earlier: i, later: numbers.get(id) ?? -1 })),
      ...later.flatMap((id, i) => (known.has(id) ? [] : [{ earlier: -1, later: i }])),
    ];
    this.count = this.pairs.length;
    this.fromEarlier = new Map(this.pairs.map((it, number) => [it.earlier, number]));
    this.fromLater = new Map(this.pairs.map((it, number) => [it.later, number]));
  }

  /** Where a thing stands in the earlier list, or -1. */
  earlier(number: number): number {
    if (this.pairs) return this.pairs[number]?.earlier ?? -1;
    return number < this.earlierCount ? number : -1;
  }

  later(number: number): number {
    return this.pairs ? (this.pairs[number]?.later ?? -1) : number;
  }

  /** The common number of what stands at a place of one of the lists. */
  number(own: number, side: "earlier" | "later"): number {
    return (side === "earlier" ? this.fromEarlier : this.fromLater)?.get(own) ?? own;
  }
}
