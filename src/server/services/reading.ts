/**
 * What readers get: the front door, a space, a page; for whoever asks, or walked through somebody else's eyes. Walking
 * is read-only, counts no views, and never shows a body that the looker could not open as themselves.
 */

import { and, asc, desc, eq, sql } from "drizzle-orm";
import type { FoundPlace, ReaderLink } from "../../contracts/answers.ts";
import { READ, REVISE } from "../../core/access/abilities.ts";
import { below, type CompiledPlace, type CompiledSubject, pathOf, placeOf, subjectOf } from "../../core/access/accessIndex.ts";
import type { PageState } from "../../core/access/document.ts";
import { effectiveSet } from "../../core/access/evaluate.ts";
import { opensByStepIn, type StepIn } from "../../core/access/steppingIn.ts";
import { type PageBody, pagesLinkedFrom } from "../../core/content/body.ts";
import { bodyHtml } from "../../core/content/html.ts";
import { type Access, maySee, readAccess, subjectFor } from "../access/current.ts";
import { database, inSnapshot, type Tx } from "../db/client.ts";
import { pages, spaces, versions, viewCounts } from "../db/schema.ts";
import { notThere } from "../http/trouble.ts";
import { readerAddress, slugOf } from "./addresses.ts";
import { mayKnowOthers } from "./cells.ts";
import { namesFor } from "./naming.ts";
import { openStepIns, stepInsOn } from "./steppingIn.ts";

export interface Reader {
  /** Id of the person who is signed in, or null. */
  me: string | null;
  /** `public` or the id of a person whose eyes these are; null: one's own. */
  eyes: string | null;
}

export interface NavigationItem extends ReaderLink {
  depth: number;
  here: boolean;
}

interface Eyes {
  access: Access;
  looker: CompiledSubject;
  /** The viewpoint, or oneself. */
  viewer: CompiledSubject;
  walking: boolean;
  /** Pages the looker has stepped into; they count for one's own eyes only. */
  steps: StepIn[];
  /** The spaces, as arranged. */
  spaces: (typeof spaces.$inferSelect)[];
  slugs: Map<string, string>;
  prefix: string;
}

async function openEyes(tx: Tx, reader: Reader): Promise<Eyes> {
  const access = await readAccess(tx);
  const looker = subjectFor(access, reader.me);
  const rows = await tx.select().from(spaces).orderBy(asc(spaces.position));
  const slugs = new Map(rows.map(({ placeId, slug }) => [placeId, slug]));
  if (reader.eyes === null)
    return {
      access,
      looker,
      viewer: looker,
      walking: false,
      steps: await openStepIns(tx, reader.me, access.at),
      spaces: rows,
      slugs,
      prefix: "",
    };
  const viewer = subjectOf(access.index, reader.eyes === "public" ? { public: true } : { person: reader.eyes });
  const overseesAnything = looker.class === "members" && access.index.places.some((place) => mayKnowOthers(access, looker, place));
  if (!viewer || !overseesAnything) throw notThere();
  return { access, looker, viewer, walking: true, steps: [], spaces: rows, slugs, prefix: `/eyes/${reader.eyes}` };
}

/** Whether the viewer reads a place, as far as the looker may know: what the looker may neither admit to nor oversee stays out of a walk. */
function open(eyes: Eyes, place: CompiledPlace): boolean {
  const { access, viewer, looker, walking } = eyes;
  if (!(effectiveSet(access.index, viewer, place, access.at) & READ))
    return opensByStepIn(access.index, eyes.steps, viewer, place, access.at);
  return !walking || mayKnowOthers(access, looker, place);
}

const link = (eyes: Eyes, place: CompiledPlace): ReaderLink => ({
  id: place.place.id,
  title: place.place.title ?? "",
  address: eyes.prefix + readerAddress(eyes.slugs, eyes.access.index, place),
});

/** How an edge names the eyes: "the public", "Ines Carvalho, guest". */
const eyesName = (viewer: CompiledSubject): string => (viewer.person ? `${viewer.person.name}, ${viewer.person.kind}` : "the public");

/** Whose eyes a walk looks through, for the edge around pages that are not there for them. */
export async function readEyes(reader: Reader): Promise<{ eyes: string | null; prefix: string }> {
  return inSnapshot(async (tx) => {
    const eyes = await openEyes(tx, reader);
    return { eyes: eyes.walking ? eyesName(eyes.viewer) : null, prefix: eyes.prefix };
  });
}

export interface FrontDoor {
  eyes: string | null;
  prefix: string;
  spaces: (ReaderLink & { purpose: string; pages: number })[];
  /** Pages that are open although the space around them is not, each with how many are open with it. */
  elsewhere: (ReaderLink & { pages: number })[];
  bulletins: (ReaderLink & { space: string; at: string })[];
}

const NEWEST = 8;

/** The front door: the spaces and the newest bulletins that are open to the viewer. */
export async function readFrontDoor(reader: Reader): Promise<FrontDoor> {
  return inSnapshot(async (tx) => {
    const eyes = await openEyes(tx, reader);
    const { access } = eyes;
    const live = access.index.places.filter((place) => place.place.state === "live" && open(eyes, place));
    const dates = new Map((await tx.select({ id: pages.placeId, at: pages.publishedAt }).from(pages)).map(({ id, at }) => [id, at]));
    const shown = eyes.spaces.flatMap((row) => {
      const place = placeOf(access.index, row.placeId);
      if (!place || !live.includes(place)) return [];
      return [{ ...link(eyes, place), purpose: row.purpose, pages: live.filter((it) => it.space === place.at && it !== place).length }];
    });
    const opened = new Set(live);
    const elsewhere = live.filter((place) => {
      const parent = access.index.places[place.parent];
      const space = access.index.places[place.space];
      return place.place.kind === "page" && parent && space && !opened.has(parent) && !opened.has(space);
    });
    const bulletins = live
      .filter((place) => place.place.kind === "bulletin")
      .map((place) => ({
        ...link(eyes, place),
        space: access.index.places[place.space]?.place.title ?? "",
        at: dates.get(place.place.id)?.toISOString() ?? "",
      }))
      .sort((a, b) => b.at.localeCompare(a.at));
    return {
      eyes: eyes.walking ? eyesName(eyes.viewer) : null,
      prefix: eyes.prefix,
      spaces: shown,
      elsewhere: elsewhere.map((place) => ({
        ...link(eyes, place),
        pages: below(access.index, place).filter((it) => opened.has(it)).length,
      })),
      bulletins: bulletins.slice(0, NEWEST),
    };
  });
}

/** The tree of a space as the viewer may see it; a page under a hidden one moves up, so that nothing tells of the gap. */
function navigationOf(
  eyes: Eyes,
  space: CompiledPlace,
  positions: ReadonlyMap<string, number>,
  here: CompiledPlace | null,
): NavigationItem[] {
  const { places } = eyes.access.index;
  const items: NavigationItem[] = [];
  const children = new Map<number, CompiledPlace[]>();
  for (const place of places) {
    if (place.space === space.at && place.place.kind === "page") children.set(place.parent, [...(children.get(place.parent) ?? []), place]);
  }
  const visit = (parent: number, depth: number) => {
    const list = (children.get(parent) ?? []).sort((a, b) => (positions.get(a.place.id) ?? 0) - (positions.get(b.place.id) ?? 0));
    for (const place of list) {
      const shown = place.place.state === "live" && open(eyes, place);
      if (shown) items.push({ ...link(eyes, place), depth, here: place === here });
      visit(place.at, shown ? depth + 1 : depth);
    }
  };
  visit(space.at, 0);
  return items;
}

export interface ReaderPage {
  kind: "space" | "page" | "bulletin";
  id: string;
  eyes: string | null;
  prefix: string;
  title: string;
  state: PageState;
  space: ReaderLink & { purpose: string };
  path: (ReaderLink | null)[];
  navigation: NavigationItem[];
  bulletins: (ReaderLink & { at: string })[];
  /** HTML of the live text; null where there is none, or (walking) where the looker may not open it. */
  html: string | null;
  /** Why there is no text although the viewer would get one. */
  closed: string;
  owner: string | null;
  /** For the owner: who stepped in on this page lately, and why. */
  steppedIn: { by: string; at: string; reason: string }[];
  publishedAt: string | null;
  /** For those who may write here. */
  edit: string | null;
  /** The address this page has: another one is redirected to it. */
  address: string;
}

function sentenceOfPath(eyes: Eyes, place: CompiledPlace): (ReaderLink | null)[] {
  const above = pathOf(eyes.access.index, place).slice(2, -1);
  return above.map((step) => (open(eyes, step) ? link(eyes, step) : null));
}

/** The live text; of a page that is not published, the newest words, for those whom its gate lets in at all. */
async function textOf(tx: Tx, eyes: Eyes, place: CompiledPlace): Promise<{ title: string; html: string } | null> {
  const live = and(eq(pages.liveMajor, versions.major), eq(versions.minor, 0));
  const [row] = await tx
    .select({ title: versions.title, body: versions.body })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, place.place.id), place.unpublished ? undefined : live))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  return row ? { title: row.title, html: renderBody(eyes, row.body) } : null;
}

function renderBody(eyes: Eyes, body: PageBody): string {
  const targets = new Map(
    pagesLinkedFrom(body).map((id) => {
      const target = placeOf(eyes.access.index, id);
      return [id, target && open(eyes, target) ? eyes.prefix + readerAddress(eyes.slugs, eyes.access.index, target) : null];
    }),
  );
  return bodyHtml(body, (id) => targets.get(id) ?? null);
}

/** A page or bulletin by the id in its address, or a space by its slug. Throws `notThere` alike for hidden and missing ones. */
export async function readReaderPage(reader: Reader, spaceSlug: string, id: string | null): Promise<ReaderPage> {
  return inSnapshot(async (tx) => {
    const eyes = await openEyes(tx, reader);
    const { access } = eyes;
    const named = eyes.spaces.find((row) => row.slug === spaceSlug);
    const place = placeOf(access.index, id ?? named?.placeId ?? "");
    if (!place || place.place.kind === "site" || !open(eyes, place)) throw notThere();
    const space = access.index.places[place.space] as CompiledPlace;
    const row = eyes.spaces.find((it) => it.placeId === space.place.id);
    const pageRows = await tx.select({ id: pages.placeId, position: pages.position, at: pages.publishedAt }).from(pages);
    const positions = new Map(pageRows.map((it) => [it.id, it.position]));
    const dates = new Map(pageRows.map((it) => [it.id, it.at?.toISOString() ?? null]));
    const spaceOpen = open(eyes, space);
    const landing = place === space && row?.landingId ? placeOf(access.index, row.landingId) : undefined;
    const shown = landing && landing.place.state === "live" && open(eyes, landing) ? landing : place;
    const text = shown === space ? null : await textOf(tx, eyes, shown);
    const mayOpen = !eyes.walking || (effectiveSet(access.index, eyes.looker, shown, access.at) & READ) !== 0;
    const writes = !eyes.walking && (effectiveSet(access.index, eyes.looker, shown, access.at) & REVISE) !== 0;
    const ownerId = shown.place.owner;
    const bulletins = access.index.places
      .filter((it) => it.place.kind === "bulletin" && it.space === space.at && it.place.state === "live" && open(eyes, it))
      .map((it) => ({ ...link(eyes, it), at: dates.get(it.place.id) ?? "" }))
      .sort((a, b) => b.at.localeCompare(a.at));
    return {
      kind: place.place.kind,
      id: shown.place.id,
      eyes: eyes.walking ? eyesName(eyes.viewer) : null,
      prefix: eyes.prefix,
      title: mayOpen ? (text?.title ?? shown.place.title ?? "") : (place.place.title ?? ""),
      state: shown.place.state,
      space: spaceOpen ? { ...link(eyes, space), purpose: row?.purpose ?? "" } : { id: "", title: "", address: "", purpose: "" },
      path: sentenceOfPath(eyes, place),
      navigation: navigationOf(eyes, space, positions, shown),
      bulletins: bulletins.slice(0, NEWEST),
      html: mayOpen ? (text?.html ?? null) : null,
      closed: mayOpen ? "" : "These eyes can read this page. You oversee it, but its text is not open to you as yourself.",
      owner:
        ownerId && eyes.viewer.class === "members" ? (access.index.document.people.find((it) => it.id === ownerId)?.name ?? null) : null,
      steppedIn: await toldToOwner(tx, eyes, shown),
      publishedAt: dates.get(shown.place.id) ?? null,
      edit: writes && shown !== space ? `/write/${shown.place.id}` : null,
      address: eyes.prefix + readerAddress(eyes.slugs, access.index, place),
    };
  });
}

async function toldToOwner(tx: Tx, eyes: Eyes, place: CompiledPlace): Promise<ReaderPage["steppedIn"]> {
  const { access, looker, walking } = eyes;
  if (walking || looker.person === null || place.place.owner !== looker.person.id) return [];
  const names = namesFor(access, looker);
  const found = await stepInsOn(tx, place.place.id, access.at);
  return found.map(({ by, at, reason }) => ({ by: by === null ? "Tesoro" : names.person(by), at, reason }));
}

/** Counts one view. The page was sent already: a reader never waits for this, and a failure here loses a number only. */
export async function countView(placeId: string, reader: "outsider" | "guest" | "member"): Promise<void> {
  const day = new Date().toISOString().slice(0, 10);
  await database()
    .insert(viewCounts)
    .values({ placeId, day, reader, views: 1 })
    .onConflictDoUpdate({ target: [viewCounts.placeId, viewCounts.day, viewCounts.reader], set: { views: sql`${viewCounts.views} + 1` } });
}

/** Pages and bulletins whose title holds the words, among those the asker may read or oversee. */
export async function findPages(asker: string, words: string): Promise<FoundPlace[]> {
  return inSnapshot(async (tx) => {
    const eyes = await openEyes(tx, { me: asker, eyes: null });
    const { access, looker } = eyes;
    const wanted = words.trim().toLowerCase();
    return access.index.places
      .filter(
        (place) => place.place.kind !== "site" && (place.place.title ?? "").toLowerCase().includes(wanted) && maySee(access, looker, place),
      )
      .sort((a, b) => rankTitle(a, wanted) - rankTitle(b, wanted))
      .slice(0, 12)
      .map((place) => ({ ...link(eyes, place), space: access.index.places[place.space]?.place.title ?? "", state: place.place.state }));
  });
}

const rankTitle = (place: CompiledPlace, wanted: string): number => (slugOf(place.place.title ?? "").startsWith(slugOf(wanted)) ? 0 : 1);
