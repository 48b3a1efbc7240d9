/** What the public reads, for whoever may see the rules there: since when, through what, how often, and whether that is meant. */

import { and, eq, isNotNull, isNull, type SQL, sql } from "drizzle-orm";
import type { ExposedList, ExposedPage, MeantBody, OutsideFilter, OutsideQuery } from "../../../contracts/outside.ts";
import { explain, explanationText } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, mayRead, need, readAccess, seenPlace, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsPlace, namesFor, titlesAbove } from "../../access/known.ts";
import { dayBefore } from "../../clock.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { exposures, links, meantOutside, viewCounts } from "../../db/schema/index.ts";
import { among, textArray } from "../../db/textArray.ts";
import { appendEntry } from "../../ledger/append.ts";
import { type Cursor, partsAfter, readCursor, written } from "../../lists/keyset.ts";
import { badRequest } from "../../trouble.ts";
import { entriesInPassing } from "../ledger/told.ts";
import { streamed } from "../programs/exports/formats.ts";
import { type OpenPages, openPages } from "./openPages.ts";

const PAGE = 100;
const DAYS = 30;

const everybodyIn = ({ index }: Access): CompiledSubject => subjectOf(index, { public: true }) as CompiledSubject;

interface Found {
  id: string;
  at: Date | null;
  seq: (typeof exposures.$inferSelect)["seq"] | null;
  meantBy: string | null;
  meantAt: Date | null;
}

const COLUMNS = { id: exposures.placeId, at: exposures.at, seq: exposures.seq, meantBy: meantOutside.by, meantAt: meantOutside.at };

/** What is found beside the rules of so many pages at once. */
async function besides(tx: Tx, access: Access, found: readonly Found[]) {
  const ids = textArray(found.map(({ id }) => id));
  const views = await tx
    .select({ id: viewCounts.placeId, views: sql<string>`sum(${viewCounts.views})` })
    .from(viewCounts)
    .where(sql`${viewCounts.placeId} = any(${ids}) and ${viewCounts.reader} = 'outsider' and ${viewCounts.day} >= ${dayBefore(DAYS)}`)
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
    views: new Map(views.map(({ id, views: count }) => [id, Number(count)])),
    nowhere,
  };
}

async function rowsOf(tx: Tx, access: Access, me: CompiledSubject, found: readonly Found[]): Promise<ExposedPage[]> {
  const { views, nowhere } = await besides(tx, access, found);
  const entries = await entriesInPassing(
    tx,
    access,
    me,
    found.map(({ seq }) => seq),
  );
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
        since: at && entry ? { at: at.toISOString(), ...entry } : null,
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

/** Pages as they stand in the table of exposures, the newest outside first. */
const exposed = (tx: Tx) =>
  tx.select(COLUMNS).from(exposures).leftJoin(meantOutside, eq(meantOutside.placeId, exposures.placeId)).$dynamic();

const ORDER = { column: sql`${exposures.at}`, type: "instant" as const, id: sql`${exposures.placeId}`, direction: "down" as const };

const settledAs = (show: OutsideFilter["show"]): SQL | undefined =>
  show === "new" ? isNull(meantOutside.placeId) : show === "meant" ? isNotNull(meantOutside.placeId) : undefined;

/** So many are read at once, and then more: nearly all that stand in the table are open to the public. */
const CHUNKS = [250, 1_000, 5_000];

/** Fewer than so many are asked for one by one, as of one space or for a keeper of few. */
const MOST_NAMED = 3_000;

/** The pages that fit after a cursor, so many at most: few by name; of many the table is read in order and gone through by the rules as they are here. */
async function newestOf(tx: Tx, fitting: Fitting, show: OutsideFilter["show"], after: Cursor | null, most: number): Promise<Found[]> {
  const found: Found[] = [];
  const few = fitting.size <= MOST_NAMED ? among(exposures.placeId, [...fitting]) : undefined;
  let from = after;
  for (let nth = 0; found.length < most && from?.value !== null; nth++) {
    const chunk = few ? most : (CHUNKS[Math.min(nth, CHUNKS.length - 1)] as number);
    const [part] = partsAfter(ORDER, from);
    const rows = await exposed(tx)
      .where(and(few, part?.where, settledAs(show)))
      .orderBy(part?.order as SQL)
      .limit(chunk);
    found.push(...(few ? rows : rows.filter(({ id }) => fitting.has(id))));
    const last = rows.at(-1);
    from = rows.length < chunk || !last ? { value: null, id: "~" } : { value: last.at?.toISOString() ?? null, id: last.id };
  }
  return found.slice(0, most);
}

/** Ids of the pages that are asked about and that the public reads. */
type Fitting = ReadonlySet<string>;

/** Pages that the public read since before all that is kept: in no table, so that they are what is left of all that are open. */
async function unkept(tx: Tx, fitting: Fitting, show: OutsideFilter["show"], after: Cursor | null): Promise<Found[]> {
  const kept = new Set((await tx.select({ id: exposures.placeId }).from(exposures)).map(({ id }) => id));
  const ids = [...fitting].filter((id) => !kept.has(id));
  if (ids.length === 0) return [];
  const meant = await tx.select().from(meantOutside).where(among(meantOutside.placeId, ids));
  const said = new Map(meant.map((row) => [row.placeId, row]));
  const past = (id: string) => after === null || after.value !== null || id < after.id;
  return ids
    .filter((id) => past(id) && (show === undefined || said.has(id) === (show === "meant")))
    .sort((a, b) => (a < b ? 1 : -1))
    .map((id): Found => ({ id, at: null, seq: null, meantBy: said.get(id)?.by ?? null, meantAt: said.get(id)?.at ?? null }));
}

/** What fits a filter after a cursor, in the order of the list. */
async function foundFor(tx: Tx, { access, me, open }: Asking, { show, space }: OutsideFilter, after: Cursor | null, most: number) {
  // A space that one may not know of holds nothing.
  if (space !== undefined && !knowsPlace(access, me, space)) return [];
  const here = open.filter((it) => space === undefined || it.space.place.id === space).flatMap(({ pages }) => pages);
  const fitting = new Set(here.map(({ place }) => place.id));
  const found = await newestOf(tx, fitting, show, after, most);
  return found.length < most ? [...found, ...(await unkept(tx, fitting, show, after))].slice(0, most) : found;
}

/** Who asks, and what the public reads where they may see rules. */
interface Asking {
  access: Access;
  me: CompiledSubject;
  open: OpenPages[];
}

async function asking(tx: Tx, asker: string): Promise<Asking> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  return { access, me, open: await openPages(access, me) };
}

export async function readOutside(asker: string, { after, ...filter }: OutsideQuery): Promise<ExposedList> {
  const cursor = after === undefined ? null : readCursor(after, "instant");
  return inSnapshot(async (tx) => {
    const it = await asking(tx, asker);
    const found = await foundFor(tx, it, filter, cursor, PAGE + 1);
    const page = found.slice(0, PAGE);
    const last = page.at(-1);
    const spaces = await spacesOf(tx, it);
    return {
      rows: await rowsOf(tx, it.access, it.me, page),
      next: found.length > PAGE && last ? written({ value: last.at?.toISOString() ?? null, id: last.id }) : null,
      spaces,
      total: totalOf(spaces, filter),
    };
  });
}

/** One line a space: how many pages of it are outside, and how many nobody said are meant. */
async function spacesOf(tx: Tx, { access, me, open }: Asking): Promise<ExposedList["spaces"]> {
  const meant = await tx.select({ id: meantOutside.placeId }).from(meantOutside);
  const settled = new Set(meant.flatMap(({ id }) => placeOf(access.index, id) ?? []));
  return open
    .map(({ space, pages }) => {
      // Of a space that one may not know of, the pages one keeps in it are counted without its name.
      const known = knowsPlace(access, me, space.place.id);
      const unsettled = settled.size === 0 ? pages.length : pages.filter((page) => !settled.has(page)).length;
      return { id: known ? space.place.id : "", name: known ? (space.place.title ?? "") : "elsewhere", open: pages.length, unsettled };
    })
    .sort((a, b) => b.open - a.open);
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
  inSnapshot(async (tx) => {
    const it = await asking(tx, asker);
    const { access, me } = it;
    const found = await foundFor(tx, it, filter, null, access.index.places.length);
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
    const ofThem = among(meantOutside.placeId, places);
    const said = new Set((await tx.select({ id: meantOutside.placeId }).from(meantOutside).where(ofThem)).map(({ id }) => id));
    // What was said already is not said again.
    const news = places.filter((id) => said.has(id) !== meant);
    if (news.length === 0) return {};
    const entry = await appendEntry(tx, { maker, act: "meanOutside", places: news, detail: { meant } }, access.at);
    if (meant) await tx.insert(meantOutside).values(news.map((placeId) => ({ placeId, by: maker, at: entry.at })));
    else await tx.delete(meantOutside).where(ofThem);
    return {};
  });
