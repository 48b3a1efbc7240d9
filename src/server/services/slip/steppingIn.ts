/** Stepping in: recorded with its reason before it opens anything; the page's owner learns of it. */

import { and, arrayContains, desc, eq, gt, or } from "drizzle-orm";
import { mayStepIn, STEP_IN_MINUTES, type StepIn } from "../../../core/access/authority/index.ts";
import type { Instant } from "../../../core/access/model/index.ts";
import { hasWords } from "../../../core/words.ts";
import { readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { presentInstant } from "../../clock.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { ledger, stepIns } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { wordsOf } from "../../ledger/words.ts";
import { badRequest, refused } from "../../trouble.ts";

const MINUTE = 60_000;

/** Opens one page to an overseer for 60 minutes. */
export async function stepIn(asker: string, placeId: string, reason: string, now = presentInstant()): Promise<{ until: string }> {
  if (!hasWords(reason)) throw badRequest("Stepping in needs a reason.");
  return inChange(async (tx) => {
    const access = await readAccess(tx, now);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    if (!mayStepIn(access.index, me, place, access.at))
      throw refused("Stepping in is for those who oversee a page that is closed to them.");
    const until = new Date(now + STEP_IN_MINUTES * MINUTE);
    const entry = await appendEntry(
      tx,
      {
        maker: asker,
        act: "stepIn",
        places: [placeId],
        detail: { until: until.toISOString() },
        reason,
        steppingIn: true,
      },
      now,
    );
    await tx.insert(stepIns).values({ seq: entry.seq, personId: asker, placeId, until });
    return { until: until.toISOString() };
  });
}

/** What somebody has stepped into and is not over. */
export async function openStepIns(tx: Tx, personId: string | null, at: Instant): Promise<StepIn[]> {
  if (personId === null) return [];
  const rows = await tx
    .select()
    .from(stepIns)
    .where(and(eq(stepIns.personId, personId), gt(stepIns.until, new Date(at))));
  return rows.map((row) => ({ person: row.personId, place: row.placeId, until: row.until.getTime() }));
}

const TOLD_FOR_DAYS = 30;

/** Who stepped in on a page lately, for its owner. */
export async function stepInsOn(tx: Tx, placeId: string, at: Instant): Promise<{ by: string | null; at: string; reason: string }[]> {
  const since = new Date(at - TOLD_FOR_DAYS * 24 * 60 * MINUTE);
  const rows = await tx
    .select({ seq: ledger.seq, by: ledger.maker, at: ledger.at })
    .from(ledger)
    .where(and(arrayContains(ledger.places, [placeId]), or(eq(ledger.act, "stepIn"), eq(ledger.steppingIn, true)), gt(ledger.at, since)))
    .orderBy(desc(ledger.seq))
    .limit(5);
  const words = await wordsOf(
    tx,
    rows.map(({ seq }) => seq),
    "reason",
  );
  return rows.map(({ seq, by, at }) => ({ by, at: at.toISOString(), reason: words.get(seq)?.reason ?? "" }));
}
