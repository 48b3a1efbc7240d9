/** Who came to read a place and who ceased to: as the ripples kept with the ledger have it, change by change. */
import { and, desc, isNotNull, sql } from "drizzle-orm";
import type { WhoHistory, WhoMoved } from "../../../contracts/slip.ts";
import { type RippleEntry, unpack } from "../../../core/access/ripple/index.ts";
import { need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";
import { entriesInPassing } from "../ledger/told.ts";

const MOST = 200;
const nobody = (): WhoMoved => ({ outsiders: 0, guests: 0, members: 0 });
const some = ({ outsiders, guests, members }: WhoMoved): boolean => outsiders + guests + members > 0;

export const readWhoHistory = (asker: string, id: string): Promise<WhoHistory> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "knowOthers", seenPlace(access, me, id));
    const rows = await tx
      .select({ seq: ledger.seq, at: ledger.at, ripple: ledger.ripple })
      .from(ledger)
      // Ids stand in quotes in what is kept of a ripple.
      .where(and(isNotNull(ledger.ripple), sql`position(${`"${id}"`} in ${ledger.ripple}::text) > 0`))
      .orderBy(desc(ledger.seq))
      .limit(MOST + 1);
    const entries = await entriesInPassing(
      tx,
      access,
      me,
      rows.map(({ seq }) => seq),
    );
    const changes = rows.slice(0, MOST).flatMap(({ seq, at, ripple: kept }): WhoHistory["changes"] => {
      const entry = entries.get(seq);
      if (!kept || !entry) return [];
      const ripple = unpack(kept);
      const here = new Set(ripple.places.flatMap((group, number) => (group.includes(id) ? [number] : [])));
      const [gained, lost] = [nobody(), nobody()];
      const about = (it: RippleEntry) => it.groups.some((number) => here.has(number));
      for (const it of ripple.entries.filter(about)) {
        if (it.gains.includes("read")) gained[it.class] += it.subjects.length;
        if (it.losses.includes("read")) lost[it.class] += it.subjects.length;
      }
      return some(gained) || some(lost) ? [{ ...entry, at: at.toISOString(), gained, lost }] : [];
    });
    return { changes, more: rows.length > MOST };
  });
