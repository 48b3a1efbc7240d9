/** What readers get: a space, a page, a bulletin; for whoever asks, or walked through somebody else's eyes (`viewing.ts`). */

import { and, desc, eq, gt, lt, sql } from "drizzle-orm";
import type { ReaderLink, ReaderPage } from "../../../contracts/reading.ts";
import { type CompiledPlace, pathOf, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { READ, REVISE } from "../../../core/access/model/index.ts";
import { bodyHtml, type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { maySee, standing } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { dayBefore } from "../../clock.ts";
import { database, inSnapshot, type Tx } from "../../db/client.ts";
import { pages, spaceAddresses, versions, viewCounts } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { askingFor } from "../asked/asked.ts";
import { actsFor } from "../life/planning.ts";
import { reviewIn } from "../review/standing.ts";
import { stepInsOn } from "../slip/steppingIn.ts";
import { readerAddress } from "./addresses.ts";
import { newestBulletins } from "./frontDoor.ts";
import { navigationOf } from "./navigation.ts";
import { edgeOf, isOpen, linkTo, openViewing, type Reader, type Viewing } from "./viewing.ts";

function sentenceOfPath(viewing: Viewing, place: CompiledPlace): (ReaderLink | null)[] {
  const above = pathOf(viewing.access.index, place).slice(2, -1);
  return above.map((step) => (isOpen(viewing, step) ? linkTo(viewing, step) : null));
}

/**
 * The live text, or an older live one by its number; of a page that is not published, the newest words, for those whom its
 * gate lets in at all.
 */
async function textOf(
  tx: Tx,
  viewing: Viewing,
  place: CompiledPlace,
  major: number | null,
): Promise<{ title: string; html: string; at: Date } | null> {
  const live = and(major === null ? eq(pages.liveMajor, versions.major) : eq(versions.major, major), eq(versions.minor, 0));
  const [row] = await tx
    .select({ title: versions.title, body: versions.body, at: versions.at })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, place.place.id), place.unpublished && major === null ? undefined : live))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  return row ? { title: row.title, html: renderBody(viewing, row.body), at: row.at } : null;
}

/** Older live versions, for whoever reads the page where its space shows them, and for whoever writes it; a walk shows what its eyes get. */
async function olderVersions(tx: Tx, viewing: Viewing, place: CompiledPlace): Promise<{ number: number; at: string }[]> {
  const { access, viewer, looker } = viewing;
  const space = access.index.places[place.space];
  const shows = viewing.spaces.find(({ placeId }) => placeId === space?.place.id)?.history ?? false;
  const writes = [viewer, looker].every((it) => (standing(access, it, place).set & REVISE) !== 0);
  if (place === space || place.unpublished || !(shows || writes)) return [];
  const rows = await tx
    .select({ number: versions.major, at: versions.at })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, place.place.id), eq(versions.minor, 0), lt(versions.major, pages.liveMajor), gt(versions.major, 0)))
    .orderBy(desc(versions.major));
  return rows.map(({ number, at }) => ({ number, at: at.toISOString() }));
}

function renderBody(viewing: Viewing, body: PageBody): string {
  const targets = new Map(
    pagesLinkedFrom(body).map((id) => {
      const target = placeOf(viewing.access.index, id);
      return [id, target && isOpen(viewing, target) ? viewing.prefix + readerAddress(viewing.slugs, viewing.access.index, target) : null];
    }),
  );
  return bodyHtml(body, (id) => targets.get(id) ?? null);
}

/** The space of an address, or the one that had it before. */
async function spaceAt(tx: Tx, viewing: Viewing, slug: string): Promise<string | undefined> {
  const named = viewing.spaces.find((row) => row.slug === slug);
  if (named) return named.placeId;
  const [before] = await tx.select({ place: spaceAddresses.placeId }).from(spaceAddresses).where(eq(spaceAddresses.slug, slug));
  return before?.place;
}

/** A page or bulletin by the id in its address, or a space by its slug. Throws `notThere` alike for hidden and missing ones. */
export async function readReaderPage(
  reader: Reader,
  spaceSlug: string,
  id: string | null,
  version: number | null = null,
): Promise<ReaderPage> {
  return inSnapshot(async (tx) => {
    const viewing = await openViewing(tx, reader);
    const { access } = viewing;
    const place = placeOf(access.index, id ?? (await spaceAt(tx, viewing, spaceSlug)) ?? "");
    if (!place || place.place.kind === "site" || !isOpen(viewing, place)) throw notThere();
    const space = access.index.places[place.space] as CompiledPlace;
    const row = viewing.spaces.find((it) => it.placeId === space.place.id);
    const spaceOpen = isOpen(viewing, space);
    const landing = place === space && row?.landingId ? placeOf(access.index, row.landingId) : undefined;
    const shown = landing && landing.place.state === "live" && isOpen(viewing, landing) ? landing : place;
    const older = await olderVersions(tx, viewing, shown);
    if (version !== null && !older.some(({ number }) => number === version)) throw notThere();
    const text = shown === space ? null : await textOf(tx, viewing, shown, version);
    const own = standing(access, viewing.looker, shown).set;
    const mayOpen = !viewing.walking || (own & READ) !== 0;
    const writes = !viewing.walking && (own & REVISE) !== 0;
    const owner = shown.place.owner ? subjectOf(access.index, { person: shown.place.owner }) : undefined;
    const [page] = await tx.select({ at: pages.publishedAt }).from(pages).where(eq(pages.placeId, shown.place.id));
    const navigation = await navigationOf(tx, viewing, space, shown);
    return {
      kind: place.place.kind,
      id: shown.place.id,
      ...edgeOf(viewing),
      title: mayOpen ? (text?.title ?? shown.place.title ?? "") : (place.place.title ?? ""),
      state: shown.place.state,
      indexed: (row?.indexed ?? true) && shown.place.state === "live" && !viewing.walking && version === null,
      space: spaceOpen ? { ...linkTo(viewing, space), purpose: row?.purpose ?? "" } : { id: "", title: "", address: "", purpose: "" },
      path: sentenceOfPath(viewing, place),
      navigation: navigation.items,
      more: navigation.more,
      // Who reads a bulletin reads on to those before it: so every one of them is come to.
      bulletins: await newestBulletins(tx, viewing, space, shown.place.kind === "bulletin" ? shown.place.id : undefined),
      html: mayOpen ? (text?.html ?? null) : null,
      closed: mayOpen ? "" : "These eyes can read this page. You oversee it, but its text is not open to you as yourself.",
      owner: owner && viewing.viewer.class === "members" ? (owner.person?.name ?? null) : null,
      steppedIn: await toldToOwner(tx, viewing, shown),
      publishedAt: page?.at?.toISOString() ?? null,
      older: mayOpen ? older : [],
      version: version === null || !text ? null : { number: version, at: text.at.toISOString() },
      acts: viewing.walking || viewing.looker.class !== "members" ? [] : actsFor(access, viewing.looker, shown),
      asking: viewing.walking ? 0 : await askingFor(tx, access, viewing.looker, shown),
      review: viewing.walking ? null : await reviewFor(tx, viewing, shown),
      edit: writes && shown !== space ? `/write/${shown.place.id}` : null,
      address: viewing.prefix + readerAddress(viewing.slugs, access.index, place),
    };
  });
}

/** How the review of a page stands, for whoever reads it. */
async function reviewFor(tx: Tx, { access, looker }: Viewing, place: CompiledPlace): Promise<ReaderPage["review"]> {
  if ((place.place.kind !== "page" && place.place.kind !== "bulletin") || !maySee(access, looker, place)) return null;
  const { confirmedAt, confirmedBy, flags, mayFlag } = await reviewIn(tx, access, looker.person?.id ?? null, place.place.id);
  const open = flags.filter(({ outcome }) => outcome === null).map(({ kind, note }) => ({ kind, note }));
  return { confirmedAt, confirmedBy, flags: open, mayFlag };
}

async function toldToOwner(tx: Tx, viewing: Viewing, place: CompiledPlace): Promise<ReaderPage["steppedIn"]> {
  const { access, looker, walking } = viewing;
  if (walking || looker.person === null || place.place.owner !== looker.person.id) return [];
  const names = namesFor(access, looker);
  const found = await stepInsOn(tx, place.place.id, access.at);
  return found.map(({ by, at, reason }) => ({ by: by === null ? "Tesoro" : names.person(by), at, reason }));
}

/** Counts one view. The page was sent already: a reader never waits for this, and a failure here loses a number only. */
export async function countView(placeId: string, reader: "outsider" | "guest" | "member"): Promise<void> {
  const day = dayBefore(0);
  await database()
    .insert(viewCounts)
    .values({ placeId, day, reader, views: 1 })
    .onConflictDoUpdate({ target: [viewCounts.placeId, viewCounts.day, viewCounts.reader], set: { views: sql`${viewCounts.views} + 1` } });
}
