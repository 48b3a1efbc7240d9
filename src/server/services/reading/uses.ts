/** When guests last read a page: noted to the hour, kept for as long as the house rules say, never of members or the public. */
import { eq, lt, sql } from "drizzle-orm";
import { database, type Tx } from "../../db/client.ts";
import { notedSince, pageUses } from "../../db/schema/index.ts";
import { readHouseRules } from "../house/houseRules.ts";

const DAY = 86_400_000;

/** Notes that a guest read a page just now. The page was sent already: nobody waits for this. */
export async function noteUse(place: string, guest: string): Promise<void> {
  if ((await readHouseRules(database())).useDays === 0) return;
  await database()
    .insert(pageUses)
    .values({ personId: guest, placeId: place, at: new Date() })
    .onConflictDoUpdate({
      target: [pageUses.personId, pageUses.placeId],
      set: { at: sql`excluded.at` },
      // Whoever reads a page again and again writes once an hour.
      setWhere: sql`${pageUses.at} < excluded.at - interval '1 hour'`,
    });
}

/** Forgets what lies further back than the house rules keep. */
export async function forgetUses(now = Date.now()): Promise<void> {
  const { useDays } = await readHouseRules(database());
  await database()
    .delete(pageUses)
    .where(lt(pageUses.at, new Date(now - useDays * DAY)));
}

/** How far back one can tell that nothing was used: since it is noted at all, and for as long as it is kept. */
export async function usesKnown(tx: Tx, now: number): Promise<{ days: number; since: number }> {
  const { useDays } = await readHouseRules(tx);
  const [noted] = await tx.select({ at: notedSince.at }).from(notedSince).where(eq(notedSince.what, "uses"));
  return { days: useDays, since: Math.max(noted?.at.getTime() ?? now, now - useDays * DAY) };
}
