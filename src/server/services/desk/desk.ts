/** The desk: every part asked under the rights of who asks, put together in order of consequence. */
import { and, eq, gt, lt } from "drizzle-orm";
import { DESK_HEADINGS, type Desk, type DeskAsideBody, type DeskCount } from "../../../contracts/desk.ts";
import { accessNow, isKeeper, readAccess, subjectFor } from "../../access/current.ts";
import { database, inSnapshot, takeTurnOf } from "../../db/client.ts";
import { deskAside, notices } from "../../db/schema/index.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { readAsked } from "../asked/asked.ts";
import { readFindings } from "../findings/findings.ts";
import { readQueue } from "../review/queue.ts";
import type { Asking, Beside, Told } from "./asking.ts";
import { endingPassRows, endingPeopleRows, leavingBinRows } from "./endingRows.ts";
import { heldRows, jobRows, routineRows } from "./machineryRows.ts";
import { draftRows, reviewRows } from "./oldRows.ts";
import { brokenPledgeRows, findingRows, newlyOutside } from "./outsideRows.ts";
import { nextByItself, settledToday } from "./settledToday.ts";
import { slowBefore, slowOf, slowRows } from "./slow.ts";
import { approvalRows, askedRows, noticeRows } from "./waitingRows.ts";

/** In the order in which they stand under their headings. */
const PARTS: readonly ((asking: Asking) => Promise<Told> | Told)[] = [
  newlyOutside,
  findingRows,
  brokenPledgeRows,
  askedRows,
  approvalRows,
  noticeRows,
  endingPeopleRows,
  endingPassRows,
  leavingBinRows,
  reviewRows,
  draftRows,
  routineRows,
  heldRows,
  jobRows,
];

/** What other views tell, each asked by itself. Where one only counts, nothing is worked out that takes its time. */
async function besideOf(asker: string, counting: boolean): Promise<Beside> {
  const access = await accessNow();
  const me = subjectFor(access, asker);
  // Begun first: it is worked out beside the rest.
  const slow = counting ? slowBefore(asker) : slowOf({ who: asker, access, keepsSite: isKeeper(access, me) });
  const findings = await readFindings(asker, {});
  const asked = await readAsked(asker, {});
  const queue = await readQueue(asker, {});
  return { findings, asked, queue, slow: await slow };
}

interface Waiting extends Pick<Desk, "rows" | "more" | "count"> {
  asking: Asking;
}

/** What waits for somebody, told to `tell` in the snapshot it was read in. */
async function waiting<T>(asker: string, counting: boolean, tell: (found: Waiting) => T | Promise<T>): Promise<T> {
  const beside = await besideOf(asker, counting);
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const set = await tx
      .select({ row: deskAside.row })
      .from(deskAside)
      .where(and(eq(deskAside.personId, asker), gt(deskAside.until, new Date(access.at))));
    const aside = new Set(set.map(({ row }) => row));
    const asking: Asking = { tx, access, me, who: asker, keepsSite: isKeeper(access, me), aside, beside };
    const told: Told[] = [];
    for (const part of PARTS) told.push(await part(asking));
    told.push(...slowRows(asking));
    const rank = new Map(DESK_HEADINGS.map((heading, nth) => [heading, nth]));
    const rows = told.flatMap((it) => it.rows).sort((a, b) => (rank.get(a.heading) ?? 0) - (rank.get(b.heading) ?? 0));
    const more = told.flatMap((it) => it.more ?? []);
    return tell({ asking, rows, more, count: rows.length + more.reduce((sum, it) => sum + it.count, 0) });
  });
}

export const readDesk = (asker: string): Promise<Desk> =>
  waiting(asker, false, async ({ asking, ...found }) => ({
    ...found,
    aside: asking.aside.size,
    pending: asking.beside.slow === null,
    settled: await settledToday(asking),
    next: await nextByItself(asking),
  }));

/** How many things wait for somebody, by what is known without working anything out. */
export const countDesk = (asker: string): Promise<DeskCount> => waiting(asker, true, ({ count }) => ({ count }));

/** So many rows one person has set aside at most. */
const MOST_ASIDE = 2_000;

/** Sets a row of one's own desk aside. Whether there is such a row is nobody's business here: it is on no other desk. */
export async function setDeskAside(asker: string, { row, until }: DeskAsideBody): Promise<Record<string, never>> {
  const mine = and(eq(deskAside.personId, asker), eq(deskAside.row, row));
  if (until === null) {
    await database().delete(deskAside).where(mine);
    return {};
  }
  const at = new Date(until);
  if (at.getTime() <= Date.now()) throw badRequest("That date lies in the past: choose one ahead.");
  return database().transaction(async (tx) => {
    await takeTurnOf(tx, `aside ${asker}`);
    await tx.delete(deskAside).where(and(eq(deskAside.personId, asker), lt(deskAside.until, new Date())));
    const known = await tx.select({ row: deskAside.row }).from(deskAside).where(eq(deskAside.personId, asker));
    if (known.length >= MOST_ASIDE && !known.some((it) => it.row === row))
      throw badRequest(`You have ${MOST_ASIDE.toLocaleString("en")} rows set aside: settle some of them first.`);
    await tx
      .insert(deskAside)
      .values({ personId: asker, row, until: at })
      .onConflictDoUpdate({ target: [deskAside.personId, deskAside.row], set: { until: at } });
    return {};
  });
}

/** Takes a notice off one's desk; of nobody else's there is any. */
export async function readNotice(asker: string, id: string): Promise<Record<string, never>> {
  const number = /^\d{1,15}$/.test(id) ? Number(id) : 0;
  const read = await database()
    .update(notices)
    .set({ readAt: new Date() })
    .where(and(eq(notices.id, number), eq(notices.personId, asker), eq(notices.kind, "routine")))
    .returning({ id: notices.id });
  if (read.length === 0) throw notThere();
  return {};
}
