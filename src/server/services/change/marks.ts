/** What is said of pages and spaces beside the access document: readiness, its words, what a space is called, its contents. */
import { eq, inArray } from "drizzle-orm";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, type Seq, type SpaceContents, sameValue } from "../../../core/access/model/index.ts";
import { CONTENTS_AS_PAGES } from "../../../core/contents/index.ts";
import type { Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { listing, pages, spaceAddresses, spaces } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";

type MarkEdit = Extract<Edit, { kind: "readiness" | "readinessWords" | "arranged" | "settings" | "contents" }>;
const MARKS: ReadonlySet<Edit["kind"]> = new Set(["readiness", "readinessWords", "arranged", "settings", "contents"]);

const marksIn = (edits: readonly Edit[]): MarkEdit[] => edits.filter((edit): edit is MarkEdit => MARKS.has(edit.kind));

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
  const pageRows = await tx.select({ id: pages.placeId, readiness: pages.readiness }).from(pages).where(among(pages.placeId, ids));
  const spacesById = new Map(spaceRows.map((row) => [row.placeId, row]));
  const readiness = new Map(pageRows.map((row) => [row.id, row.readiness]));
  // Words that the same change gives a space can be used in it at once.
  const given = new Map(marks.flatMap((edit) => (edit.kind === "readinessWords" ? [[edit.place, edit.to] as const] : [])));
  const taken = await addressesTaken(tx, marks);
  return marks.flatMap((edit): EditConflict[] => {
    const space = spacesById.get(spaceOf(edit.place));
    if (edit.kind === "contents") return contentsConflicts(index, edit, space?.contents ?? CONTENTS_AS_PAGES);
    if (edit.kind === "settings") {
      const name = placeOf(index, edit.place)?.place.title ?? "";
      const now = space && {
        name,
        address: space.slug,
        purpose: space.purpose,
        history: space.history,
        indexed: space.indexed,
        approval: space.approval,
        review: space.reviewDays,
        flags: space.flags,
      };
      if (!now || !sameValue(now, { history: false, indexed: true, approval: false, flags: false, ...edit.remove }))
        return [{ edit, message: "its name, address or purpose was changed meanwhile" }];
      return taken.has(edit.put?.address ?? "") ? [{ edit, message: "another space has this address", unlawful: true }] : [];
    }
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

/** Contents that are not what an edit says they are; entries that are no page of the space, unless they stood there before. */
function contentsConflicts(index: AccessIndex, edit: Extract<Edit, { kind: "contents" }>, now: SpaceContents): EditConflict[] {
  if (!sameValue(now, edit.remove)) return [{ edit, message: "its contents were changed meanwhile" }];
  const pagesIn = ({ entries }: SpaceContents) => entries.flatMap((entry) => ("page" in entry ? [entry.page] : []));
  const before = new Set(pagesIn(now));
  const space = placeOf(index, edit.place)?.number;
  const strange = (id: string) => {
    const page = placeOf(index, id);
    return !before.has(id) && (page?.place.kind !== "page" || page.space !== space);
  };
  if (!edit.put || !pagesIn(edit.put).some(strange)) return [];
  return [{ edit, message: "one of its entries is no page of the space", unlawful: true }];
}

/** Of the addresses that edits give spaces, those another space has, or gets by the same edits. */
async function addressesTaken(tx: Tx, marks: readonly MarkEdit[]): Promise<Set<string>> {
  const given = marks.flatMap((edit) => (edit.kind === "settings" && edit.put ? [{ place: edit.place, address: edit.put.address }] : []));
  if (given.length === 0) return new Set();
  const rows = await tx
    .select({ place: spaces.placeId, address: spaces.slug })
    .from(spaces)
    .where(
      inArray(
        spaces.slug,
        given.map(({ address }) => address),
      ),
    );
  const places = new Map<string, Set<string>>();
  for (const { place, address } of [...rows, ...given]) places.set(address, (places.get(address) ?? new Set()).add(place));
  return new Set([...places].filter(([, those]) => those.size > 1).map(([address]) => address));
}

/** Gives a space another name, address or purpose; its old address leads to it from now on. */
async function writeSettings(tx: Tx, { place, put, remove }: Extract<Edit, { kind: "settings" }>, seq: Seq): Promise<void> {
  if (!put) return;
  const { name, address, purpose, history = false, indexed = true, approval = false, review = null, flags = false } = put;
  await tx
    .update(spaces)
    .set({ slug: address, purpose, history, indexed, approval, reviewDays: review, flags })
    .where(eq(spaces.placeId, place));
  if (remove && remove.address !== address) {
    await tx
      .insert(spaceAddresses)
      .values({ slug: remove.address, placeId: place })
      .onConflictDoUpdate({ target: spaceAddresses.slug, set: { placeId: place } });
    await tx.delete(spaceAddresses).where(eq(spaceAddresses.slug, address));
  }
  await writeTitle(tx, place, name, seq);
  await tx.update(listing).set({ title: name }).where(eq(listing.placeId, place));
}

/** Writes marks as edits give them. */
export async function writeMarks(tx: Tx, edits: readonly Edit[], seq: Seq): Promise<void> {
  const byWord = new Map<string | null, string[]>();
  for (const edit of marksIn(edits)) {
    if (edit.kind === "settings") await writeSettings(tx, edit, seq);
    else if (edit.kind === "readiness") byWord.set(edit.to, [...(byWord.get(edit.to) ?? []), edit.place]);
    else
      await tx
        .update(spaces)
        .set(
          edit.kind === "contents"
            ? { contents: edit.put ?? null }
            : edit.kind === "arranged"
              ? { arranged: edit.to }
              : { readiness: edit.to },
        )
        .where(inArray(spaces.placeId, [edit.place]));
  }
  for (const [readiness, ids] of byWord) await tx.update(pages).set({ readiness }).where(among(pages.placeId, ids));
}
