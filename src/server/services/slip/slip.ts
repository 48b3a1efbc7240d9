/** The slip of a place: who has access, by level; its rules; its life. */

import { and, arrayContains, desc, eq, gte, lte, sum } from "drizzle-orm";
import type { Named } from "../../../contracts/people.ts";
import type { Slip } from "../../../contracts/slip.ts";
import { mayStepIn, opensByStepIn } from "../../../core/access/authority/index.ts";
import { fenceSentence, grantSentence, principalName } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, pathOf, placeOf, spaceIdOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Grant, type Group, highestLevelFor } from "../../../core/access/model/index.ts";
import { landingCandidates } from "../../../core/lifecycle/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, mayNot, mayRead, readAccess, seenPlace, somebodyKnown, standing, subjectFor } from "../../access/current.ts";
import { namesFor, titlesAbove } from "../../access/known.ts";
import { dayBefore } from "../../clock.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { ledger, pages, spaces, versions, viewCounts } from "../../db/schema/index.ts";
import { openSight, type Sight, seenThen, sightOfNow } from "../grid/sight.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { whoMade } from "../ledger/told.ts";
import { actsFor } from "../life/planning.ts";
import { linksHere } from "../links/linksHere.ts";
import { standingAmong } from "../moving/reorder.ts";
import { publicPagesOf } from "../outside/openPages.ts";
import { managersOf } from "../people/managers.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { schedulesOf } from "../writing/scheduling.ts";
import { openStepIns } from "./steppingIn.ts";

/** The ceilings that stand at the site or at a space. */
function ceilingsAt({ access, me, live }: Sight, there: CompiledPlace): Slip["rules"]["ceilings"] {
  const { place } = there;
  if (place.kind !== "site" && place.kind !== "space") return null;
  const site = access.index.document.ceilings;
  return {
    own: place.kind === "site" ? site : (place.ceilings ?? null),
    site,
    mayChange: live && mayNot(access, me, "changeCeilings", there) === null,
  };
}

/** A group and every group in it: whoever fills one of them lets people in where the first is granted something. */
function withInside(groups: readonly Group[], id: string): string[] {
  const found = new Set([id]);
  for (const at of found)
    for (const member of groups.find((it) => it.id === at)?.members ?? []) if ("group" in member) found.add(member.group);
  return [...found];
}

async function rulesAt(tx: Tx, sight: Sight, place: CompiledPlace): Promise<Slip["rules"]> {
  const { access, names } = sight;
  const path = pathOf(access.index, place);
  const start = path.findLastIndex((step) => step.fresh);
  const seen = path.slice(0, -1).flatMap((step, i) => {
    if (!sight.sees(step)) return [];
    const where = names.place(step.place.id);
    const grants = step.place.grants.map((grant) => ({ place: where, text: grantSentence(grant, names), cutOff: i < start }));
    const fences = step.place.fences.map((fence) => ({
      place: where,
      text: `${fence.kind} fence: ${fenceSentence(fence, names)}`,
      cutOff: false,
    }));
    return [...grants, ...fences];
  });
  const unseen = path.slice(0, -1).reduce((sum, step) => sum + (sight.sees(step) ? 0 : step.grants.length + step.fences.length), 0);
  const hidden =
    unseen > 0
      ? [{ place: "places above that you cannot see", text: `${unseen} more ${unseen === 1 ? "rule" : "rules"}`, cutOff: false }]
      : [];
  const above = [...seen, ...hidden];
  const groupsIn = (grant: Grant) => ("group" in grant.to ? withInside(access.index.document.groups, grant.to.group) : []);
  // Who manages a group has no history of its own.
  const managers = await managersOf(tx, sight.live ? place.place.grants.flatMap(groupsIn) : []);
  const managing = (grant: Grant) =>
    groupsIn(grant).flatMap((group) => (managers.get(group) ?? []).map(({ person }) => names.person(person)));
  return {
    stance: place.place.stance,
    grants: place.place.grants.map((grant, i) => ({
      grant,
      text: grantSentence(grant, names),
      who: principalName(grant.to, names),
      most: highestLevelFor(grant.to, "person" in grant.to && subjectOf(access.index, grant.to)?.class === "guests"),
      managers: [...new Set(managing(grant))],
      ended: (place.grants[i]?.until ?? Number.POSITIVE_INFINITY) <= access.at,
    })),
    fences: place.place.fences.map((fence) => ({
      fence,
      text: fenceSentence(fence, names),
      names: fence.admits.map((it) => principalName(it, names)),
    })),
    above,
    ceilings: ceilingsAt(sight, place),
  };
}

/** The newest versions of a page: all, the live one alone, or none. */
async function versionsOf(tx: Tx, id: string, shown: "all" | "live" | "none", liveMajor: number) {
  if (shown === "none") return [];
  const live = and(eq(versions.major, liveMajor), eq(versions.minor, 0));
  const { major, minor, title, at, authorId: author, note } = versions;
  return tx
    .select({ major, minor, title, at, author, note })
    .from(versions)
    .where(and(eq(versions.placeId, id), shown === "all" ? undefined : live))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(20);
}

async function lifeOf(
  tx: Tx,
  access: Access,
  me: ReturnType<typeof subjectFor>,
  place: CompiledPlace,
  { knows, stepped }: { knows: boolean; stepped: boolean },
): Promise<Slip["life"]> {
  const names = namesFor(access, me);
  const id = place.place.id;
  const [page] = await tx.select().from(pages).where(eq(pages.placeId, id));
  // Working titles and notes are for those who may open the working version; readers have the live one.
  const writes = stepped || mayNot(access, me, "openWorking", place) === null;
  const scheduled = await schedulesOf(tx, id);
  const shown = writes ? "all" : mayRead(access, me, place) ? "live" : "none";
  const versionRows = await versionsOf(tx, id, shown, page?.liveMajor ?? -1);
  const since = dayBefore(30, access.at);
  const [views] = await tx
    .select({ views: sum(viewCounts.views) })
    .from(viewCounts)
    .where(and(eq(viewCounts.placeId, id), gte(viewCounts.day, since)));
  const [last] = knows
    ? await tx
        .select({ seq: ledger.seq, at: ledger.at, maker: ledger.maker, act: ledger.act })
        .from(ledger)
        .where(arrayContains(ledger.places, [id]))
        .orderBy(desc(ledger.seq))
        .limit(1)
    : [];
  const changes = place.place.kind === "space" && mayNot(access, me, "changeSpace", place) === null;
  const person = (personId: string | null) => (personId === null ? "Tesoro" : names.person(personId));
  return {
    owner: place.place.owner ? { id: place.place.owner, name: names.person(place.place.owner) } : null,
    mayHandOver: mayNot(access, me, "handOver", place) === null,
    tags: place.place.tags,
    mayTag: mayNot(access, me, "tag", place) === null,
    ...(await marksOf(tx, access, place)),
    mayChangeSpace: changes,
    space: changes ? await spaceOf(tx, access, place) : null,
    started: page?.startedAt.toISOString() ?? null,
    published: page?.publishedAt?.toISOString() ?? null,
    due: writes || knows ? scheduled.live : null,
    archives: writes || knows ? scheduled.archive : null,
    // When its working version last changed is for those who may open that.
    changed: writes || knows ? (page?.changedAt.toISOString() ?? null) : null,
    versions: versionRows.map((row) => ({
      name: `${row.major}.${row.minor}`,
      title: row.title,
      at: row.at.toISOString(),
      author: person(row.author),
      note: writes ? row.note : "",
    })),
    views30: page && mayNot(access, me, "seeReads", place) === null ? Number(views?.views ?? 0) : null,
    order: await standingAmong(tx, access, me, place),
    links: await linksHere(tx, access, me, place),
    lastChange: last ? { seq: last.seq, at: last.at.toISOString(), who: whoMade(names, last) } : null,
  };
}

/** What is said of a place beside the document: readiness and its words, how pages are arranged. */
async function marksOf(tx: Tx, access: Access, place: CompiledPlace) {
  const [page] = await tx.select({ readiness: pages.readiness }).from(pages).where(eq(pages.placeId, place.place.id));
  const around = spaceIdOf(access.index, place);
  const [space] = await tx.select({ words: spaces.readiness, arranged: spaces.arranged }).from(spaces).where(eq(spaces.placeId, around));
  return {
    readiness: page?.readiness ?? null,
    readinessWords: space?.words ?? [],
    arranged: place.place.kind === "space" ? (space?.arranged ?? "hand") : null,
  };
}

/** So many pages are offered to land on, those nearest to the top. */
const MOST_LANDINGS = 60;

/** What a space is called and is for, and where people land in it. */
async function spaceOf(tx: Tx, access: Access, space: CompiledPlace): Promise<Slip["life"]["space"]> {
  const { index } = access;
  const [row] = await tx.select().from(spaces).where(eq(spaces.placeId, space.place.id));
  if (!row) return null;
  const named = ({ place }: CompiledPlace): Named => ({ id: place.id, name: place.title ?? "" });
  const landing = row.landingId === null ? undefined : placeOf(index, row.landingId);
  return {
    settings: {
      name: space.place.title ?? "",
      address: row.slug,
      purpose: row.purpose,
      history: row.history,
      indexed: row.indexed,
      approval: row.approval,
      flags: row.flags,
      ...(row.reviewDays === null ? {} : { review: row.reviewDays }),
    },
    publicReads: publicPagesOf(access, space).length,
    landing: landing ? named(landing) : null,
    landings: landingCandidates(index, space).slice(0, MOST_LANDINGS).map(named),
  };
}

async function mayAskIn(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<boolean> {
  const { guestsBySpaceKeepers: allowed } = await readHouseRules(tx);
  return mayNot(access, me, "bringInGuest", place, { allowed }) === null;
}

/** The slip of a place; as of another instant, what stood there then, and nothing to be done. */
export function readSlip(asker: string, placeId: string, at?: string): Promise<Slip> {
  return at === undefined ? readSlipNow(asker, placeId) : readSlipThen(asker, placeId, at);
}

const NO_RULES: Slip["rules"] = { stance: "follow", grants: [], fences: [], above: [], ceilings: null };

const titleOf = ({ place: { kind, title } }: CompiledPlace): string => (kind === "site" ? "The whole site" : (title ?? ""));

function readSlipNow(asker: string, placeId: string): Promise<Slip> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    const sight = sightOfNow(access, me);
    const knows = sight.tells(place);
    const { kind, state } = place.place;
    const stepped = opensByStepIn(access.index, await openStepIns(tx, asker, access.at), me, place, access.at);
    const isPage = kind === "page" || kind === "bulletin";
    return {
      id: placeId,
      title: titleOf(place),
      kind,
      state,
      path: titlesAbove(access, me, place),
      address: kind !== "site" && (stepped || mayRead(access, me, place)) ? readerAddress(await spaceSlugs(tx), access.index, place) : null,
      mayWrite: isPage && mayNot(access, me, "write", place) === null,
      mayStepIn: mayStepIn(access.index, me, place, access.at) && !stepped,
      mayAskIn: kind !== "site" && (await mayAskIn(tx, access, me, place)),
      mayAdd:
        (kind === "space" || kind === "page") && mayNot(access, me, "start", place, { there: standing(access, me, place).set }) === null,
      acts: actsFor(access, me, place),
      knowsOthers: knows,
      asOf: null,
      rules: knows ? await rulesAt(tx, sight, place) : NO_RULES,
      life: await lifeOf(tx, access, me, place, { knows, stepped }),
    };
  });
}

/** What is said of the life of a place as it was: what the rules of then hold, and the last change up to then. */
async function lifeThen(tx: Tx, { access, names }: Sight, { place }: CompiledPlace): Promise<Slip["life"]> {
  const [page] = await tx.select({ startedAt: pages.startedAt }).from(pages).where(eq(pages.placeId, place.id));
  const [last] = await tx
    .select({ seq: ledger.seq, at: ledger.at, maker: ledger.maker, act: ledger.act })
    .from(ledger)
    .where(and(arrayContains(ledger.places, [place.id]), lte(ledger.seq, access.seq)))
    .orderBy(desc(ledger.seq))
    .limit(1);
  return {
    owner: place.owner ? { id: place.owner, name: names.person(place.owner) } : null,
    mayHandOver: false,
    tags: place.tags,
    mayTag: false,
    readiness: null,
    readinessWords: [],
    arranged: null,
    mayChangeSpace: false,
    space: null,
    started: page?.startedAt.toISOString() ?? null,
    published: null,
    due: null,
    archives: null,
    changed: null,
    versions: [],
    views30: null,
    order: null,
    links: null,
    lastChange: last ? { seq: last.seq, at: last.at.toISOString(), who: whoMade(names, last) } : null,
  };
}

export const readSlipThenHere = (asker: string, placeId: string, at: string): Promise<Slip> =>
  inSnapshot(async (tx) => {
    const sight = await openSight(tx, asker, at);
    const { index } = sight.access;
    const place = seenThen(sight, placeId);
    return {
      id: placeId,
      title: titleOf(place),
      kind: place.place.kind,
      state: place.place.state,
      path: pathOf(index, place)
        .slice(1, -1)
        .map((step) => (sight.sees(step) ? (step.place.title ?? "") : "…")),
      address: null,
      mayWrite: false,
      mayStepIn: false,
      mayAskIn: false,
      mayAdd: false,
      acts: [],
      knowsOthers: sight.tells(place),
      asOf: new Date(sight.access.at).toISOString(),
      rules: await rulesAt(tx, sight, place),
      life: await lifeThen(tx, sight, place),
    };
  });

const readSlipThen = ofWholeSite("readSlipThenHere", somebodyKnown, readSlipThenHere);
