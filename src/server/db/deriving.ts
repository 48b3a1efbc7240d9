/** Columns of the listing that follow from other tables: what a table of pages shows, filters and sorts by. */

import { type SQL, sql } from "drizzle-orm";
import { dayBefore } from "../clock.ts";
import type { Tx } from "./client.ts";
import { among, textArray } from "./textArray.ts";

const amongOrAll = (column: SQL, ids: readonly string[] | null): SQL => (ids === null ? sql`true` : among(column, ids));

/** When a page of the listing (`l`) is due, from what is kept of it (`d`): `dueAt` of core/review, as the database says it. */
const DUE = sql`case when l.state = 'live' then greatest(
  greatest(d.published_at, coalesce(d.confirmed_at, d.published_at))
    + coalesce(d.review_days, (select s.review_days from spaces s where s.place_id = l.space_id)) * interval '24 hours',
  case when coalesce(d.review_days, (select s.review_days from spaces s where s.place_id = l.space_id)) is not null and d.published_at is not null
    then d.aside_until end) end`;

/** Brings up to date when the pages of some spaces are due: their review period was changed, or pages came to them. */
export async function deriveDue(tx: Tx, spaces: readonly string[]): Promise<void> {
  if (spaces.length === 0) return;
  await tx.execute(sql`
    update listing as l set due_at = ${DUE} from pages d
    where d.place_id = l.place_id and l.space_id = any(${textArray(spaces)}) and l.due_at is distinct from ${DUE}`);
}

/** Brings what follows from other tables up to date, of some places or (null) of all; links and views aside. */
export async function deriveListing(tx: Tx, ids: readonly string[] | null): Promise<void> {
  if (ids?.length === 0) return;
  await tx.execute(sql`
    update listing as l set owner_id = d.owner_id, tags = d.tags, readiness = d.readiness, published_at = d.published_at,
      versions = d.versions, changed_by = d.author, left_at = d.left_at, left_by = d.left_by, due_at = ${DUE}
    from (
      select p.id, p.owner_id, p.tags, g.readiness, g.published_at, g.confirmed_at, g.review_days, g.aside_until, e.at as left_at, e.maker as left_by,
        (select count(*) from versions v where v.place_id = p.id) as versions,
        (select v.author_id from versions v
          where v.place_id = p.id and (p.state in ('draft', 'scheduled') or coalesce(p.was, 'live') <> 'live' or g.live_major is null
            or (v.major = g.live_major and v.minor = 0))
          order by v.major desc, v.minor desc limit 1) as author
      from places p left join pages g on g.place_id = p.id
      left join ledger e on p.state in ('archived', 'binned') and e.seq = coalesce(
        (select max(b.to_seq) from places b where b.id = p.id and b.to_seq is not null and b.state <> p.state), p.from_seq)
      where p.to_seq is null and ${amongOrAll(sql`p.id`, ids)}
    ) as d where l.place_id = d.id`);
}

/** Counts the live pages that link to some places, or (null) to any. */
export async function countLinksIn(tx: Tx, ids: readonly string[] | null): Promise<void> {
  if (ids?.length === 0) return;
  await tx.execute(sql`
    update listing as l set links_in = d.n
    from (
      select t.place_id as id, (select count(distinct k.place_id) from links k join listing s on s.place_id = k.place_id and s.state = 'live'
        where k.target_id = t.place_id and k.live and k.place_id <> t.place_id) as n
      from listing t where ${amongOrAll(sql`t.place_id`, ids)}
    ) as d where l.place_id = d.id and l.links_in <> d.n`);
}

/** What some pages link to: whose links in are counted anew when those pages come or go. */
export async function targetsOf(tx: Tx, ids: readonly string[]): Promise<string[]> {
  if (ids.length === 0) return [];
  const rows = await tx.execute<{ id: string }>(
    sql`select distinct target_id as id from links where live and place_id = any(${textArray(ids)})`,
  );
  return rows.map(({ id }) => id);
}

/** Sums the views of the last 30 days; only what differs is written, of so many places at most. Returns of how many. */
export async function countViews(tx: Tx, most = 1_000_000): Promise<number> {
  const written = await tx.execute(sql`
    update listing as l set views30 = d.n
    from (
      select t.place_id as id, coalesce(v.n, 0) as n from listing t
      left join (select place_id, sum(views)::int as n from view_counts where day >= ${dayBefore(30)} group by 1) v on v.place_id = t.place_id
      where t.views30 <> coalesce(v.n, 0) limit ${most}
    ) as d where l.place_id = d.id returning l.place_id`);
  return written.length;
}
