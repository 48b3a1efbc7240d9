/** Chance that comes out the same every time. */
export class Dice {
  constructor(private state: number) {}

  /** From 0 (included) to 1 (excluded). */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  chance = (of: number): boolean => this.next() < of;

  /** A whole number, both ends included. */
  between = (low: number, high: number): number => low + Math.floor(this.next() * (high - low + 1));

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)] as T;
  }

  several<T>(list: readonly T[], count: number): T[] {
    const found = new Set<T>();
    for (let i = 0; i < count * 4 && found.size < Math.min(count, list.length); i++) found.add(this.pick(list));
    return [...found];
  }

  /** One of the keys, as often as its weight says. */
  weighted<K extends string>(weights: Record<K, number>): K {
    const entries = Object.entries(weights) as [K, number][];
    let left = this.next() * entries.reduce((sum, [, weight]) => sum + weight, 0);
    for (const [key, weight] of entries) {
      left -= weight;
      if (left < 0) return key;
    }
    return (entries[0] as [K, number])[0];
  }
}
