/** Writing: starting a draft, saving versions, autosave, publishing (lifecycle.md, "Versions", "Writing"). */

import { eq } from "drizzle-orm";
import type { Spent, WorkingPage } from "../../../contracts/writing.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import type { Instant } from "../../../core/access/model/index.ts";
import { emptyBody, type PageBody } from "../../../core/content/index.ts";
import { mayNot, maySee, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { bodyFor, bodyFrom } from "../../content/bodies.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { deriveListing } from "../../db/deriving.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWords } from "../../db/listing.ts";
import { pages, versions } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { tellOf } from "../../live/listening.ts";
import { changedMeanwhile, notThere } from "../../trouble.ts";
import { approvalOf } from "../approval/standing.ts";
import { makeChange } from "../change/apply.ts";
import { actsFor } from "../life/planning.ts";
import { keepWorkingLinks } from "../links/keepLinks.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { forgetWords, keptWords } from "./buffers.ts";
import { schedulesOf } from "./scheduling.ts";
import { writeStarted } from "./starting.ts";
import { newestVersion, versionName } from "./versions.ts";
import { checkedBody, writable } from "./writable.ts";

/** Starts a draft in a place (`add` there), owned by who starts it. */
export async function startPage(
  maker: string,
  order: { parent: string; as: "page" | "bulletin"; title: string; body?: PageBody; id?: string; now?: Instant; slot?: string },
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
    const body = checkedBody(order.body ?? emptyBody());
    await writeStarted(tx, entry, { id, parent: order.parent, as: order.as, maker, title: order.title, body, slot: order.slot });
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
    const there = standing(access, me, place).set;
    return { title: title ?? "", isSpace: kind === "space", refusal: mayNot(access, me, "start", place, { there }) ?? "" };
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
      kind: place.place.kind === "bulletin" ? "bulletin" : "page",
      acts: actsFor(access, me, place),
      title: newest.title,
      body: bodyFor(access, me, newest.body),
      version: versionName(newest),
      liveVersion: page?.liveMajor ? `${page.liveMajor}.0` : null,
      state,
      savedBy: newest.authorId ? names.person(newest.authorId) : "Tesoro",
      savedAt: newest.at.toISOString(),
      mayPublish: (waiting || state === "live") && mayNot(access, me, "publish", place) === null,
      buffers: await keptWords(tx, writer, placeId),
      due: (await schedulesOf(tx, placeId)).live,
      approval: await approvalOf(tx, access, me, place),
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
  now?: Instant;
}

/** Saves a working version. Refused over somebody's newer one; the answer then holds both, and nothing is lost. */
export async function saveVersion(writer: string, placeId: string, order: SaveOrder): Promise<{ version: string }> {
  const sound = checkedBody(order.body);
  return inChange(async (tx) => {
    const access = await readAccess(tx, order.now);
    const { place, me } = writable(access, writer, placeId);
    const newest = await newestVersion(tx, placeId);
    // Words that were carried over a scheduled publication are the same words.
    if (versionName(newest) !== order.base && newest.carriedFrom !== order.base) {
      const names = namesFor(access, me);
      const by = newest.authorId === writer ? "You, in another window," : newest.authorId ? names.person(newest.authorId) : "Tesoro";
      throw changedMeanwhile(`${by} saved version ${versionName(newest)} after you began. Yours is kept; choose what to do with both.`, {
        version: versionName(newest),
        by,
        title: newest.title,
        body: bodyFor(access, me, newest.body),
      });
    }
    const body = bodyFrom(access, me, sound, newest.body);
    const next = { major: newest.major, minor: newest.minor + 1 };
    const entry = await appendEntry(
      tx,
      {
        maker: writer,
        act: "save",
        places: [placeId],
        detail: { version: versionName(next) },
        note: order.note,
        touchesAccess: place.unpublished,
      },
      access.at,
    );
    await tx
      .insert(versions)
      .values({ placeId, ...next, seq: entry.seq, title: order.title, body, authorId: writer, at: entry.at, note: order.note });
    await keepWorkingLinks(tx, placeId, body);
    await tx.update(pages).set({ changedAt: entry.at }).where(eq(pages.placeId, placeId));
    await forgetWords(tx, writer, placeId, order.spent ?? []);
    // A page that never was live is known by its working title; a live one keeps the title its readers see.
    if (place.unpublished) {
      await writeTitle(tx, placeId, order.title, entry.seq);
      await writeWords(tx, placeId, { title: order.title, body }, entry.at);
    }
    await deriveListing(tx, [placeId]);
    await tellOf(tx, placeId);
    return { version: versionName(next) };
  });
}
