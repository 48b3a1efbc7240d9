/** The publish sheet: who will be able to read a page once it is live, and what is in the way (lifecycle.md, "Before it goes live"). */

import { asc, eq } from "drizzle-orm";
import type { LookAtPublicationBody, PublicationSheet, ReadersTold } from "../../../contracts/publication.ts";
import { principalName } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, pathOf, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { maskOf, principalKey, RETIRE } from "../../../core/access/model/index.ts";
import { type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { findingsIn, lookFor, passagesOf } from "../../../core/findings/index.ts";
import { authorsOfNew } from "../../../core/lifecycle/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, mayNot, maySee, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { benchVersions, pages, spaces } from "../../db/schema/index.ts";
import { changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { leadNowhere, Readers } from "../links/linksHere.ts";
import { draftVersion, levelIn, openDraft } from "../workbench/opening.ts";
import { chosenVersion } from "../writing/publishing.ts";
import { helpersOf, mayWish, type PublicationPlan, planPublication, type Subject } from "./planning.ts";

/** Of the house's own words those alone that stand in the text: nobody learns the others by publishing. */
async function houseWordsIn(tx: Tx, body: PageBody): Promise<string[]> {
  const { sensitiveWords } = await readHouseRules(tx);
  const found = findingsIn(passagesOf(body), lookFor(sensitiveWords));
  return [...new Set(found.flatMap(({ kind, found: word }) => (kind === "word" ? [word] : [])))];
}

/** A page that may be published by whoever asks, where it stands or where it is to go. */
export async function pageToPublish(tx: Tx, asker: string, id: string, order: LookAtPublicationBody): Promise<Subject> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const place = seenPlace(access, me, id);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  const into = order.to === undefined ? undefined : seenPlace(access, me, order.to);
  const moves = into !== undefined && into.place.id !== place.place.parent;
  const there = moves ? standing(access, me, into).set : 0;
  // Whoever publishes it here, or owns the draft, is told what they may not do there.
  const refusal = mayNot(access, me, "seePublishSheet", place, moves ? { there } : {});
  if (refusal !== null) throw refused(refusal);
  if (moves) need(access, me, "start", into, { there });
  return { kind: "page", place };
}

/** A private draft that its owner places or publishes. */
export async function draftToPublish(tx: Tx, asker: string, id: string, order: LookAtPublicationBody, lock = false): Promise<Subject> {
  const open = await openDraft(tx, asker, id, RETIRE, lock);
  if (draftVersion(open.draft) !== order.version)
    throw changedMeanwhile(`Version ${draftVersion(open.draft)} was saved meanwhile. Look at it, then publish.`, {
      version: draftVersion(open.draft),
    });
  if (order.to !== undefined) seenPlace(open.access, open.me, order.to);
  const since = await tx
    .select({ title: benchVersions.title, body: benchVersions.body, author: benchVersions.authorId })
    .from(benchVersions)
    .where(eq(benchVersions.draftId, id))
    .orderBy(asc(benchVersions.rev));
  return { kind: "draft", open, authors: authorsOfNew(null, since) };
}

async function bodyOf(tx: Tx, subject: Subject, order: LookAtPublicationBody): Promise<PageBody> {
  if (subject.kind === "page") return (await chosenVersion(tx, subject.place.place.id, order)).chosen.body;
  const { id, rev } = subject.open.draft;
  const rows = await tx.select().from(benchVersions).where(eq(benchVersions.draftId, id));
  const newest = rows.find((row) => row.rev === rev);
  if (!newest) throw notThere();
  return newest.body;
}

export async function readinessOf(tx: Tx, subject: Subject): Promise<string | null> {
  if (subject.kind === "draft") return null;
  const [page] = await tx.select({ readiness: pages.readiness }).from(pages).where(eq(pages.placeId, subject.place.place.id));
  return page?.readiness ?? null;
}

function readersTold(access: Access, asker: string, own: Readers, place: CompiledPlace): ReadersTold {
  const me = subjectFor(access, asker);
  const guests = own.all.filter((it) => it.person && it.class === "guests");
  const names = namesFor(access, me);
  // Of a page that is not there yet, whoever may know others where it will stand may know its readers.
  const where = placeOf(access.index, place.place.id) ?? placeOf(access.index, place.place.parent ?? "");
  const told = where !== undefined && mayKnowOthers(access, me, where);
  return {
    public: own.all.some((it) => "public" in it.subject),
    passes: own.all.filter((it) => it.pass).length,
    guests: guests.length,
    guestNames: told ? guests.map((it) => names.person(it.person?.id ?? "")) : [],
    members: own.all.filter((it) => it.class === "members").length,
  };
}

const CAN = { read: "reads", comment: "reads and comments", write: "reads and writes" } as const;

/** Helpers on it, who leave when it goes live unless they are kept. */
function helpersTold(subject: Subject, access: Access, asker: string): PublicationSheet["helpers"] {
  const names = namesFor(access, subjectFor(access, asker));
  const all =
    subject.kind === "draft"
      ? helpersOf(subject.open)
      : subject.place.unpublished
        ? subject.place.place.grants.filter(({ draft }) => draft)
        : [];
  return all.map(({ to, abilities }) => ({
    key: principalKey(to),
    name: principalName(to, names),
    can: CAN[levelIn(maskOf(abilities)) ?? "read"],
  }));
}

/** Where it will stand, from the space down, as far as whoever asks may know it. */
function pathTold({ before, after, page }: PublicationPlan, asker: string): string[] {
  const me = subjectFor(before, asker);
  const place = placeOf(after.index, page);
  const above = place ? pathOf(after.index, place).slice(1, -1) : [];
  return above.map((it) => {
    const known = placeOf(before.index, it.place.id);
    return known && maySee(before, me, known) ? (known.place.title ?? "") : "…";
  });
}

async function wordsOfReadiness(tx: Tx, { after, page }: PublicationPlan): Promise<string[]> {
  const space = after.index.places[placeOf(after.index, page)?.space ?? -1]?.place.id ?? "";
  const [row] = await tx.select({ words: spaces.readiness }).from(spaces).where(eq(spaces.placeId, space));
  return row?.words ?? [];
}

async function sheetOf(tx: Tx, asker: string, subject: Subject, order: LookAtPublicationBody): Promise<PublicationSheet> {
  const readiness = await readinessOf(tx, subject);
  const plan = await planPublication(tx, { maker: asker, subject, order, readiness, look: true });
  const { before, after, asLive, page } = plan;
  const me = subjectFor(before, asker);
  const here = placeOf(asLive, page) as CompiledPlace;
  const own = new Readers(before, asLive, here);
  const then = { ...before, index: after.index };
  const meThen = subjectOf(after.index, { person: asker }) ?? me;
  const placeThen = placeOf(after.index, page) as CompiledPlace;
  const body = await bodyOf(tx, subject, order);
  const may = (act: "changeRules" | "handOver" | "tag") => mayNot(then, meThen, act, placeThen) === null;
  const owner = placeThen.place.owner;
  return {
    preview: plan.preview,
    path: pathTold(plan, asker),
    moves: plan.first.length > 0 || plan.then.some(({ kind }) => kind === "move"),
    readers: readersTold(before, asker, own, here),
    deadLinks: leadNowhere(before, me, own, pagesLinkedFrom(body)),
    helpers: helpersTold(subject, before, asker),
    mayKeepHelpers: may("changeRules"),
    houseWords: await houseWordsIn(tx, body),
    rules: plan.rules,
    mayWish: mayWish(plan, asker),
    owner: owner ? { id: owner, name: namesFor(before, me).person(owner) } : null,
    mayHandOver: may("handOver"),
    tags: placeThen.place.tags,
    mayTag: may("tag"),
    readiness: order.readiness ?? readiness ?? "",
    readinessWords: await wordsOfReadiness(tx, plan),
    unapproved: plan.unapproved,
  };
}

export const lookAtPublicationHere = (asker: string, id: string, order: LookAtPublicationBody): Promise<PublicationSheet> =>
  inSnapshot(async (tx) => sheetOf(tx, asker, await pageToPublish(tx, asker, id, order), order));

/** How far a publication reaches: a page goes elsewhere with all that is below it, and so do wishes about its readers. */
export const reachOfPublication = (asker: string, id: string, order: LookAtPublicationBody) => ({
  places: order.to !== undefined || order.wishes.length > 0 ? [id] : [],
  first: () => inSnapshot((tx) => pageToPublish(tx, asker, id, order)),
});

/** What publishing a page would do, in one snapshot: for those who may publish it. */
export const lookAtPublication = (asker: string, id: string, order: LookAtPublicationBody): Promise<PublicationSheet> =>
  whereItFits("lookAtPublicationHere", [asker, id, order], reachOfPublication(asker, id, order), () =>
    lookAtPublicationHere(asker, id, order),
  );

/** A private draft reaches as far as the place it goes to: its rules, and wishes about its readers, are weighed there. */
export const reachOfDraft = (asker: string, id: string, order: LookAtPublicationBody) => ({
  places: order.to === undefined ? [] : [order.to],
  first: () => inSnapshot((tx) => draftToPublish(tx, asker, id, order)),
});

/** What placing or publishing a private draft would do. */
export const lookAtDraftPublication = (asker: string, id: string, order: LookAtPublicationBody): Promise<PublicationSheet> =>
  whereItFits("lookAtDraftPublicationHere", [asker, id, order], reachOfDraft(asker, id, order), () =>
    lookAtDraftPublicationHere(asker, id, order),
  );

export const lookAtDraftPublicationHere = (asker: string, id: string, order: LookAtPublicationBody): Promise<PublicationSheet> =>
  inSnapshot(async (tx) => sheetOf(tx, asker, await draftToPublish(tx, asker, id, order), order));
