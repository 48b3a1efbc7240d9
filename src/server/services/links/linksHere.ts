/** What links to a page, and which of its own links lead nowhere: for one asker, as far as they may know. */

import { and, asc, eq } from "drizzle-orm";
import type { Links, NowhereLink } from "../../../contracts/links.ts";
import { decide } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { type Access, mayNot, maySee } from "../../access/current.ts";
import { knowsPlace, mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { links } from "../../db/schema/index.ts";

/** So many pages that link here are named; their number is told anyway. */
const MOST_NAMED = 50;

/** Everybody who can read a page by some rules. */
export const readersOf = (access: Access, index: AccessIndex, place: CompiledPlace): CompiledSubject[] =>
  index.subjects.filter((subject) => (decide(index, subject.number, place.number, access.at) & READ) !== 0);

/** Of some pages, those that some of the readers cannot follow a link to. What one may not know of and what is not there are told alike. */
export function leadNowhere(
  access: Access,
  me: CompiledSubject,
  index: AccessIndex,
  readers: readonly CompiledSubject[],
  targets: readonly string[],
): NowhereLink[] {
  const names = namesFor(access, me);
  return targets.flatMap((id) => {
    const target = knowsPlace(access, me, id) ? placeOf(index, id) : undefined;
    const stopped = target ? readers.filter((it) => (decide(index, it.number, target.number, access.at) & READ) === 0) : readers;
    if (stopped.length === 0) return [];
    const title = target ? names.place(id) : "a page that is not there, or not open to you";
    return [{ title, readers: stopped.length, outside: stopped.some((it) => it.class !== "members") }];
  });
}

/** Pages whose live version links here, or whose working version does and is open to the asker. */
async function linkedFrom(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Omit<Links, "nowhere">> {
  const rows = await tx
    .selectDistinct({ id: links.placeId, live: links.live })
    .from(links)
    .where(eq(links.targetId, place.place.id))
    .orderBy(asc(links.placeId));
  const known = new Map<string, { id: string; title: string; working: boolean }>();
  const hidden = new Set<string>();
  for (const { id, live } of rows) {
    const from = placeOf(access.index, id);
    if (!from || from === place) continue;
    const reaches = live ? from.place.state === "live" : mayNot(access, me, "openWorking", from) === null;
    if (live && reaches && !maySee(access, me, from)) hidden.add(id);
    if (!reaches || !maySee(access, me, from)) continue;
    known.set(id, { id, title: from.place.title ?? "", working: !live && (known.get(id)?.working ?? true) });
  }
  const from = [...known.values()].sort((a, b) => a.title.localeCompare(b.title, "en"));
  // How much there is that one cannot see is for those who answer for the page.
  return { from: from.slice(0, MOST_NAMED), total: from.length, hidden: mayKnowOthers(access, me, place) ? hidden.size : 0 };
}

/** The links of a page both ways; null for what has no text of its own. */
export async function linksHere(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Links | null> {
  const { kind, state } = place.place;
  if (kind !== "page" && kind !== "bulletin") return null;
  const found = await linkedFrom(tx, access, me, place);
  if (state !== "live" || mayNot(access, me, "seePublishSheet", place) !== null) return { ...found, nowhere: [] };
  const own = await tx
    .selectDistinct({ id: links.targetId })
    .from(links)
    .where(and(eq(links.placeId, place.place.id), eq(links.live, true)))
    .orderBy(asc(links.targetId));
  const targets = own.map(({ id }) => id);
  const nowhere = targets.length === 0 ? [] : leadNowhere(access, me, access.index, readersOf(access, access.index, place), targets);
  return { ...found, nowhere };
}
