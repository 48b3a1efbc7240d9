/** Writing the pages of a template: as a page is written, with words kept meanwhile and nothing saved over somebody else's. */
import { asc, count, eq, inArray, sql } from "drizzle-orm";
import { type AddTemplatePageBody, MOST_TEMPLATE_PAGES, type ShiftTemplatePageBody } from "../../../contracts/templates.ts";
import type { Written } from "../../../contracts/writing.ts";
import { emptyBody } from "../../../core/content/index.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { bodyFor, bodyFrom } from "../../content/bodies.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { buffers, templatePages } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { badRequest, changedMeanwhile, notThere } from "../../trouble.ts";
import { forgetWords, keptWords, type MayWrite } from "../writing/buffers.ts";
import { checkedBody } from "../writing/writable.ts";
import type { SaveOrder } from "../writing/writing.ts";
import { changeable, changeablePage, type TemplatePageRow, treesOf } from "./found.ts";
import { noteChange } from "./templates.ts";

/** Words on pages of templates are kept by the same means as on pages. */
export const writesTemplate: MayWrite = (tx, writer, id) => changeablePage(tx, writer, id);

const versionOf = ({ rev }: TemplatePageRow): string => `1.${rev}`;

export const readTemplatePage = (asker: string, id: string): Promise<Written> =>
  inSnapshot(async (tx) => {
    const { access, me, page } = await changeablePage(tx, asker, id);
    return {
      id,
      title: page.title,
      body: bodyFor(access, me, page.body),
      version: versionOf(page),
      savedBy: namesFor(access, me).person(page.savedBy),
      savedAt: page.savedAt.toISOString(),
      buffers: await keptWords(tx, asker, id),
    };
  });

export async function saveTemplatePage(writer: string, id: string, order: SaveOrder): Promise<{ version: string }> {
  const sound = checkedBody(order.body);
  return inChange(async (tx) => {
    const { access, me, page, template } = await changeablePage(tx, writer, id);
    if (versionOf(page) !== order.base) {
      const by = page.savedBy === writer ? "You, in another window," : namesFor(access, me).person(page.savedBy);
      throw changedMeanwhile(`${by} saved this after you began. Yours is kept; choose what to do with both.`, {
        version: versionOf(page),
        by,
        title: page.title,
        body: bodyFor(access, me, page.body),
      });
    }
    const body = bodyFrom(access, me, sound, page.body);
    const rev = page.rev + 1;
    const { at } = await noteChange(tx, access, writer, template, { detail: { page: id, version: `1.${rev}` }, note: order.note });
    const { title } = order;
    await tx.update(templatePages).set({ title, body, rev, savedAt: at, savedBy: writer }).where(eq(templatePages.id, id));
    await forgetWords(tx, writer, id, order.spent ?? []);
    return { version: `1.${rev}` };
  });
}

export const addTemplatePage = (maker: string, templateId: string, { under, title }: AddTemplatePageBody): Promise<{ id: string }> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const template = await changeable(tx, access, subjectFor(access, maker), templateId);
    const tree = (await treesOf(tx, [templateId])).get(templateId) ?? [];
    if (!tree.some(({ id }) => id === under)) throw notThere();
    if (tree.length >= MOST_TEMPLATE_PAGES) throw badRequest(`A template has at most ${MOST_TEMPLATE_PAGES} pages.`);
    const [last] = await tx.select({ nth: count() }).from(templatePages).where(eq(templatePages.under, under));
    const id = newId();
    const { at } = await noteChange(tx, access, maker, template, { detail: { page: id }, note: "A page added." });
    const nth = Math.max(last?.nth ?? 0, ...tree.filter((it) => it.under === under).map((it) => it.nth + 1));
    await tx.insert(templatePages).values({ id, templateId, under, nth, title, body: emptyBody(), savedAt: at, savedBy: maker });
    return { id };
  });

export const removeTemplatePage = (maker: string, id: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const { access, page, template } = await changeablePage(tx, maker, id);
    if (page.under === null) throw badRequest("A template has a first page. Take the whole template away instead.");
    const tree = (await treesOf(tx, [template.id])).get(template.id) ?? [];
    const going = new Set([id]);
    for (const it of tree) if (it.under !== null && going.has(it.under)) going.add(it.id);
    await noteChange(tx, access, maker, template, { detail: { page: id, pages: going.size }, note: "Taken out." });
    await tx.delete(buffers).where(inArray(buffers.placeId, [...going]));
    await tx.delete(templatePages).where(inArray(templatePages.id, [...going]));
    return {};
  });

export const shiftTemplatePage = (maker: string, id: string, { to }: ShiftTemplatePageBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const { access, page, template } = await changeablePage(tx, maker, id);
    const beside = await tx
      .select({ id: templatePages.id })
      .from(templatePages)
      .where(sql`${templatePages.templateId} = ${template.id} and ${templatePages.under} is not distinct from ${page.under}`)
      .orderBy(asc(templatePages.nth), asc(templatePages.id));
    const ids = beside.map((it) => it.id);
    const from = ids.indexOf(id);
    const other = to === "earlier" ? from - 1 : from + 1;
    if (ids[other] === undefined) throw badRequest(`It is the ${to === "earlier" ? "first" : "last"} already.`);
    [ids[from], ids[other]] = [ids[other] as string, id];
    await noteChange(tx, access, maker, template, { detail: { page: id }, note: "Another order." });
    for (const [nth, it] of ids.entries()) await tx.update(templatePages).set({ nth }).where(eq(templatePages.id, it));
    return {};
  });
