/** Flags, as far as an asker may know of them: `sensitive` ones are for those who write or keep the page (access-model.md, 6a). */
import { and, asc, eq, isNull, type SQL } from "drizzle-orm";
import type { FlagLine } from "../../../contracts/review.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { answererOf } from "../../../core/review/index.ts";
import { type Access, mayNot, mayRead, maySee } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { flags } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";

export type FlagRow = typeof flags.$inferSelect;

/** Whether somebody may know of a flag on a page they see. */
export function seesFlag(access: Access, me: CompiledSubject, place: CompiledPlace, flag: FlagRow): boolean {
  if (flag.kind === "sensitive") return mayNot(access, me, "seeSensitiveFlag", place) === null;
  if (me.class === "members") return flag.outcome === null || writes(access, me, place);
  return false;
}

/** How flags ended is for those who answer them. */
const writes = (access: Access, me: CompiledSubject, place: CompiledPlace): boolean =>
  mayNot(access, me, "confirm", place) === null || mayNot(access, me, "seeSensitiveFlag", place) === null;

/** Whether somebody may answer a flag; null where they may, else why not. */
export const mayNotSettle = (access: Access, me: CompiledSubject, place: CompiledPlace, flag: Pick<FlagRow, "to">): string | null => {
  const answers = me.person !== null && answererOf(flag.to === null ? {} : { to: flag.to }, place.place.owner ?? null) === me.person.id;
  return mayNot(access, me, "settleFlag", place, { theirs: answers });
};

/** Flags of a page as lines. */
export function flagLines(access: Access, me: CompiledSubject, place: CompiledPlace, rows: readonly FlagRow[]): FlagLine[] {
  const names = namesFor(access, me);
  const reads = mayRead(access, me, place);
  return rows
    .filter((row) => seesFlag(access, me, place, row))
    .map((row) => {
      const to = answererOf(row.to === null ? {} : { to: row.to }, place.place.owner ?? null);
      return {
        id: row.id,
        kind: row.kind,
        by: row.by === null ? "" : names.person(row.by),
        at: row.at.toISOString(),
        due: row.due.toISOString(),
        to: to === null ? "" : names.person(to),
        note: row.note,
        quote: reads ? (row.quote ?? "") : "",
        outcome: row.outcome,
        endedBy: row.endedBy === null ? "" : names.person(row.endedBy),
        endedAt: row.endedAt?.toISOString() ?? null,
        reason: row.reason,
        maySettle: row.outcome === null && mayNotSettle(access, me, place, row) === null,
      };
    });
}

/** Flags by the page they are on, the oldest first. */
export async function flagsOf(tx: Tx, which: { places?: readonly string[]; open?: true }): Promise<Map<string, FlagRow[]>> {
  const conditions: (SQL | undefined)[] = [
    which.open ? isNull(flags.outcome) : undefined,
    which.places ? among(flags.placeId, which.places) : undefined,
  ];
  const by = new Map<string, FlagRow[]>();
  const rows = await tx
    .select()
    .from(flags)
    .where(and(...conditions))
    .orderBy(asc(flags.at), asc(flags.id));
  for (const row of rows) by.set(row.placeId, [...(by.get(row.placeId) ?? []), row]);
  return by;
}

/** A flag of a page in sight of somebody; nothing for one that is elsewhere, or not for them to know. */
export async function flagSeen(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  id: string,
): Promise<{ row: FlagRow; place: CompiledPlace } | null> {
  const [row] = await tx.select().from(flags).where(eq(flags.id, id));
  const place = row && placeOf(access.index, row.placeId);
  return row && place && maySee(access, me, place) && seesFlag(access, me, place, row) ? { row, place } : null;
}
