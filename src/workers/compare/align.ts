/** Which block of a text is which of another: by what they say, by their ids, by how much they have in common. */
import type { BodyNode } from "../../core/content/index.ts";

/** A block beside the one it became; where one side is missing it came or went. `moved`: it stands elsewhere now. */
export interface Pair {
  from: number | null;
  to: number | null;
  moved: boolean;
}

/** What a block says without its ids: equal signatures, equal blocks. */
export function signature(node: BodyNode): string {
  const { id: _, ...attrs } = node.attrs ?? {};
  const own = [node.type, node.text ?? "", JSON.stringify(attrs), JSON.stringify(node.marks ?? [])].join("\u0001");
  return node.content ? `${own}\u0002${node.content.map(signature).join("\u0003")}\u0004` : own;
}

const textOf = (node: BodyNode): string => (node.text ?? "") + (node.content ?? []).map(textOf).join(" ");

type Bag = ReadonlyMap<string, number>;

function bagOf(node: BodyNode): Bag {
  const bag = new Map<string, number>();
  for (const [word] of textOf(node).matchAll(/[\p{L}\p{N}]+/gu)) bag.set(word, (bag.get(word) ?? 0) + 1);
  return bag;
}

const sizeOf = (bag: Bag): number => [...bag.values()].reduce((sum, count) => sum + count, 0);

/** From nothing in common (0) to the same words (1). */
function likeness(a: Bag, b: Bag): number {
  const all = sizeOf(a) + sizeOf(b);
  if (all === 0) return 1;
  let common = 0;
  for (const [word, count] of a) common += Math.min(count, b.get(word) ?? 0);
  return (2 * common) / all;
}

/** From how much in common two blocks are one that changed; less is enough where they have the same id. */
const ALIKE = 0.5;
const ALIKE_BY_ID = 0.25;
/** So far ahead a block is looked for among those with no partner. */
const WINDOW = 12;

/** Positions of a longest run of values that only grow. */
function longestRun(values: readonly number[]): Set<number> {
  const tails: number[] = [];
  const before: number[] = [];
  for (const [i, value] of values.entries()) {
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((values[tails[middle] as number] as number) < value) low = middle + 1;
      else high = middle;
    }
    before[i] = low > 0 ? (tails[low - 1] as number) : -1;
    tails[low] = i;
  }
  const run = new Set<number>();
  for (let i = tails.at(-1) ?? -1; i >= 0; i = before[i] as number) run.add(i);
  return run;
}

class Aligner {
  private readonly fromSigns: string[];
  private readonly toSigns: string[];
  private readonly bags = new Map<BodyNode, Bag>();
  private readonly partner: (number | null)[];
  private readonly taken: Set<number> = new Set();

  constructor(
    private readonly from: readonly BodyNode[],
    private readonly to: readonly BodyNode[],
  ) {
    this.fromSigns = from.map(signature);
    this.toSigns = to.map(signature);
    this.partner = from.map(() => null);
  }

  private bag(node: BodyNode): Bag {
    const known = this.bags.get(node) ?? bagOf(node);
    this.bags.set(node, known);
    return known;
  }

  private join(from: number, to: number): void {
    this.partner[from] = to;
    this.taken.add(to);
  }

  /** What stands unchanged at both ends needs no looking for. */
  private ends(): void {
    const least = Math.min(this.from.length, this.to.length);
    let first = 0;
    while (first < least && this.fromSigns[first] === this.toSigns[first]) this.join(first, first++);
    for (let last = 1; last <= least - first; last++) {
      const [a, b] = [this.from.length - last, this.to.length - last];
      if (this.fromSigns[a] !== this.toSigns[b]) break;
      this.join(a, b);
    }
  }

  private open(side: "from" | "to"): number[] {
    return side === "from"
      ? this.from.flatMap((_, i) => (this.partner[i] === null ? [i] : []))
      : this.to.flatMap((_, i) => (this.taken.has(i) ? [] : [i]));
  }

  /** Joins what is named alike on both sides, in order where a name comes several times. */
  private byName(nameOf: (node: BodyNode, sign: string) => string | null, fits: (a: BodyNode, b: BodyNode) => boolean): void {
    const named = new Map<string, number[]>();
    for (const i of this.open("to")) {
      const name = nameOf(this.to[i] as BodyNode, this.toSigns[i] as string);
      if (name !== null) named.set(name, [...(named.get(name) ?? []), i]);
    }
    for (const i of this.open("from")) {
      const name = nameOf(this.from[i] as BodyNode, this.fromSigns[i] as string);
      const [other, ...rest] = name === null ? [] : (named.get(name) ?? []);
      if (name === null || other === undefined || !fits(this.from[i] as BodyNode, this.to[other] as BodyNode)) continue;
      named.set(name, rest);
      this.join(i, other);
    }
  }

  private alike(a: BodyNode, b: BodyNode, least: number): boolean {
    return a.type === b.type && likeness(this.bag(a), this.bag(b)) >= least;
  }

  /** Joins what is left by how much it has in common, in order, within a window. */
  private byLikeness(): void {
    const rest = this.open("to");
    let start = 0;
    for (const i of this.open("from")) {
      const ahead = rest.slice(start, start + WINDOW);
      const nth = ahead.findIndex((it) => this.alike(this.from[i] as BodyNode, this.to[it] as BodyNode, ALIKE));
      if (nth < 0) continue;
      this.join(i, ahead[nth] as number);
      start += nth + 1;
    }
  }

  /** Pairs in the order of the newer text; what went stands where it stood, after what stood before it. */
  pairs(): Pair[] {
    this.ends();
    this.byName(
      (node, sign) => (typeof node.attrs?.id === "string" ? `${node.attrs.id}\u0000${sign}` : null),
      () => true,
    );
    this.byName(
      (node, sign) => (textOf(node).trim() === "" ? null : sign),
      () => true,
    );
    this.byName(
      ({ attrs }) => (typeof attrs?.id === "string" ? attrs.id : null),
      (a, b) => this.alike(a, b, ALIKE_BY_ID),
    );
    this.byLikeness();
    return this.inOrder();
  }

  private inOrder(): Pair[] {
    const joined = this.partner.flatMap((to, from) => (to === null ? [] : [{ from, to }]));
    const run = longestRun(joined.map(({ to }) => to));
    const kept = new Map(joined.flatMap(({ from, to }, i) => (run.has(i) ? [[to, from] as const] : [])));
    const movedTo = new Map(joined.flatMap(({ from, to }, i) => (run.has(i) ? [] : [[to, from] as const])));
    const leftBehind = new Set(movedTo.values());
    const result: Pair[] = [];
    let next = 0;
    const gone = (until: number) => {
      for (; next < until; next++)
        if (this.partner[next] === null) result.push({ from: next, to: null, moved: false });
        else if (leftBehind.has(next)) result.push({ from: next, to: null, moved: true });
    };
    for (const to of this.to.keys()) {
      const from = kept.get(to);
      if (from !== undefined) {
        gone(from);
        next = from + 1;
        result.push({ from, to, moved: false });
      } else result.push({ from: movedTo.get(to) ?? null, to, moved: movedTo.has(to) });
    }
    gone(this.from.length);
    return result;
  }
}

/**
 * Which of these blocks is which of those. A block that moved comes twice: where it stood (`to` is null) and where it
 * stands; every other one once.
 */
export const align = (from: readonly BodyNode[], to: readonly BodyNode[]): Pair[] => new Aligner(from, to).pairs();
