/** Beginning pages from a template: drafts in a place, with what was left open filled in. */
import { and, eq } from "drizzle-orm";
import type { StartPageBody } from "../../../contracts/writing.ts";
import type { CompiledPlace } from "../../../core/access/index/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { type Filling, filledBody, filledText, type PageBody } from "../../../core/content/index.ts";
import { LIMITS } from "../../../core/words.ts";
import { type Access, maySee, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { bodyToOwn } from "../../content/bodies.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { templates } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { writeStarted } from "../writing/starting.ts";
import { checkedBody } from "../writing/writable.ts";
import { startPage } from "../writing/writing.ts";
import { type Asker, treesOf } from "./found.ts";

/** What a template is filled with, used now by somebody in a space. */
export function fillingFor(me: Asker, at: number, zone: string, space: string): Filling {
  const date = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: zone }).format(at);
  return { date, who: me.person?.name ?? "", space };
}

/** A page that is begun from a template. */
export interface Begun {
  id: string;
  /** The page begun with it that it stands under; null: where the first one is begun. */
  under: string | null;
  title: string;
  body: PageBody;
}

/** The pages of a template as they are begun in a space, parents first. Throws alike for templates that are gone, of another space, or none. */
export async function begunFrom(
  tx: Tx,
  access: Access,
  me: Asker,
  { template: id, spaceId, filling, ids = [] }: { template: string; spaceId: string | null; filling: Filling; ids?: readonly string[] },
): Promise<Begun[]> {
  const [template] = await tx
    .select()
    .from(templates)
    .where(and(eq(templates.id, id), eq(templates.gone, false)));
  if (!template || (template.spaceId !== null && template.spaceId !== spaceId)) throw notThere();
  const tree = (await treesOf(tx, [id])).get(id) ?? [];
  const given = new Map(tree.map((page, i) => [page.id, ids[i] ?? newId()]));
  return tree.map((page) => ({
    id: given.get(page.id) as string,
    under: page.under === null ? null : (given.get(page.under) as string),
    title: filledText(page.title, filling).slice(0, LIMITS.title),
    body: checkedBody(bodyToOwn(access, me, filledBody(page.body, filling))),
  }));
}

/** The edits that begin pages under a place. */
export const startEdits = (begun: readonly Begun[], parent: string, as: "page" | "bulletin", owner: string): Edit[] =>
  begun.map(({ id, under }) => ({ kind: "start", place: id, parent: under ?? parent, as, owner }));

const titleOfSpace = (access: Access, me: Asker, parent: CompiledPlace): string => {
  const space = access.index.places[parent.space];
  return space && maySee(access, me, space) ? (space.place.title ?? "") : "";
};

/** Starts a draft, and what the template has below it. */
export const startFromTemplate = (maker: string, order: StartPageBody & { template: string }): Promise<{ id: string }> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const parent = seenPlace(access, me, order.parent);
    need(access, me, "useTemplate", parent, { there: standing(access, me, parent).set });
    const spaceId = access.index.places[parent.space]?.place.id ?? null;
    const filling = fillingFor(me, access.at, order.zone ?? "UTC", titleOfSpace(access, me, parent));
    const begun = await begunFrom(tx, access, me, { template: order.template, spaceId, filling });
    const [first] = begun;
    if (!first) throw notThere();
    if (order.as === "bulletin" && begun.length > 1)
      throw badRequest("Bulletins stand in a space, and nothing below them. Choose a template of one page.");
    if (order.title !== undefined) first.title = order.title;
    const entry = await makeChange(tx, { maker, edits: startEdits(begun, parent.place.id, order.as, maker), act: "start", note: "" });
    for (const { id, under, title, body } of begun)
      await writeStarted(tx, entry, { id, parent: under ?? parent.place.id, as: order.as, maker, title, body });
    return { id: first.id };
  });

/** Starts a draft as ordered: blank, or from a template. */
export async function startOrdered(maker: string, order: StartPageBody): Promise<{ id: string }> {
  const { template, title, parent, as } = order;
  if (template !== undefined) return startFromTemplate(maker, { ...order, template });
  if (title === undefined) throw badRequest("A page begins with a title. Type one, or choose a template.");
  return startPage(maker, { parent, as, title });
}
