import { fileURLToPath } from "node:url";
import { sql } from "drizzle-orm";
import { drizzle } from "drizzle-orm/postgres-js";
import { migrate } from "drizzle-orm/postgres-js/migrator";
import postgres from "postgres";
import { compile } from "../../core/access/index/index.ts";
import { bringLedgerOver } from "../ledger/bringOver.ts";
import { rebuildExposures } from "../services/outside/exposures.ts";
import { rebuildTurns } from "../services/pledges/turns.ts";
import { loadDocument } from "./document.ts";
import { rebuildListing } from "./listing.ts";
import * as schema from "./schema/index.ts";

/** Brings a database to the newest schema; does nothing if it is there already. */
export async function migrateDatabase(url: string): Promise<void> {
  const client = postgres(url, { max: 1, onnotice: () => {} });
  try {
    const db = drizzle(client, { schema });
    await migrate(db, { migrationsFolder: fileURLToPath(new URL("./migrations", import.meta.url)) });
    await db.transaction(async (tx) => {
      await bringLedgerOver(tx);
      const [counts] = await tx
        .select({
          listed: sql<number>`(select count(*)::int from listing)`,
          opened: sql<number>`(select count(*)::int from exposures)`,
          turned: sql<number>`(select count(*)::int from pledge_turns)`,
          known: sql<number>`(select count(*)::int from places where to_seq is null)`,
        })
        .from(sql`(select 1) as one`);
      // A site from before there was a listing: it follows from the other tables.
      // The same of what is outside.
      if (counts && counts.opened === 0 && counts.known > 1) await rebuildExposures(tx);
      // And of when pledges broke and mended.
      if (counts && counts.turned === 0 && counts.known > 1) await rebuildTurns(tx);
      if (counts && counts.listed !== counts.known) await rebuildListing(tx, compile(await loadDocument(tx)));
    });
  } finally {
    await client.end();
  }
}
