/** Reader addresses: `/read/<space>/<slug>-<id>`. The id decides, the slug decorates. */
import type { AccessIndex, CompiledPlace } from "../../core/access/accessIndex.ts";
import type { Tx } from "../db/client.ts";
import { spaces } from "../db/schema.ts";

/** "Tide tables & berths" → "tide-tables-berths". */
export const slugOf = (title: string): string =>
  title
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60) || "page";

/** The id at the end of an address: ids hold no hyphen. */
export const idInAddress = (segment: string): string => segment.slice(segment.lastIndexOf("-") + 1);

export async function spaceSlugs(tx: Tx): Promise<Map<string, string>> {
  const rows = await tx.select({ id: spaces.placeId, slug: spaces.slug }).from(spaces);
  return new Map(rows.map(({ id, slug }) => [id, slug]));
}

/** The address of a space, page or bulletin. */
export function readerAddress(slugs: ReadonlyMap<string, string>, index: AccessIndex, place: CompiledPlace): string {
  const space = index.places[place.space] as CompiledPlace;
  const base = `/read/${slugs.get(space.place.id) ?? "space"}`;
  return space === place ? base : `${base}/${slugOf(place.place.title ?? "")}-${place.place.id}`;
}
