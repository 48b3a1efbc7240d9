/** Views by week and kind of reader, and what follows from them, where an asker may know how often pages are read. */
import { and, eq, or, type SQL, sql } from "drizzle-orm";
import {
  FEWEST_PEOPLE,
  type MissedWords,
  READS_ROWS,
  type Reads,
  type ReadsExportQuery,
  type ReadsList,
  type ReadsQuery,
  type ReadsWeek,
  STALE_AFTER_DAYS,
  type Views,
} from "../../../contracts/reads.ts";
import { below, type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, mayNot, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { titlesAbove } from "../../access/known.ts";
import { inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { listing, pages, readerMarks, searchMisses, viewCounts } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { notThere, refused } from "../../trouble.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { administered, seenBy } from "../pages/filter.ts";
import { streamed } from "../programs/exports/formats.ts";
import { weekOf } from "./noting.ts";

const DAY = 86_400_000;
const WEEK = 7 * DAY;

interface Asking {
  tx: Tx;
  access: Access;
  me: CompiledSubject;
  about: CompiledPlace | null;
  /** Pages asked about, of which the asker may know how often they are read. */
  where: SQL;
  /** The first week, by its Monday. */
  from: string;
}

async function asking(tx: Tx, asker: string, { about: id, alone, weeks = "26" }: ReadsQuery): Promise<Asking> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const about = id === undefined ? null : seenPlace(access, me, id);
  if (about?.place.kind === "site") throw notThere();
  if (about && about.place.kind !== "space") {
    const refusal = mayNot(access, me, "seeReads", about);
    if (refusal !== null) throw refused(refusal);
  }
  const mine = or(await administered(tx, access, me), and(eq(listing.ownerId, asker), await seenBy(tx, access, me)));
  const ids = (place: CompiledPlace) => (alone ? [place] : below(access.index, place)).map((it) => it.place.id);
  const within =
    about === null ? undefined : about.place.kind === "space" ? eq(listing.spaceId, about.place.id) : among(listing.placeId, ids(about));
  const where = and(sql`${listing.kind} in ('page', 'bulletin')`, mine, within) as SQL;
  return { tx, access, me, about, where, from: weekOf(access.at - (Number(weeks) - 1) * WEEK) };
}

const NONE: Views = { outsiders: 0, guests: 0, members: 0 };
const KIND = { outsider: "outsiders", guest: "guests", member: "members" } as const;

/** Every week since the first, with its views and how many people those who were signed in were. */
async function weeksOf({ tx, access, where, from }: Asking, keptDays: number): Promise<ReadsWeek[]> {
  const views = await tx
    .select({
      week: sql<string>`to_char(date_trunc('week', ${viewCounts.day}), 'YYYY-MM-DD')`,
      reader: viewCounts.reader,
      views: sql<number>`sum(${viewCounts.views})::int`,
    })
    .from(viewCounts)
    .innerJoin(listing, eq(listing.placeId, viewCounts.placeId))
    .where(and(where, sql`${viewCounts.day} >= ${from}::date`))
    .groupBy(sql`1`, viewCounts.reader);
  const people = await tx
    .select({ week: readerMarks.week, people: sql<number>`count(distinct ${readerMarks.mark})::int` })
    .from(readerMarks)
    .innerJoin(listing, eq(listing.placeId, readerMarks.placeId))
    .where(and(where, sql`${readerMarks.week} >= ${from}::date`))
    .groupBy(readerMarks.week);
  const weeks = new Map<string, ReadsWeek>();
  const keptSince = weekOf(access.at - keptDays * DAY);
  for (let at = Date.parse(from); at <= access.at; at += WEEK) {
    const week = new Date(at).toISOString().slice(0, 10);
    weeks.set(week, { week, ...NONE, people: keptDays > 0 && week >= keptSince ? 0 : null });
  }
  for (const { week, reader, views: count } of views) {
    const it = weeks.get(week);
    if (it) it[KIND[reader]] += count;
  }
  for (const { week, people: count } of people) {
    const it = weeks.get(week);
    if (it) it.people = count;
  }
  return [...weeks.values()];
}

function listOf({ access, me }: Asking, rows: readonly { id: string; views: number; since: Date | null; count: number }[]): ReadsList {
  return {
    count: rows[0]?.count ?? 0,
    rows: rows.flatMap(({ id, views, since }) => {
      const place = placeOf(access.index, id);
      if (!place) return [];
      const space = titlesAbove(access, me, place)[0] ?? "";
      return [{ id, title: place.place.title ?? "", space, views, since: since?.toISOString() ?? null }];
    }),
  };
}

const COUNT = sql<number>`(count(*) over ())::int`;
const isLive = sql`${listing.state} = 'live'`;
const affirmed = sql<Date>`greatest(${pages.confirmedAt}, ${listing.publishedAt})`.mapWith(listing.publishedAt);

/** What was read most in these weeks. */
async function mostRead(it: Asking): Promise<ReadsList> {
  const views = sql<number>`sum(${viewCounts.views})::int`;
  const rows = await it.tx
    .select({ id: listing.placeId, views, since: listing.publishedAt, count: COUNT })
    .from(viewCounts)
    .innerJoin(listing, eq(listing.placeId, viewCounts.placeId))
    .where(and(it.where, isLive, sql`${viewCounts.day} >= ${it.from}::date`))
    .groupBy(listing.placeId, listing.publishedAt)
    .orderBy(sql`${views} desc`, listing.placeId)
    .limit(READS_ROWS);
  return listOf(it, rows);
}

/** Live pages that nobody ever read, those that have waited longest first. */
async function neverRead(it: Asking): Promise<ReadsList> {
  const rows = await it.tx
    .select({ id: listing.placeId, views: sql<number>`0`, since: listing.publishedAt, count: COUNT })
    .from(listing)
    .where(and(it.where, isLive, sql`not exists (select 1 from ${viewCounts} v where v.place_id = ${listing.placeId})`))
    .orderBy(sql`${listing.publishedAt} nulls first`, listing.placeId)
    .limit(READS_ROWS);
  return listOf(it, rows);
}

/** What is read, and nobody confirmed or published for long: the most read first. */
async function readButStale(it: Asking): Promise<ReadsList> {
  const before = new Date(it.access.at - STALE_AFTER_DAYS * DAY).toISOString();
  const rows = await it.tx
    .select({ id: listing.placeId, views: listing.views30, since: affirmed, count: COUNT })
    .from(listing)
    .innerJoin(pages, eq(pages.placeId, listing.placeId))
    .where(
      and(
        it.where,
        isLive,
        sql`${listing.views30} > 0`,
        sql`greatest(${pages.confirmedAt}, ${listing.publishedAt}) < ${before}::timestamptz`,
      ),
    )
    .orderBy(sql`${listing.views30} desc`, listing.placeId)
    .limit(READS_ROWS);
  return listOf(it, rows);
}

/**
 * What was searched for and not found, by at least so many people. The public are never told apart: of them each day counts
 * as one.
 */
async function missedWords({ tx, access, me, from }: Asking): Promise<MissedWords[] | null> {
  if (!isKeeper(access, me)) return null;
  const of = (reader: string) =>
    sql<number>`coalesce(sum(${searchMisses.times}) filter (where ${searchMisses.reader} = ${reader}), 0)::int`;
  const people = sql<number>`(count(distinct ${searchMisses.mark}) filter (where ${searchMisses.mark} <> '')
    + count(distinct ${searchMisses.day}) filter (where ${searchMisses.mark} = ''))::int`;
  return tx
    .select({ words: searchMisses.words, outsiders: of("outsider"), guests: of("guest"), members: of("member"), people })
    .from(searchMisses)
    .where(sql`${searchMisses.day} >= ${from}::date`)
    .groupBy(searchMisses.words)
    .having(sql`${people} >= ${FEWEST_PEOPLE}`)
    .orderBy(sql`sum(${searchMisses.times}) desc`, searchMisses.words)
    .limit(READS_ROWS * 2);
}

/** How many different people who were signed in read any of it within one week, at most; of several weeks nobody can say, since marks change with each. */
const mostPeople = (weeks: readonly ReadsWeek[]): number | null =>
  weeks.every(({ people }) => people === null) ? null : Math.max(0, ...weeks.map(({ people }) => people ?? 0));

export const readReads = (asker: string, query: ReadsQuery): Promise<Reads> =>
  inSnapshotOfLists(async (tx) => {
    const it = await asking(tx, asker, query);
    const { useDays } = await readHouseRules(tx);
    const weeks = await weeksOf(it, useDays);
    const sum = (kind: keyof Views) => weeks.reduce((all, week) => all + week[kind], 0);
    const single = query.alone === "yes";
    const none: ReadsList = { rows: [], count: 0 };
    return {
      about: it.about ? { id: it.about.place.id, name: it.about.place.title ?? "" } : null,
      weeks,
      total: { outsiders: sum("outsiders"), guests: sum("guests"), members: sum("members"), people: mostPeople(weeks) },
      most: single ? none : await mostRead(it),
      never: single ? none : await neverRead(it),
      stale: single ? none : await readButStale(it),
      missed: it.about === null ? await missedWords(it) : null,
      keptDays: useDays,
    };
  });

const EXPORTED = ["id", "title", "space", "week", "outsiders", "guests", "members"];
const MOST_LINES = 1_000_000;

/** Every page's views, week by week. */
export async function exportReads(asker: string, { format, ...query }: ReadsExportQuery): Promise<Response> {
  const lines = await inSnapshotOfLists(async (tx) => {
    const it = await asking(tx, asker, query);
    const of = (reader: string) => sql<number>`coalesce(sum(${viewCounts.views}) filter (where ${viewCounts.reader} = ${reader}), 0)::int`;
    const rows = await tx
      .select({
        id: viewCounts.placeId,
        week: sql<string>`to_char(date_trunc('week', ${viewCounts.day}), 'YYYY-MM-DD')`,
        outsiders: of("outsider"),
        guests: of("guest"),
        members: of("member"),
      })
      .from(viewCounts)
      .innerJoin(listing, eq(listing.placeId, viewCounts.placeId))
      .where(and(it.where, sql`${viewCounts.day} >= ${it.from}::date`))
      .groupBy(viewCounts.placeId, sql`2`)
      .orderBy(viewCounts.placeId, sql`2`)
      .limit(MOST_LINES);
    return rows.flatMap(({ id, week, ...views }) => {
      const place = placeOf(it.access.index, id);
      const space = place ? (titlesAbove(it.access, it.me, place)[0] ?? "") : "";
      return place
        ? [[id, place.place.title ?? "", space, week, String(views.outsiders), String(views.guests), String(views.members)]]
        : [];
    });
  });
  return streamed(format, "reads", EXPORTED, lines, () => lines.length);
}
