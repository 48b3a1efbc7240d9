/** Whether an entry of the ledger was taken back, as a condition on it. */
import { sql } from "drizzle-orm";
import { ledger } from "../db/schema/index.ts";

export const isTakenBack = sql<boolean>`exists (select 1 from ledger b where b.takes_back = ${ledger}.seq)`;
