/** Templates of the site and of spaces: what can be begun from, making them, calling them otherwise, taking them away. */
import { and, asc, count, eq, isNull, or } from "drizzle-orm";
import {
  type ChangeTemplateBody,
  type MakeTemplateBody,
  MOST_TEMPLATE_PAGES,
  type TemplateRow,
  type Templates,
  type TemplatesQuery,
} from "../../../contracts/templates.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { BLANKS, blanksIn, emptyBody, type PageBody } from "../../../core/content/index.ts";
import { type Access, mayNot, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { templatePages, templates } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { planned, textsOf } from "../life/copying.ts";
import { type Asker, changeable, mayChangeIn, type Template, treesOf } from "./found.ts";

/** So many templates the site has, and each space, those taken away with them. */
const MOST_TEMPLATES = 100;

const spaceIdOf = (access: Access, place: CompiledPlace): string | null =>
  place.place.kind === "site" ? null : (access.index.places[place.space]?.place.id ?? null);

/** Rows as a list shows them. */
export async function rowsOf(tx: Tx, access: Access, list: readonly Template[]): Promise<TemplateRow[]> {
  const trees = await treesOf(
    tx,
    list.map(({ id }) => id),
  );
  return list.map(({ id, name, about, spaceId }) => {
    const pages = trees.get(id) ?? [];
    const open = new Set(pages.flatMap(({ title, body }) => blanksIn(title, body)));
    return {
      id,
      name,
      about,
      space: spaceId === null ? null : { id: spaceId, name: placeOf(access.index, spaceId)?.place.title ?? "" },
      pages: pages.map((page) => ({ id: page.id, title: page.title, depth: page.depth })),
      blanks: BLANKS.filter((blank) => open.has(blank)),
    };
  });
}

/** What can be begun from at a place; for whoever changes templates there, those alone that are of this place. */
export async function listTemplates(asker: string, { in: id, gone }: TemplatesQuery): Promise<Templates> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, id);
    const spaceId = spaceIdOf(access, place);
    const mayChange = mayChangeIn(access, me, spaceId);
    const uses = mayNot(access, me, "useTemplate", place, { there: standing(access, me, place).set }) === null;
    if (!uses && !mayChange) return { templates: [], ofSite: spaceId === null, mayChange };
    if (gone && !mayChange) throw notThere();
    const ofSpace = spaceId === null ? isNull(templates.spaceId) : eq(templates.spaceId, spaceId);
    const rows = await tx
      .select()
      .from(templates)
      .where(and(gone ? ofSpace : or(ofSpace, isNull(templates.spaceId)), eq(templates.gone, gone === "yes")))
      .orderBy(asc(templates.name), asc(templates.id));
    return { templates: await rowsOf(tx, access, rows), ofSite: spaceId === null, mayChange };
  });
}

interface Piece {
  id: string;
  under: string | null;
  title: string;
  body: PageBody;
}

/** The pages of a template: blank, or as a page and what is below it say, as far as its maker reads them. */
async function piecesOf(tx: Tx, access: Access, me: Asker, { name, from, below }: MakeTemplateBody): Promise<Piece[]> {
  if (from === undefined) return [{ id: newId(), under: null, title: name, body: emptyBody() }];
  const root = seenPlace(access, me, from);
  if (root.place.kind !== "page" && root.place.kind !== "bulletin") throw badRequest("A template is made from a page or a bulletin.");
  if (root.place.state === "binned") throw badRequest("What is in the bin makes no template. Restore it first.");
  need(access, me, root.place.state === "live" || root.place.state === "archived" ? "read" : "openWorking", root);
  const copies = await planned(tx, access, me, root, { to: "", below, most: MOST_TEMPLATE_PAGES });
  const texts = await textsOf(tx, access, me, copies);
  return copies.map(({ from: page, id, parent }) => {
    const text = texts.get(page.place.id);
    if (!text) throw notThere();
    return { id, under: parent === "" ? null : parent, ...text };
  });
}

export const makeTemplate = (maker: string, order: MakeTemplateBody): Promise<{ id: string }> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, order.in);
    if (place.place.kind !== "site" && place.place.kind !== "space") throw badRequest("A template is of the site or of a space.");
    need(access, me, "changeTemplates", place);
    const spaceId = spaceIdOf(access, place);
    const [known] = await tx
      .select({ count: count() })
      .from(templates)
      .where(spaceId === null ? isNull(templates.spaceId) : eq(templates.spaceId, spaceId));
    if ((known?.count ?? 0) >= MOST_TEMPLATES) throw badRequest(`There are ${MOST_TEMPLATES} templates here already. Use one of those.`);
    const pieces = await piecesOf(tx, access, me, order);
    const id = newId();
    const entry = await appendEntry(
      tx,
      {
        maker,
        act: "makeTemplate",
        places: spaceId === null ? [] : [spaceId],
        detail: { template: id, pages: pieces.length },
        note: `“${order.name}”`,
      },
      access.at,
    );
    const { at } = entry;
    await tx.insert(templates).values({ id, spaceId, name: order.name, about: order.about, madeAt: at });
    await tx.insert(templatePages).values(pieces.map((it, nth) => ({ ...it, nth, templateId: id, savedAt: at, savedBy: maker })));
    return { id };
  });

export const changeTemplate = (maker: string, id: string, { name, about, gone }: ChangeTemplateBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const template = await changeable(tx, access, subjectFor(access, maker), id);
    const said = template.gone === gone ? "" : gone ? ", taken away" : ", put back";
    await noteChange(tx, access, maker, template, { note: `“${name}”${said}` });
    await tx.update(templates).set({ name, about, gone }).where(eq(templates.id, id));
    return {};
  });

/** An entry of the ledger about a change of a template. */
export const noteChange = (
  tx: Tx,
  access: Access,
  maker: string,
  { id, spaceId }: Template,
  { note = "", detail = {} }: { note?: string; detail?: Record<string, string | number> },
) =>
  appendEntry(
    tx,
    { maker, act: "changeTemplate", places: spaceId === null ? [] : [spaceId], detail: { template: id, ...detail }, note },
    access.at,
  );
