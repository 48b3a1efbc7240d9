/** Guests who read nothing for long, as a routine is about them: whom, since when, and who brought them in. */
import { and, eq, inArray, sql } from "drizzle-orm";
import { type CompiledSubject, isActive } from "../../../core/access/index/index.ts";
import { AGAIN_AFTER, daysWords } from "../../../core/routines/index.ts";
import { type Access, isKeeper } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { invitations, pageUses, routineTold } from "../../db/schema/index.ts";
import { broughtInBy, comingsOf, guestsOf } from "../outside/guests.ts";
import { usesKnown } from "../reading/uses.ts";

const DAY = 86_400_000;

export interface IdleGuest {
  id: string;
  name: string;
  /** Who brought them in; null: it is not known. */
  host: string | null;
  reason: string;
  /** Why they are left alone; null: they are told of. */
  spared: string | null;
}

/**
 * Guests who are let in and read nothing for so many days, those who waited longest first. Somebody who does not keep the
 * site is told of those alone whom they brought in. Nobody is idle whose reading was not noted for that long.
 */
export async function idleGuests(tx: Tx, access: Access, as: CompiledSubject, days: number, routine: string | null): Promise<IdleGuest[]> {
  const limit = access.at - days * DAY;
  const known = await usesKnown(tx, access.at);
  if (known.since > limit) return [];
  const mine = isKeeper(access, as) ? null : await broughtInBy(tx, as.person?.id ?? "");
  const comings = await comingsOf(tx);
  const used = new Map(
    (
      await tx
        .select({ id: pageUses.personId, at: sql<Date>`max(${pageUses.at})`.mapWith(pageUses.at) })
        .from(pageUses)
        .groupBy(pageUses.personId)
    ).map(({ id, at }) => [id, at.getTime()]),
  );
  const guests = guestsOf(access).flatMap((subject) => {
    const { id = "", name = "" } = subject.person ?? {};
    if (!isActive(subject, access.at) || (mine && !mine.has(id))) return [];
    const since = Math.max(comings.get(id) ?? 0, used.get(id) ?? 0);
    return since <= limit ? [{ id, name: name || id, since, read: used.has(id) }] : [];
  });
  const ids = guests.map(({ id }) => id);
  const hosts = new Map(await pairs(tx, ids));
  const lately = new Set(await toldLately(tx, routine, ids, access.at));
  return guests
    .sort((a, b) => a.since - b.since || (a.id < b.id ? -1 : 1))
    .map(({ id, name, since, read }) => ({
      id,
      name,
      host: hosts.get(id) ?? null,
      reason: `${read ? "read nothing for" : "never read anything, here for"} ${daysWords(Math.floor((access.at - since) / DAY))}`,
      spared: !hosts.has(id)
        ? "It is not known who brought them in."
        : lately.has(id)
          ? `It was told within ${AGAIN_AFTER.tell} days.`
          : null,
    }));
}

const pairs = async (tx: Tx, ids: string[]): Promise<[string, string][]> =>
  ids.length === 0
    ? []
    : (await tx.select({ id: invitations.personId, by: invitations.by }).from(invitations).where(inArray(invitations.personId, ids))).map(
        ({ id, by }) => [id, by],
      );

async function toldLately(tx: Tx, routine: string | null, ids: string[], at: number): Promise<string[]> {
  if (ids.length === 0 || routine === null) return [];
  const since = new Date(at - AGAIN_AFTER.tell * DAY).toISOString();
  const rows = await tx
    .select({ id: routineTold.about })
    .from(routineTold)
    .where(and(eq(routineTold.routineId, routine), inArray(routineTold.about, ids), sql`${routineTold.at} > ${since}::timestamptz`));
  return rows.map(({ id }) => id);
}
