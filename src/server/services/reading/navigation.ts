/** The contents of a space: its tree of pages as arranged, as far as it is open to whoever looks. */
import { sql } from "drizzle-orm";
import type { NavigationItem } from "../../../contracts/reading.ts";
import { type AccessIndex, type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import type { SpaceContents } from "../../../core/access/model/index.ts";
import { arranged, CONTENTS_AS_PAGES, type Listed } from "../../../core/contents/index.ts";
import type { Tx } from "../../db/client.ts";
import { listing, slots } from "../../db/schema/index.ts";
import { compareKeys } from "../change/order.ts";
import { isOpen, linkTo, openLive, type Viewing } from "./viewing.ts";

export interface Navigation {
  items: NavigationItem[];
  /** How many more pages of the space are open and not listed. */
  more: number;
}

/** Up to so many places a space is listed whole; of a larger one, the top and the branch one is in. */
const LISTED_WHOLE = 400;
const MOST_SIBLINGS = 100;

/** A line of the contents, and how deep it stands. */
export type ContentsLine = Listed<CompiledPlace> & { depth: number };

interface Tree {
  space: CompiledPlace;
  contents: SpaceContents;
  /** The pages directly in a place, in their order. */
  pagesIn(place: CompiledPlace): CompiledPlace[];
  shown(place: CompiledPlace): boolean;
  /** Places on the way to where one is: listed whatever their number, and opened. */
  branch: ReadonlySet<number>;
}

/** Whether a space is small enough to be listed whole. */
export const isListedWhole = (index: AccessIndex, space: CompiledPlace): boolean =>
  (index.blocks[index.blockOf[space.number] as number]?.places.length ?? 0) <= LISTED_WHOLE;

/** What is listed under a place: pages that are shown, and in place of others what is under those, so that nothing tells of the gap. */
export const listedUnder = ({ pagesIn, shown }: Pick<Tree, "pagesIn" | "shown">, place: CompiledPlace): CompiledPlace[] =>
  pagesIn(place).flatMap((child) => (shown(child) ? [child] : listedUnder({ pagesIn, shown }, child)));

/** The contents line by line. */
export function contentsLines(index: AccessIndex, tree: Tree): ContentsLine[] {
  const { space, branch } = tree;
  const whole = isListedWhole(index, space);
  const few = (pages: CompiledPlace[]) => (whole ? pages : pages.filter((page, i) => i < MOST_SIBLINGS || branch.has(page.number)));
  const lines: ContentsLine[] = [];
  const below = (place: CompiledPlace, depth: number) => {
    if (!whole && !branch.has(place.number)) return;
    for (const page of few(listedUnder(tree, place))) {
      lines.push({ kind: "page", page, branch: true, depth });
      below(page, depth + 1);
    }
  };
  const find = (id: string) => {
    const page = placeOf(index, id);
    return page && page.space === space.number && page.place.kind === "page" && tree.shown(page) ? page : undefined;
  };
  for (const line of arranged(tree.contents, few(listedUnder(tree, space)), find)) {
    lines.push({ ...line, depth: 0 });
    if (line.kind === "page" && line.branch) below(line.page, 1);
  }
  return lines;
}

/** The contents of a space as the viewer gets them. */
export async function navigationOf(tx: Tx, viewing: Viewing, space: CompiledPlace, here: CompiledPlace | null): Promise<Navigation> {
  const { index } = viewing.access;
  const branch = new Set<number>();
  for (let step: CompiledPlace | undefined = here ?? undefined; step; step = index.places[step.parent]) branch.add(step.number);
  const row = viewing.spaces.find(({ placeId }) => placeId === space.place.id);
  const contents = row?.contents ?? CONTENTS_AS_PAGES;
  const lines = contentsLines(index, {
    space,
    // Headings and words of addresses are the space's: whoever reads a single page in it does not get them.
    contents: isOpen(viewing, space) ? contents : { ...contents, entries: contents.entries.filter((entry) => "page" in entry) },
    pagesIn: await orderIn(tx, index, space, row?.arranged === "name"),
    shown: (place) => place.place.state === "live" && isOpen(viewing, place),
    branch,
  });
  const items = lines.map(({ depth, ...line }): NavigationItem => {
    if (line.kind === "page") return { kind: "page", ...linkTo(viewing, line.page), depth, here: line.page === here };
    // What stands on this site is walked to.
    const address = line.kind === "heading" ? "" : line.address.startsWith("/read/") ? viewing.prefix + line.address : line.address;
    return { kind: line.kind, id: "", title: line.words, address, depth, here: false };
  });
  if (isListedWhole(index, space) || row?.contents?.rest === false) return { items, more: 0 };
  const open = openLive(viewing, index.blockOf[space.number] as number).reduce(
    (sum, places) => sum + places.filter((place) => index.places[place]?.place.kind === "page").length,
    0,
  );
  return { items, more: Math.max(0, open - items.filter(({ kind }) => kind === "page").length) };
}

interface Order {
  slots: ReadonlyMap<string, string>;
  /** Pages of each place that was asked about, in their order. */
  pages: Map<CompiledPlace, CompiledPlace[]>;
}

/** The order in each space, for as long as the rules it was read with: whatever changes it makes new rules. */
const keptOrder = new WeakMap<AccessIndex, Map<number, Order>>();

/** Gives the pages directly in a place of a space, in their order. */
export async function orderIn(
  tx: Tx,
  index: AccessIndex,
  space: CompiledPlace,
  byName: boolean,
): Promise<(place: CompiledPlace) => CompiledPlace[]> {
  const kept = keptOrder.get(index) ?? new Map<number, Order>();
  keptOrder.set(index, kept);
  const { slots: slotOf, pages } = kept.get(space.number) ?? { slots: await slotsIn(tx, space), pages: new Map() };
  kept.set(space.number, { slots: slotOf, pages });
  const keyOf = ({ place: { id, title = "" } }: CompiledPlace) => (byName ? title.toLowerCase() : (slotOf.get(id) ?? ""));
  const inOrder = (a: CompiledPlace, b: CompiledPlace) => compareKeys(keyOf(a), keyOf(b));
  return (place) => {
    const known = pages.get(place);
    if (known) return known;
    const found = place.children.map((number) => index.places[number] as CompiledPlace).filter((child) => child.place.kind === "page");
    pages.set(place, found.sort(inOrder));
    return found;
  };
}

async function slotsIn(tx: Tx, space: CompiledPlace): Promise<ReadonlyMap<string, string>> {
  const [row] = await tx.execute<{ slots: Record<string, string> }>(sql`
    select coalesce(json_object_agg(s.place_id, s.slot), '{}'::json) as slots
    from ${slots} as s join ${listing} as l on l.place_id = s.place_id where l.space_id = ${space.place.id} and s.to_seq is null`);
  return new Map(Object.entries(row?.slots ?? {}));
}
