/**
 * A crawl of our own: the running site walked over HTTP from its front door and its sitemap, as a stranger's program would. A job,
 * a few addresses at a time; what it comes upon are its further items, so that a stop, a restart and going on lose nothing.
 */
import { and, desc, eq, inArray, sql } from "drizzle-orm";
import { MOST_CRAWLED } from "../../../contracts/crawl.ts";
import type { Ordered } from "../../../contracts/jobs.ts";
import { isActive } from "../../../core/access/index/index.ts";
import { idInAddress } from "../../../core/content/index.ts";
import { isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { afterCommit, inChange, inSnapshot, onLeavingDatabase, type Tx } from "../../db/client.ts";
import { crawled, jobItems, jobs, spaces } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { handOut } from "../../jobs/boss.ts";
import { enterJob, type Item, type Job, type Kind, type Results, Stop } from "../../jobs/running.ts";
import { siteAddress } from "../../notices/mail.ts";
import { changedMeanwhile } from "../../trouble.ts";
import { type Answered, BOUNDS, readRobots, readSitemap, visit } from "./walking.ts";

const DOOR = "/";
/** So many addresses are asked for at once. */
const AT_ONCE = 4;
/** A crawl takes so long at most. */
const MINUTES = 60;
/** So many crawls are kept, the newest. */
const KEPT = 2;

/** Begins a crawl, unless one is under way. */
export const startCrawl = (maker: string): Promise<Ordered> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "keepHouse");
    const before = await tx
      .select({ id: jobs.id, state: jobs.state })
      .from(jobs)
      .where(eq(jobs.kind, "crawl"))
      .orderBy(desc(jobs.startedAt));
    if (before.some(({ state }) => state === "waiting" || state === "running"))
      throw changedMeanwhile("A crawl is under way already. Let it come to its end, or stop it, then start another.");
    const items = [{ placeId: DOOR, state: "waiting" as const, message: null, seq: null }];
    const id = await enterJob(tx, { kind: "crawl", by: maker, order: { note: "" }, items });
    await tx.insert(crawled).values({ jobId: id, address: DOOR });
    const gone = before.slice(KEPT - 1).map((it) => it.id);
    if (gone.length > 0) await tx.delete(crawled).where(inArray(crawled.jobId, gone));
    afterCommit(tx, () => void handOut("job", { id }));
    return { id };
  });

/** What this process knows of the crawls it works on. */
const under = new Map<string, { allows: (address: string) => boolean; since: number }>();
onLeavingDatabase(() => under.clear());

async function begun(job: Job) {
  const known = under.get(job.id);
  if (known) return known;
  const allows = await readRobots(siteAddress()).catch(() => {
    throw new Stop(`This site could not be reached at ${siteAddress()}, the address it is configured with. Nothing was asked for.`);
  });
  const it = { allows, since: Date.now() };
  under.set(job.id, it);
  return it;
}

/** Stops where its starter may not crawl any more, or the time is up. */
async function checkStill(job: Job, since: number): Promise<void> {
  const may = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, job.by);
    return isActive(me, access.at) && isKeeper(access, me);
  });
  const late = Date.now() - since > MINUTES * 60_000;
  if (may && !late) return;
  under.delete(job.id);
  throw new Stop(
    may ? `It took more than ${MINUTES} minutes: what it found so far is kept.` : "Whoever started this may not do it any more.",
  );
}

interface Visited {
  item: Item;
  answer: Answered;
  /** What it leads to, with how many answers lead on one after the other. */
  onwards: { address: string; from: string | null; hops: number }[];
}

const KEPT_BACK: Answered = { status: null, noindex: false, onwards: null, links: [], problem: "robots.txt asks not to be asked for this" };

async function visited(item: Item, hops: number, allows: (address: string) => boolean): Promise<Visited> {
  const address = item.placeId;
  if (!allows(address)) return { item, answer: KEPT_BACK, onwards: [] };
  const answer = await visit(siteAddress(), address);
  const onwards: Visited["onwards"] = answer.links.map((link) => ({ address: link, from: address, hops: 0 }));
  if (address === DOOR) {
    const listed = await readSitemap(siteAddress(), MOST_CRAWLED).catch(() => []);
    onwards.push(...listed.map((it) => ({ address: it, from: null, hops: 0 })));
  }
  if (answer.onwards !== null) {
    if (hops >= BOUNDS.hops) return { item, answer: { ...answer, problem: `leads on more than ${BOUNDS.hops} times` }, onwards: [] };
    onwards.push({ address: answer.onwards, from: address, hops: hops + 1 });
  }
  return { item, answer, onwards };
}

/** The place an address names, wherever it leads: a page by its id, a space by its name. */
export function placeAt(address: string, bySlug: ReadonlyMap<string, string>): string | null {
  const [, slug, page] = /^\/read\/([^/?]+)(?:\/([^/?]+))?\/?(?:\?|$)/.exec(address) ?? [];
  if (slug === undefined) return null;
  try {
    return page === undefined ? (bySlug.get(decodeURIComponent(slug)) ?? null) : idInAddress(decodeURIComponent(page));
  } catch {
    return null;
  }
}

const ROWS = 2_000;

/** Of a walk: what was found at the addresses of these. */
const ofJob = <T>(job: Job, list: readonly T[], address: (of: T) => string) =>
  and(eq(crawled.jobId, job.id), among(crawled.address, list.map(address)));

/** Takes in what was come upon: each address once, the first that led there kept; no more than a crawl may ask for. */
async function takeIn(tx: Tx, job: Job, onwards: Visited["onwards"]): Promise<void> {
  const news = [...new Map([...onwards].reverse().map((it) => [it.address, it])).values()].filter(({ address }) => address !== DOOR);
  if (news.length === 0) return;
  const [{ count = 0 } = {}] = await tx.select({ count: sql<number>`count(*)::int` }).from(jobItems).where(eq(jobItems.jobId, job.id));
  let nth = count;
  for (let i = 0; i < news.length; i += ROWS) {
    const part = news.slice(i, i + ROWS);
    const known = await tx
      .select({ address: crawled.address, from: crawled.from })
      .from(crawled)
      .where(ofJob(job, part, ({ address }) => address));
    const first = new Map(known.map((it) => [it.address, it.from]));
    // What stood in the sitemap alone until now is linked from here on.
    for (const { address, from } of part)
      if (first.get(address) === null && from !== null)
        await tx
          .update(crawled)
          .set({ from })
          .where(and(eq(crawled.jobId, job.id), eq(crawled.address, address)));
    const added = part.filter(({ address }) => !first.has(address)).slice(0, MOST_CRAWLED - nth);
    if (added.length === 0) continue;
    await tx.insert(crawled).values(added.map((it) => ({ ...it, jobId: job.id })));
    await tx
      .insert(jobItems)
      .values(added.map(({ address }) => ({ jobId: job.id, nth: nth++, placeId: address, state: "waiting" as const })));
  }
}

async function keep(tx: Tx, job: Job, { item, answer }: Visited, bySlug: ReadonlyMap<string, string>): Promise<void> {
  const { status, noindex, problem } = answer;
  await tx
    .update(crawled)
    .set({ status, noindex, problem, placeId: placeAt(item.placeId, bySlug) })
    .where(and(eq(crawled.jobId, job.id), eq(crawled.address, item.placeId)));
}

export const crawlJob: Kind = {
  batch: AT_ONCE,
  async look(job, items) {
    const { allows, since } = await begun(job);
    await checkStill(job, since);
    const found = await inSnapshot(async (tx) => ({
      hops: await tx
        .select({ address: crawled.address, hops: crawled.hops })
        .from(crawled)
        .where(ofJob(job, items, ({ placeId }) => placeId)),
      spaces: await tx.select({ id: spaces.placeId, slug: spaces.slug }).from(spaces),
    }));
    const hopsOf = new Map(found.hops.map(({ address, hops }) => [address, hops]));
    const bySlug = new Map(found.spaces.map(({ id, slug }) => [slug, id]));
    const all = await Promise.all(items.map((item) => visited(item, hopsOf.get(item.placeId) ?? 0, allows)));
    return async (tx): Promise<Results> => {
      for (const it of all) await keep(tx, job, it, bySlug);
      await takeIn(
        tx,
        job,
        all.flatMap(({ onwards }) => onwards),
      );
      return all.map(({ item }) => ({ nth: item.nth, state: "done" }));
    };
  },
};
