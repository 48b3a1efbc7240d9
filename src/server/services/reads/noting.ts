/**
 * What is noted of reading (house rules, "what is kept of a person"): that somebody signed in read a page in a week, by a mark
 * that names nobody; and what was searched for and not found. Of the public nothing is noted but how often.
 */

import { lt, sql } from "drizzle-orm";
import { dayBefore } from "../../clock.ts";
import { database, onLeavingDatabase } from "../../db/client.ts";
import { readerMarks, searchMisses } from "../../db/schema/index.ts";
import { keyed } from "../../secrets.ts";
import { readHouseRules } from "../house/houseRules.ts";

const DAY = 86_400_000;
/** Letters of a mark: enough to tell a hundred thousand people apart. */
const MARK = 16;

/** The Monday of an instant's week, in UTC. */
export function weekOf(at: number): string {
  const day = new Date(at);
  return new Date(at - ((day.getUTCDay() + 6) % 7) * DAY).toISOString().slice(0, 10);
}

export const readerMark = (person: string, week: string): string => keyed(`reader|${week}|${person}`).slice(0, MARK);

/** Notes that somebody signed in read a page this week. The page was sent already: nobody waits for this. */
export async function noteReader(placeId: string, person: string, now = Date.now()): Promise<void> {
  const week = weekOf(now);
  const mark = readerMark(person, week);
  const key = `${placeId}|${mark}`;
  if (noted.has(key) || (await readHouseRules(database())).useDays === 0) return;
  await database().insert(readerMarks).values({ placeId, week, mark }).onConflictDoNothing();
  if (noted.size >= MOST_NOTED) noted.clear();
  noted.add(key);
}

/** What this server noted already: whoever opens a page again and again writes once. */
const noted = new Set<string>();
onLeavingDatabase(() => noted.clear());
const MOST_NOTED = 50_000;

/** So many different words a day are noted of each kind of reader: whoever sends nonsense fills nothing. */
const MOST_A_DAY = 2_000;
const LENGTHS = { least: 2, most: 60 } as const;

/** Words as they are counted: those who look for the same thing type it alike. */
export const asCounted = (words: string): string =>
  words
    .normalize("NFKC")
    .toLowerCase()
    .replace(/[\s\p{C}]+/gu, " ")
    .trim();

/** Notes that words were searched for and nothing was found. */
export async function noteMiss(
  words: string,
  reader: "outsider" | "guest" | "member",
  person: string | null,
  now = Date.now(),
): Promise<void> {
  const said = asCounted(words);
  if (said.length < LENGTHS.least || said.length > LENGTHS.most || (await readHouseRules(database())).useDays === 0) return;
  const day = dayBefore(0, now);
  const mark = person === null ? "" : keyed(`search|${said}|${person}`).slice(0, MARK);
  await database().execute(sql`
    insert into ${searchMisses} (words, day, reader, mark)
    select ${said}, ${day}::date, ${reader}, ${mark}
    where (select count(*) from ${searchMisses} m where m.day = ${day}::date and m.reader = ${reader}) < ${MOST_A_DAY}
    on conflict (words, day, reader, mark) do update set times = ${searchMisses}.times + 1`);
}

/** Forgets what lies further back than the house rules keep. */
export async function forgetReaders(now = Date.now()): Promise<void> {
  const { useDays } = await readHouseRules(database());
  const since = dayBefore(useDays, now);
  await database()
    .delete(readerMarks)
    .where(lt(readerMarks.week, weekOf(Date.parse(since))));
  await database().delete(searchMisses).where(lt(searchMisses.day, since));
}
