/** In what order the table of pages can be read: what a column sorts by for one asker, and how a page of it is found. */
import { and, inArray, type SQL, sql } from "drizzle-orm";
import type { PageSort, PagesFilter } from "../../../contracts/pages.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import type { AccessIndex, CompiledSubject } from "../../../core/access/index/index.ts";
import { ADMIT, REVISE } from "../../../core/access/model/index.ts";
import { type Access, isKeeper } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { listing } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { asText, type Cursor, type Direction, partsAfter, readCursor, type SortType, written } from "../../lists/keyset.ts";
import { administered, classesRead, type OutsideByClass } from "./filter.ts";

const PAGE = 100;

const COLUMNS = {
  placeId: listing.placeId,
  classId: listing.classId,
  state: listing.state,
  changedAt: listing.changedAt,
  changedBy: listing.changedBy,
  publishedAt: listing.publishedAt,
  views30: listing.views30,
  readiness: listing.readiness,
  linksIn: listing.linksIn,
  versions: listing.versions,
  dueAt: listing.dueAt,
  leftAt: listing.leftAt,
  leftBy: listing.leftBy,
  tags: listing.tags,
};

export type Row = Pick<typeof listing.$inferSelect, keyof typeof COLUMNS>;
export const rowsOf = (tx: Tx) => tx.select(COLUMNS).from(listing);

export interface Found {
  rows: Row[];
  /** Where the next page begins. */
  next: Cursor | null;
}

const ID = sql`${listing.placeId}`;

/** Sorted by what stands in a column; `shown`: where it is for this asker to know, elsewhere it counts as nothing. */
interface ByColumn {
  column: SQL;
  type: SortType;
  shown?: SQL;
}

/** Sorted by what the values of a column stand for: each with the text it is sorted by. */
interface ByRank {
  column: SQL;
  type: "integer" | "text";
  labels: { label: string; key: string | null }[];
  /** What the key null stands for: rows that have nothing to be sorted by, for this asker at least. */
  none: SQL;
}

/** As people sort, whatever the letters' numbers. */
export const BY_TITLE = sql`(${listing.title} collate "und-x-icu")`;

const COLUMN: Partial<Record<PageSort, ByColumn>> = {
  title: { column: BY_TITLE, type: "text" },
  state: { column: sql`${listing.state}`, type: "text" },
  changed: { column: sql`${listing.changedAt}`, type: "instant" },
  published: { column: sql`${listing.publishedAt}`, type: "instant" },
  left: { column: sql`${listing.leftAt}`, type: "instant" },
  review: { column: sql`${listing.dueAt}`, type: "instant" },
  readiness: { column: sql`${listing.readiness}`, type: "text" },
  tags: { column: sql`${listing.tags}`, type: "texts" },
  views: { column: sql`${listing.views30}`, type: "integer" },
  links: { column: sql`${listing.linksIn}`, type: "integer" },
  versions: { column: sql`${listing.versions}`, type: "integer" },
};

/** What is sorted by, for whom, and who outside reads what is asked for. */
interface Sorted {
  access: Access;
  me: CompiledSubject;
  sort: PageSort;
  outside: PagesFilter["outside"];
}

/** Where what a column holds is for the asker to know; undefined: everywhere. */
async function shownIn(tx: Tx, { access, me, sort, outside }: Sorted): Promise<SQL | undefined> {
  // Who asks for what is read from outside is answered where that is theirs to know.
  if (isKeeper(access, me) || outside !== undefined) return undefined;
  if (sort === "views") return sql`(${await administered(tx, access, me)} or ${listing.ownerId} = ${me.person?.id ?? ""})`;
  if (sort === "links") return administered(tx, access, me);
  if (sort === "versions") return within(await reachOf(tx, access.index, me.number, access.at, REVISE | ADMIT | OVERSEES));
  return undefined;
}

type Labels = ByRank["labels"];

const inOrder = (labels: Labels): Labels => labels.sort((a, b) => (a.label < b.label ? -1 : a.label > b.label ? 1 : 0));

/** By the people a site has: they seldom change, and there are many. */
const byName = new WeakMap<AccessIndex["document"]["people"], Labels>();

function peopleByName({ index }: Access, name: (id: string) => string): Labels {
  const { people } = index.document;
  const known = byName.get(people);
  if (known) return known;
  const labels = inOrder([{ label: "", key: null }, ...people.map(({ id }) => ({ label: `${name(id).toLowerCase()}|${id}`, key: id }))]);
  byName.set(people, labels);
  return labels;
}

/** Put in order once for as long as who reads what stays as it is. */
const classLabels = new WeakMap<OutsideByClass, Labels>();

async function classesInOrder(tx: Tx, access: Access, outside: PagesFilter["outside"]): Promise<Labels> {
  const all = await classesRead(tx, access, undefined);
  const labels =
    classLabels.get(all) ??
    inOrder(
      [...all].map(([number, { public: open, guests }]) => ({
        label: `${open ? 1 : 0}${String(guests).padStart(7, "0")}|${String(number).padStart(10, "0")}`,
        key: String(number),
      })),
    );
  classLabels.set(all, labels);
  if (outside === undefined) return labels;
  const read = await classesRead(tx, access, outside);
  return labels.filter(({ key }) => read.has(Number(key)));
}

/** Classes by who outside reads what is in them; where the asker may not know that, they are as one. */
async function byOutside(tx: Tx, { access, me, outside }: Sorted): Promise<ByRank> {
  const by = await classesInOrder(tx, access, outside);
  const column = sql`${listing.classId}`;
  if (isKeeper(access, me)) return { column, type: "integer", labels: by, none: sql`false` };
  const { classes } = await reachOf(tx, access.index, me.number, access.at, ADMIT | OVERSEES);
  const mine = new Set(classes.map(String));
  const labels = [{ label: "", key: null }, ...by.filter(({ key }) => key !== null && mine.has(key))];
  return { column, type: "integer", labels, none: sql`not ${within({ classes, places: [] })}` };
}

async function ranked(tx: Tx, sorted: Sorted): Promise<ByRank> {
  if (sorted.sort === "outside") return byOutside(tx, sorted);
  const column = sorted.sort === "owner" ? sql`${listing.ownerId}` : sql`${listing.changedBy}`;
  const { person } = namesFor(sorted.access, sorted.me);
  return { column, type: "text", labels: peopleByName(sorted.access, person), none: sql`${column} is null` };
}

interface Asked {
  where: SQL | undefined;
  direction: Direction;
  after: Cursor | null;
}

async function byColumn(tx: Tx, { column, type, shown }: ByColumn, { where, direction, after }: Asked): Promise<Found> {
  const rows: (Row & { key: unknown })[] = [];
  for (const part of partsAfter({ column, type, id: ID, direction, valued: shown }, after)) {
    const found = await tx
      .select({ ...COLUMNS, key: sql<unknown>`${part.key}` })
      .from(listing)
      .where(and(where, part.where))
      .orderBy(part.order)
      .limit(PAGE + 1 - rows.length);
    rows.push(...found);
    if (rows.length > PAGE) break;
  }
  const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
  return { rows: rows.slice(0, PAGE), next: last ? { value: asText(last.key), id: last.placeId } : null };
}

interface Hit {
  id: string;
  label: string;
}

interface Fetch {
  where: SQL;
  /** Each key looked up by its index, else all of them at once. */
  few: boolean;
  limit: number;
}

const BY_ID = sql`order by ${ID} limit`;

/** What fits under some keys, in their order, ties by id. */
async function hits(tx: Tx, { column, type, none }: ByRank, labels: Labels, { where, few, limit }: Fetch): Promise<Hit[]> {
  const [first] = labels;
  if (first?.key === null) {
    const rows = await tx.execute<{ id: string }>(sql`select ${ID} as id from ${listing} where ${none} and ${where} ${BY_ID} ${limit}`);
    return rows.map(({ id }) => ({ id, label: first.label }));
  }
  const keys = sql`unnest(${textArray(labels.map(({ key }) => key ?? ""))}::${sql.raw(type)}[]) with ordinality as o(key, nth)`;
  // The offset keeps what else is asked out of the look-up: lists of thousands would be tried against each key.
  const ofKey = sql`(select * from ${listing} where ${column} = o.key and kind in ('page', 'bulletin') order by ${ID} offset 0) as ${listing}`;
  const found = await tx.execute<{ id: string; nth: number }>(
    few
      ? sql`select l.id, o.nth::int as nth from ${keys}
          cross join lateral (select ${ID} as id from ${ofKey} where ${where} ${BY_ID} ${limit}) l
          order by o.nth, l.id limit ${limit}`
      : sql`select ${ID} as id, o.nth::int as nth from ${listing} join ${keys} on ${column} = o.key
          where ${where} order by o.nth, ${ID} limit ${limit}`,
  );
  return found.map(({ id, nth }) => ({ id, label: labels[nth - 1]?.label ?? "" }));
}

/** So many keys are looked up one by one before all that are left are sorted at once. */
const LOOKED_UP = [20, 100];

/** Keys in pieces, each to be asked for at once; what has no key stands alone. */
function* pieces(labels: Labels): Generator<{ labels: Labels; few: boolean }> {
  for (let done = 0, step = 0; done < labels.length; step++) {
    const piece = labels.slice(done, done + (labels[done]?.key === null ? 1 : (LOOKED_UP[step] ?? labels.length)));
    const end = piece.findIndex(({ key }, i) => i > 0 && key === null);
    const taken = end < 0 ? piece : piece.slice(0, end);
    yield { labels: taken, few: step < LOOKED_UP.length };
    done += taken.length;
  }
}

/** No more than so many are sorted here, whatever they are sorted by. */
const FEW = 1_000;

/** All that fits with its label, in no order; null: there is more than can be sorted here. */
async function fewThatFit(tx: Tx, { column, labels }: ByRank, where: SQL): Promise<Hit[] | null> {
  const rows = await tx.execute<{ id: string; key: string | null }>(
    sql`select ${ID} as id, ${column}::text as key from ${listing} where ${where} limit ${FEW + 1}`,
  );
  if (rows.length > FEW) return null;
  const labelOf = new Map(labels.map(({ label, key }) => [key, label]));
  return rows.map(({ id, key }) => ({ id, label: labelOf.get(key) ?? "" }));
}

/** What comes after the cursor, by label and then by id, one more than a page at most. */
async function hitsAfter(tx: Tx, rank: ByRank, { where = sql`true`, direction, after }: Asked): Promise<Hit[]> {
  const sign = direction === "down" ? -1 : 1;
  const compare = (a: string, b: string) => (a === b ? 0 : (a < b ? -1 : 1) * sign);
  const few = await fewThatFit(tx, rank, where);
  if (few) {
    const order = (a: Hit, b: Hit) => compare(a.label, b.label) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
    const from = after && { id: after.id, label: after.value ?? "" };
    return few
      .filter((hit) => !from || order(hit, from) > 0)
      .sort(order)
      .slice(0, PAGE + 1);
  }
  const all = direction === "down" ? [...rank.labels].reverse() : rank.labels;
  const labels = after ? all.filter(({ label }) => compare(label, after.value ?? "") >= 0) : all;
  const begun = after && labels[0]?.label === after.value ? labels[0] : undefined;
  const other = begun?.key === null ? sql`not (${rank.none})` : sql`${rank.column}::text is distinct from ${begun?.key}`;
  const past = begun ? sql`(${other} or ${ID} > ${after?.id})` : sql`true`;
  const found: Hit[] = [];
  for (const piece of pieces(labels)) {
    found.push(
      ...(await hits(tx, rank, piece.labels, { where: sql`${where} and ${past}`, few: piece.few, limit: PAGE + 1 - found.length })),
    );
    if (found.length > PAGE) break;
  }
  return found;
}

async function byRank(tx: Tx, rank: ByRank, asked: Asked): Promise<Found> {
  const found = await hitsAfter(tx, rank, asked);
  const page = found.slice(0, PAGE);
  const ids = page.map(({ id }) => id);
  const rows = ids.length === 0 ? [] : await rowsOf(tx).where(inArray(listing.placeId, ids));
  const byId = new Map(rows.map((row) => [row.placeId, row]));
  const last = found.length > PAGE ? page.at(-1) : undefined;
  return { rows: ids.flatMap((id) => byId.get(id) ?? []), next: last ? { value: last.label, id: last.id } : null };
}

/** A page of the table in the order of a column, from where the last one ended. */
export async function readSorted(
  tx: Tx,
  sorted: Sorted,
  { where, direction, after }: { where: SQL | undefined; direction: Direction; after: string | undefined },
): Promise<{ rows: Row[]; next: string | null }> {
  const column = COLUMN[sorted.sort];
  const asked = { where, direction, after: after === undefined ? null : readCursor(after, column?.type ?? "text") };
  const { rows, next } = column
    ? await byColumn(tx, { ...column, shown: await shownIn(tx, sorted) }, asked)
    : await byRank(tx, await ranked(tx, sorted), asked);
  return { rows, next: next && written(next) };
}
