/** Entries of some acts since a moment, the newest first, each with whether it was taken back: what somebody did today. */
import { and, desc, eq, gte, inArray, isNotNull } from "drizzle-orm";
import type { LedgerAct } from "../../../core/ledger/index.ts";
import type { Tx } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";
import { isTakenBack } from "../../ledger/takenBack.ts";

/** `by`: one person's; null: everybody's, but not what the clock did. */
export const doneSince = (tx: Tx, acts: readonly LedgerAct[], since: Date, { by, most }: { by: string | null; most: number }) =>
  tx
    .select({ seq: ledger.seq, act: ledger.act, at: ledger.at, maker: ledger.maker, places: ledger.places, back: isTakenBack })
    .from(ledger)
    .where(and(gte(ledger.at, since), inArray(ledger.act, [...acts]), by === null ? isNotNull(ledger.maker) : eq(ledger.maker, by)))
    .orderBy(desc(ledger.seq))
    .limit(most);
