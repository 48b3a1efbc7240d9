/** What the newest crawl found, beside what the rules of now say (views.md, "What a crawler finds"). */
import { and, desc, eq } from "drizzle-orm";
import {
  CRAWL_KINDS,
  type CrawledOther,
  type CrawledPlace,
  type CrawlKind,
  type CrawlQuery,
  type CrawlView,
  MOST_CRAWLED,
} from "../../../contracts/crawl.ts";
import { below, type CompiledPlace, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { pauses } from "../../access/pauses.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { crawled, jobs, links, meantOutside } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { type Job, tally } from "../../jobs/running.ts";
import { readerAddress } from "../reading/addresses.ts";
import { openLive, openViewing, type Viewing } from "../reading/viewing.ts";
import { placeAt } from "./crawl.ts";

/** So many rows of the tree, and of what is no place, are told at once; the rest is counted. */
const MOST_ROWS = 400;
const MOST_OTHERS = 100;

type Row = typeof crawled.$inferSelect;

/** Places by what the rules say and by what was found. */
interface Beside {
  open: ReadonlySet<string>;
  /** What answered under each place's own address. */
  found: ReadonlyMap<string, Row>;
  /** The first page that links to each place, as its address. */
  linked: ReadonlyMap<string, string>;
  meant: ReadonlySet<string>;
  /** Places that are still to be asked for. */
  ahead: ReadonlySet<string>;
  /** Whether the crawl came to its end: only then is what was not found not to be found. */
  whole: boolean;
}

/** Links of open pages to places that the public does not read: the place, and a page that links to it. */
async function closedLinks(tx: Tx, viewing: Viewing, open: ReadonlySet<string>): Promise<Map<string, string>> {
  const { index } = viewing.access;
  const rows = await tx
    .selectDistinct({ from: links.placeId, to: links.targetId })
    .from(links)
    .where(and(links.live, among(links.placeId, [...open])));
  const closed = new Map<string, string>();
  for (const { from, to } of rows) {
    const [source, target] = [placeOf(index, from), placeOf(index, to)];
    if (source && target && !open.has(to) && !closed.has(to)) closed.set(to, readerAddress(viewing.slugs, index, source));
  }
  return closed;
}

async function besides(tx: Tx, viewing: Viewing, rows: readonly Row[], whole: boolean): Promise<Beside> {
  const { index } = viewing.access;
  const open = new Set(
    index.blocks.flatMap((block, number) =>
      block.space < 0 ? [] : openLive(viewing, number).flatMap((numbers) => numbers.map((it) => index.places[it]?.place.id ?? "")),
    ),
  );
  const found = new Map<string, Row>();
  const linked = await closedLinks(tx, viewing, open);
  const bySlug = new Map([...viewing.slugs].map(([id, slug]) => [slug, id]));
  const ahead = new Set<string>();
  for (const row of rows) {
    if (row.status === null && row.problem === null) ahead.add(placeAt(row.address, bySlug) ?? "");
    // What stands after a question mark shows the page in another way: an older version of it.
    if (row.placeId === null || row.address.includes("?") || !placeOf(index, row.placeId)) continue;
    if (row.from !== null && !linked.has(row.placeId)) linked.set(row.placeId, row.from);
    if (row.status === 200) found.set(row.placeId, row);
  }
  const meant = await tx.select({ id: meantOutside.placeId }).from(meantOutside);
  return { open, found, linked, meant: new Set(meant.map(({ id }) => id)), ahead, whole };
}

/** How a place stands; null: it is closed, not found and not linked, or the crawl did not come to it. */
function standingOf({ place }: CompiledPlace, { open, found, linked, meant, ahead, whole }: Beside): CrawlKind | null {
  const it = found.get(place.id);
  if (ahead.has(place.id) || (!whole && !it && open.has(place.id))) return null;
  if (!open.has(place.id)) return it ? "differs" : linked.has(place.id) ? "closed" : null;
  if (!linked.has(place.id)) return whole ? "unlinked" : null;
  if (!it) return "differs";
  if (it.noindex) return "unindexed";
  // Nobody says of a space that it is meant: its pages are.
  return place.kind === "space" || meant.has(place.id) ? "meant" : "unmeant";
}

/** Every place there is something to say of, spaces in their order and what is in each as its tree has it. */
async function stood(viewing: Viewing, beside: Beside): Promise<{ place: CompiledPlace; as: CrawlKind }[]> {
  const { index } = viewing.access;
  const pause = pauses();
  const all: { place: CompiledPlace; as: CrawlKind }[] = [];
  for (const { placeId } of viewing.spaces) {
    const space = placeOf(index, placeId);
    for (const place of space ? below(index, space) : []) {
      const as = standingOf(place, beside);
      if (as !== null) all.push({ place, as });
      await pause();
    }
  }
  return all;
}

/** The rows of the tree: what is shown, each under the places above it. */
function treeOf(
  viewing: Viewing,
  shown: readonly { place: CompiledPlace; as: CrawlKind }[],
  { open, found, linked }: Beside,
): CrawledPlace[] {
  const { index } = viewing.access;
  const bySlug = new Map([...viewing.slugs].map(([id, slug]) => [slug, id]));
  const standing = new Map(shown.map(({ place, as }) => [place, as]));
  const told = new Set<CompiledPlace>();
  return shown.flatMap(({ place }) =>
    pathOf(index, place)
      .slice(1)
      .flatMap((step, depth): CrawledPlace[] => {
        if (told.has(step)) return [];
        told.add(step);
        const { id, title = "", kind } = step.place;
        const address = linked.get(id);
        const from = address === undefined ? undefined : placeOf(index, placeAt(address, bySlug) ?? "");
        return [
          {
            id,
            title,
            kind,
            depth,
            as: standing.get(step) ?? null,
            open: open.has(id),
            found: found.has(id),
            from:
              address === undefined
                ? null
                : { id: from?.place.id ?? "", title: from?.place.title ?? (address === "/" ? "the front door" : address), address },
          },
        ];
      }),
  );
}

/** What answered with an error, was kept back or leads away. Addresses that lead on to a page that was found are none of these. */
function othersIn(rows: readonly Row[]): CrawledOther[] {
  return rows.flatMap(({ address, from, status, problem }): CrawledOther[] => {
    if (problem !== null) return [{ address, from, said: problem }];
    return status !== null && status >= 400
      ? [{ address, from, said: status === 404 ? "there is nothing there" : `answered ${status}` }]
      : [];
  });
}

async function crawlOf(tx: Tx, access: Access, me: ReturnType<typeof subjectFor>, job: Job, known: number): Promise<CrawlView["crawl"]> {
  const { done = 0, skipped = 0 } = (await tally(tx, [job.id])).get(job.id) ?? {};
  return {
    job: job.id,
    by: namesFor(access, me).person(job.by),
    state: job.state,
    problem: job.problem,
    startedAt: job.startedAt.toISOString(),
    endedAt: job.endedAt?.toISOString() ?? null,
    asked: done + skipped,
    known,
    cut: known >= MOST_CRAWLED,
  };
}

const NONE: Omit<CrawlView, "counts"> = { crawl: null, spaces: [], rows: [], unshown: 0, others: [], othersUnshown: 0 };
const noCounts = (): Record<CrawlKind, number> => Object.fromEntries(CRAWL_KINDS.map((kind) => [kind, 0])) as Record<CrawlKind, number>;

/** What the newest crawl found; for site keepers, who know of every place. */
export const readCrawlHere = (asker: string, { show, space }: CrawlQuery): Promise<CrawlView> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "keepHouse");
    const [job] = await tx.select().from(jobs).where(eq(jobs.kind, "crawl")).orderBy(desc(jobs.startedAt)).limit(1);
    if (!job) return { ...NONE, counts: noCounts() };
    const viewing = await openViewing(tx, { me: null, viewpoint: null });
    const rows = await tx.select().from(crawled).where(eq(crawled.jobId, job.id)).orderBy(crawled.address);
    const beside = await besides(tx, viewing, rows, job.state === "done" && rows.length < MOST_CRAWLED);
    const all = await stood(viewing, beside);
    const counts = noCounts();
    const bySpace = new Map<number, number>();
    for (const { place, as } of all) {
      counts[as]++;
      if (show === undefined || as === show) bySpace.set(place.space, (bySpace.get(place.space) ?? 0) + 1);
    }
    const named = (number: number) => viewing.access.index.places[number] as CompiledPlace;
    const wanted = all.filter(
      ({ place, as }) => (show === undefined || as === show) && (space === undefined || named(place.space).place.id === space),
    );
    const others = othersIn(rows);
    return {
      crawl: await crawlOf(tx, access, me, job, rows.length),
      counts,
      spaces: [...bySpace].map(([number, count]) => ({ id: named(number).place.id, name: named(number).place.title ?? "", count })),
      rows: treeOf(viewing, wanted.slice(0, MOST_ROWS), beside),
      unshown: Math.max(0, wanted.length - MOST_ROWS),
      others: others.slice(0, MOST_OTHERS),
      othersUnshown: Math.max(0, others.length - MOST_OTHERS),
    };
  });

export const readCrawl = ofWholeSite(
  "readCrawlHere",
  async (asker: string) => {
    const access = await accessNow();
    need(access, subjectFor(access, asker), "keepHouse");
  },
  readCrawlHere,
);
