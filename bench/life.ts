/** Measures the life of pages on the served large set: the table sorted by each column, the impact of binning a large branch, archiving in bulk. */

import { asc, count as countOf, isNotNull } from "drizzle-orm";
import { PAGE_SORTS } from "../src/contracts/pages.ts";
import { below, type CompiledPlace, placeOf } from "../src/core/access/index/index.ts";
import type { Edit } from "../src/core/access/model/index.ts";
import { readAccess } from "../src/server/access/current.ts";
import { database, inChange, inSnapshot } from "../src/server/db/client.ts";
import { ledger, pages } from "../src/server/db/schema/index.ts";
import { runJob } from "../src/server/jobs/running.ts";
import { bringTableHere, lookAtTableHere } from "../src/server/services/bringing/bringing.ts";
import { makeChange } from "../src/server/services/change/apply.ts";
import { lookForFindings } from "../src/server/services/findings/looking.ts";
import { readForecastHere } from "../src/server/services/forecast/forecast.ts";
import { readGridHere } from "../src/server/services/grid/grid.ts";
import { lookAtMany, orderJob, readJob } from "../src/server/services/jobs/jobs.ts";
import { KINDS } from "../src/server/services/jobs/kinds.ts";
import { lookAtActHere } from "../src/server/services/life/sheet.ts";
import { compareViewpointsHere } from "../src/server/services/outside/compare.ts";
import { readGuestsHere } from "../src/server/services/outside/guests.ts";
import { readOutside } from "../src/server/services/outside/publicPages.ts";
import { readPages } from "../src/server/services/pages/pages.ts";
import { readPeople } from "../src/server/services/people/table.ts";
import { readRegisterHere } from "../src/server/services/registers/registers.ts";
import { type DeskFigures, measureDesk } from "./desk.ts";
import { now, quantile } from "./measuring.ts";
import { measureReview, type ReviewFigures } from "./review.ts";

export interface LifeFigures {
  /** The worst column, and its p95, for who keeps the site and for who keeps three spaces. */
  pagesKeeper: { sort: string; p95: number };
  pagesThree: { sort: string; p95: number };
  branch: number;
  impactMs: number;
  archived: number;
  archivePerSecond: number;
  /** The first hundred of the people, with what each can do; and a table of ten thousand more brought in. */
  peopleP95: number;
  brought: number;
  bringMs: number;
  /** The first hundred of what the public reads; two viewpoints compared; the first hundred guests. */
  outsideP95: number;
  compareMs: number;
  guestsMs: number;
  /** What comes by itself in 30 days; every live page looked through for findings; a register; the grid as it was, the first time and then again. */
  forecastMs: number;
  looked: number;
  findingsPerSecond: number;
  registerMs: number;
  asOfFirstMs: number;
  asOfMs: number;
  review: ReviewFigures;
  desk: DeskFigures;
}

const TIMES = 20;

async function worstColumn(asker: string): Promise<{ sort: string; p95: number }> {
  let worst = { sort: "", p95: 0 };
  for (const sort of PAGE_SORTS) {
    const times = await timed((nth) => readPages(asker, { sort, part: "live", order: nth % 2 ? "up" : "down" }));
    const p95 = quantile(times, 0.95);
    if (p95 > worst.p95) worst = { sort, p95 };
  }
  return worst;
}

/** What something takes when it was done a few times before: every time it was measured. */
async function timed(work: (nth: number) => Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < TIMES + 3; i++) {
    const start = now();
    await work(i);
    if (i >= 3) times.push(now() - start);
  }
  return times;
}

/** What the public reads, two viewpoints compared, guests with what they use: as a site keeper looks at them. */
async function measureOutside(): Promise<Pick<LifeFigures, "outsideP95" | "compareMs" | "guestsMs">> {
  const outside = await timed(() => readOutside("p0", {}));
  const compared = await timed(() => compareViewpointsHere("p0", { a: "public", b: "members" }));
  const guests = await timed(() => readGuestsHere("p0", {}));
  return { outsideP95: quantile(outside, 0.95), compareMs: quantile(compared, 0.5), guestsMs: quantile(guests, 0.5) };
}

/** What changes by itself, what looks sensitive, what stands by rule, what was. */
async function measureLooks(): Promise<
  Pick<LifeFigures, "forecastMs" | "looked" | "findingsPerSecond" | "registerMs" | "asOfFirstMs" | "asOfMs">
> {
  const forecast = await timed(() => readForecastHere("p0", {}));
  const register = await timed(() => readRegisterHere("p0", { of: "rules", sort: "in" }));
  const [first] = await database().select({ at: ledger.at }).from(ledger).orderBy(asc(ledger.seq)).limit(1);
  const order = { columns: ["public", "guests", "members"], at: new Date((first?.at.getTime() ?? 0) + 1).toISOString() };
  const before = now();
  await readGridHere("p0", order);
  const asOfFirstMs = now() - before;
  const again = await timed(() => readGridHere("p0", order));
  const { id } = await lookForFindings("p0");
  const start = now();
  await runJob(id, KINDS);
  const seconds = (now() - start) / 1000;
  const [{ looked = 0 } = {}] = await database().select({ looked: countOf() }).from(pages).where(isNotNull(pages.liveMajor));
  return {
    forecastMs: quantile(forecast, 0.5),
    registerMs: quantile(register, 0.5),
    asOfFirstMs,
    asOfMs: quantile(again, 0.5),
    looked,
    findingsPerSecond: looked / seconds,
  };
}

/** Somebody who keeps three spaces and nothing else, made so for the measuring. */
async function keeperOfThree(person: string, spaces: readonly string[]): Promise<void> {
  const edits = spaces.map(
    (place): Edit => ({
      kind: "grant",
      place,
      put: { to: { person }, abilities: ["read", "discuss", "revise", "add", "arrange", "publish", "retire", "admit", "govern"] },
    }),
  );
  await inChange((tx) => makeChange(tx, { maker: "p0", edits, act: "rules", note: "", reason: "for measuring" }));
}

/** So many pages the branch has that is looked at. */
const BRANCH = 5_000;

/** Gathers pages of the largest space, with what is below them, below one of them. */
async function largeBranch(space: string): Promise<{ root: string; size: number }> {
  const access = await inSnapshot((tx) => readAccess(tx));
  const inside = (place: CompiledPlace): number => below(access.index, place).length;
  const pages = (placeOf(access.index, space)?.children ?? []).flatMap((number) => {
    const child = access.index.places[number];
    return child?.place.kind === "page" && child.place.state === "live" ? [child] : [];
  });
  const [root, ...others] = pages as [CompiledPlace, ...CompiledPlace[]];
  let size = inside(root);
  const edits = others.flatMap((page): Edit[] => {
    if (size >= BRANCH) return [];
    size += inside(page);
    return [{ kind: "move", place: page.place.id, from: space, to: root.place.id }];
  });
  // By the core alone: who may move what is not what is measured.
  await inChange((tx) =>
    makeChange(tx, { maker: "p0", edits, act: "move", note: "", reason: "for measuring", wayBack: { unseen: true, moves: true } }),
  );
  return { root: root.place.id, size };
}

const anyPage = async (space: string): Promise<string | undefined> =>
  (await readPages("p0", { space, part: "live", sort: "title" })).rows[0]?.id;

async function measurePeople(): Promise<Pick<LifeFigures, "peopleP95" | "brought" | "bringMs">> {
  const times = await timed((nth) => readPeople("p0", { kind: "member", sort: "owns", order: nth % 2 ? "up" : "down" }));
  const rows = Array.from({ length: 10_000 }, (_, i) => `Brought ${i},brought${i}@people.invalid,Team ${i % 50}`);
  const order = { table: ["name,mail,groups", ...rows].join("\n"), columns: {} };
  const { counts, preview } = await lookAtTableHere("p0", order);
  const start = now();
  await bringTableHere("p0", { ...order, note: "", seen: preview?.seen ?? "", reason: "for measuring" });
  return { peopleP95: quantile(times, 0.95), brought: counts.added, bringMs: now() - start };
}

export async function measureLife(progress: (text: string) => void, member: string): Promise<LifeFigures> {
  progress("The table of pages by each column …");
  const pagesKeeper = await worstColumn("p0");
  await keeperOfThree(member, ["s3", "s40", "s90"]);
  const pagesThree = await worstColumn(member);
  progress("What is outside …");
  const outside = { ...(await measureOutside()), ...(await measureLooks()) };
  progress("What is due …");
  const review = await measureReview(member);
  const desk = await measureDesk(member);
  progress("The impact of binning a large branch …");
  const { root, size } = await largeBranch("s0");
  const times: number[] = [];
  for (let i = 0; i < 30; i++) {
    // Somebody else looks at something else in between: what was worked out for the look before is gone.
    await lookAtActHere("p0", { act: "bin", places: [(await anyPage("s2")) ?? ""], below: "along" });
    const start = now();
    await lookAtActHere("p0", { act: "bin", places: [root], below: "along" });
    if (i >= 10) times.push(now() - start);
  }
  progress("Archiving in bulk …");
  const order = { act: "archive" as const, below: "along" as const, filter: { space: "s1", part: "live" as const } };
  const { count, seen } = await lookAtMany("p0", order);
  const { id } = await orderJob("p0", { order, count, note: "", reason: "for measuring", seen });
  const start = now();
  await runJob(id, KINDS);
  const seconds = (now() - start) / 1000;
  const { done } = await readJob("p0", id);
  progress("People by the thousand …");
  const people = await measurePeople();
  return {
    pagesKeeper,
    pagesThree,
    branch: size,
    impactMs: quantile(times, 0.5),
    archived: done,
    archivePerSecond: done / seconds,
    review,
    desk,
    ...people,
    ...outside,
  };
}
