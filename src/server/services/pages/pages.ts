/** All pages in one table, as far as one may see them: a hundred rows at a time, in the order of any column. */
import { and, inArray, type SQL, sql } from "drizzle-orm";
import {
  PARTS,
  type PageCounts,
  type PageList,
  type PageRow,
  type PageSort,
  type PagesFilter,
  type PagesQuery,
  type Part,
} from "../../../contracts/pages.ts";
import { type CompiledPlace, type CompiledSubject, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { instantAt, type PageState } from "../../../core/access/model/index.ts";
import { erasableFrom } from "../../../core/lifecycle/index.ts";
import { type Access, isKeeper, mayNot, mayRead, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { listing, schedules } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { asText, beyond, type Cursor, type Direction, ordered, readCursor, type SortType, written } from "../../lists/keyset.ts";
import { binKeepsDays } from "../life/facts.ts";
import { actsFor } from "../life/planning.ts";
import { administered, conditionOf, type OutsideByClass, outsideByClass } from "./filter.ts";

const PAGE = 100;

type Row = Pick<
  typeof listing.$inferSelect,
  | "placeId"
  | "classId"
  | "state"
  | "changedAt"
  | "changedBy"
  | "publishedAt"
  | "views30"
  | "readiness"
  | "linksIn"
  | "versions"
  | "leftAt"
  | "leftBy"
  | "tags"
>;

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
  leftAt: listing.leftAt,
  leftBy: listing.leftBy,
  tags: listing.tags,
};

const ID = sql`${listing.placeId}`;

interface PlainSort {
  column: SQL;
  type: SortType;
}

/** Columns that sort by what stands in them. What is not for everybody counts as nothing where it is not for this asker. */
async function plainSort(tx: Tx, access: Access, me: CompiledSubject, sort: PageSort): Promise<PlainSort | null> {
  const masked = async (column: SQL, own: boolean): Promise<SQL> => {
    if (isKeeper(access, me)) return column;
    const mine = own ? sql` or ${listing.ownerId} = ${me.person?.id ?? ""}` : sql``;
    return sql`(case when ${await administered(tx, access, me)}${mine} then ${column} end)`;
  };
  switch (sort) {
    case "title":
      return { column: sql`${listing.title}`, type: "text" };
    case "state":
      return { column: sql`${listing.state}`, type: "text" };
    case "changed":
      return { column: sql`${listing.changedAt}`, type: "instant" };
    case "published":
      return { column: sql`${listing.publishedAt}`, type: "instant" };
    case "left":
      return { column: sql`${listing.leftAt}`, type: "instant" };
    case "readiness":
      return { column: sql`${listing.readiness}`, type: "text" };
    case "tags":
      return { column: sql`${listing.tags}`, type: "texts" };
    case "views":
      return { column: await masked(sql`${listing.views30}`, true), type: "integer" };
    case "links":
      return { column: await masked(sql`${listing.linksIn}`, false), type: "integer" };
    case "versions":
      return { column: await masked(sql`${listing.versions}`, false), type: "integer" };
    default:
      return null;
  }
}

/** Columns that sort by what something stands for: names of people, who outside reads. Groups in their order, then by id. */
async function rankedSort(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  sort: PageSort,
): Promise<{ column: SQL; type: SortType; rank(key: Value): string }> {
  if (sort === "outside") {
    const by = await outsideByClass(tx, access);
    const rank = (key: Value) => {
      const it = by.get(Number(key));
      return `${it?.public ? 1 : 0}${String(it?.guests ?? 0).padStart(7, "0")}`;
    };
    return { column: sql`${listing.classId}`, type: "integer", rank };
  }
  const names = namesFor(access, me);
  const column = sort === "owner" ? sql`${listing.ownerId}` : sql`${listing.changedBy}`;
  return { column, type: "text", rank: (key) => (key === null ? "" : names.person(String(key)).toLowerCase()) };
}

type Value = string | number | null;

async function byPlainColumn(tx: Tx, where: SQL | undefined, { column, type }: PlainSort, direction: Direction, after: Cursor | null) {
  const rows = await tx
    .select({ ...COLUMNS, key: sql<unknown>`${column}` })
    .from(listing)
    .where(and(where, after ? beyond(column, ID, direction, after, type) : undefined))
    .orderBy(ordered(column, ID, direction))
    .limit(PAGE + 1);
  const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
  return { rows: rows.slice(0, PAGE), next: last ? written({ value: asText(last.key), id: last.placeId }) : null };
}

type Ranked = Awaited<ReturnType<typeof rankedSort>>;

/** Counts what fits by key, and reads the first groups in order until the page is full. */
async function byRank(tx: Tx, where: SQL | undefined, { column, type, rank }: Ranked, direction: Direction, after: Cursor | null) {
  const groups = await tx
    .select({ key: sql<Value>`${column}`, count: sql<number>`count(*)::int` })
    .from(listing)
    .where(where)
    .groupBy(sql`1`);
  const sign = direction === "down" ? -1 : 1;
  const compare = (a: Value, b: Value): number => {
    const [x, y] = [`${rank(a)}|${a ?? ""}`, `${rank(b)}|${b ?? ""}`];
    return x === y ? 0 : (x < y ? -1 : 1) * sign;
  };
  const sorted = groups.sort((a, b) => compare(a.key, b.key));
  const from = after ? sorted.filter(({ key }) => compare(key, after.value) >= 0) : sorted;
  const rows: (Row & { key: Value })[] = [];
  for (let i = 0; i < from.length && rows.length <= PAGE; ) {
    // Whole groups as they fit the rest of the page, several at a time.
    const keys: Value[] = [];
    for (let room = PAGE + 1 - rows.length; i < from.length && (keys.length === 0 || room > 0); i++) {
      room -= from[i]?.count ?? 0;
      keys.push(from[i]?.key ?? null);
    }
    const same = keys.includes(null)
      ? sql`(${column} is null or ${column}::text = any(${textArray(keys.map(String))}))`
      : sql`${column} = any(${textArray(keys.map(String))}::${sql.raw(type)}[])`;
    const position = sql`array_position(${textArray(keys.map((key) => String(key ?? "")))}, coalesce(${column}::text, ''))`;
    const past =
      after && rows.length === 0
        ? sql`(${column}::text is distinct from ${after.value === null ? null : String(after.value)} or ${ID} > ${after.id})`
        : undefined;
    const found = await tx
      .select({ ...COLUMNS, key: sql<Value>`${column}` })
      .from(listing)
      .where(and(where, same, past))
      .orderBy(position, ID)
      .limit(PAGE + 1 - rows.length);
    rows.push(...found);
  }
  const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
  return { rows: rows.slice(0, PAGE), next: last ? written({ value: asText(last.key), id: last.placeId }) : null };
}

type Due = NonNullable<PageRow["due"]> & { placeId: string };

class Teller {
  private readonly names;

  constructor(
    private readonly access: Access,
    private readonly me: CompiledSubject,
    private readonly outside: OutsideByClass,
    private readonly due: ReadonlyMap<string, Due>,
  ) {
    this.names = namesFor(access, me);
  }

  row(it: Row): PageRow[] {
    const { access, me } = this;
    const place = placeOf(access.index, it.placeId);
    if (!place) return [];
    const { kind, title = "", owner, state } = place.place;
    const knows = mayKnowOthers(access, me, place);
    const writes = mayNot(access, me, "openWorking", place) === null;
    const person = (id: string | null) => (id === null ? "Tesoro" : this.names.person(id));
    const due = this.due.get(it.placeId);
    return [
      {
        id: it.placeId,
        title,
        kind: kind as "page" | "bulletin",
        state,
        ...this.standing(place),
        owner: owner ? this.names.person(owner) : "",
        changed: it.changedAt.toISOString(),
        by: it.changedBy ? person(it.changedBy) : "",
        published: it.publishedAt?.toISOString() ?? null,
        views: mayNot(access, me, "seeReads", place) === null ? it.views30 : null,
        outside: knows ? (this.outside.get(it.classId) ?? { public: false, guests: 0 }) : null,
        tags: place.place.tags,
        readiness: it.readiness,
        links: knows ? it.linksIn : null,
        versions: writes || knows ? it.versions : null,
        left: it.leftAt ? this.left(it.leftAt, it.leftBy, state) : null,
        due: due && (writes || knows) ? { what: due.what, at: due.at, problem: due.problem } : null,
        acts: actsFor(access, me, place),
        mayRead: mayRead(access, me, place),
      },
    ];
  }

  private left(at: Date, by: string | null, state: PageState): PageRow["left"] {
    const erasable = state === "binned" ? new Date(erasableFrom(instantAt(at.getTime()), binKeepsDays())).toISOString() : null;
    return { at: at.toISOString(), by: by === null ? "Tesoro" : this.names.person(by), erasable };
  }

  private standing(place: CompiledPlace): { path: string[]; space: string } {
    const above = pathOf(this.access.index, place).slice(1, -1);
    const title = (it: CompiledPlace) => (maySee(this.access, this.me, it) ? (it.place.title ?? "") : "…");
    const [space] = above;
    return { path: above.map(title), space: space && maySee(this.access, this.me, space) ? space.place.id : "" };
  }
}

async function dueOf(tx: Tx, ids: readonly string[]): Promise<Map<string, Due>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select()
    .from(schedules)
    .where(inArray(schedules.placeId, [...ids]))
    .orderBy(sql`${schedules.at} desc`);
  return new Map(rows.map(({ placeId, what, at, problem }) => [placeId, { placeId, what, at: at.toISOString(), problem }]));
}

/** One page of the table. */
export async function readPages(asker: string, { sort = "changed", order, after, ...filter }: PagesQuery): Promise<PageList> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const where = await conditionOf(tx, access, me, filter);
    const direction = order ?? (sort === "title" || sort === "owner" || sort === "by" ? "up" : "down");
    const plain = await plainSort(tx, access, me, sort);
    const ranked = plain ? null : await rankedSort(tx, access, me, sort);
    const cursor = after === undefined ? null : readCursor(after, (plain ?? ranked)?.type ?? "text");
    const found = plain
      ? await byPlainColumn(tx, where, plain, direction, cursor)
      : await byRank(tx, where, ranked as Ranked, direction, cursor);
    const due = await dueOf(
      tx,
      found.rows.map(({ placeId }) => placeId),
    );
    const teller = new Teller(access, me, await outsideByClass(tx, access), due);
    return { rows: found.rows.flatMap((row) => teller.row(row)), next: found.next };
  });
}

/** Every row that fits, told one by one as it is asked for. */
export async function rowsThatFit(
  tx: Tx,
  asker: string,
  filter: PagesFilter,
): Promise<{ count: number; rows(): IterableIterator<PageRow> }> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const found = await tx
    .select(COLUMNS)
    .from(listing)
    .where(await conditionOf(tx, access, me, filter))
    .orderBy(listing.title, listing.placeId);
  const teller = new Teller(access, me, await outsideByClass(tx, access), new Map());
  return {
    count: found.length,
    *rows() {
      for (const row of found) yield* teller.row(row);
    },
  };
}

/** How many fit, by part. */
export async function countPages(asker: string, { part, ...filter }: PagesFilter): Promise<PageCounts> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const where = await conditionOf(tx, access, me, filter);
    const rows = await tx
      .select({
        state: listing.state,
        count: sql<number>`count(*)::int`,
        week: sql<number>`(count(*) filter (where coalesce(${listing.leftAt}, ${listing.publishedAt}, ${listing.changedAt}) > now() - interval '7 days'))::int`,
      })
      .from(listing)
      .where(where)
      .groupBy(listing.state);
    const of = new Map(rows.map((row) => [row.state, row]));
    const parts = (Object.keys(PARTS) as Part[]).map((it) => ({
      part: it,
      count: of.get(PARTS[it])?.count ?? 0,
      week: of.get(PARTS[it])?.week ?? 0,
    }));
    const total = parts.filter((it) => part === undefined || it.part === part).reduce((sum, { count }) => sum + count, 0);
    const names = namesFor(access, me);
    const title = (id: string | undefined) => (id === undefined ? "" : names.place(id));
    const said = {
      space: title(filter.space),
      branch: title(filter.branch),
      owner: filter.owner === undefined ? "" : names.person(filter.owner),
    };
    return { parts, total, said };
  });
}

/** Ids of all that fit a filter, in the order of the tree they will be worked through: parents first. */
export async function idsThatFit(tx: Tx, access: Access, me: CompiledSubject, filter: PagesFilter, most: number): Promise<string[]> {
  const rows = await tx
    .select({ id: listing.placeId })
    .from(listing)
    .where(await conditionOf(tx, access, me, filter))
    .orderBy(listing.placeId)
    .limit(most + 1);
  return rows.map(({ id }) => id);
}
