/** What readers get of pages, read past the application. */
import { sql } from "drizzle-orm";
import { database } from "../../src/server/db/client.ts";

/** The word that stands in the live version of each page that was written by an attack. */
export async function wordsShown(): Promise<Map<string, string>> {
  const rows = await database().execute<{ page: string; body: unknown }>(sql`
    select p.place_id as page, v.body from pages p
    join versions v on v.place_id = p.place_id and v.major = p.live_major and v.minor = 0
    where v.body::text ~ 'word[0-9a-f]{12}'`);
  return new Map(rows.map(({ page, body }) => [page, /word[0-9a-f]{12}/.exec(JSON.stringify(body))?.[0] ?? ""]));
}
