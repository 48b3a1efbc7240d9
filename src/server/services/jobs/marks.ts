/** What is set or said of many pages alike: tags, a word of readiness, a review period, that something is wrong with them. */
import { and, eq, inArray, isNull } from "drizzle-orm";
import { MARKS, type ManyBody } from "../../../contracts/jobs.ts";
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type FlagKind, type Place, sameValue } from "../../../core/access/model/index.ts";
import { raised } from "../../../core/review/index.ts";
import { type Access, mayNot } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { flags, pages } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";

export const isMark = ({ act }: ManyBody): boolean => (MARKS as readonly string[]).includes(act);

/** What is kept of a page beside the document. */
export interface PageMarks {
  readiness: string | null;
  period: number | null;
  /** Of what kinds whoever asks flagged it already, and has no answer yet. */
  said: ReadonlySet<FlagKind>;
}

/** Of what kinds somebody flagged pages already, and has no answer yet. */
async function saidOf(tx: Tx, asker: string, ids: readonly string[]): Promise<Map<string, Set<FlagKind>>> {
  const open = await tx
    .select({ id: flags.placeId, kind: flags.kind })
    .from(flags)
    .where(and(eq(flags.by, asker), isNull(flags.outcome), inArray(flags.placeId, [...ids])));
  const said = new Map<string, Set<FlagKind>>();
  for (const { id, kind } of open) said.set(id, (said.get(id) ?? new Set<FlagKind>()).add(kind));
  return said;
}

export async function marksOf(tx: Tx, asker: string, { act }: ManyBody, ids: readonly string[]): Promise<Map<string, PageMarks>> {
  if (ids.length === 0) return new Map();
  const said = act === "flag" ? await saidOf(tx, asker, ids) : new Map<string, Set<FlagKind>>();
  const rows = await tx
    .select({ id: pages.placeId, readiness: pages.readiness, period: pages.reviewDays })
    .from(pages)
    .where(inArray(pages.placeId, [...ids]));
  return new Map(rows.map(({ id, ...marks }) => [id, { ...marks, said: said.get(id) ?? new Set() }]));
}

const POLICIES = { tag: "tag", readiness: "tag", period: "setPeriod", flag: "confirm" } as const;

/** Why somebody does not mark a page as one of many; null: they may. Readers flag what they read one by one, and so many an hour. */
export function mayNotMark(access: Access, me: CompiledSubject, { act }: ManyBody, id: string): string | null {
  const place = placeOf(access.index, id);
  if (!place || !knowsPlace(access, me, id)) return "It is not there any more, or not open to you.";
  const refusal = mayNot(access, me, POLICIES[act as keyof typeof POLICIES], place);
  return refusal !== null && act === "flag" ? "Many at once are flagged by those who own or write them." : refusal;
}

/** The flag somebody raises on one page; null where they said the same already, or the page lives no more. */
function flagEdit(
  access: Access,
  by: string,
  { kind = "doubtful", words = "" }: ManyBody,
  { id, state }: Place,
  said: PageMarks["said"],
): Edit | null {
  if (said.has(kind) || state === "archived" || state === "binned") return null;
  return { kind: "flag", place: id, flag: newId(), put: raised({ kind, by, note: words }, access.at) };
}

/** The edit by which somebody marks one page, or null where there is none to be made. */
export function markEdit(access: Access, by: string, many: ManyBody, id: string, marks: ReadonlyMap<string, PageMarks>): Edit | null {
  const place = placeOf(access.index, id)?.place;
  if (!place) return null;
  const { readiness = null, period = null, said } = marks.get(id) ?? {};
  switch (many.act) {
    case "readiness": {
      const to = many.readiness ?? null;
      return readiness === to ? null : { kind: "readiness", place: id, from: readiness, to };
    }
    case "period": {
      const to = many.period ?? null;
      return period === to ? null : { kind: "reviewPeriod", place: id, from: period, to };
    }
    case "flag":
      return said ? flagEdit(access, by, many, place, said) : null;
    default: {
      const kept = place.tags.filter((tag) => !many.remove?.includes(tag));
      const to = [...new Set([...kept, ...(many.add ?? [])])];
      return sameValue(place.tags, to) ? null : { kind: "tags", place: id, from: place.tags, to };
    }
  }
}
