/**
 * Loads Brinehaven into an empty database: founding day as one import, then fourteen months of history made through
 * the same services that people use, at the instants it happened. Deterministic: the same day gives the same demo.
 */

import { randomBytes } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { eq } from "drizzle-orm";
import { generateNKeysBetween } from "fractional-indexing";
import { compile } from "../core/access/index/index.ts";
import { type AccessDocument, type Edit, type Grant, type Instant, instantAt, placeOfEdit } from "../core/access/model/index.ts";
import { ripple } from "../core/access/ripple/index.ts";
import { update } from "../core/access/update/index.ts";
import { addAccount, hashOfPassword } from "../server/accounts/session.ts";
import { database, inChange, type Tx } from "../server/db/client.ts";
import { countLinksIn, countViews, deriveListing } from "../server/db/deriving.ts";
import { emptyDocument, loadDocument, writeDifference } from "../server/db/document.ts";
import { writeListing } from "../server/db/listing.ts";
import { demoCast as castTable, jobs, spaces } from "../server/db/schema/index.ts";
import { runJob } from "../server/jobs/running.ts";
import { appendEntry } from "../server/ledger/append.ts";
import { makeChange } from "../server/services/change/apply.ts";
import { previewTakeBack, takeBack } from "../server/services/change/takeBack.ts";
import { lookForFindings } from "../server/services/findings/looking.ts";
import { KINDS } from "../server/services/jobs/kinds.ts";
import { fillExposures, keepExposures } from "../server/services/outside/exposures.ts";
import { keepTurns } from "../server/services/pledges/turns.ts";
import { publishPage } from "../server/services/writing/publishing.ts";
import { schedulePage } from "../server/services/writing/scheduling.ts";
import { saveVersion, startPage } from "../server/services/writing/writing.ts";
import { loadBenches } from "./benches.ts";
import { loadDoors } from "./doors.ts";
import { loadGuests } from "./guests.ts";
import { rulesHistory } from "./history.ts";
import { livesOf } from "./lives.ts";
import { type DemoPage, readTexts } from "./pages.ts";
import { loadReads } from "./reads.ts";
import { reviewsOf } from "./reviews.ts";
import { loadRoutines } from "./routines.ts";
import { demoCast, demoPledges, demoSpaces, everyone, grant, groupNames, groupsInGroups, siteGrants } from "./site.ts";
import { loadTemplates } from "./templates.ts";
import { loadWaiting } from "./waiting.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const FOUNDED_DAYS_AGO = 426;

interface DemoPerson {
  id: string;
  name: string;
  kind: "member" | "guest";
  status: "active" | "suspended";
  groups: string[];
}

function readPeople(): DemoPerson[] {
  const [, ...lines] = readFileSync(new URL("./people.csv", import.meta.url), "utf8")
    .trim()
    .split("\n");
  return lines.map((line) => {
    const [id = "", name = "", kind, status, groups = ""] = line.split(",");
    return { id, name, kind: kind as "member", status: status as "active", groups: groups.split(";").filter(Boolean) };
  });
}

function foundingDocument(people: readonly DemoPerson[]): AccessDocument {
  const place = { state: "live" as const, stance: "follow" as const, tags: [], grants: [] as Grant[], fences: [] };
  return {
    ...emptyDocument(),
    people: people.map(({ id, name, kind, status }) => ({ id, name, kind, status })),
    groups: Object.entries(groupNames).map(([id, name]) => ({
      id,
      name,
      members: [
        ...people.filter((it) => it.groups.includes(id)).map((it) => ({ person: it.id })),
        ...(groupsInGroups[id] ?? []).map((inner) => ({ group: inner })),
      ],
    })),
    places: [
      { ...place, id: "site", kind: "site", title: "Brinehaven Harbour Authority", grants: siteGrants },
      ...demoSpaces.map((space) => ({
        ...place,
        id: space.id,
        kind: "space" as const,
        parent: "site",
        title: space.title,
        grants: space.grants,
        ...(space.ceilings ? { ceilings: space.ceilings } : {}),
      })),
    ],
  };
}

async function found(now: Instant): Promise<void> {
  const people = readPeople();
  const password = randomBytes(18).toString("base64url");
  const passwordHash = await hashOfPassword(password);
  const document = foundingDocument(people);
  await inChange(async (tx) => {
    const empty = emptyDocument();
    const entry = await appendEntry(
      tx,
      {
        maker: null,
        act: "found",
        places: document.places.map(({ id }) => id),
        note: "Brinehaven's spaces, people and groups brought in.",
      },
      now,
    );
    await writeDifference(tx, empty, document, entry.seq, null);
    await writeListing(tx, null, compile(document), entry.at);
    await fillExposures(tx, compile(document), entry);
    await tx
      .insert(spaces)
      .values(demoSpaces.map(({ id, slug, purpose, landing }, position) => ({ placeId: id, slug, purpose, landingId: landing, position })));
    for (const person of people) await addAccount(tx, { ...person, email: `${person.id}@brinehaven.invalid`, passwordHash });
    await tx.insert(castTable).values(
      demoCast.map(({ person, role }, position) => ({
        personId: person,
        role,
        email: `${person}@brinehaven.invalid`,
        password,
        position,
      })),
    );
  });
}

/** Changes that no screen offers yet, in one entry with its ripple: whoever may make them does. */
async function importChange(now: Instant, maker: string, note: string, editsFor: (document: AccessDocument) => Edit[]): Promise<void> {
  await inChange(async (tx: Tx) => {
    const before = await loadDocument(tx);
    const edits = editsFor(before);
    const was = compile(before);
    const updated = update(was, edits);
    if (!updated.ok) throw new Error(JSON.stringify(updated.conflicts));
    const places = edits.flatMap((edit) => placeOfEdit(edit) ?? []);
    const entry = await appendEntry(tx, { maker, act: "import", places, edits, ripple: ripple(was, updated.index, now), note }, now);
    await writeDifference(tx, before, updated.index.document, entry.seq, edits);
    await keepExposures(tx, updated.index, edits, ripple(was, updated.index, now), entry);
    await keepTurns(tx, edits, ripple(was, updated.index, now), entry);
    await writeListing(tx, was, updated.index, entry.at);
  });
}

interface Event {
  at: Instant;
  run(): Promise<unknown>;
}

/** The keeper of the space a page ends up in: who publishes there. */
function keeperOf(page: DemoPage, pages: readonly DemoPage[]): string {
  const above = pages.find(({ id }) => id === page.parent);
  if (above) return keeperOf(above, pages);
  const keeper = demoSpaces.find(({ id }) => id === page.parent)?.grants.find(({ abilities }) => abilities.includes("govern"));
  if (!keeper || !("person" in keeper.to)) throw new Error(`${page.id} stands in ${page.parent}, which has no keeper`);
  return keeper.to.person;
}

function pageEvents(page: DemoPage, keeper: string, { position, slot }: { position: number; slot: string }, now: Instant): Event[] {
  const start = instantAt(Math.max(now - page.daysAgo * DAY, now - (FOUNDED_DAYS_AGO - 2) * DAY) + position * 60_000);
  const { id, owner, title } = page;
  const part = (step: number) => ({
    schema: 1 as const,
    content: page.body.content.slice(0, Math.max(1, Math.ceil((page.body.content.length * step) / page.versions))),
  });
  const events: Event[] = [
    { at: start, run: () => startPage(owner, { id, parent: page.parent, as: page.kind, title, body: part(1), now: start, slot }) },
  ];
  let version = { major: 0, minor: 1 };
  const published = page.state !== "draft" && page.state !== "scheduled";
  const publish = (at: Instant, note: string) => {
    const from = version;
    version = { major: from.major + 1, minor: 0 };
    events.push({ at, run: () => publishPage(keeper, id, { version: `${from.major}.${from.minor}`, note, now: at }) });
  };
  if (published) publish(instantAt(start + HOUR), "First published.");
  const span = now - DAY - start;
  for (let step = 2; step <= page.versions; step++) {
    const at = instantAt(start + 2 * HOUR + Math.floor((span * (step - 1)) / (page.versions + 1)));
    const base = version;
    version = { major: base.major, minor: base.minor + 1 };
    events.push({
      at,
      run: () => saveVersion(owner, id, { title, body: part(step), base: `${base.major}.${base.minor}`, note: "", now: at }),
    });
    if (published && (step % 3 === 0 || step === page.versions)) publish(instantAt(at + HOUR / 2), "");
  }
  if (page.state === "scheduled") {
    const at = instantAt(now - 20 * HOUR);
    events.push({
      at,
      run: () =>
        schedulePage(keeper, id, {
          what: "live",
          at: new Date(now + 12 * DAY).toISOString(),
          zone: "Europe/Berlin",
          note: "With the new year's timetable.",
          version: `${version.major}.${version.minor}`,
          keepHelpers: false,
          now: at,
        }),
    });
  }
  return events;
}

/** The edits that give pages the tags they have in the texts. */
function tagEdits(document: AccessDocument, pages: readonly DemoPage[]): Edit[] {
  const known = new Map(document.places.map(({ id, tags }) => [id, tags]));
  return pages.flatMap(({ id, tags }): Edit[] => {
    const from = known.get(id);
    return tags.length > 0 && from ? [{ kind: "tags", place: id, from, to: tags }] : [];
  });
}

/** Loads the demo; everything is relative to the present instant. */
export async function loadDemo(present: number = Date.now()): Promise<void> {
  const now = instantAt(present);
  const folder = new URL("./texts/", import.meta.url);
  const pages = readdirSync(folder)
    .sort()
    .flatMap((file) => readTexts(readFileSync(new URL(file, folder), "utf8")));
  await found(instantAt(now - FOUNDED_DAYS_AGO * DAY));
  const slots = generateNKeysBetween(null, null, pages.length);
  const events = pages.flatMap((page, i) => pageEvents(page, keeperOf(page, pages), { position: i + 1, slot: slots[i] as string }, now));
  for (const { daysAgo, maker, note, edits } of rulesHistory(now)) {
    const at = instantAt(now - daysAgo * DAY + 11 * HOUR);
    events.push({ at, run: () => inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note, now: at })) });
  }
  events.push({
    at: instantAt(now - 40 * DAY),
    run: () =>
      importChange(instantAt(now - 40 * DAY), "ines", "Pledges made after the audit; tags they use; two passes.", (document) => [
        ...tagEdits(document, pages),
        ...demoPledges.map((put): Edit => ({ kind: "pledge", pledge: put.id, put })),
        ...[
          { id: "passlandings", place: "landings", below: false, revoked: false, until: new Date(now + 30 * DAY).toISOString() },
          { id: "passwater", place: "waterquality", below: false, revoked: false, until: new Date(now - 20 * DAY).toISOString() },
        ].map((put): Edit => ({ kind: "pass", pass: put.id, put })),
      ]),
  });
  for (const { daysAgo, maker, note, acts = [], edits = [], act: called } of [
    ...livesOf(pages, (page) => keeperOf(page, pages)),
    ...reviewsOf(now),
  ]) {
    const at = instantAt(now - daysAgo * DAY + 9 * HOUR);
    const act = called ?? acts[0]?.act ?? "marks";
    events.push({ at, run: () => inChange((tx) => makeChange(tx, { maker, edits, acts, act, note, now: at })) });
  }
  events.sort((a, b) => a.at - b.at);
  for (const event of events) await event.run();
  await inChange((tx) =>
    makeChange(tx, {
      maker: "ines",
      edits: [],
      acts: [{ act: "archive", places: ["oldport"] }],
      act: "archive",
      note: "Nobody has changed a word here for a year.",
      now: instantAt(now - 3 * HOUR),
    }),
  );
  await takeBackMistake(now);
  await loadDoors(now);
  await loadGuests(now);
  await loadTemplates();
  await loadBenches(now);
  const readers = readPeople().filter(({ status }) => status === "active");
  await loadReads(
    pages,
    readers.map(({ id }) => id),
    now,
  );
  await loadRoutines(now);
  await loadWaiting(now);
  // Documents were brought in, and pages linked to that came later.
  await inChange(async (tx) => {
    await deriveListing(tx, null);
    await countLinksIn(tx, null);
    await countViews(tx);
  });
  const { id } = await lookForFindings("ines");
  await runJob(id, KINDS);
  const night = new Date(now - 9 * HOUR);
  await database().update(jobs).set({ startedAt: night, endedAt: night }).where(eq(jobs.id, id));
}

/** Two hours ago Maren opened a page to everybody by mistake; an hour ago she took it back. */
async function takeBackMistake(now: Instant): Promise<void> {
  const edits: Edit[] = [{ kind: "grant", place: "mooring", put: grant(everyone, 1) }];
  const { seq } = await inChange((tx) =>
    makeChange(tx, { maker: "maren", edits, act: "rules", note: "Visitors asked how lines are handled.", now: instantAt(now - 2 * HOUR) }),
  );
  const { seen } = await previewTakeBack("maren", seq);
  await takeBack("maren", seq, { note: "Meant the page for visitors, not this one.", seen });
}
