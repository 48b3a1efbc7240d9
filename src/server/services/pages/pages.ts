/** All pages in one table, as far as one may see them: a hundred rows at a time, in the order of any column. */
import { count, inArray, sql } from "drizzle-orm";
import {
  type GoneSpace,
  PARTS,
  type PageCounts,
  type PageList,
  type PageRow,
  type PagesFilter,
  type PagesQuery,
  type Part,
} from "../../../contracts/pages.ts";
import { type CompiledPlace, type CompiledSubject, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { instantAt, type PageState } from "../../../core/access/model/index.ts";
import { erasableFrom } from "../../../core/lifecycle/index.ts";
import { type Access, mayNot, mayRead, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor, titlesAbove } from "../../access/known.ts";
import { inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { listing, schedules, submissions } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { binKeepsDays } from "../life/facts.ts";
import { actsFor } from "../life/planning.ts";
import { type FlagRow, flagsOf, seesFlag } from "../review/lines.ts";
import { draftsOf } from "../workbench/bench.ts";
import { versionName } from "../writing/versions.ts";
import { conditionOf, type OutsideByClass, outsideByClass, waitsFor } from "./filter.ts";
import { BY_TITLE, type Row, readSorted, rowsOf } from "./sorting.ts";

type Due = NonNullable<PageRow["due"]> & { placeId: string };
type GivenIn = typeof submissions.$inferSelect;

class Teller {
  private readonly names;

  constructor(
    private readonly access: Access,
    private readonly me: CompiledSubject,
    private readonly outside: OutsideByClass,
    private readonly due: ReadonlyMap<string, Due>,
    private readonly given: ReadonlyMap<string, GivenIn>,
    private readonly keepsDays: number,
    private readonly flags: ReadonlyMap<string, FlagRow[]> = new Map(),
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
        left: it.leftAt && toldLeft(access, me, { at: it.leftAt, by: it.leftBy, state, keepsDays: this.keepsDays }),
        due: due && (writes || knows) ? { what: due.what, at: due.at, problem: due.problem } : null,
        approval: writes ? this.givenIn(it.placeId) : null,
        review: state === "live" ? (it.dueAt?.toISOString() ?? null) : null,
        flags: (this.flags.get(it.placeId) ?? []).filter((flag) => seesFlag(access, me, place, flag)).length,
        acts: actsFor(access, me, place),
        mayRead: mayRead(access, me, place),
      },
    ];
  }

  private givenIn(id: string): PageRow["approval"] {
    const row = this.given.get(id);
    if (!row || row.answer === "approved") return null;
    return { version: versionName(row), by: this.names.person(row.by), at: row.at.toISOString(), sentBack: row.answer === "sentBack" };
  }

  private standing(place: CompiledPlace): { path: string[]; space: string } {
    const [, space] = pathOf(this.access.index, place).slice(0, -1);
    return { path: titlesAbove(this.access, this.me, place), space: space && maySee(this.access, this.me, space) ? space.place.id : "" };
  }
}

/** When and by whom something came to the archive or the bin, and from when it may be erased. */
function toldLeft(
  access: Access,
  me: CompiledSubject,
  { at, by, state, keepsDays }: { at: Date; by: string | null; state: PageState; keepsDays: number },
): PageRow["left"] {
  const erasable = state === "binned" ? new Date(erasableFrom(instantAt(at.getTime()), keepsDays)).toISOString() : null;
  return { at: at.toISOString(), by: by === null ? "Tesoro" : namesFor(access, me).person(by), erasable };
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

async function givenInOf(tx: Tx, ids: readonly string[]): Promise<Map<string, GivenIn>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select()
    .from(submissions)
    .where(inArray(submissions.placeId, [...ids]));
  return new Map(rows.map((row) => [row.placeId, row]));
}

/** One page of the table. */
export async function readPages(asker: string, { sort = "changed", order, after, ...filter }: PagesQuery): Promise<PageList> {
  return inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const where = await conditionOf(tx, access, me, filter);
    const direction = order ?? (sort === "title" || sort === "owner" || sort === "by" ? "up" : "down");
    const found = await readSorted(tx, { access, me, sort, outside: filter.outside }, { where, direction, after });
    const ids = found.rows.map(({ placeId }) => placeId);
    const outside = await outsideByClass(tx, access);
    const flags = await flagsOf(tx, { places: ids, open: true });
    const teller = new Teller(access, me, outside, await dueOf(tx, ids), await givenInOf(tx, ids), await binKeepsDays(tx), flags);
    return { rows: found.rows.flatMap((row) => teller.row(row)), next: found.next };
  });
}

/** So many rows are taken in at once: others have their turn in between. */
const AT_ONCE = 1_000;

/** Every row that fits, told one by one as it is asked for. */
export async function rowsThatFit(
  tx: Tx,
  asker: string,
  filter: PagesFilter,
): Promise<{ count: number; rows(): IterableIterator<PageRow> }> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const ids = await tx.execute<{ id: string }>(
    sql`select ${listing.placeId} as id from ${listing} where ${await conditionOf(tx, access, me, filter)} order by ${BY_TITLE}, 1`,
  );
  const found: Row[] = [];
  for (let i = 0; i < ids.length; i += AT_ONCE) {
    const piece = ids.slice(i, i + AT_ONCE).map(({ id }) => id);
    const rows = new Map((await rowsOf(tx).where(among(listing.placeId, piece))).map((row) => [row.placeId, row]));
    found.push(...piece.flatMap((id) => rows.get(id) ?? []));
  }
  const teller = new Teller(access, me, await outsideByClass(tx, access), new Map(), new Map(), await binKeepsDays(tx));
  return {
    count: found.length,
    *rows() {
      for (const row of found) yield* teller.row(row);
    },
  };
}

const WEEK = 7 * 24 * 3_600_000;

/** How many fit, by part. */
export async function countPages(asker: string, { part, ...filter }: PagesFilter): Promise<PageCounts> {
  return inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const where = await conditionOf(tx, access, me, filter);
    const rows = await tx
      .select({
        state: listing.state,
        count: sql<number>`count(*)::int`,
        week: sql<number>`(count(*) filter (where coalesce(${listing.leftAt}, ${listing.publishedAt}, ${listing.changedAt}) > ${new Date(access.at - WEEK).toISOString()}::timestamptz))::int`,
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
    const { space, ...narrower } = filter;
    const whole = Object.values(narrower).every((it) => it === undefined) && (part === "archive" || part === "bin");
    const gone = (whole ? await goneSpaces(tx, access, me, part) : []).filter(({ id }) => space === undefined || id === space);
    const [waiting] = await tx
      .select({ count: count() })
      .from(listing)
      .where(await waitsFor(tx, access, me, "mine"));
    return {
      parts,
      total,
      said,
      spaces: gone.slice(0, MOST_SPACES),
      moreSpaces: Math.max(0, gone.length - MOST_SPACES),
      toApprove: waiting?.count ?? 0,
      onBench: await draftsOf(tx, asker),
    };
  });
}

const MOST_SPACES = 20;

/** Spaces in the archive that somebody may know of, or in the bin that they may restore; the latest first. */
async function goneSpaces(tx: Tx, access: Access, me: CompiledSubject, part: "archive" | "bin"): Promise<GoneSpace[]> {
  const { places } = access.index;
  const there = access.index.blocks.flatMap(({ space }) => {
    const place = places[space];
    return place?.place.kind === "space" && place.place.state === PARTS[part] && maySee(access, me, place) ? [place] : [];
  });
  if (there.length === 0) return [];
  const rows = await tx
    .select({ id: listing.placeId, leftAt: listing.leftAt, leftBy: listing.leftBy })
    .from(listing)
    .where(
      among(
        listing.placeId,
        there.map(({ place }) => place.id),
      ),
    )
    .orderBy(sql`${listing.leftAt} desc nulls last`, listing.placeId);
  const keepsDays = await binKeepsDays(tx);
  return rows.flatMap(({ id, leftAt, leftBy }): GoneSpace[] => {
    const place = placeOf(access.index, id);
    if (!place) return [];
    const left = leftAt && toldLeft(access, me, { at: leftAt, by: leftBy, state: place.place.state, keepsDays });
    const acts = actsFor(access, me, place);
    return part === "bin" && !acts.includes("restore") ? [] : [{ id, title: place.place.title ?? "", left, acts }];
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
