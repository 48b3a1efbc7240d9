/** Edits of the review of pages, which the access document does not hold: whether they fit what is there now, and writing them. */
import { eq, inArray } from "drizzle-orm";
import { placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, flagStep, type PageFlag, type ReviewMark, sameValue } from "../../../core/access/model/index.ts";
import { isPeriod } from "../../../core/review/index.ts";
import type { Access } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { flags, pages } from "../../db/schema/index.ts";

type ReviewEdit = Extract<Edit, { kind: "reviewPeriod" | "reviewed" | "flag" }>;

const reviewIn = (edits: readonly Edit[]): ReviewEdit[] =>
  edits.filter((edit): edit is ReviewEdit => edit.kind === "reviewPeriod" || edit.kind === "reviewed" || edit.kind === "flag");

type PageRow = Pick<typeof pages.$inferSelect, "reviewDays" | "confirmedAt" | "confirmedBy" | "asideUntil">;

/** Where the review of a page stands, as edits say it. */
export const markOf = ({ confirmedAt, confirmedBy, asideUntil }: PageRow): ReviewMark => ({
  ...(confirmedAt ? { confirmed: confirmedAt.toISOString() } : {}),
  ...(confirmedBy ? { by: confirmedBy } : {}),
  ...(asideUntil ? { asideUntil: asideUntil.toISOString() } : {}),
});

type FlagRow = typeof flags.$inferSelect;

/** A flag as edits say it. */
export const flagOf = ({ kind, by, at, due, to, note, quote, outcome, endedBy, endedAt, reason }: FlagRow): PageFlag => ({
  kind,
  ...(by ? { by } : {}),
  at: at.toISOString(),
  due: due.toISOString(),
  ...(to ? { to } : {}),
  note,
  ...(quote ? { quote } : {}),
  ...(outcome ? { outcome } : {}),
  ...(endedBy ? { endedBy } : {}),
  ...(endedAt ? { endedAt: endedAt.toISOString() } : {}),
  ...(reason ? { reason } : {}),
});

const rowOf = (id: string, placeId: string, it: PageFlag): FlagRow => ({
  id,
  placeId,
  kind: it.kind,
  by: it.by ?? null,
  at: new Date(it.at),
  due: new Date(it.due),
  to: it.to ?? null,
  note: it.note,
  quote: it.quote ?? null,
  outcome: it.outcome ?? null,
  endedBy: it.endedBy ?? null,
  endedAt: it.endedAt ? new Date(it.endedAt) : null,
  reason: it.reason ?? "",
});

/** Flags by their ids, as they are now. */
export async function flagsById(tx: Tx, ids: readonly string[]): Promise<Map<string, FlagRow>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select()
    .from(flags)
    .where(inArray(flags.id, [...ids]));
  return new Map(rows.map((row) => [row.id, row]));
}

/** Where the review of some pages stands. */
export async function marksById(tx: Tx, ids: readonly string[]): Promise<Map<string, PageRow>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({
      id: pages.placeId,
      reviewDays: pages.reviewDays,
      confirmedAt: pages.confirmedAt,
      confirmedBy: pages.confirmedBy,
      asideUntil: pages.asideUntil,
    })
    .from(pages)
    .where(inArray(pages.placeId, [...ids]));
  return new Map(rows.map(({ id, ...row }) => [id, row]));
}

const NOTHING_YET: PageRow = { reviewDays: null, confirmedAt: null, confirmedBy: null, asideUntil: null };

/** Edits of reviews that are not what they say, or come to nothing that can be. */
export async function reviewConflicts(tx: Tx, { index, at }: Access, edits: readonly Edit[]): Promise<EditConflict[]> {
  const review = reviewIn(edits);
  if (review.length === 0) return [];
  const marks = await marksById(
    tx,
    review.map(({ place }) => place),
  );
  const known = await flagsById(
    tx,
    review.flatMap((edit) => (edit.kind === "flag" ? [edit.flag] : [])),
  );
  return review.flatMap((edit): EditConflict[] => {
    const now = marks.get(edit.place) ?? NOTHING_YET;
    if (edit.kind === "reviewPeriod") {
      if (now.reviewDays !== edit.from) return [{ edit, message: "its review period was changed meanwhile" }];
      return isPeriod(edit.to) ? [] : [{ edit, message: "a review period is a whole number of days, 1 to 3,650", unlawful: true }];
    }
    if (placeOf(index, edit.place)?.place.state === "binned") return [{ edit, message: "it was put in the bin meanwhile" }];
    if (edit.kind === "reviewed") {
      if (!sameValue(markOf(now), edit.from)) return [{ edit, message: "it was confirmed or set aside meanwhile" }];
      const ahead = edit.to.confirmed !== undefined && Date.parse(edit.to.confirmed) > at;
      return ahead ? [{ edit, message: "nothing is confirmed ahead of its time", unlawful: true }] : [];
    }
    const row = known.get(edit.flag);
    const before = row && row.placeId === edit.place ? flagOf(row) : undefined;
    if (row && !before) return [{ edit, message: "the flag is on another page", unlawful: true }];
    if (!sameValue(before, edit.remove)) return [{ edit, message: "the flag was answered or changed meanwhile" }];
    return flagStep(edit.remove, edit.put) ? [] : [{ edit, message: "a flag does not become that", unlawful: true }];
  });
}

/** Writes what edits say of reviews. */
export async function writeReview(tx: Tx, edits: readonly Edit[]): Promise<void> {
  for (const edit of reviewIn(edits)) {
    if (edit.kind === "flag") {
      const row = edit.put && rowOf(edit.flag, edit.place, edit.put);
      if (row) await tx.insert(flags).values(row).onConflictDoUpdate({ target: flags.id, set: row });
      else await tx.delete(flags).where(eq(flags.id, edit.flag));
      continue;
    }
    const { confirmed, by, asideUntil } = edit.kind === "reviewed" ? edit.to : {};
    const mark =
      edit.kind === "reviewPeriod"
        ? { reviewDays: edit.to }
        : {
            confirmedAt: confirmed ? new Date(confirmed) : null,
            confirmedBy: by ?? null,
            asideUntil: asideUntil ? new Date(asideUntil) : null,
          };
    await tx.update(pages).set(mark).where(eq(pages.placeId, edit.place));
  }
}
