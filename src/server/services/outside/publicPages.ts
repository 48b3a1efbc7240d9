/** What the public reads, for whoever may see the rules there: since when, through what, how often, and whether that is meant. */
import { and, desc, eq, inArray, isNotNull, isNull, type SQL, sql } from "drizzle-orm";
import type { ExposedList, ExposedPage, MeantBody, OutsideFilter, OutsideQuery } from "../../../contracts/outside.ts";
import { explain, explanationText } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { labelOf } from "../../../core/ledger/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, mayRead, need, readAccess, seenPlace, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsPlace, namesFor, titlesAbove } from "../../access/known.ts";
import { inChange, inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { exposures, ledger, links, listing, meantOutside, viewCounts } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { appendEntry } from "../../ledger/append.ts";
import { partsAfter, readCursor, written } from "../../lists/keyset.ts";
import { badRequest } from "../../trouble.ts";
import { administered } from "../pages/filter.ts";
import { streamed } from "../programs/exports/formats.ts";

const PAGE = 100;
const DAYS = 30;

const everybodyIn = ({ index }: Access): CompiledSubject => subjectOf(index, { public: true }) as CompiledSubject;

/** Pages the public reads at this moment, among those whose rules the asker may see. */
async function outsideFor(tx: Tx, access: Access, me: CompiledSubject): Promise<SQL> {
  const open = within(await reachOf(tx, access.index, everybodyIn(access).number, access.at, READ));
  return and(inArray(listing.kind, ["page", "bulletin"]), open, await administered(tx, access, me)) as SQL;
}

function conditionOf(access: Access, me: CompiledSubject, { show, space }: OutsideFilter): SQL | undefined {
  // A space that one may not know of holds nothing.
  const inSpace = space === undefined ? undefined : knowsPlace(access, me, space) ? eq(listing.spaceId, space) : sql`false`;
  const settled = show === "new" ? isNull(meantOutside.placeId) : show === "meant" ? isNotNull(meantOutside.placeId) : undefined;
  return and(inSpace, settled);
}

interface Found {
  id: string;
  at: Date | null;
  seq: (typeof exposures.$inferSelect)["seq"] | null;
  meantBy: string | null;
  meantAt: Date | null;
}

const COLUMNS = { id: listing.placeId, at: exposures.at, seq: exposures.seq, meantBy: meantOutside.by, meantAt: meantOutside.at };

/** What is found beside the rules of so many pages at once. */
async function besides(tx: Tx, access: Access, found: readonly Found[]) {
  const ids = textArray(found.map(({ id }) => id));
  const seqs = [...new Set(found.flatMap(({ seq }) => (seq === null ? [] : [seq])))];
  const entries =
    seqs.length === 0
      ? []
      : await tx.select({ seq: ledger.seq, maker: ledger.maker, act: ledger.act }).from(ledger).where(inArray(ledger.seq, seqs));
  const views = await tx
    .select({ id: viewCounts.placeId, views: sql<string>`sum(${viewCounts.views})` })
    .from(viewCounts)
    .where(
      sql`${viewCounts.placeId} = any(${ids}) and ${viewCounts.reader} = 'outsider' and ${viewCounts.day} >= current_date - ${DAYS}::int`,
    )
    .groupBy(viewCounts.placeId);
  const linked = await tx
    .selectDistinct({ from: links.placeId, to: links.targetId })
    .from(links)
    .where(sql`${links.placeId} = any(${ids}) and ${links.live}`);
  const everybody = everybodyIn(access);
  const nowhere = new Map<string, number>();
  for (const { from, to } of linked) {
    const target = placeOf(access.index, to);
    if (!target || !mayRead(access, everybody, target)) nowhere.set(from, (nowhere.get(from) ?? 0) + 1);
  }
  return {
    entries: new Map(entries.map((entry) => [entry.seq, entry])),
    views: new Map(views.map(({ id, views: count }) => [id, Number(count)])),
    nowhere,
  };
}

async function rowsOf(tx: Tx, access: Access, me: CompiledSubject, found: readonly Found[]): Promise<ExposedPage[]> {
  const { entries, views, nowhere } = await besides(tx, access, found);
  const names = namesFor(access, me);
  const everybody = everybodyIn(access);
  return found.flatMap(({ id, at, seq, meantBy, meantAt }): ExposedPage[] => {
    const place = placeOf(access.index, id);
    if (!place) return [];
    const entry = seq === null ? undefined : entries.get(seq);
    const why = explain(access.index, everybody, "read", place, access.at);
    const { steps } = explanationText(why, "The public", names);
    return [
      {
        id,
        title: place.place.title ?? "",
        kind: place.place.kind === "bulletin" ? "bulletin" : "page",
        path: titlesAbove(access, me, place),
        since:
          at && entry
            ? {
                at: at.toISOString(),
                seq: entry.seq,
                who: entry.maker === null ? "Tesoro" : names.person(entry.maker),
                act: labelOf(entry.act),
              }
            : null,
        through: steps.map((sentence, i) => {
          const step = why.steps[i];
          return { sentence, place: step && "place" in step && knowsPlace(access, me, step.place) ? step.place : "" };
        }),
        reads: views.get(id) ?? 0,
        nowhere: nowhere.get(id) ?? 0,
        meant: meantBy && meantAt ? { by: names.person(meantBy), at: meantAt.toISOString() } : null,
      },
    ];
  });
}

const joined = (tx: Tx) =>
  tx
    .select(COLUMNS)
    .from(listing)
    .leftJoin(exposures, eq(exposures.placeId, listing.placeId))
    .leftJoin(meantOutside, eq(meantOutside.placeId, listing.placeId))
    .$dynamic();

export async function readOutside(asker: string, { after, ...filter }: OutsideQuery): Promise<ExposedList> {
  const cursor = after === undefined ? null : readCursor(after, "instant");
  return inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const outside = await outsideFor(tx, access, me);
    const where = and(outside, conditionOf(access, me, filter));
    const found: Found[] = [];
    const sorting = { column: sql`${exposures.at}`, type: "instant" as const, id: sql`${listing.placeId}`, direction: "down" as const };
    for (const part of partsAfter(sorting, cursor)) {
      const left = PAGE + 1 - found.length;
      if (left > 0) found.push(...(await joined(tx).where(and(where, part.where)).orderBy(part.order).limit(left)));
    }
    const page = found.slice(0, PAGE);
    const last = page.at(-1);
    const spaces = await spacesOf(tx, access, me, outside);
    return {
      rows: await rowsOf(tx, access, me, page),
      next: found.length > PAGE && last ? written({ value: last.at?.toISOString() ?? null, id: last.id }) : null,
      spaces,
      total: totalOf(spaces, filter),
    };
  });
}

/** One line a space: how many pages of it are outside, and how many nobody said are meant. */
async function spacesOf(tx: Tx, access: Access, me: CompiledSubject, outside: SQL): Promise<ExposedList["spaces"]> {
  const rows = await tx
    .select({
      id: listing.spaceId,
      open: sql<number>`count(*)::int`,
      unsettled: sql<number>`(count(*) filter (where ${meantOutside.placeId} is null))::int`,
    })
    .from(listing)
    .leftJoin(meantOutside, eq(meantOutside.placeId, listing.placeId))
    .where(outside)
    .groupBy(listing.spaceId)
    .orderBy(desc(sql`count(*)`));
  const named = ({ id, ...counts }: (typeof rows)[number]) => {
    // Of a space that one may not know of, the pages one keeps in it are counted without its name.
    const space = id !== null && knowsPlace(access, me, id) ? placeOf(access.index, id) : undefined;
    return { id: space?.place.id ?? "", name: space?.place.title ?? "elsewhere", ...counts };
  };
  return rows.map(named);
}

function totalOf(spaces: ExposedList["spaces"], { show, space }: OutsideFilter): number {
  return spaces
    .filter(({ id }) => space === undefined || id === space)
    .reduce((sum, { open, unsettled }) => sum + (show === "new" ? unsettled : show === "meant" ? open - unsettled : open), 0);
}

const EXPORTED = [
  "id",
  "title",
  "in",
  "since",
  "entry",
  "by",
  "through",
  "reads in 30 days",
  "links leading nowhere",
  "meant by",
  "meant since",
];
const AT_ONCE = 500;

/** All of it that fits, as lines of a file. */
export const outsideLinesHere = (asker: string, filter: OutsideFilter): Promise<string[][]> =>
  inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const where = and(await outsideFor(tx, access, me), conditionOf(access, me, filter));
    const found = await joined(tx).where(where).orderBy(sql`${exposures.at} desc nulls last`, listing.placeId);
    const rows: string[][] = [];
    for (let i = 0; i < found.length; i += AT_ONCE) {
      for (const row of await rowsOf(tx, access, me, found.slice(i, i + AT_ONCE)))
        rows.push([
          row.id,
          row.title,
          row.path.join(" / "),
          row.since?.at ?? "",
          String(row.since?.seq ?? ""),
          row.since?.who ?? "",
          row.through.map(({ sentence }) => sentence).join("; "),
          String(row.reads),
          String(row.nowhere),
          row.meant?.by ?? "",
          row.meant?.at ?? "",
        ]);
    }
    return rows;
  });

const outsideLines = ofWholeSite("outsideLinesHere", somebodyKnown, outsideLinesHere);

export async function exportOutside(
  asker: string,
  { format, ...filter }: OutsideFilter & { format: "csv" | "json" | "xlsx" },
): Promise<Response> {
  const lines = await outsideLines(asker, filter);
  return streamed(format, "outside", EXPORTED, lines, () => lines.length);
}

/** Says that pages are meant to be outside, or not any more. */
export const meanOutside = (maker: string, { places, meant }: MeantBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const all = places.map((id) => seenPlace(access, me, id));
    for (const place of all) need(access, me, "meanOutside", place);
    const everybody = everybodyIn(access);
    if (meant && all.some((place) => !mayRead(access, everybody, place)))
      throw badRequest("The public does not read all of these any more: look again, then say which are meant to be outside.");
    const ofThem = sql`${meantOutside.placeId} = any(${textArray(places)})`;
    const said = new Set((await tx.select({ id: meantOutside.placeId }).from(meantOutside).where(ofThem)).map(({ id }) => id));
    // What was said already is not said again.
    const news = places.filter((id) => said.has(id) !== meant);
    if (news.length === 0) return {};
    const entry = await appendEntry(tx, { maker, act: "meanOutside", places: news, detail: { meant } }, access.at);
    if (meant) await tx.insert(meantOutside).values(news.map((placeId) => ({ placeId, by: maker, at: entry.at })));
    else await tx.delete(meantOutside).where(ofThem);
    return {};
  });
