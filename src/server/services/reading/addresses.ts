/** Reader addresses: `/read/<space>/<slug>-<id>`. The id decides, the slug decorates. */
import type { AccessIndex, CompiledPlace } from "../../../core/access/index/index.ts";
import type { Tx } from "../../db/client.ts";
import { spaces } from "../../db/schema/index.ts";

/** "Tide tables & berths" → "tide-tables-berths". */
export const slugOf = (title: string): string =>
  title
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60) || "page";

export async function spaceSlugs(tx: Tx): Promise<Map<string, string>> {
  const rows = await tx.select({ id: spaces.placeId, slug: spaces.slug }).from(spaces);
  return new Map(rows.map(({ id, slug }) => [id, slug]));
}

/** Slugs of titles that were asked for lately: a space's navigation needs hundreds. */
const slugs = new Map<string, string>();
const MOST_SLUGS = 50_000;

function slugOfTitle(title: string): string {
  const known = slugs.get(title);
  if (known !== undefined) return known;
  if (slugs.size >= MOST_SLUGS) slugs.clear();
  const slug = slugOf(title);
  slugs.set(title, slug);
  return slug;
}

/** The address of a space, page or bulletin. */
export function readerAddress(spaceSlugs: ReadonlyMap<string, string>, index: AccessIndex, place: CompiledPlace): string {
  const space = index.places[place.space] as CompiledPlace;
  const base = `/read/${spaceSlugs.get(space.place.id) ?? "space"}`;
  return space === place ? base : `${base}/${slugOfTitle(place.place.title ?? "")}-${place.place.id}`;
}
