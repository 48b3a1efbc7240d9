/** What is known of pages when a routine looks at them, as far as whoever it runs as may know. */
import { and, eq, inArray, isNotNull, sql } from "drizzle-orm";
import { type CompiledSubject, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { type FlagKind, type Instant, instantAt } from "../../../core/access/model/index.ts";
import { erasableFrom } from "../../../core/lifecycle/index.ts";
import type { DoneBefore, PageFacts } from "../../../core/routines/index.ts";
import { type Access, maySee } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { flags, listing, pages, routineTold, viewCounts } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { binKeepsDays } from "../life/facts.ts";
import { type OutsideByClass, outsideByClass } from "../pages/filter.ts";
import { flagsOf, seesFlag } from "../review/lines.ts";

const at = (date: Date | null): Instant | null => (date === null ? null : instantAt(date.getTime()));

async function viewedOf(tx: Tx, ids: readonly string[]): Promise<Map<string, Instant>> {
  const rows = await tx
    .select({ id: viewCounts.placeId, day: sql<string>`max(${viewCounts.day})` })
    .from(viewCounts)
    .where(among(viewCounts.placeId, ids))
    .groupBy(viewCounts.placeId);
  return new Map(rows.map(({ id, day }) => [id, instantAt(Date.parse(day))]));
}

function outsideOf(outside: OutsideByClass, classId: number): NonNullable<PageFacts["outside"]> {
  const { public: open = false, guests = 0 } = outside.get(classId) ?? {};
  return open ? (guests > 0 ? "both" : "public") : guests > 0 ? "guests" : "nobody";
}

/** Facts of pages by their ids; of what is no page, gone, or not for whoever it runs as to see, none. */
export async function factsOf(tx: Tx, access: Access, as: CompiledSubject, ids: readonly string[]): Promise<Map<string, PageFacts>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ row: listing, confirmedAt: pages.confirmedAt })
    .from(listing)
    .leftJoin(pages, eq(pages.placeId, listing.placeId))
    .where(and(among(listing.placeId, ids), inArray(listing.kind, ["page", "bulletin"])));
  const viewed = await viewedOf(tx, ids);
  const open = await flagsOf(tx, { places: ids, open: true });
  const outside = await outsideByClass(tx, access);
  const keepsDays = await binKeepsDays(tx);
  const found = new Map<string, PageFacts>();
  for (const { row, confirmedAt } of rows) {
    const place = placeOf(access.index, row.placeId);
    if (!place || !maySee(access, as, place)) continue;
    const { state, owner, tags } = place.place;
    found.set(row.placeId, {
      id: row.placeId,
      kind: row.kind as PageFacts["kind"],
      state,
      space: row.spaceId ?? "",
      path: pathOf(access.index, place).map((step) => step.place.id),
      owner: owner ?? null,
      tags,
      readiness: row.readiness,
      changed: instantAt(row.changedAt.getTime()),
      published: at(row.publishedAt),
      confirmed: at(confirmedAt),
      viewed: viewed.get(row.placeId) ?? null,
      due: at(row.dueAt),
      outside: mayKnowOthers(access, as, place) ? outsideOf(outside, row.classId) : null,
      flags: (open.get(row.placeId) ?? []).filter((flag) => seesFlag(access, as, place, flag)).map(({ kind }) => kind),
      erasable: state === "binned" && row.leftAt ? erasableFrom(instantAt(row.leftAt.getTime()), keepsDays) : null,
    });
  }
  return found;
}

/** What was done to pages before: told by this routine, flags of them answered. */
export async function doneBefore(tx: Tx, routine: string | null, ids: readonly string[]): Promise<(id: string) => DoneBefore> {
  if (ids.length === 0) return () => ({ told: null, answered: {} });
  const told = await tx
    .select({ id: routineTold.about, at: routineTold.at })
    .from(routineTold)
    .where(and(eq(routineTold.routineId, routine ?? ""), inArray(routineTold.about, [...ids])));
  const ended = await tx
    .select({ id: flags.placeId, kind: flags.kind, at: sql<Date>`max(${flags.endedAt})`.mapWith(flags.at) })
    .from(flags)
    .where(and(inArray(flags.placeId, [...ids]), isNotNull(flags.outcome)))
    .groupBy(flags.placeId, flags.kind);
  const answered = new Map<string, Partial<Record<FlagKind, Instant>>>();
  for (const row of ended) answered.set(row.id, { ...answered.get(row.id), [row.kind]: instantAt(row.at.getTime()) });
  const toldAt = new Map(told.map((row) => [row.id, instantAt(row.at.getTime())]));
  return (id) => ({ told: toldAt.get(id) ?? null, answered: answered.get(id) ?? {} });
}
