/** Which pages a routine is about, as conditions on the listing: what fits, what it would be done to, and what its person may do it to. */
import { and, asc, eq, inArray, isNotNull, isNull, lte, not, notInArray, or, type SQL, sql } from "drizzle-orm";
import { PARTS, type PagesFilter, type Part } from "../../../contracts/pages.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import type { CompiledSubject } from "../../../core/access/index/index.ts";
import { READ, RETIRE, REVISE } from "../../../core/access/model/index.ts";
import { AGAIN_AFTER, type RoutineAction, type RoutineFilter } from "../../../core/routines/index.ts";
import { type Access, isKeeper } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { flags, listing, pages, routineTold, viewCounts } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { binKeepsDays } from "../life/facts.ts";
import { conditionOf, flagged } from "../pages/filter.ts";

const DAY = 86_400_000;

/** What is looked for: a routine, as whom it runs, and where it is confined to. */
export interface Looking {
  /** Null: it is not kept yet. */
  routine: string | null;
  spaceId: string | null;
  which: RoutineFilter;
  action: RoutineAction;
  most: number;
  as: CompiledSubject;
}

const instant = (at: number): SQL => sql`${new Date(at).toISOString()}::timestamptz`;

/** The part of a filter that the table of pages knows as well. */
function common({ state, branch, owner, tag, readiness, outside, unchanged, changed }: RoutineFilter, at: number): PagesFilter {
  const part = (Object.keys(PARTS) as Part[]).find((it) => PARTS[it] === state) as Part;
  const ago = (days: number) => new Date(at - days * DAY).toISOString();
  return {
    part,
    ...(branch === undefined ? {} : { branch }),
    ...(owner === undefined ? {} : { owner }),
    ...(tag === undefined ? {} : { tag }),
    ...(readiness === undefined ? {} : { readiness }),
    ...(outside === undefined ? {} : { outside }),
    ...(unchanged === undefined ? {} : { before: ago(unchanged) }),
    ...(changed === undefined ? {} : { since: ago(changed) }),
  };
}

/** When a page was last confirmed or published, as the listing and the pages beside it say. */
const affirmed = (tx: Tx, compare: SQL): SQL =>
  sql`exists ${tx
    .select({ one: sql`1` })
    .from(pages)
    .where(
      and(
        eq(pages.placeId, listing.placeId),
        isNotNull(listing.publishedAt),
        sql`greatest(${pages.confirmedAt}, ${listing.publishedAt}) ${compare}`,
      ),
    )}`;

/** It was read on a day after an instant. */
const readSince = (tx: Tx, at: number): SQL =>
  sql`exists ${tx
    .select({ one: sql`1` })
    .from(viewCounts)
    .where(and(eq(viewCounts.placeId, listing.placeId), sql`${viewCounts.day} > ${new Date(at).toISOString().slice(0, 10)}::date`))}`;

/** Spaces in the archive or the bin: what is in them is left alone. */
const closedSpaces = ({ index }: Access): string[] =>
  index.blocks.flatMap(({ space }) => {
    const place = index.places[space]?.place;
    return place?.kind === "space" && place.state !== "live" ? [place.id] : [];
  });

/** What fits the filter, of what whoever it runs as may see. */
async function fitting(tx: Tx, access: Access, { spaceId, which, as }: Looking): Promise<SQL | undefined> {
  const { at } = access;
  const { spaces, flagged: bears, unconfirmed, confirmed, unread, read, due } = which;
  const closed = closedSpaces(access);
  const ago = (days: number) => at - days * DAY;
  return and(
    await conditionOf(tx, access, as, common(which, at)),
    spaceId === null ? undefined : eq(listing.spaceId, spaceId),
    spaces && inArray(listing.spaceId, [...spaces]),
    closed.length > 0 ? notInArray(listing.spaceId, closed) : undefined,
    bears === "yes" ? await flagged(tx, access, as) : undefined,
    bears === "no" ? not(await flagged(tx, access, as)) : undefined,
    unconfirmed === undefined ? undefined : affirmed(tx, sql`<= ${instant(ago(unconfirmed))}`),
    confirmed === undefined ? undefined : affirmed(tx, sql`> ${instant(ago(confirmed))}`),
    unread === undefined ? undefined : not(readSince(tx, ago(unread))),
    read === undefined ? undefined : readSince(tx, ago(read)),
    due === undefined ? undefined : and(eq(listing.state, "live"), lte(listing.dueAt, new Date(at + due * DAY))),
  );
}

/** What the action would be done to, of what fits; the core says the same of each page (`leftAlone`). */
async function toBeDone(tx: Tx, access: Access, { routine, action, as }: Looking): Promise<SQL | undefined> {
  const ofKind = (kind: typeof flags.$inferSelect.kind, ...which: (SQL | undefined)[]) =>
    inArray(
      listing.placeId,
      tx
        .select({ id: flags.placeId })
        .from(flags)
        .where(and(eq(flags.kind, kind), ...which)),
    );
  switch (action.what) {
    case "flag":
      return not(
        or(
          ofKind(action.kind, isNull(flags.outcome)),
          ofKind(action.kind, sql`${flags.endedAt} > ${instant(access.at - AGAIN_AFTER.flag * DAY)}`),
        ) as SQL,
      );
    case "clearFlag": {
      const open = ofKind(action.kind, isNull(flags.outcome));
      return action.kind === "sensitive" ? and(open, await flagged(tx, access, as)) : open;
    }
    case "addTag":
      return not(sql`${listing.tags} @> ${textArray([action.tag])}`);
    case "removeTag":
      return sql`${listing.tags} @> ${textArray([action.tag])}`;
    case "erase":
      return lte(listing.leftAt, new Date(access.at - (await binKeepsDays(tx)) * DAY));
    case "tellOwner":
    case "tellGroup": {
      const lately = tx
        .select({ id: routineTold.about })
        .from(routineTold)
        .where(and(eq(routineTold.routineId, routine ?? ""), sql`${routineTold.at} > ${instant(access.at - AGAIN_AFTER.tell * DAY)}`));
      const told = not(inArray(listing.placeId, lately));
      return action.what === "tellOwner" ? and(told, isNotNull(listing.ownerId)) : told;
    }
    default:
      return undefined;
  }
}

const ABILITY: Partial<Record<RoutineAction["what"], number>> = {
  flag: READ,
  clearFlag: REVISE,
  addTag: REVISE,
  removeTag: REVISE,
  archive: RETIRE | OVERSEES,
  bin: RETIRE | OVERSEES,
  erase: OVERSEES,
};

/** Where whoever it runs as holds what the action takes; each page is judged by itself when it is done. */
async function allowed(tx: Tx, access: Access, { action, as }: Looking): Promise<SQL | undefined> {
  const mask = ABILITY[action.what];
  if (mask === undefined || (mask & OVERSEES && isKeeper(access, as))) return undefined;
  return within(await reachOf(tx, access.index, as.number, access.at, mask));
}

export interface Selection {
  fits: number;
  /** Of these, how many it would be done to, and how many of those its person may not do it to. */
  todo: number;
  notAllowed: number;
  /** Ids of what is taken, what waits longest first. */
  ids: string[];
  /** The first ones that fit and are left as they are, for the reasons to be told. */
  spared: string[];
}

const MOST_SPARED = 100;

/** What a routine is about at this moment: counted whole, and taken up to its most. */
export async function select(tx: Tx, access: Access, looking: Looking): Promise<Selection> {
  const fits = await fitting(tx, access, looking);
  const todo = (await toBeDone(tx, access, looking)) ?? sql`true`;
  const may = (await allowed(tx, access, looking)) ?? sql`true`;
  const rows = await tx
    .select({
      fits: sql<number>`count(*)::int`,
      todo: sql<number>`(count(*) filter (where ${todo}))::int`,
      may: sql<number>`(count(*) filter (where ${todo} and ${may}))::int`,
    })
    .from(listing)
    .where(fits);
  const [counted = { fits: 0, todo: 0, may: 0 }] = rows;
  const first = async (which: SQL | undefined, most: number) =>
    most === 0
      ? []
      : (
          await tx
            .select({ id: listing.placeId })
            .from(listing)
            .where(and(fits, which))
            .orderBy(asc(listing.changedAt), asc(listing.placeId))
            .limit(most)
        ).map(({ id }) => id);
  return {
    fits: counted.fits,
    todo: counted.todo,
    notAllowed: counted.todo - counted.may,
    ids: await first(and(todo, may), Math.min(counted.may, looking.most)),
    spared: await first(not(and(todo, may) as SQL), Math.min(counted.fits - counted.may, MOST_SPARED)),
  };
}
