/** Copying (access-model.md, 6a): the text one may read as an own draft elsewhere, alone or with all that is below it; no rules, passes or versions come along. */
import { and, desc, eq, inArray, sql } from "drizzle-orm";
import type { Copied, CopyBody } from "../../../contracts/life.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { type Access, mayNot, mayRead, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { bodyToOwn } from "../../content/bodies.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { pages, slots, versions } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { newId } from "../../ids.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { compareKeys } from "../change/order.ts";
import { writeStarted } from "../writing/starting.ts";

/** So many pages are copied at once. */
const MOST = 100;

export interface Copy {
  from: CompiledPlace;
  id: string;
  parent: string;
}

type Me = ReturnType<typeof subjectFor>;

/** What is copied, parents first; what one may not read is left out, and what is under it moves up. */
export async function planned(
  tx: Tx,
  access: Access,
  me: Me,
  root: CompiledPlace,
  { to, below, most = MOST }: CopyBody & { most?: number },
): Promise<Copy[]> {
  const children = (place: CompiledPlace) => place.children.map((number) => access.index.places[number] as CompiledPlace);
  const copies: Copy[] = [{ from: root, id: newId(), parent: to }];
  const waiting = below ? children(root).map((place) => ({ place, parent: copies[0]?.id ?? to })) : [];
  const all: { place: CompiledPlace; parent: string }[] = [];
  while (waiting.length > 0 && all.length <= most) {
    const { place, parent } = waiting.shift() as (typeof waiting)[number];
    const copied =
      mayRead(access, me, place) &&
      (place.place.state === "live" || mayNot(access, me, "openWorking", place) === null) &&
      place.place.state !== "binned" &&
      place.place.state !== "archived";
    const id = newId();
    if (copied) {
      all.push({ place, parent });
      copies.push({ from: place, id, parent });
    }
    waiting.push(...children(place).map((child) => ({ place: child, parent: copied ? id : parent })));
  }
  if (copies.length > most) throw badRequest(`At most ${most} pages are copied at once. Copy parts of the branch one by one.`);
  const ids = copies.map(({ from }) => from.place.id);
  const rows = await tx
    .select({ id: slots.placeId, slot: slots.slot })
    .from(slots)
    .where(and(sql`to_seq is null`, inArray(slots.placeId, ids)));
  const slotOf = new Map(rows.map(({ id, slot }) => [id, slot]));
  const depth = new Map<string, number>([[to, 0]]);
  for (const { id, parent } of copies) depth.set(id, (depth.get(parent) ?? 0) + 1);
  // As they stand beside one another, so that the copies stand in the same order.
  return copies.sort(
    (a, b) =>
      (depth.get(a.id) ?? 0) - (depth.get(b.id) ?? 0) || compareKeys(slotOf.get(a.from.place.id) ?? "", slotOf.get(b.from.place.id) ?? ""),
  );
}

/** The words of each page that its copy gets: the live version; of what is not live, the newest where one may open it. */
export async function textsOf(
  tx: Tx,
  access: Access,
  me: Me,
  copies: readonly Copy[],
): Promise<Map<string, { title: string; body: PageBody }>> {
  const working = copies.filter(({ from }) => from.place.state !== "live" && mayNot(access, me, "openWorking", from) === null);
  const newest = await tx
    .selectDistinctOn([versions.placeId], { id: versions.placeId, title: versions.title, body: versions.body })
    .from(versions)
    .where(
      among(
        versions.placeId,
        working.map(({ from }) => from.place.id),
      ),
    )
    .orderBy(versions.placeId, desc(versions.major), desc(versions.minor));
  const live = await tx
    .select({ id: versions.placeId, title: versions.title, body: versions.body })
    .from(versions)
    .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
    .where(
      and(
        eq(versions.minor, 0),
        among(
          versions.placeId,
          copies.map(({ from }) => from.place.id),
        ),
      ),
    );
  return new Map([...live, ...newest].map(({ id, title, body }) => [id, { title, body: bodyToOwn(access, me, body) }]));
}

export const copyPage = (maker: string, placeId: string, order: CopyBody): Promise<Copied> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const root = seenPlace(access, me, placeId);
    const into = seenPlace(access, me, order.to);
    const { kind, state } = root.place;
    if (kind !== "page" && kind !== "bulletin") throw notThere();
    need(access, me, "copy", root, { there: standing(access, me, into).set });
    if (state === "binned") throw badRequest("What is in the bin is not copied. Restore it first.");
    if (into.place.kind !== "space" && (kind === "bulletin" || into.place.kind !== "page"))
      throw badRequest("Pages stand in a space or in a page; bulletins stand in a space.");
    const copies = await planned(tx, access, me, root, order);
    const texts = await textsOf(tx, access, me, copies);
    const edits = copies.map(({ from, id, parent }): Edit => {
      const as = placeOf(access.index, from.place.id)?.place.kind === "bulletin" ? "bulletin" : "page";
      return { kind: "start", place: id, parent, as, owner: maker };
    });
    const entry = await makeChange(tx, { maker, edits, act: "copy", note: "" });
    for (const { from, id, parent } of copies) {
      const text = texts.get(from.place.id);
      if (!text) throw notThere();
      const title = from === root && parent === root.place.parent ? `${text.title.slice(0, 290)} (copy)` : text.title;
      await writeStarted(tx, entry, {
        id,
        parent,
        as: from.place.kind === "bulletin" ? "bulletin" : "page",
        maker,
        title,
        body: text.body,
      });
    }
    return { id: copies[0]?.id ?? "", pages: copies.length };
  });
