/** Tags with their counts, as far as one may see the pages that bear them. */
import { sql } from "drizzle-orm";
import type { TagList } from "../../../contracts/tags.ts";
import { isKeeper, mayNot, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { listing } from "../../db/schema/index.ts";
import { holding } from "../../db/textArray.ts";
import { seenBy } from "./filter.ts";

const MOST = 200;

export const listTags = (asker: string, words: string): Promise<TagList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const seen = await seenBy(tx, access, me);
    const rows = await tx.execute<{ tag: string; count: number; total: number }>(sql`
      select tag, count(*)::int as count, (count(*) over ())::int as total
      from ${listing} cross join unnest(${listing.tags}) as tag where ${seen} and tag ilike ${holding(words)}
      group by tag order by count(*) desc, tag limit ${MOST}`);
    const pledged = new Set(isKeeper(access, me) ? access.index.document.pledges.flatMap(({ where }) => where.tag ?? []) : []);
    return {
      tags: rows.map(({ tag, count }) => ({ tag, count, pledged: pledged.has(tag) })),
      total: rows[0]?.total ?? 0,
      mayChange: mayNot(access, me, "changeTagsEverywhere") === null,
    };
  });
