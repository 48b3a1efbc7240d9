/**
 * The listing: what lists and searches go by. Each place stands in it under its access class, so that a query is given
 * the classes somebody may read and never fetches a row to throw it away.
 */

import { and, desc, eq, inArray, isNull, or, type SQL, sql } from "drizzle-orm";
import { cellsInBlock, decide } from "../../core/access/decide/index.ts";
import { type AccessIndex, type Block, type CompiledPlace, endsAround, placeOf, type Row, rowSign } from "../../core/access/index/index.ts";
import type { Instant, PlaceNumber, SubjectNumber } from "../../core/access/model/index.ts";
import { bodyText, type PageBody } from "../../core/content/index.ts";
import { insertMany } from "./bulk.ts";
import type { Tx } from "./client.ts";
import { countLinksIn, countViews, deriveListing } from "./deriving.ts";
import { accessClasses, listing, pages, places as placesTable, versions } from "./schema/index.ts";
import { among } from "./textArray.ts";

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

/** What a place is found by in a search, and where it is known already what it is sorted by. */
export type Words = { body: string; changedAt: Date } & Partial<typeof listing.$inferInsert>;

/** Brings the listing up to date with a change of the rules, or of where places stand and in what state; `words` are those of new places. */
export async function writeListing(
  tx: Tx,
  before: AccessIndex | null,
  after: AccessIndex,
  at: Date,
  words: ReadonlyMap<string, Words> = new Map(),
): Promise<void> {
  if (before === after && words.size === 0) return;
  const changed = after.places.flatMap((place, number) => {
    let old = before?.places[number];
    if (old === place) return [];
    // Where places went, others have their numbers.
    if (old && old.place.id !== place.place.id) old = before ? placeOf(before, place.place.id) : undefined;
    const sign = rowSign(after.places, place);
    const same = before && old && rowSign(before.places, old) === sign && old.place.state === place.place.state;
    return same ? [] : [{ place, sign }];
  });
  const numbers = await classNumbers(
    tx,
    changed.map(({ sign }) => sign),
  );
  const rows = changed.map(({ place: { place, space }, sign }) => ({
    placeId: place.id,
    classId: numbers.get(sign) as number,
    spaceId: after.places[space]?.place.id ?? null,
    kind: place.kind,
    state: place.kind === "site" ? ("live" as const) : place.state,
    title: place.title ?? "",
    body: "",
    changedAt: at,
    ...words.get(place.id),
  }));
  // Where a place is listed already, its words and when they changed stay.
  const fresh = sql`on conflict (place_id) do update set class_id = excluded.class_id, space_id = excluded.space_id, state = excluded.state`;
  if (rows.length > 0) await insertMany(tx, listing, rows, fresh);
}

const wordsOf = (body: PageBody): string => bodyText(body).slice(0, MOST_WORDS);

/** Keeps the words that a search finds a page by. */
export async function writeWords(tx: Tx, placeId: string, words: { title: string; body: PageBody }, at: Date): Promise<void> {
  await tx
    .update(listing)
    .set({ title: words.title, body: wordsOf(words.body), changedAt: at })
    .where(eq(listing.placeId, placeId));
}

/** The same for many at once; what is listed so already stays as it is. */
export async function writeWordsOfMany(tx: Tx, list: readonly { id: string; title: string; body: PageBody }[], at: Date): Promise<void> {
  if (list.length === 0) return;
  const rows = JSON.stringify(list.map(({ id, title, body }) => ({ id, title, body: wordsOf(body) })));
  await tx.execute(sql`
    update listing as l set title = w.title, body = w.body, changed_at = ${at.toISOString()}::timestamptz
    from jsonb_to_recordset(${rows}::text::jsonb) as w(id text, title text, body text)
    where l.place_id = w.id and (l.title, l.body) is distinct from (w.title, w.body)`);
}

/** Fills the whole listing from the other tables, for a site from before there was one. */
export async function rebuildListing(tx: Tx, index: AccessIndex): Promise<void> {
  const waiting = sql`('draft', 'scheduled')`;
  const unpublished = sql`(${placesTable.state} in ${waiting} or (${placesTable.state} in ('archived', 'binned') and ${placesTable.was} in ${waiting}))`;
  const isLive = sql`(${versions.major} = ${pages.liveMajor} and ${versions.minor} = 0)`;
  const rows = await tx
    .selectDistinctOn([versions.placeId], {
      id: versions.placeId,
      body: versions.body,
      changedAt: sql`case when ${unpublished} then ${pages.changedAt} else coalesce(${pages.publishedAt}, ${pages.changedAt}) end`.mapWith(
        pages.changedAt,
      ),
    })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .innerJoin(placesTable, and(eq(placesTable.id, versions.placeId), isNull(placesTable.toSeq)))
    .where(or(unpublished, isNull(pages.liveMajor), isLive))
    .orderBy(versions.placeId, desc(versions.major), desc(versions.minor));
  await tx.delete(listing);
  const words = new Map(rows.map(({ id, body, changedAt }) => [id, { body: wordsOf(body), changedAt }]));
  await writeListing(tx, null, index, new Date(), words);
  await deriveListing(tx, null);
  await countLinksIn(tx, null);
  await countViews(tx);
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
export async function reachOf(
  tx: Tx,
  index: AccessIndex,
  subject: SubjectNumber,
  at: Instant,
  mask: number,
  block?: number,
): Promise<Reach> {
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

/** Every row of the index with the number of its class. */
export async function classesOf(tx: Tx, index: AccessIndex): Promise<{ number: number; row: Row }[]> {
  const rows = index.blocks.flatMap(({ rows: list }) => [...list]);
  const missing = rows.flatMap((row) => (numberOfRow.has(row) ? [] : [{ row, sign: rowSign(index.places, row.example) }]));
  await numberRows(tx, missing);
  return rows.flatMap((row) => {
    const number = numberOfRow.get(row);
    return number === undefined ? [] : [{ number, row }];
  });
}

/** Learns the numbers of rows by their signs. */
async function numberRows(tx: Tx, rows: readonly { row: Row; sign: string }[]): Promise<void> {
  for (const batch of batches(rows)) {
    const signs = batch.map(({ sign }) => sign);
    const known = await tx.select().from(accessClasses).where(inArray(accessClasses.key, signs));
    const bySign = new Map(known.map(({ key, id }) => [key, id]));
    for (const { row, sign } of batch) if (bySign.has(sign)) numberOfRow.set(row, bySign.get(sign) as number);
  }
}

async function workOut(
  tx: Tx,
  index: AccessIndex,
  subject: SubjectNumber,
  at: Instant,
  mask: number,
  blocks: readonly Block[],
): Promise<Reach> {
  const open: { row: Row; sign: string | null }[] = [];
  let count = 0;
  for (const block of blocks) {
    for (const { row, cell } of cellsInBlock(index, block, subject, at)) {
      if (!(cell & mask)) continue;
      open.push({ row, sign: numberOfRow.has(row) ? null : rowSign(index.places, row.example) });
      count += row.places.length;
    }
  }
  await numberRows(
    tx,
    open.flatMap(({ row, sign }) => (sign === null ? [] : [{ row, sign }])),
  );
  const places = ownPlaces(index, subject, at, mask);
  return { classes: open.flatMap(({ row }) => numberOfRow.get(row) ?? []), places, count: count + places.length };
}

/** Drafts a subject owns, with what owning gives. (Pass holders do not list: a pass opens by its own address.) */
function ownPlaces(index: AccessIndex, subject: SubjectNumber, at: Instant, mask: number): string[] {
  const places: string[] = [];
  for (let place = index.ownerGate.indexOf(subject); place >= 0; place = index.ownerGate.indexOf(subject, place + 1)) {
    if (decide(index, subject, place as PlaceNumber, at) & mask) places.push((index.places[place] as CompiledPlace).place.id);
  }
  return places;
}

/** So many classes are named; of more, a bit for each says whether it is among them, which the database need not weigh one by one. */
const MOST_CLASSES_NAMED = 300;

function inClasses(classes: readonly number[]): SQL {
  const [first, last] = classes.reduce(([low, high], it) => [Math.min(low, it), Math.max(high, it)], [Number.POSITIVE_INFINITY, 0]);
  // Numbers far apart would make more bits than a list of them has letters.
  if (classes.length <= MOST_CLASSES_NAMED || last - first > classes.length * 40)
    return sql`${listing.classId} = any(${`{${classes.join(",")}}`}::int[])`;
  const bits = Buffer.alloc(Math.floor((last - first) / 8) + 1);
  for (const it of classes) bits[(it - first) >> 3] = (bits[(it - first) >> 3] as number) | (1 << ((it - first) & 7));
  return sql`case when ${listing.classId} between ${first} and ${last}
    then get_bit((select decode(${bits.toString("hex")}, 'hex')), ${listing.classId} - ${first})::boolean else false end`;
}

/** The condition on `listing` that leaves what is in reach. */
export function within({ classes, places }: Pick<Reach, "classes" | "places">): SQL {
  const numbers = inClasses(classes);
  if (places.length === 0) return numbers;
  return sql`(${numbers} or ${among(listing.placeId, places)})`;
}
