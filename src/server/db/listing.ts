/**
 * The listing: what lists and searches go by. Each place stands in it under its access class, so that a query is given
 * the classes somebody may read and never fetches a row to throw it away.
 */
import { eq, inArray, sql } from "drizzle-orm";
import type { AccessIndex, CompiledPlace } from "../../core/access/accessIndex.ts";
import { decide } from "../../core/access/decide.ts";
import { endsAround } from "../../core/access/instants.ts";
import { type Block, type Row, rowSign } from "../../core/access/rows.ts";
import { keptCells, tablesAt } from "../../core/access/tables.ts";
import { bodyText, type PageBody } from "../../core/content/body.ts";
import { insertMany } from "./bulk.ts";
import type { Tx } from "./client.ts";
import { accessClasses, listing, pages, versions } from "./schema.ts";

const BATCH = 1000;
/** PostgreSQL refuses word lists beyond a megabyte; so many characters never come near that. */
const MOST_WORDS = 200_000;

const batches = <T>(list: readonly T[]): T[][] =>
  Array.from({ length: Math.ceil(list.length / BATCH) }, (_, i) => list.slice(i * BATCH, (i + 1) * BATCH));

/** Numbers of classes by their sign; those that are new get one. */
async function classNumbers(tx: Tx, signs: readonly string[]): Promise<Map<string, number>> {
  const found = new Map<string, number>();
  const distinct = [...new Set(signs)];
  for (const batch of batches(distinct)) {
    for (const row of await tx.select().from(accessClasses).where(inArray(accessClasses.key, batch))) found.set(row.key, row.id);
  }
  for (const batch of batches(distinct.filter((key) => !found.has(key)))) {
    const made = await tx
      .insert(accessClasses)
      .values(batch.map((key) => ({ key })))
      .returning();
    for (const row of made) found.set(row.key, row.id);
  }
  return found;
}

const rowOf = (index: AccessIndex, place: CompiledPlace, classId: number) => ({
  placeId: place.place.id,
  classId,
  spaceId: place.space < 0 ? null : ((index.places[place.space] as CompiledPlace).place.id ?? null),
  kind: place.place.kind,
  state: place.place.kind === "site" ? ("live" as const) : place.place.state,
  title: place.place.title ?? "",
});

/** Brings the listing up to date with a change of the rules, or of where places stand and in what state; `words` are those of new places. */
export async function writeListing(
  tx: Tx,
  before: AccessIndex | null,
  after: AccessIndex,
  at: Date,
  words: ReadonlyMap<string, { body: string; changedAt: Date }> = new Map(),
): Promise<void> {
  const changed = after.places.filter((place, number) => {
    const old = before?.places[number];
    if (!before || !old) return true;
    if (old === place) return false;
    return rowSign(before.places, old) !== rowSign(after.places, place) || old.place.state !== place.place.state;
  });
  const numbers = await classNumbers(
    tx,
    changed.map((place) => rowSign(after.places, place)),
  );
  const rows = changed.map((place) => ({
    ...rowOf(after, place, numbers.get(rowSign(after.places, place)) as number),
    body: "",
    changedAt: at,
    ...words.get(place.place.id),
  }));
  // Where a place is listed already, its words and when they changed stay.
  const fresh = sql`on conflict (place_id) do update set class_id = excluded.class_id, space_id = excluded.space_id, state = excluded.state`;
  if (rows.length > 0) await insertMany(tx, listing, rows, fresh);
}

/** Keeps the words that a search finds a page by. */
export async function writeWords(tx: Tx, placeId: string, words: { title: string; body: PageBody }, at: Date): Promise<void> {
  await tx
    .update(listing)
    .set({ title: words.title, body: bodyText(words.body).slice(0, MOST_WORDS), changedAt: at })
    .where(eq(listing.placeId, placeId));
}

/** Fills the whole listing from the other tables: after a migration, or when a whole document came in. */
export async function rebuildListing(tx: Tx, index: AccessIndex): Promise<void> {
  await tx.delete(listing);
  await writeListing(tx, null, index, new Date());
  const pageRows = await tx.select({ id: pages.placeId, live: pages.liveMajor, at: pages.changedAt }).from(pages);
  for (const { id, live, at } of pageRows) {
    const unpublished = index.places[index.placeNumbers.get(id) ?? -1]?.unpublished ?? true;
    const shown = sql`${versions.placeId} = ${id} and ${unpublished || live === null ? sql`true` : sql`${versions.major} = ${live} and ${versions.minor} = 0`}`;
    const [version] = await tx
      .select({ title: versions.title, body: versions.body })
      .from(versions)
      .where(shown)
      .orderBy(sql`${versions.major} desc, ${versions.minor} desc`)
      .limit(1);
    if (version) await writeWords(tx, id, version, at);
  }
}

/** What one subject may list: classes whole, and single places that the classes do not tell of (own drafts, passes). */
export interface Reach {
  classes: number[];
  places: string[];
  /** How many places that is at most. */
  count: number;
}

/** Numbers of rows, once known, for as long as anybody uses the index. */
const numberOfRow = new WeakMap<Row, number>();

/** What was worked out lately, for as long as the index is in use and nothing ends. */
const remembered = new WeakMap<AccessIndex, Map<string, { reach: Reach; from: number; until: number }>>();
const MOST_REMEMBERED = 200;

/** The classes and places where a subject has something of `mask` at an instant; of one block, or of the whole site. */
export async function reachOf(tx: Tx, index: AccessIndex, subject: number, at: number, mask: number, block?: number): Promise<Reach> {
  const known = remembered.get(index) ?? new Map<string, { reach: Reach; from: number; until: number }>();
  remembered.set(index, known);
  const key = `${subject}|${mask}|${block ?? ""}`;
  const it = known.get(key);
  if (it && at >= it.from && at < it.until) return it.reach;
  const reach = await workOut(tx, index, subject, at, mask, block === undefined ? index.blocks : index.blocks.slice(block, block + 1));
  if (known.size >= MOST_REMEMBERED) known.clear();
  known.set(key, { reach, ...endsAround(index, at) });
  return reach;
}

async function workOut(tx: Tx, index: AccessIndex, subject: number, at: number, mask: number, blocks: readonly Block[]): Promise<Reach> {
  const open: { row: Row; sign: string | null }[] = [];
  let count = 0;
  for (const block of blocks) {
    const tables = tablesAt(index, block, at);
    const number = tables.classOf[subject] as number;
    block.rows.forEach((row, i) => {
      if (!((keptCells(index, block, tables, i, at)[number] as number) & mask)) return;
      open.push({ row, sign: numberOfRow.has(row) ? null : rowSign(index.places, row.example) });
      count += row.places.length;
    });
  }
  const missing = open.flatMap(({ sign }) => sign ?? []);
  for (const batch of batches(missing)) {
    const known = await tx.select().from(accessClasses).where(inArray(accessClasses.key, batch));
    const bySign = new Map(known.map(({ key, id }) => [key, id]));
    for (const { row, sign } of open) if (sign !== null && bySign.has(sign)) numberOfRow.set(row, bySign.get(sign) as number);
  }
  const places = ownPlaces(index, subject, at, mask);
  return { classes: open.flatMap(({ row }) => numberOfRow.get(row) ?? []), places, count: count + places.length };
}

/** Drafts a subject owns, with what owning gives. (Pass holders do not list: a pass opens by its own address.) */
function ownPlaces(index: AccessIndex, subject: number, at: number, mask: number): string[] {
  const places: string[] = [];
  for (let place = index.ownerGate.indexOf(subject); place >= 0; place = index.ownerGate.indexOf(subject, place + 1)) {
    if (decide(index, subject, place, at) & mask) places.push((index.places[place] as CompiledPlace).place.id);
  }
  return places;
}

/** The condition on `listing` that leaves what is in reach. */
export function within({ classes, places }: Reach) {
  const numbers = sql`${listing.classId} = any(${`{${classes.join(",")}}`}::int[])`;
  if (places.length === 0) return numbers;
  return sql`(${numbers} or ${listing.placeId} = any(array(select jsonb_array_elements_text(${JSON.stringify(places)}::text::jsonb))))`;
}
