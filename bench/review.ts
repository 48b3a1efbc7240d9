/** Measures the queue of review on the large set: so many due pages, some of them flagged; as it is kept, and after each row that is settled. */
import { sql } from "drizzle-orm";
import { database } from "../src/server/db/client.ts";
import { readQueue } from "../src/server/services/review/queue.ts";
import { settleReview } from "../src/server/services/review/settling.ts";
import { now, quantile } from "./measuring.ts";

export interface ReviewFigures {
  due: number;
  /** The first rows for a site keeper, and for who keeps three spaces. */
  queueP95: number;
  queueThreeP95: number;
  /** The same right after somebody settled one: all of it is put in order anew. */
  queueAfterP95: number;
}

const DUE = 20_000;
const FLAGGED = 1_000;
const TIMES = 20;

/** Pages become due and flagged as though time had passed; nothing of that is measured. */
async function fill(): Promise<void> {
  const some = (most: number) =>
    sql`(select place_id from listing where kind = 'page' and state = 'live' order by md5(place_id) limit ${most})`;
  await database().execute(
    sql`update pages set review_days = 30, published_at = now() - interval '300 days' where place_id in ${some(DUE)}`,
  );
  await database().execute(sql`
    update listing l set due_at = now() - (('x' || substr(md5(l.place_id), 1, 6))::bit(24)::int % 300) * interval '24 hours', published_at = now() - interval '300 days'
    where l.place_id in ${some(DUE)}`);
  await database().execute(sql`
    insert into flags (id, place_id, kind, by, at, due, note)
    select 'bench' || row_number() over (), place_id, 'doubtful', 'p1', now() - interval '20 days', now() - interval '6 days', 'x' from ${some(FLAGGED)} s`);
  await database().execute(sql`analyze listing`);
}

export async function measureReview(keeperOfThree: string): Promise<ReviewFigures> {
  await fill();
  const timed = async (who: string, before?: () => Promise<unknown>) => {
    const times: number[] = [];
    for (let i = 0; i < TIMES + 2; i++) {
      await before?.();
      const start = now();
      await readQueue(who, {});
      if (i >= 2) times.push(now() - start);
    }
    return quantile(times, 0.95);
  };
  const settle = async () => {
    const [first] = (await readQueue(keeperOfThree, {})).rows;
    if (!first) throw new Error("Nothing is due for who keeps three spaces.");
    const rows = [{ place: first.id, flags: first.flags.map(({ id }) => id), due: true }];
    await settleReview(keeperOfThree, { rows, outcome: "confirmed", reason: "" });
  };
  const queueP95 = await timed("p0");
  const queueThreeP95 = await timed(keeperOfThree);
  return { due: (await readQueue("p0", {})).count, queueP95, queueThreeP95, queueAfterP95: await timed("p0", settle) };
}
