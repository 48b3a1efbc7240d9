/** What is said of pages and spaces beside the access document: readiness, its words, how pages are arranged. */
import { inArray, sql } from "drizzle-orm";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, sameValue } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { pages, spaces } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";

type MarkEdit = Extract<Edit, { kind: "readiness" | "readinessWords" | "arranged" }>;

const marksIn = (edits: readonly Edit[]): MarkEdit[] =>
  edits.filter((edit): edit is MarkEdit => edit.kind === "readiness" || edit.kind === "readinessWords" || edit.kind === "arranged");

/** Marks that are not what edits say they are, and words of readiness that a space does not have. */
export async function markConflicts(tx: Tx, index: AccessIndex, edits: readonly Edit[]): Promise<EditConflict[]> {
  const marks = marksIn(edits);
  if (marks.length === 0) return [];
  const ids = marks.map(({ place }) => place);
  const spaceOf = (id: string) => index.places[placeOf(index, id)?.space ?? -1]?.place.id ?? "";
  const spaceRows = await tx
    .select()
    .from(spaces)
    .where(inArray(spaces.placeId, [...new Set(ids.map(spaceOf))]));
  const pageRows = await tx
    .select({ id: pages.placeId, readiness: pages.readiness })
    .from(pages)
    .where(sql`${pages.placeId} = any(${textArray(ids)})`);
  const spacesById = new Map(spaceRows.map((row) => [row.placeId, row]));
  const readiness = new Map(pageRows.map((row) => [row.id, row.readiness]));
  // Words that the same change gives a space can be used in it at once.
  const given = new Map(marks.flatMap((edit) => (edit.kind === "readinessWords" ? [[edit.place, edit.to] as const] : [])));
  return marks.flatMap((edit): EditConflict[] => {
    const space = spacesById.get(spaceOf(edit.place));
    if (edit.kind === "arranged")
      return space?.arranged === edit.from ? [] : [{ edit, message: "the order of its pages was changed meanwhile" }];
    if (edit.kind === "readinessWords")
      return sameValue(space?.readiness ?? [], edit.from) ? [] : [{ edit, message: "the words of readiness were changed meanwhile" }];
    if ((readiness.get(edit.place) ?? null) !== edit.from) return [{ edit, message: "the readiness was changed meanwhile" }];
    const words = given.get(space?.placeId ?? "") ?? space?.readiness ?? [];
    if (edit.to === null || words.includes(edit.to)) return [];
    return [{ edit, message: "the space has no such word of readiness", unlawful: true }];
  });
}

/** Writes marks as edits give them. */
export async function writeMarks(tx: Tx, edits: readonly Edit[]): Promise<void> {
  const byWord = new Map<string | null, string[]>();
  for (const edit of marksIn(edits)) {
    if (edit.kind === "readiness") byWord.set(edit.to, [...(byWord.get(edit.to) ?? []), edit.place]);
    else
      await tx
        .update(spaces)
        .set(edit.kind === "arranged" ? { arranged: edit.to } : { readiness: edit.to })
        .where(inArray(spaces.placeId, [edit.place]));
  }
  for (const [readiness, ids] of byWord)
    await tx
      .update(pages)
      .set({ readiness })
      .where(sql`${pages.placeId} = any(${textArray(ids)})`);
}
