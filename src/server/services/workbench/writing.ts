/** Writing a private draft: as a page is written, with words kept meanwhile and nothing saved over somebody else's. */
import { and, desc, eq, lt } from "drizzle-orm";
import { type TakeUpBody, VERSIONS_AT_ONCE, type VersionList, type VersionsQuery, type VersionText } from "../../../contracts/versions.ts";
import type { Helper, PrivateDraft } from "../../../contracts/workbench.ts";
import { placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { READ, RETIRE, REVISE } from "../../../core/access/model/index.ts";
import { benchSet } from "../../../core/access/workbench/index.ts";
import { pagesLinkedFrom } from "../../../core/content/index.ts";
import { mayRead } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { bodyFor, bodyFrom } from "../../content/bodies.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { benchDrafts, benchVersions } from "../../db/schema/index.ts";
import { badRequest, changedMeanwhile, notThere } from "../../trouble.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { forgetWords, keptWords } from "../writing/buffers.ts";
import { versionRef } from "../writing/versions.ts";
import { checkedBody } from "../writing/writable.ts";
import type { SaveOrder } from "../writing/writing.ts";
import { draftVersion, levelIn, type OpenDraft, onBench, openDraft } from "./opening.ts";

async function versionAt(tx: Tx, draftId: string, rev: number) {
  const [row] = await tx
    .select()
    .from(benchVersions)
    .where(and(eq(benchVersions.draftId, draftId), eq(benchVersions.rev, rev)));
  if (!row) throw notThere();
  return row;
}

/** Who is let in, as its owner sees them. */
export function helpersTold({ access, me, draft, helpers }: OpenDraft): Helper[] {
  const names = namesFor(access, me);
  return helpers.map(({ personId, abilities }) => {
    const subject = subjectOf(access.index, { person: personId });
    const of = { owner: draft.ownerId, helpers: [{ person: personId, abilities }] };
    const reads = subject && (benchSet(access.index, of, subject, access.at) & READ) !== 0;
    return {
      id: personId,
      name: names.person(personId),
      guest: subject?.class === "guests",
      level: levelIn(abilities) ?? "read",
      shutOut: !reads,
    };
  });
}

export const readDraft = (asker: string, id: string): Promise<PrivateDraft> =>
  inSnapshot(async (tx) => {
    const open = await openDraft(tx, asker, id);
    const { access, me, draft, set, mine } = open;
    const names = namesFor(access, me);
    const newest = await versionAt(tx, id, draft.rev);
    return {
      id,
      title: newest.title,
      body: bodyFor(access, me, newest.body),
      version: draftVersion(draft),
      savedBy: names.person(newest.authorId),
      savedAt: newest.at.toISOString(),
      buffers: set & REVISE ? await keptWords(tx, asker, id) : [],
      mine,
      owner: names.person(draft.ownerId),
      mayWrite: (set & REVISE) !== 0,
      helpers: mine ? helpersTold(open) : [],
      thrownAt: draft.thrownAt?.toISOString() ?? null,
    };
  });

/** Writes a version on top of the one it was written on; refused over somebody's newer one, with both. */
async function saveIn(tx: Tx, { access, me, draft, asker }: OpenDraft, order: SaveOrder): Promise<{ version: string }> {
  const newest = await versionAt(tx, draft.id, draft.rev);
  if (draftVersion(draft) !== order.base) {
    const by = newest.authorId === asker ? "You, in another window," : namesFor(access, me).person(newest.authorId);
    throw changedMeanwhile(`${by} saved version ${draftVersion(draft)} after you began. Yours is kept; choose what to do with both.`, {
      version: draftVersion(draft),
      by,
      title: newest.title,
      body: bodyFor(access, me, newest.body),
    });
  }
  const body = bodyFrom(access, me, checkedBody(order.body), newest.body);
  const [rev, at, title] = [draft.rev + 1, new Date(access.at), order.title];
  await tx.insert(benchVersions).values({ draftId: draft.id, rev, title, body, authorId: asker, at, note: order.note });
  await tx.update(benchDrafts).set({ rev, title, savedAt: at }).where(eq(benchDrafts.id, draft.id));
  await forgetWords(tx, asker, draft.id, order.spent ?? []);
  return { version: draftVersion({ rev }) };
}

export const saveDraft = (writer: string, id: string, order: SaveOrder): Promise<{ version: string }> =>
  onBench(async (tx) => saveIn(tx, await openDraft(tx, writer, id, REVISE, true), order));

/** Throws a draft away, for as long as the bin keeps pages; or takes it back. */
export const throwDraft = (owner: string, id: string, thrown: boolean): Promise<Record<string, never>> =>
  onBench(async (tx) => {
    const { draft, access } = await openDraft(tx, owner, id, RETIRE, true);
    if ((draft.thrownAt !== null) === thrown)
      throw badRequest(thrown ? "It is thrown away already." : "It stands on your workbench already.");
    await tx
      .update(benchDrafts)
      .set({ thrownAt: thrown ? new Date(access.at) : null })
      .where(eq(benchDrafts.id, id));
    return {};
  });

export const listDraftVersions = (asker: string, id: string, { before }: VersionsQuery): Promise<VersionList> =>
  inSnapshot(async (tx) => {
    const { access, me, draft, set } = await openDraft(tx, asker, id);
    const ref = before === undefined ? null : versionRef(before);
    if (before !== undefined && !ref) throw badRequest(`There is no version ${before}.`);
    const rows = await tx
      .select({ rev: benchVersions.rev, at: benchVersions.at, author: benchVersions.authorId, note: benchVersions.note })
      .from(benchVersions)
      .where(and(eq(benchVersions.draftId, id), ref ? lt(benchVersions.rev, ref.minor) : undefined))
      .orderBy(desc(benchVersions.rev))
      .limit(VERSIONS_AT_ONCE + 1);
    const names = namesFor(access, me);
    return {
      id,
      title: draft.title,
      state: "draft",
      address: null,
      writes: (set & REVISE) !== 0,
      newest: draftVersion(draft),
      versions: rows.slice(0, VERSIONS_AT_ONCE).map(({ rev, at, author, note }) => ({
        name: draftVersion({ rev }),
        live: false,
        at: at.toISOString(),
        who: names.person(author),
        note,
        seen: null,
      })),
      more: rows.length > VERSIONS_AT_ONCE,
    };
  });

export const readDraftVersion = (asker: string, id: string, name: string): Promise<VersionText> =>
  inSnapshot(async (tx) => {
    const { access, me, draft } = await openDraft(tx, asker, id);
    const ref = versionRef(name);
    if (ref?.major !== 0) throw notThere();
    const { title, body } = await versionAt(tx, id, ref.minor);
    const slugs = await spaceSlugs(tx);
    const addresses = pagesLinkedFrom(body).flatMap((page) => {
      const place = placeOf(access.index, page);
      return place && mayRead(access, me, place) ? [[page, readerAddress(slugs, access.index, place)] as const] : [];
    });
    return {
      name,
      title,
      body: bodyFor(access, me, body),
      beside: { owner: namesFor(access, me).person(draft.ownerId), tags: [], above: "a workbench", rules: null },
      addresses: Object.fromEntries(addresses),
    };
  });

export const takeUpDraftVersion = (writer: string, id: string, name: string, { base, note }: TakeUpBody): Promise<{ version: string }> =>
  onBench(async (tx) => {
    const open = await openDraft(tx, writer, id, REVISE, true);
    const ref = versionRef(name);
    if (ref?.major !== 0) throw notThere();
    const { title, body } = await versionAt(tx, id, ref.minor);
    return saveIn(tx, open, { title, body, base, note: note || `Taken up again from version ${name}.` });
  });
