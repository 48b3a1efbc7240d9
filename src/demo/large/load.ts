/** Loads the large made-up site into an empty database: as one import, since what matters here is its size. Deterministic. */

import { randomBytes } from "node:crypto";
import { sql } from "drizzle-orm";
import { generateNKeysBetween } from "fractional-indexing";
import { compile } from "../../core/access/index/index.ts";
import { type AccessDocument, instantOf, type Place } from "../../core/access/model/index.ts";
import { bodyText, type PageBody } from "../../core/content/index.ts";
import { addAccount, hashOfPassword } from "../../server/accounts/session.ts";
import { dayBefore } from "../../server/clock.ts";
import { insertMany } from "../../server/db/bulk.ts";
import { database, inChange, type Tx } from "../../server/db/client.ts";
import { emptyDocument, writeDifference } from "../../server/db/document.ts";
import { type Words, writeListing } from "../../server/db/listing.ts";
import { demoCast, links, pages, schedules, slots, spaces, versions } from "../../server/db/schema/index.ts";
import { appendEntry } from "../../server/ledger/append.ts";
import { linkRows } from "../../server/services/links/keepLinks.ts";
import { fillExposures } from "../../server/services/outside/exposures.ts";
import { Dice } from "./dice.ts";
import { LARGE, largeDocument, type Sizes } from "./document.ts";
import { sentence } from "./names.ts";
import { writePast, writeViews } from "./past.ts";

const DAY = 86_400_000;
const FOUNDED = instantOf("2025-09-01T08:00:00Z");
const BATCH = 2000;

const isPage = ({ kind }: Place): boolean => kind === "page" || kind === "bulletin";
const wasLive = ({ state, was }: Place): boolean =>
  state === "live" || ((state === "archived" || state === "binned") && (was ?? "live") === "live");

function bodyOf(dice: Dice, links: readonly string[]): PageBody {
  const paragraph = (text: string) => ({ type: "paragraph", content: [{ type: "text", text }] });
  const content = Array.from({ length: dice.between(1, 4) }, () =>
    paragraph(Array.from({ length: dice.between(2, 5) }, () => sentence((n) => dice.between(0, n - 1))).join(" ")),
  );
  if (links.length === 0) return { schema: 1, content };
  const page = dice.pick(links);
  const link = { type: "text", text: "See also", marks: [{ type: "link" as const, attrs: { page } }] };
  return { schema: 1, content: [...content, { type: "paragraph", content: [link] }] };
}

async function inBatches<T>(list: readonly T[], work: (batch: T[]) => Promise<unknown>): Promise<void> {
  for (let i = 0; i < list.length; i += BATCH) await work(list.slice(i, i + BATCH));
}

interface Row {
  place: Place;
  live: boolean;
  at: Date;
  /** How often it was saved. */
  saved: number;
  body: PageBody;
}

/** Versions of some pages, and the schedules of those that wait. */
async function writeVersions(tx: Tx, rows: readonly Row[], seq: number): Promise<void> {
  await insertMany(
    tx,
    versions,
    rows.flatMap(({ place, live, at, saved, body }) =>
      Array.from({ length: saved }, (_, i) => ({
        placeId: place.id,
        major: live ? i + 1 : 0,
        minor: live ? 0 : i + 1,
        seq,
        title: place.title ?? "",
        body: i + 1 === saved ? body : { ...body, content: body.content.slice(0, 1) },
        authorId: place.owner ?? null,
        at,
      })),
    ),
  );
  const waiting = rows.filter(({ place }) => place.state === "scheduled");
  await insertMany(
    tx,
    schedules,
    waiting.map(({ place, saved }) => ({
      placeId: place.id,
      what: "live",
      major: 0,
      minor: saved,
      at: new Date(FOUNDED + 2000 * DAY),
      zone: "UTC",
      by: place.owner ?? "",
      helpersKept: false,
    })),
  );
}

const NOTHING_KNOWN = { tags: [], views30: 0, linksIn: 0, versions: 0 };

/** What lists sort a page by, as it is written here: bringing it up to date afterwards would take minutes. */
const knownOf = (place: Place, { live, saved, at }: { live: boolean; saved: number; at: Date }) => ({
  ownerId: place.owner ?? null,
  changedBy: place.owner ?? null,
  tags: place.tags,
  publishedAt: live ? at : null,
  versions: saved,
  leftAt: place.state === "archived" || place.state === "binned" ? new Date(FOUNDED) : null,
});

/** Adds how often pages were read in the last thirty days. */
async function addViews(tx: Tx, words: Map<string, Words>): Promise<void> {
  const rows = await tx.execute<{ id: string; views: number }>(
    sql`select place_id as id, sum(views)::int as views from view_counts where day >= ${dayBefore(30)} group by 1`,
  );
  for (const { id, views } of rows) Object.assign(words.get(id) ?? {}, { views30: views });
}

/** Writes pages and versions; returns what the listing holds of them. */
async function writePages(tx: Tx, document: AccessDocument, seq: number) {
  const words = new Map<string, Words>();
  const linksIn = new Map<string, Set<string>>();
  const dice = new Dice(99);
  const list = document.places.filter(isPage);
  const ids = list.map(({ id }) => id);
  const slotKeys = generateNKeysBetween(null, null, list.length);
  let number = 0;
  await inBatches(list, async (batch) => {
    const rows = batch.map((place) => {
      const live = wasLive(place);
      const at = new Date(FOUNDED + dice.between(1, 440) * DAY + dice.between(0, DAY - 1));
      // Most pages were saved once or twice, a few twenty times.
      const saved = 1 + Math.floor(19 * (dice.between(0, 99) / 100) ** 5);
      return { place, live, at, saved, slot: slotKeys[number++] as string, body: bodyOf(dice, dice.chance(0.3) ? ids : []) };
    });
    await insertMany(
      tx,
      pages,
      rows.map(({ place, live, at, saved }) => ({
        placeId: place.id,
        startedAt: at,
        liveMajor: live ? saved : null,
        publishedAt: live ? at : null,
        changedAt: at,
      })),
    );
    await insertMany(
      tx,
      slots,
      rows.filter(({ place }) => place.kind === "page").map(({ place, slot }) => ({ placeId: place.id, slot, fromSeq: seq })),
    );
    await writeVersions(tx, rows, seq);
    await insertMany(
      tx,
      links,
      rows.flatMap(({ place, live, body }) => linkRows(place.id, live, body)),
    );
    for (const { place, live, saved, body, at } of rows) {
      words.set(place.id, { ...NOTHING_KNOWN, ...knownOf(place, { live, saved, at }), body: bodyText(body), changedAt: at });
      for (const { targetId } of place.state === "live" ? linkRows(place.id, live, body) : [])
        if (targetId !== place.id) linksIn.set(targetId, (linksIn.get(targetId) ?? new Set()).add(place.id));
    }
  });
  for (const [id, sources] of linksIn) Object.assign(words.get(id) ?? {}, { linksIn: sources.size });
  for (const { id } of document.places) if (!words.has(id)) words.set(id, { ...NOTHING_KNOWN, body: "", changedAt: new Date(FOUNDED) });
  return words;
}

/** Who can be signed in as with one click: the keeper of the site, a member and a guest. */
async function writeCast(tx: Tx, document: AccessDocument): Promise<void> {
  const active = document.people.filter(({ status }) => status === "active");
  const cast = [
    { person: active[0], role: "Keeps the whole site" },
    { person: active.find(({ kind }, i) => i > 0 && kind === "member"), role: "Member" },
    { person: active.find(({ kind }) => kind === "guest"), role: "Guest" },
  ];
  const password = randomBytes(18).toString("base64url");
  const passwordHash = await hashOfPassword(password);
  for (const [position, { person, role }] of cast.entries()) {
    if (!person) continue;
    const email = `${person.id}@large.invalid`;
    await addAccount(tx, { id: person.id, name: person.name ?? person.id, email, passwordHash });
    await tx.insert(demoCast).values({ personId: person.id, role, email, password, position });
  }
}

/** Fills an empty database with a site of these sizes. */
export async function loadLarge(sizes: Sizes = LARGE): Promise<void> {
  const document = largeDocument(sizes);
  await inChange(async (tx) => {
    const entry = await appendEntry(
      tx,
      {
        maker: null,
        act: "found",
        places: ["site"],
        note: "The large site was brought in whole.",
      },
      FOUNDED,
    );
    await writeDifference(tx, emptyDocument(), document, entry.seq, null);
    const spaceList = document.places.filter(({ kind }) => kind === "space");
    const landing = new Map(
      document.places.filter(({ kind, state }) => kind === "page" && state === "live").map(({ id, parent }) => [parent, id]),
    );
    await tx.insert(spaces).values(
      spaceList.map(({ id, title }, position) => ({
        placeId: id,
        slug: id,
        purpose: `All about ${(title ?? "").toLowerCase()}.`,
        landingId: landing.get(id) ?? null,
        position,
      })),
    );
    const words = await writePages(tx, document, entry.seq);
    const pageIds = document.places.filter(isPage).map(({ id }) => id);
    const dice = new Dice(7);
    await writeViews(tx, { dice, pages: pageIds });
    await addViews(tx, words);
    await writeListing(tx, null, compile(document), entry.at, words);
    await fillExposures(tx, compile(document), entry);
    await writeCast(tx, document);
    const members = document.people.filter(({ kind, status }) => kind === "member" && status === "active").map(({ id }) => id);
    const past = { dice, pages: pageIds, groups: document.groups.map(({ id }) => id), makers: members, founded: FOUNDED };
    await writePast(tx, Math.round(sizes.places / 20), past);
  });
  // Fresh statistics: without them the first lists are planned for an empty table.
  await database().execute(sql`vacuum analyze`);
}
