/** Beginning a private draft: blank, from a template of the site, or as a copy of a page that one reads. */
import { and, asc, count, eq, isNull } from "drizzle-orm";
import type { TemplateRow } from "../../../contracts/templates.ts";
import { type BeginDraftBody, MOST_DRAFTS } from "../../../contracts/workbench.ts";
import type { CompiledSubject } from "../../../core/access/index/index.ts";
import { emptyBody, type PageBody } from "../../../core/content/index.ts";
import { type Access, mayNot, mayRead, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx, takeTurnOf } from "../../db/client.ts";
import { benchDrafts, benchVersions, templates } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { badRequest, notThere, refused } from "../../trouble.ts";
import { planned, textsOf } from "../life/copying.ts";
import { rowsOf } from "../templates/templates.ts";
import { begunFrom, fillingFor } from "../templates/using.ts";
import { onBench } from "./opening.ts";

interface Words {
  title: string;
  body: PageBody;
}

/** The words of a page that one reads: of what is not live, the newest, where one may open it. */
async function copied(tx: Tx, access: Access, me: CompiledSubject, id: string): Promise<Words> {
  const page = seenPlace(access, me, id);
  const { kind, state } = page.place;
  if (kind !== "page" && kind !== "bulletin") throw notThere();
  if (!mayRead(access, me, page) && mayNot(access, me, "openWorking", page) !== null) need(access, me, "read", page);
  if (state === "binned") throw badRequest("What is in the bin is not copied. Restore it first.");
  const [copy] = await planned(tx, access, me, page, { to: "", below: false });
  const text = copy && (await textsOf(tx, access, me, [copy])).get(id);
  if (!text) throw notThere();
  return text;
}

async function wordsOf(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  { title, template, copy, zone = "UTC" }: BeginDraftBody,
): Promise<Words> {
  if (template !== undefined && copy !== undefined) throw badRequest("A draft begins from a template or from a copy, not from both.");
  if (copy !== undefined) {
    const text = await copied(tx, access, me, copy);
    return { title: title ?? text.title, body: text.body };
  }
  if (template === undefined) return { title: title ?? "Untitled", body: emptyBody() };
  const begun = await begunFrom(tx, access, me, { template, spaceId: null, filling: fillingFor(me, access.at, zone, "") });
  const [first] = begun;
  if (!first) throw notThere();
  if (begun.length > 1) throw badRequest("This template is of several pages, which stand in a space: begin it there.");
  return { title: title ?? first.title, body: first.body };
}

/** Puts a private draft of these words on somebody's workbench. */
export async function putOnBench(tx: Tx, owner: string, { title, body }: Words, at: Date, id = newId()): Promise<{ id: string }> {
  await tx
    .insert(benchDrafts)
    .values({ id, handle: newId(), becomes: newId(), ownerId: owner, title: title.trim(), rev: 1, startedAt: at, savedAt: at });
  await tx.insert(benchVersions).values({ draftId: id, rev: 1, title: title.trim(), body, authorId: owner, at });
  return { id };
}

export const beginDraft = (maker: string, order: BeginDraftBody): Promise<{ id: string }> =>
  onBench(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    if (me.class !== "members") throw refused("Workbenches are for members.");
    await takeTurnOf(tx, `drafts ${maker}`);
    const [known] = await tx
      .select({ count: count() })
      .from(benchDrafts)
      .where(and(eq(benchDrafts.ownerId, maker), isNull(benchDrafts.placedAt), isNull(benchDrafts.thrownAt)));
    if ((known?.count ?? 0) >= MOST_DRAFTS)
      throw badRequest(`There are ${MOST_DRAFTS} drafts on your workbench: place some, or throw some away, before you begin another.`);
    return putOnBench(tx, maker, await wordsOf(tx, access, me, order), new Date(access.at));
  });

/** What a draft can be begun from: the page one comes from, where one may copy it, and the templates of the site that are of one page. */
export const begunFromHere = (
  asker: string,
  page: string,
): Promise<{ copy: { id: string; title: string } | null; templates: TemplateRow[] }> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const text = page === "" ? null : await copied(tx, access, me, page).catch(() => null);
    const rows = await tx
      .select()
      .from(templates)
      .where(and(isNull(templates.spaceId), eq(templates.gone, false)))
      .orderBy(asc(templates.name), asc(templates.id));
    const told = await rowsOf(tx, access, rows);
    return { copy: text && { id: page, title: text.title }, templates: told.filter((it) => it.pages.length === 1) };
  });
