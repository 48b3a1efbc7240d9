/**
 * Search: full text over what the asker may read, titles over what they may see. Nothing hidden shows in results, counts
 * or snippets. Whoever may see little is searched within just that, so that what matches elsewhere costs them no time
 * they could measure; whoever sees much goes through the index of words.
 */
import { and, desc, inArray, type SQL, sql } from "drizzle-orm";
import type { FoundPages, FoundPlace } from "../../../contracts/search.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { type Access, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { type Reach, reachOf, within } from "../../db/listing.ts";
import { listing } from "../../db/schema/index.ts";
import { noteTrouble } from "../../log.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { noteMiss } from "../reads/noting.ts";

/** So many of the newest matches are ranked; more are only said to be there. */
const RANKED = 500;
const PER_PAGE = 20;
/** Up to so many places, a search looks at each place in reach and never into the index of words. */
const FEW = 2_000;

/** Every word as the beginning of one; null if there is no word. Letters and digits only: nothing of the query language gets through. */
function queryOf(words: string): string | null {
  const parts = words
    .normalize("NFKC")
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .slice(0, 12);
  return parts.length === 0 ? null : parts.map((part) => `${part}:*`).join(" & ");
}

/** The newest matches within reach, by id, best first. Ranks of a few hundred are worked out, of no more. */
async function matches(tx: Tx, reach: Reach, query: string, column: SQL): Promise<string[]> {
  const asked = sql`to_tsquery('simple', ${query})`;
  const fenced = reach.count <= FEW;
  // Materialized: what is in reach is found first, and only that is looked at.
  const rows = await tx.execute<{ id: string }>(sql`
    with mine as ${fenced ? sql`materialized` : sql`not materialized`} (
      select ${listing.placeId}, ${listing.changedAt}, ${listing.titleWords}, ${listing.words} from ${listing}
      where ${within(reach)} and ${listing.kind} <> 'site'
    ), newest as (
      select place_id, changed_at, title_words, words from mine as listing where ${column} @@ ${asked}
      order by changed_at desc limit ${RANKED + 1}
    )
    select place_id as id from newest
    order by ts_rank(words, ${asked}) + case when title_words @@ ${asked} then 1 else 0 end desc, changed_at desc`);
  return rows.map(({ id }) => id);
}

async function snippets(tx: Tx, ids: readonly string[], query: string): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const options = "StartSel=\u0001, StopSel=\u0002, MaxWords=24, MinWords=12, MaxFragments=1";
  const rows = await tx
    .select({
      id: listing.placeId,
      text: sql<string>`ts_headline('simple', left(${listing.body}, 20000), to_tsquery('simple', ${query}), ${options})`,
    })
    .from(listing)
    .where(inArray(listing.placeId, [...ids]));
  return new Map(rows.map(({ id, text }) => [id, text]));
}

function foundPlace(access: Access, me: CompiledSubject, slugs: ReadonlyMap<string, string>, place: CompiledPlace): FoundPlace {
  const space = access.index.places[place.space];
  return {
    id: place.place.id,
    title: place.place.title ?? "",
    address: readerAddress(slugs, access.index, place),
    kind: place.place.kind as FoundPlace["kind"],
    // A reader of a page does not learn the name of a space that they cannot see.
    space: space && maySee(access, me, space) ? (space.place.title ?? "") : "",
    state: place.place.state,
  };
}

/** Pages and bulletins that hold the words, best first, for whoever asks; never anything they may not read. */
export async function searchPages(asker: string | null, words: string, page = 1): Promise<FoundPages> {
  const query = queryOf(words);
  if (query === null) return { total: 0, more: false, pages: 0, hits: [] };
  const found = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const reach = await reachOf(tx, access.index, me.number, access.at, READ);
    const all = await matches(tx, reach, query, sql`listing.words`);
    const ranked = all.slice(0, RANKED);
    const shown = ranked.slice((page - 1) * PER_PAGE, page * PER_PAGE).flatMap((id) => placeOf(access.index, id) ?? []);
    const texts = await snippets(
      tx,
      shown.map((place) => place.place.id),
      query,
    );
    const slugs = await spaceSlugs(tx);
    return {
      reader: me.class === "members" ? ("member" as const) : me.class === "guests" ? ("guest" as const) : ("outsider" as const),
      total: ranked.length,
      more: all.length > RANKED,
      pages: Math.ceil(ranked.length / PER_PAGE),
      hits: shown.map((place) => ({ ...foundPlace(access, me, slugs, place), snippet: texts.get(place.place.id) ?? "" })),
    };
  });
  const { reader, ...told } = found;
  // Nobody waits for it: what was looked for and is not there is counted beside the answer.
  if (told.total === 0 && page === 1) void noteMiss(words, reader, asker).catch((error) => noteTrouble("A search was not counted", error));
  return told;
}

const MOST_FOUND = 12;

/** Places whose title begins with the words, or has them, among those the asker may read or oversee. Without words, the newest. */
export async function findPlaces(asker: string, words: string, inSpace?: string): Promise<FoundPlace[]> {
  const query = queryOf(words);
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    // A space that is not there holds nothing, as one that may not be seen.
    const space = inSpace === undefined ? undefined : placeOf(access.index, inSpace);
    if (inSpace !== undefined && !(space?.place.kind === "space" && maySee(access, me, space))) return [];
    const block = space && access.index.blockOf[space.number];
    const reach = await reachOf(tx, access.index, me.number, access.at, READ | OVERSEES, block);
    const ids = query ? await matches(tx, reach, query, sql`listing.title_words`) : await newest(tx, reach);
    const slugs = await spaceSlugs(tx);
    return ids.slice(0, MOST_FOUND).flatMap((id) => {
      const place = placeOf(access.index, id);
      return place ? [foundPlace(access, me, slugs, place)] : [];
    });
  });
}

async function newest(tx: Tx, reach: Reach): Promise<string[]> {
  const rows = await tx
    .select({ id: listing.placeId })
    .from(listing)
    .where(and(within(reach), sql`${listing.kind} <> 'site'`))
    .orderBy(desc(listing.changedAt))
    .limit(MOST_FOUND);
  return rows.map(({ id }) => id);
}
