/**
 * What may be live where a space asks for approval (lifecycle.md, "Approval"). It is a property of what is so: whatever change leads
 * there, each page that readers get anew is asked for its licence.
 */
import { and, eq, isNotNull } from "drizzle-orm";
import { type AccessIndex, placeOf, spaceIdOf } from "../../../core/access/index/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { shownAnew } from "../../../core/lifecycle/index.ts";
import type { Tx } from "../../db/client.ts";
import { licences, listing, pages, spaces } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { badRequest } from "../../trouble.ts";

/** A version goes live in a space that asks, and may. */
export const license = (tx: Tx, placeId: string, major: number, spaceId: string): Promise<unknown> =>
  tx.insert(licences).values({ placeId, major, spaceId }).onConflictDoNothing();

/** A space begins to ask: what was live in it until now, also what is archived or binned meanwhile, stays what it shows. */
export async function licenseWhatIsThere(tx: Tx, spaceId: string): Promise<void> {
  await tx
    .insert(licences)
    .select(
      tx
        .select({ placeId: listing.placeId, major: pages.liveMajor, spaceId: listing.spaceId })
        .from(listing)
        .innerJoin(pages, eq(pages.placeId, listing.placeId))
        .where(and(eq(listing.spaceId, spaceId), isNotNull(pages.liveMajor))) as never,
    )
    .onConflictDoNothing();
}

/** Spaces that edits make ask for approval from now on. */
export const beginningToAsk = (edits: readonly Edit[]): string[] =>
  edits.flatMap((edit) => (edit.kind === "settings" && edit.put?.approval && !edit.remove?.approval ? [edit.place] : []));

/** Which of these pages have a licence for what readers get of them, and where: "page space". */
async function licencesOf(tx: Tx, ids: readonly string[]): Promise<Set<string>> {
  const rows = await tx
    .select({ id: licences.placeId, space: licences.spaceId })
    .from(licences)
    .innerJoin(pages, and(eq(pages.placeId, licences.placeId), eq(pages.liveMajor, licences.major)))
    .where(among(licences.placeId, ids));
  return new Set(rows.map(({ id, space }) => `${id} ${space}`));
}

/** Which of these spaces ask for approval. */
async function askingOf(tx: Tx, ids: readonly string[]): Promise<Set<string>> {
  const rows = await tx
    .select({ id: spaces.placeId })
    .from(spaces)
    .where(and(among(spaces.placeId, ids), eq(spaces.approval, true)));
  return new Set(rows.map(({ id }) => id));
}

/** Of a space that asks for approval: which of these pages were never approved there; null of any other. */
export async function unapprovedIn(tx: Tx, spaceId: string, ids: readonly string[]): Promise<ReadonlySet<string> | null> {
  if (ids.length === 0 || !(await askingOf(tx, [spaceId])).has(spaceId)) return null;
  const held = await licencesOf(tx, ids);
  return new Set(ids.filter((id) => !held.has(`${id} ${spaceId}`)));
}

/** Refuses a change after which a space that asks for approval would show what it has no licence for; `but`: pages that get a version of their own in it. */
export async function checkLicences(
  tx: Tx,
  before: AccessIndex,
  after: AccessIndex,
  edits: readonly Edit[],
  but: readonly string[],
): Promise<void> {
  const shown = shownAnew(before, after, edits).filter(({ place }) => !but.includes(place.id));
  if (shown.length === 0) return;
  const there = [...new Set(shown.map((place) => spaceIdOf(after, place)))];
  const asks = await askingOf(tx, there);
  const asked = shown.filter((place) => asks.has(spaceIdOf(after, place)));
  if (asked.length === 0) return;
  const held = await licencesOf(
    tx,
    asked.map(({ place }) => place.id),
  );
  const lacking = asked.filter((place) => !held.has(`${place.place.id} ${spaceIdOf(after, place)}`));
  if (lacking.length === 0) return;
  const moved = lacking.some(({ place }) => placeOf(before, place.id)?.place.state === "live");
  const many = lacking.length === 1 ? "a page whose words were" : `${lacking.length} pages whose words were`;
  throw badRequest(
    `The space asks for approval, and would show ${many} never approved there. ${
      moved
        ? "Take it down first, then move it in as a draft and give it in for approval there."
        : "Give a version in for approval there, then publish it."
    }`,
  );
}
