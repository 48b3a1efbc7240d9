/** Templates as they stand in the database, for whoever may know of them. */
import { and, asc, eq, inArray } from "drizzle-orm";
import { type CompiledPlace, placeOf, siteOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, readAccess, subjectFor } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { templatePages, templates } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";

export type Template = typeof templates.$inferSelect;
export type TemplatePageRow = typeof templatePages.$inferSelect;
export type Asker = ReturnType<typeof subjectFor>;

/** The place a template is of: its space, or the site. */
export const placeOfTemplate = ({ index }: Access, spaceId: string | null): CompiledPlace | undefined =>
  spaceId === null ? siteOf(index) : placeOf(index, spaceId);

export function mayChangeIn(access: Access, me: Asker, spaceId: string | null): boolean {
  const place = placeOfTemplate(access, spaceId);
  return place !== undefined && mayNot(access, me, "changeTemplates", place) === null;
}

/** A template for whoever changes it; for everybody else it is not there. */
export async function changeable(tx: Tx, access: Access, me: Asker, id: string): Promise<Template> {
  const [template] = await tx.select().from(templates).where(eq(templates.id, id));
  if (!template || !mayChangeIn(access, me, template.spaceId)) throw notThere();
  return template;
}

/** The same by one of its pages. */
export async function changeablePage(tx: Tx, asker: string, id: string) {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const [page] = await tx.select().from(templatePages).where(eq(templatePages.id, id));
  if (!page) throw notThere();
  return { access, me, page, template: await changeable(tx, access, me, page.templateId) };
}

/** The pages of templates, in the order of their trees, each with how deep it stands. */
export async function treesOf(tx: Tx, ids: readonly string[]): Promise<Map<string, (TemplatePageRow & { depth: number })[]>> {
  const rows = await tx
    .select()
    .from(templatePages)
    .where(and(inArray(templatePages.templateId, [...ids])))
    .orderBy(asc(templatePages.nth), asc(templatePages.id));
  const trees = new Map<string, (TemplatePageRow & { depth: number })[]>(ids.map((id) => [id, []]));
  const visit = (templateId: string, under: string | null, depth: number) => {
    for (const row of rows) {
      if (row.templateId !== templateId || row.under !== under) continue;
      trees.get(templateId)?.push({ ...row, depth });
      visit(templateId, row.id, depth + 1);
    }
  };
  for (const id of ids) visit(id, null, 0);
  return trees;
}
