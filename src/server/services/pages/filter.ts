/** Which pages a filter means, as a condition on the listing, within what its asker may see. */
import { and, eq, gte, inArray, isNull, lt, ne, or, type SQL, sql } from "drizzle-orm";
import { PARTS, type PagesFilter } from "../../../contracts/pages.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { type AccessIndex, below, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { ADMIT, PUBLISH, READ, REVISE } from "../../../core/access/model/index.ts";
import { readersOutside } from "../../../core/lifecycle/index.ts";
import { type Access, isKeeper } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import { forAMinute } from "../../access/minute.ts";
import type { Tx } from "../../db/client.ts";
import { classesOf, reachOf, within } from "../../db/listing.ts";
import { flags, listing, schedules } from "../../db/schema/index.ts";
import { among, holding, textArray } from "../../db/textArray.ts";
import { waitingForApproval } from "../approval/standing.ts";

/** Who outside reads the places of each access class. */
export type OutsideByClass = ReadonlyMap<number, { public: boolean; guests: number }>;

const remembered = forAMinute<OutsideByClass>("rules");

export async function outsideByClass(tx: Tx, access: Access): Promise<OutsideByClass> {
  const known = remembered.read(access);
  if (known) return known;
  const { index, at } = access;
  const by = new Map<number, { public: boolean; guests: number }>();
  for (const { number, row } of await classesOf(tx, index)) by.set(number, readersOutside(index, row.example.number, at));
  return remembered.keep(access, by);
}

type Outside = NonNullable<PagesFilter["outside"]>;

const fits = (outside: Outside, { public: open, guests }: { public: boolean; guests: number }): boolean =>
  ({ public: open, guests: guests > 0, any: open || guests > 0, none: !open && guests === 0 })[outside];

/** Classes of places that are read from outside as asked for; undefined: however that is. */
export async function classesRead(tx: Tx, access: Access, outside: Outside | undefined): Promise<OutsideByClass> {
  const by = await outsideByClass(tx, access);
  return outside === undefined ? by : new Map([...by].filter(([, it]) => fits(outside, it)));
}

/** Where the asker may know who else can do what: all of it for site keepers. */
export async function administered(tx: Tx, access: Access, me: CompiledSubject): Promise<SQL> {
  if (isKeeper(access, me)) return sql`true`;
  return within(await reachOf(tx, access.index, me.number, access.at, ADMIT | OVERSEES));
}

/** Where that is for the asker to know, and so. */
async function readFrom(tx: Tx, access: Access, me: CompiledSubject, outside: Outside): Promise<SQL> {
  const classes = [...(await classesRead(tx, access, outside)).keys()];
  if (isKeeper(access, me)) return within({ classes, places: [] });
  const mine = await reachOf(tx, access.index, me.number, access.at, ADMIT | OVERSEES);
  const wanted = new Set(classes);
  const both = within({ classes: mine.classes.filter((number) => wanted.has(number)), places: [] });
  if (mine.places.length === 0) return both;
  return sql`(${both} or (${within({ classes: [], places: mine.places })} and ${within({ classes, places: [] })}))`;
}

/** What somebody may see of pages at all. */
export async function seenBy(tx: Tx, access: Access, me: CompiledSubject): Promise<SQL | undefined> {
  const pages = sql`${listing.kind} in ('page', 'bulletin')`;
  if (isKeeper(access, me)) return pages;
  return and(pages, within(await reachOf(tx, access.index, me.number, access.at, READ | OVERSEES)));
}

/** So many places are named one by one; where more fit, the first of them are soon found by looking at each. */
const MOST_NAMED = 20_000;

/** Titles that hold some words, wherever they stand in them. */
function inTitles({ places }: AccessIndex, words: string): SQL {
  const wanted = words.trim().toLowerCase();
  const found = places.flatMap(({ place }) => ((place.title ?? "").toLowerCase().includes(wanted) ? [place.id] : []));
  if (found.length > MOST_NAMED) return sql`${listing.title} ilike ${holding(words)}`;
  return among(listing.placeId, found);
}

/** The condition a filter means; places in it that one may not know of are as though they were not there. */
export async function conditionOf(tx: Tx, access: Access, me: CompiledSubject, filter: PagesFilter): Promise<SQL | undefined> {
  const { part, space, branch, owner, tag, readiness, before, since, outside, words, held } = filter;
  const known = (id: string) => (knowsPlace(access, me, id) ? placeOf(access.index, id) : undefined);
  const conditions: (SQL | undefined)[] = [await seenBy(tx, access, me)];
  if (part) conditions.push(eq(listing.state, PARTS[part]));
  if (space !== undefined) conditions.push(known(space) ? eq(listing.spaceId, space) : sql`false`);
  if (branch !== undefined) {
    const root = known(branch);
    const ids = root ? below(access.index, root).map(({ place }) => place.id) : [];
    conditions.push(among(listing.placeId, ids));
  }
  if (owner !== undefined) conditions.push(eq(listing.ownerId, owner));
  if (tag !== undefined) conditions.push(sql`${listing.tags} @> ${textArray([tag])}`);
  if (readiness !== undefined) conditions.push(eq(listing.readiness, readiness));
  if (before !== undefined) conditions.push(lt(listing.changedAt, new Date(before)));
  if (since !== undefined) conditions.push(gte(listing.changedAt, new Date(since)));
  if (words !== undefined && words.trim() !== "") conditions.push(inTitles(access.index, words));
  if (outside !== undefined) conditions.push(await readFrom(tx, access, me, outside));
  if (held)
    conditions.push(
      inArray(listing.placeId, tx.select({ id: schedules.placeId }).from(schedules).where(sql`${schedules.problem} is not null`)),
    );
  if (filter.review === "due")
    conditions.push(sql`${listing.state} = 'live' and ${listing.dueAt} <= ${new Date(access.at).toISOString()}::timestamptz`);
  if (filter.review === "flagged") conditions.push(await flagged(tx, access, me));
  if (filter.approval) conditions.push(await waitsFor(tx, access, me, filter.approval));
  return and(...conditions);
}

/** What bears an open flag that the asker may know of. */
export async function flagged(tx: Tx, access: Access, me: CompiledSubject): Promise<SQL> {
  const open = tx.select({ id: flags.placeId }).from(flags).where(isNull(flags.outcome));
  const plain = tx
    .select({ id: flags.placeId })
    .from(flags)
    .where(and(isNull(flags.outcome), ne(flags.kind, "sensitive")));
  const writes = within(await reachOf(tx, access.index, me.number, access.at, REVISE | ADMIT | OVERSEES));
  return or(inArray(listing.placeId, plain), and(inArray(listing.placeId, open), writes)) as SQL;
}

/** What waits for approval, where that is for the asker to know; or what they may approve themselves. */
export async function waitsFor(tx: Tx, access: Access, me: CompiledSubject, which: "waiting" | "mine"): Promise<SQL> {
  const place = sql`${listing.placeId}`;
  if (which === "waiting") {
    const waits = waitingForApproval(place);
    if (isKeeper(access, me)) return waits;
    return and(waits, within(await reachOf(tx, access.index, me.number, access.at, REVISE | OVERSEES))) as SQL;
  }
  const mine = waitingForApproval(place, me.person?.id ?? "");
  return and(mine, within(await reachOf(tx, access.index, me.number, access.at, PUBLISH))) as SQL;
}
