/** What was settled within a day: one's own entries, and for site keepers everybody's; and what comes next by itself. */
import { and, asc, eq, gt } from "drizzle-orm";
import type { Desk, DeskSettled } from "../../../contracts/desk.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { ADMIT, REVISE } from "../../../core/access/model/index.ts";
import { type LedgerAct, labelOf } from "../../../core/ledger/index.ts";
import { namesFor } from "../../access/known.ts";
import { reachOf, within } from "../../db/listing.ts";
import { listing, routines, schedules } from "../../db/schema/index.ts";
import { doneSince } from "../ledger/doneSince.ts";
import { keepsRoutines } from "../routines/standing.ts";
import { type Asking, DAY } from "./asking.ts";

/** Entries by which something that waited was settled. */
const SETTLES: readonly LedgerAct[] = [
  "rules",
  "takeBack",
  "publish",
  "approve",
  "sendBack",
  "review",
  "archive",
  "unarchive",
  "bin",
  "restore",
  "erase",
  "takeDown",
  "marks",
  "meanOutside",
  "setAside",
  "routine",
  "withdrawPass",
];
const MOST = 30;

export async function settledToday({ tx, access, me, who, keepsSite }: Asking): Promise<DeskSettled[]> {
  const rows = await doneSince(tx, SETTLES, new Date(access.at - DAY), { by: keepsSite ? null : who, most: MOST });
  const names = namesFor(access, me);
  return rows.map(({ seq, act, at, maker, places, back }) => {
    const [first, ...others] = places;
    const where = first === undefined ? "" : `: ${names.place(first)}${others.length > 0 ? ` and ${others.length} more` : ""}`;
    return {
      seq,
      words: `${labelOf(act)}${where}`,
      at: at.toISOString(),
      by: maker === null ? "Tesoro" : names.person(maker),
      mine: maker === who,
      takenBack: back,
    };
  });
}

/** What comes next by itself, of what is the asker's to know: a review, a routine, a page that goes live. */
export async function nextByItself({ tx, access, me, keepsSite }: Asking): Promise<Desk["next"]> {
  const now = new Date(access.at);
  const reach = keepsSite ? undefined : within(await reachOf(tx, access.index, me.number, access.at, REVISE | ADMIT | OVERSEES));
  const [due] = await tx
    .select({ id: listing.placeId, at: listing.dueAt })
    .from(listing)
    .where(and(eq(listing.state, "live"), gt(listing.dueAt, now), reach))
    .orderBy(asc(listing.dueAt), asc(listing.placeId))
    .limit(1);
  const [set] = await tx
    .select({ id: schedules.placeId, at: schedules.at, what: schedules.what })
    .from(schedules)
    .innerJoin(listing, eq(listing.placeId, schedules.placeId))
    .where(and(gt(schedules.at, now), reach))
    .orderBy(asc(schedules.at))
    .limit(1);
  const runs = (
    await tx
      .select()
      .from(routines)
      .where(and(eq(routines.isOn, true), gt(routines.nextAt, now)))
      .orderBy(asc(routines.nextAt))
  ).find(({ spaceId }) => keepsRoutines(access, me, spaceId));
  const names = namesFor(access, me);
  const all = [
    due?.at && { words: `${names.place(due.id)} is due to be looked at again`, at: due.at },
    set && { words: `${names.place(set.id)} ${set.what === "live" ? "goes live" : "goes into the archive"}`, at: set.at },
    runs?.nextAt && { words: `the routine “${runs.name}” runs`, at: runs.nextAt },
  ].flatMap((it) => (it ? [it] : []));
  const [next] = all.sort((a, b) => a.at.getTime() - b.at.getTime());
  return next ? { words: next.words, at: next.at.toISOString() } : null;
}
