/** Writing: starting a draft, saving versions, autosave, publishing (lifecycle.md, "Versions", "Writing"). */

import { desc, eq, sql } from "drizzle-orm";
import type { Spent, WorkingPage } from "../../contracts/answers.ts";
import { ADD, PUBLISH } from "../../core/access/abilities.ts";
import { placeOf } from "../../core/access/accessIndex.ts";
import { effectiveSet } from "../../core/access/evaluate.ts";
import { emptyBody, type PageBody } from "../../core/content/body.ts";
import { maySee, readAccess, seenPlace, subjectFor } from "../access/current.ts";
import { inChange, inSnapshot, type Tx } from "../db/client.ts";
import { writeTitle } from "../db/document.ts";
import { writeWords } from "../db/listing.ts";
import { pages, versions } from "../db/schema.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../http/trouble.ts";
import { newId } from "../ids.ts";
import { appendEntry } from "../ledger/append.ts";
import { readerAddress, spaceSlugs } from "./addresses.ts";
import { forgetWords, keptWords } from "./buffers.ts";
import { makeChange } from "./change.ts";
import { namesFor } from "./naming.ts";
import { checkedBody, mayPublish, writable } from "./writable.ts";

export interface VersionRef {
  major: number;
  minor: number;
}

/** "2.1". */
export const versionName = ({ major, minor }: VersionRef): string => `${major}.${minor}`;

export async function newestVersion(tx: Tx, placeId: string) {
  const [row] = await tx
    .select()
    .from(versions)
    .where(eq(versions.placeId, placeId))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  if (!row) throw notThere();
  return row;
}

/** Starts a draft in a place (`add` there), owned by who starts it. */
export async function startPage(
  maker: string,
  order: { parent: string; as: "page" | "bulletin"; title: string; body?: PageBody; id?: string; now?: number; position?: number },
): Promise<{ id: string }> {
  return inChange(async (tx) => {
    const id = order.id ?? newId();
    const entry = await makeChange(tx, {
      maker,
      edits: [{ kind: "start", place: id, parent: order.parent, as: order.as, owner: maker }],
      act: "start",
      note: "",
      ...(order.now === undefined ? {} : { now: order.now }),
    });
    const [last] = await tx.select({ position: sql<number>`coalesce(max(${pages.position}), 0)` }).from(pages);
    await tx
      .insert(pages)
      .values({ placeId: id, position: order.position ?? (last?.position ?? 0) + 1, startedAt: entry.at, changedAt: entry.at });
    await tx.insert(versions).values({
      placeId: id,
      major: 0,
      minor: 1,
      seq: entry.seq,
      title: order.title.trim(),
      body: checkedBody(order.body ?? emptyBody()),
      authorId: maker,
      at: entry.at,
    });
    await writeTitle(tx, id, order.title.trim(), entry.seq);
    await writeWords(tx, id, { title: order.title, body: order.body ?? emptyBody() }, entry.at);
    return { id };
  });
}

/** Where a page is to be started, and why it may not be. */
export async function readStartPlace(asker: string, parent: string): Promise<{ title: string; isSpace: boolean; refusal: string }> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, parent);
    const { kind, title } = place.place;
    if (kind !== "space" && kind !== "page") throw notThere();
    const may = (effectiveSet(access.index, me, place, access.at) & ADD) !== 0;
    return { title: title ?? "", isSpace: kind === "space", refusal: may ? "" : "You may not add pages here: that needs Writer." };
  });
}

/** What a writer works on: the newest version, and their unsaved words if there are any. */
export async function readWorking(writer: string, placeId: string): Promise<WorkingPage> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const { place } = writable(access, writer, placeId);
    const me = subjectFor(access, writer);
    const names = namesFor(access, me);
    const newest = await newestVersion(tx, placeId);
    const [page] = await tx.select().from(pages).where(eq(pages.placeId, placeId));
    const { state, parent, title } = place.place;
    const above = placeOf(access.index, parent ?? "");
    const waiting = state === "draft" || state === "scheduled";
    return {
      id: placeId,
      title: newest.title,
      body: newest.body,
      version: versionName(newest),
      liveVersion: page?.liveMajor ? `${page.liveMajor}.0` : null,
      state,
      savedBy: newest.authorId ? names.person(newest.authorId) : "Tesoro",
      savedAt: newest.at.toISOString(),
      mayPublish: (waiting || state === "live") && mayPublish(access, me, place),
      buffers: await keptWords(tx, writer, placeId),
      due: page?.dueAt && state === "scheduled" ? { at: page.dueAt.toISOString(), problem: page.dueProblem } : null,
      address: readerAddress(await spaceSlugs(tx), access.index, place),
      above: above && maySee(access, me, above) ? (above.place.title ?? title ?? "") : "",
    };
  });
}

export interface SaveOrder {
  title: string;
  body: PageBody;
  base: string;
  note: string;
  /** Kept words that this version makes needless. */
  spent?: readonly Spent[];
  now?: number;
}

/** Saves a working version. Refused over somebody's newer one; the answer then holds both, and nothing is lost. */
export async function saveVersion(writer: string, placeId: string, order: SaveOrder): Promise<{ version: string }> {
  const body = checkedBody(order.body);
  return inChange(async (tx) => {
    const access = await readAccess(tx, order.now);
    const { place } = writable(access, writer, placeId);
    const newest = await newestVersion(tx, placeId);
    if (versionName(newest) !== order.base) {
      const names = namesFor(access, subjectFor(access, writer));
      const by = newest.authorId === writer ? "You, in another window," : newest.authorId ? names.person(newest.authorId) : "Tesoro";
      throw changedMeanwhile(`${by} saved version ${versionName(newest)} after you began. Yours is kept; choose what to do with both.`, {
        version: versionName(newest),
        by,
        title: newest.title,
        body: newest.body,
      });
    }
    const next = { major: newest.major, minor: newest.minor + 1 };
    const entry = await appendEntry(
      tx,
      {
        maker: writer,
        act: "save",
        places: [placeId],
        edits: [],
        detail: { version: versionName(next) },
        ripple: null,
        note: order.note,
        touchesAccess: place.unpublished,
      },
      access.at,
    );
    await tx
      .insert(versions)
      .values({ placeId, ...next, seq: entry.seq, title: order.title, body, authorId: writer, at: entry.at, note: order.note });
    await tx.update(pages).set({ changedAt: entry.at }).where(eq(pages.placeId, placeId));
    await forgetWords(tx, writer, placeId, order.spent ?? []);
    // A page that never was live is known by its working title; a live one keeps the title its readers see.
    if (place.unpublished) {
      await writeTitle(tx, placeId, order.title, entry.seq);
      await writeWords(tx, placeId, { title: order.title, body }, entry.at);
    }
    return { version: versionName(next) };
  });
}

/** Publishes the newest version: readers get it, and the page goes live if it was not. */
export async function publishPage(
  maker: string,
  placeId: string,
  order: { version: string; note: string; seen?: string; reason?: string; now?: number },
): Promise<{ version: string; seq: number }> {
  return inChange(async (tx) => {
    const access = await readAccess(tx, order.now);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, placeId);
    const newest = await newestVersion(tx, placeId);
    if (versionName(newest) !== order.version)
      throw changedMeanwhile(`Version ${versionName(newest)} was saved meanwhile. Look at it, then publish.`, {
        version: versionName(newest),
      });
    const live = { major: newest.major + 1, minor: 0 };
    const { state } = place.place;
    const detail = { version: versionName(live) };
    let entry: { seq: number; at: Date };
    if (state === "live") {
      if (!(effectiveSet(access.index, me, place, access.at) & PUBLISH)) throw refused("You may not publish this: that needs Publisher.");
      if (newest.minor === 0) throw badRequest("There is nothing newer than the live version to publish.");
      entry = await appendEntry(
        tx,
        { maker, act: "publish", places: [placeId], edits: [], detail, ripple: null, note: order.note, touchesAccess: true },
        access.at,
      );
    } else if (state === "draft" || state === "scheduled") {
      const { now: _, version: __, ...rest } = order;
      const edits = [{ kind: "state" as const, place: placeId, from: { state }, to: { state: "live" as const } }];
      entry = await makeChange(tx, {
        ...rest,
        maker,
        act: "publish",
        detail,
        edits,
        ...(order.now === undefined ? {} : { now: order.now }),
      });
    } else throw badRequest(`A page that is ${state} cannot be published. Restore it first.`);
    await tx.insert(versions).values({
      placeId,
      ...live,
      seq: entry.seq,
      title: newest.title,
      body: newest.body,
      authorId: maker,
      at: entry.at,
      note: order.note,
    });
    await tx.update(pages).set({ liveMajor: live.major, publishedAt: entry.at, changedAt: entry.at }).where(eq(pages.placeId, placeId));
    await writeTitle(tx, placeId, newest.title, entry.seq);
    await writeWords(tx, placeId, newest, entry.at);
    return { version: versionName(live), seq: entry.seq };
  });
}
