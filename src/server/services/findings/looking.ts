/** Looking through every live page of the site: a job, some hundred pages at a time. */
import { and, desc, eq, gte, inArray, isNotNull, lt, sql } from "drizzle-orm";
import type { Ordered } from "../../../contracts/jobs.ts";
import { isActive } from "../../../core/access/index/index.ts";
import { lookFor } from "../../../core/findings/index.ts";
import { isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { pauses } from "../../access/pauses.ts";
import { afterCommit, inChange, inSnapshot, type Tx, takeTurn } from "../../db/client.ts";
import { jobs, pages, versions } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { handOut } from "../../jobs/boss.ts";
import { enterJob, type Item, type Job, type Kind, Stop } from "../../jobs/running.ts";
import { changedMeanwhile } from "../../trouble.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { rowsOf, writeFindings } from "./keeping.ts";

/** So many pages are one item of the job. */
const AT_ONCE = 200;
/** What parts the first page of an item from the first of the next. */
const UP_TO = "..";

/** Where each item begins and the next one does, by ids in order. */
async function ranges(tx: Tx): Promise<string[]> {
  const begins = await tx.execute<{ id: string }>(sql`
    select id from (select place_id as id, row_number() over (order by place_id) as nth from ${pages} where live_major is not null) p
    where nth % ${AT_ONCE} = 1 or ${AT_ONCE} = 1 order by id`);
  return begins.map(({ id }, i) => `${id}${UP_TO}${begins[i + 1]?.id ?? ""}`);
}

/** Begins to look through the whole site, unless somebody does already. */
export const lookForFindings = (maker: string): Promise<Ordered> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "keepHouse");
    const [under] = await tx
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(eq(jobs.kind, "findings"), inArray(jobs.state, ["waiting", "running"])));
    if (under) throw changedMeanwhile("The site is being looked through already. Let it come to its end, or stop it, then start again.");
    const items = (await ranges(tx)).map((placeId) => ({ placeId, state: "waiting" as const, message: null, seq: null }));
    const { sensitiveWords } = await readHouseRules(tx);
    const id = await enterJob(tx, { kind: "findings", by: maker, order: { note: "", words: sensitiveWords }, items });
    afterCommit(tx, () => void handOut("job", { id }));
    return { id };
  });

/** The newest that came to its end, and the one that is under way. */
export async function newestLook(tx: Tx): Promise<{ ended: Job | undefined; under: Job | undefined }> {
  const rows = await tx.select().from(jobs).where(eq(jobs.kind, "findings")).orderBy(desc(jobs.startedAt)).limit(20);
  return {
    ended: rows.find(({ state }) => state === "done"),
    under: rows.find(({ state }) => state === "waiting" || state === "running"),
  };
}

/** The live texts of an item's pages. */
async function textsOf(tx: Tx, { placeId }: Item) {
  const [from = "", to = ""] = placeId.split(UP_TO);
  return tx
    .select({ id: pages.placeId, major: pages.liveMajor, body: versions.body })
    .from(pages)
    .innerJoin(versions, and(eq(versions.placeId, pages.placeId), eq(versions.major, pages.liveMajor), eq(versions.minor, 0)))
    .where(and(isNotNull(pages.liveMajor), gte(pages.placeId, from), to === "" ? undefined : lt(pages.placeId, to)));
}

export const findingsJob: Kind = {
  batch: 1,
  async look(job, [item]) {
    if (!item) return async () => [];
    const { texts, words } = await inSnapshot(async (tx) => {
      const access = await readAccess(tx);
      const me = subjectFor(access, job.by);
      if (!isActive(me, access.at) || !isKeeper(access, me)) throw new Stop("Whoever started this may not do it any more.");
      return { texts: await textsOf(tx, item), words: (await readHouseRules(tx)).sensitiveWords };
    });
    const looking = lookFor(words);
    const pause = pauses();
    const found = new Map<string, ReturnType<typeof rowsOf>>();
    for (const text of texts) {
      found.set(text.id, rowsOf(text, looking));
      await pause();
    }
    return async (tx) => {
      // Whoever publishes meanwhile writes what is in the newer text: that is not written over.
      await takeTurn(tx);
      const now = await tx
        .select({ id: pages.placeId, major: pages.liveMajor })
        .from(pages)
        .where(among(pages.placeId, [...found.keys()]));
      const majors = new Map(now.map(({ id, major }) => [id, major]));
      const same = texts.filter(({ id, major }) => majors.get(id) === major).map(({ id }) => id);
      await writeFindings(
        tx,
        same,
        same.flatMap((id) => found.get(id) ?? []),
      );
      return [{ nth: item.nth, state: "done" }];
    };
  },
};
