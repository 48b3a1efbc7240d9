/** How Brinehaven was read over fourteen months, with a season; what was looked for and not found. From a fixed seed, the same on every machine. */
import { insertMany } from "../server/db/bulk.ts";
import { inChange } from "../server/db/client.ts";
import { readerMarks, searchMisses, viewCounts } from "../server/db/schema/index.ts";
import { readerMark, weekOf } from "../server/services/reads/noting.ts";
import type { DemoPage } from "./pages.ts";

const DAY = 86_400_000;
const DAYS = 425;

/** A small generator with a fixed seed. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

/** Pages that are read more than others, and by whom: of ten readers so many are outsiders, so many guests. */
const POPULAR: Record<string, [often: number, outsiders: number, guests: number]> = {
  tidetables: [60, 7, 1],
  ferrytimes: [40, 8, 0],
  welcome: [35, 8, 1],
  berthplan: [25, 0, 3],
  closures: [20, 7, 0],
  living: [14, 8, 1],
  survey: [10, 0, 5],
  berthrequests: [10, 0, 6],
};
/** Live, and opened by nobody. */
const NEVER: ReadonlySet<string> = new Set(["papercharts", "ballast"]);

/** What many looked for and nobody wrote; the last one by too few to be shown. */
const MISSED: readonly [words: string, outsiders: number, guests: number, members: number][] = [
  ["fishing licence for visitors", 14, 0, 2],
  ["shore leave", 6, 5, 3],
  ["crane hire", 9, 4, 0],
  ["parking for crews", 3, 2, 6],
  ["lost and found", 8, 0, 1],
  ["who is on call tonight", 0, 0, 2],
];

const season = (at: number): number => 1 + 0.6 * Math.cos(((new Date(at).getUTCMonth() - 6) / 6) * Math.PI);

type Reader = "outsider" | "guest" | "member";

/** Views of one page by day and kind of reader. */
function* viewsOf(page: DemoPage, now: number, random: () => number): Generator<{ day: string; reader: Reader; views: number }> {
  const [often, outsiders, guests] = POPULAR[page.id] ?? [5, page.kind === "bulletin" ? 5 : 0, 1];
  for (let day = 0; day < Math.min(DAYS, page.daysAgo); day++) {
    const when = now - day * DAY;
    const views = Math.floor(random() * often * season(when));
    if (views === 0) continue;
    const of = (share: number) => Math.round((views * share) / 10);
    const parts: [Reader, number][] = [
      ["outsider", of(outsiders)],
      ["guest", of(guests)],
      ["member", Math.max(0, views - of(outsiders) - of(guests))],
    ];
    for (const [reader, count] of parts) if (count > 0) yield { day: new Date(when).toISOString().slice(0, 10), reader, views: count };
  }
}

/** Enters views, marks of readers and searches until now (milliseconds since the epoch). */
export async function loadReads(pages: readonly DemoPage[], members: readonly string[], now: number): Promise<void> {
  const random = numbers(20270409);
  const views: (typeof viewCounts.$inferInsert)[] = [];
  const marks = new Map<string, typeof readerMarks.$inferInsert>();
  for (const page of pages) {
    if (page.state === "draft" || page.state === "scheduled" || NEVER.has(page.id)) continue;
    for (const { day, reader, views: count } of viewsOf(page, now, random)) {
      views.push({ placeId: page.id, day, reader, views: count });
      if (reader === "outsider") continue;
      const week = weekOf(Date.parse(day));
      for (let i = 0; i < Math.min(count, 6); i++) {
        const mark = readerMark(members[Math.floor(random() * members.length)] ?? "", week);
        marks.set(`${page.id}|${week}|${mark}`, { placeId: page.id, week, mark });
      }
    }
  }
  const misses = MISSED.flatMap(([words, ...counts]) =>
    (["outsider", "guest", "member"] as const).flatMap((reader, kind) =>
      Array.from({ length: counts[kind] ?? 0 }, (_, i) => ({
        words,
        day: new Date(now - (3 + i * 2) * DAY).toISOString().slice(0, 10),
        reader,
        mark: reader === "outsider" ? "" : `${reader}${i}`,
        times: 1 + (i % 2),
      })),
    ),
  );
  await inChange(async (tx) => {
    await insertMany(tx, viewCounts, views);
    await insertMany(tx, readerMarks, [...marks.values()]);
    await tx.insert(searchMisses).values(misses);
  });
}
