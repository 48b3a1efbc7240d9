/** What search engines are told of: every page the public reads, in spaces that welcome them. */
import type { CompiledPlace } from "../../../core/access/index/index.ts";
import { forAMinute } from "../../access/minute.ts";
import { pauses } from "../../access/pauses.ts";
import { inSnapshot } from "../../db/client.ts";
import { siteAddress } from "../../notices/mail.ts";
import { notThere } from "../../trouble.ts";
import { readerAddress } from "./addresses.ts";
import { openLive, openViewing, type Viewing } from "./viewing.ts";

/** So many addresses stand in one file; of more, each part is a file of its own. */
export const MOST_IN_SITEMAP = 10_000;

const remembered = forAMinute<readonly CompiledPlace[]>();

/** Places that the public reads and that may be listed, spaces before what is in them. Anybody asks for them as often as they like. */
async function listed(viewing: Viewing): Promise<readonly CompiledPlace[]> {
  const known = remembered.read(viewing.access);
  if (known) return known;
  const { index } = viewing.access;
  const welcoming = new Set(viewing.spaces.filter(({ indexed }) => indexed).map(({ placeId }) => placeId));
  const found: CompiledPlace[] = [];
  const pause = pauses();
  for (const [number, block] of index.blocks.entries()) {
    const space = index.places[block.space];
    if (!space || !welcoming.has(space.place.id)) continue;
    for (const numbers of openLive(viewing, number)) found.push(...numbers.map((it) => index.places[it] as CompiledPlace));
    await pause();
  }
  return remembered.keep(viewing.access, found);
}

const xml = (root: "urlset" | "sitemapindex", lines: readonly string[]): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<${root} xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n${lines.join("\n")}\n</${root}>\n`;

/**
 * The site map, or a part of it (from 1). Addresses are made of small letters, digits and hyphens alone. Throws `notThere`
 * for a part that is none.
 */
export const readSitemap = (part: number | null): Promise<string> =>
  inSnapshot(async (tx) => {
    const viewing = await openViewing(tx, { me: null, viewpoint: null });
    const places = await listed(viewing);
    const base = siteAddress();
    const parts = Math.max(1, Math.ceil(places.length / MOST_IN_SITEMAP));
    if (part === null && parts > 1)
      return xml(
        "sitemapindex",
        Array.from({ length: parts }, (_, i) => `<sitemap><loc>${base}/sitemap.xml?part=${i + 1}</loc></sitemap>`),
      );
    if (part !== null && (part < 1 || part > parts)) throw notThere();
    const from = ((part ?? 1) - 1) * MOST_IN_SITEMAP;
    const door = from === 0 ? [`<url><loc>${base}/</loc></url>`] : [];
    const lines = places
      .slice(from, from + MOST_IN_SITEMAP)
      .map((place) => `<url><loc>${base}${readerAddress(viewing.slugs, viewing.access.index, place)}</loc></url>`);
    return xml("urlset", [...door, ...lines]);
  });

/** Parts of the site that are no reading matter; no space is named. */
const NOT_FOR_ROBOTS = ["/api/", "/access/", "/eyes/", "/pass/", "/join/", "/reset/", "/sign-in", "/forgotten", "/search"];

/** What programs that walk the site are asked. */
export const robotsText = (): string =>
  ["User-agent: *", ...NOT_FOR_ROBOTS.map((path) => `Disallow: ${path}`), `Sitemap: ${siteAddress()}/sitemap.xml`, ""].join("\n");
