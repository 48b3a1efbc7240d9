/** Guests as seen from outside: what each can read beyond the public, until when, and when they last did; for whoever may see the rules there. */
import { and, eq, sql } from "drizzle-orm";
import { type GuestList, type GuestRow, type GuestShow, type GuestSort, type GuestsQuery, UNUSED_DAYS } from "../../../contracts/guests.ts";
import type { Levels } from "../../../contracts/people.ts";
import { keptCells, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { type CompiledSubject, subjectOf } from "../../../core/access/index/index.ts";
import { type Level, levelWithin } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, isKeeper, readAccess, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsOthersAt } from "../../access/known.ts";
import { pauses } from "../../access/pauses.ts";
import { inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { invitations, ledger, listing, pageUses, people } from "../../db/schema/index.ts";
import { pageOf } from "../../lists/whole.ts";
import { administered } from "../pages/filter.ts";
import { type Coming, comingOf } from "../people/coming.ts";
import { groupName, inOrder, plain } from "../people/names.ts";
import { noLevels, pagesIn, stateOf } from "../people/told.ts";
import { usesKnown } from "../reading/uses.ts";
import { type ToldBlock, toldBlocks } from "./told.ts";

const PAGE = 100;
const MOST_GROUPS = 3;
const DAY = 86_400_000;

export const guestsOf = ({ index }: Access): CompiledSubject[] =>
  inOrder(index.document.people).flatMap(({ it }) => (it.kind === "guest" ? (subjectOf(index, { person: it.id }) ?? []) : []));

/** What a class holds in a row that the public does not read; nothing where it does. */
export function beyondPublic({ index, at }: Access, { block, tables, everybody }: ToldBlock, row: number, number: number): number {
  const cells = keptCells(index, block, tables, row, at);
  return ((cells[everybody] as number) & SET_OF_CELL) === 0 ? (cells[number] as number) & SET_OF_CELL : 0;
}

/** On how many pages beyond those of the public each guest has which level, where the asker may see rules. */
async function levelsBeyond(access: Access, told: readonly ToldBlock[], guests: readonly CompiledSubject[]): Promise<Levels[]> {
  const found = guests.map(noLevels);
  const pause = pauses();
  for (const it of told) {
    await pause();
    const byClass = new Map<number, readonly [Level, number][]>();
    for (const [i, guest] of guests.entries()) {
      const number = it.tables.classOf[guest.number] as number;
      const here = byClass.get(number) ?? levelsOfClass(access, it, number);
      byClass.set(number, here);
      const levels = found[i] as Levels;
      for (const [level, count] of here) levels[level] += count;
    }
  }
  return found;
}

function levelsOfClass(access: Access, it: ToldBlock, number: number): [Level, number][] {
  const levels = new Map<Level, number>();
  for (const row of it.rows) {
    const set = beyondPublic(access, it, row, number);
    if (set !== 0) levels.set(levelWithin(set), (levels.get(levelWithin(set)) ?? 0) + pagesIn(access.index, it.block, row));
  }
  return [...levels];
}

/** When each guest last read a page where the asker may see rules. */
async function lastUses(tx: Tx, access: Access, me: CompiledSubject): Promise<Map<string, number>> {
  const found = isKeeper(access, me)
    ? tx.select({ id: pageUses.personId, at: sql<Date>`max(${pageUses.at})`.mapWith(pageUses.at) }).from(pageUses)
    : tx
        .select({ id: pageUses.personId, at: sql<Date>`max(${pageUses.at})`.mapWith(pageUses.at) })
        .from(pageUses)
        .innerJoin(listing, eq(listing.placeId, pageUses.placeId))
        .where(await administered(tx, access, me));
  return new Map((await found.groupBy(pageUses.personId)).map(({ id, at }) => [id, at.getTime()]));
}

/** Since when each guest is one here, or this one. */
export async function comingsOf(tx: Tx, only?: string): Promise<Map<string, number>> {
  const rows = await tx
    .select({ id: people.id, at: sql<Date>`min(${ledger.at})`.mapWith(ledger.at) })
    .from(people)
    .innerJoin(ledger, eq(ledger.seq, people.fromSeq))
    .where(and(eq(people.kind, "guest"), only === undefined ? undefined : eq(people.id, only)))
    .groupBy(people.id);
  return new Map(rows.map(({ id, at }) => [id, at.getTime()]));
}

/** At how many places that the asker may know of rules name each guest. */
function namedAt(access: Access, me: CompiledSubject): Map<string, number> {
  const found = new Map<string, number>();
  for (const { place } of access.index.places) {
    const named = new Set(place.grants.flatMap(({ to }) => ("person" in to ? [to.person] : [])));
    if (named.size === 0 || !knowsOthersAt(access, me, place.id)) continue;
    for (const id of named) found.set(id, (found.get(id) ?? 0) + 1);
  }
  return found;
}

interface Guest {
  subject: CompiledSubject;
  name: string;
  levels: Levels;
  reads: boolean;
  usedAt: number | undefined;
  from: number | undefined;
  state: ReturnType<typeof stateOf>;
  unused: boolean;
}

/** Whether something was not used for so long that it may as well go: it stands and is looked at for longer than that. */
export const isUnused = (usedAt: number | undefined, since: number | undefined, known: number, at: number): boolean => {
  const limit = at - UNUSED_DAYS * DAY;
  return known <= limit && (since ?? 0) <= limit && (usedAt ?? 0) <= limit;
};

const showOf = ({ state, unused }: Guest): GuestShow[] => (state !== "active" ? ["out"] : unused ? ["in", "unused"] : ["in"]);

/** All guests the asker is told of, by name. */
async function guestsFor(tx: Tx, access: Access, me: CompiledSubject, known: number): Promise<Guest[]> {
  const keeper = isKeeper(access, me);
  const subjects = guestsOf(access);
  const levels = await levelsBeyond(access, await toldBlocks(access, me), subjects);
  const [uses, froms] = [await lastUses(tx, access, me), await comingsOf(tx)];
  return subjects.flatMap((subject, i): Guest[] => {
    const id = subject.person?.id ?? "";
    const it = levels[i] as Levels;
    const reads = Object.values(it).some((count) => count > 0);
    // Of guests who have nothing where one may see rules, only site keepers are told.
    if (!reads && !keeper) return [];
    const [usedAt, from] = [uses.get(id), froms.get(id)];
    const state = stateOf(subject, access.at);
    const unused = state === "active" && reads && isUnused(usedAt, from, known, access.at);
    return [{ subject, name: subject.person?.name ?? id, levels: it, reads, usedAt, from, state, unused }];
  });
}

interface Beside {
  keeper: boolean;
  /** Guests the asker brought in. */
  mine: ReadonlySet<string>;
  coming: Coming;
  named: ReadonlyMap<string, number>;
}

export const instant = (at: number | undefined): string | null => (at === undefined ? null : new Date(at).toISOString());

function rowOf({ index }: Access, guest: Guest, { keeper, mine, coming, named }: Beside): GuestRow {
  const { subject, name, levels, usedAt, from, state, unused } = guest;
  const id = subject.person?.id ?? "";
  const groups = index.holders.get(subject.key) ?? [];
  const told = keeper || mine.has(id);
  return {
    id,
    name,
    state: told ? state : null,
    from: told ? instant(from) : null,
    until: told ? (subject.person?.until ?? null) : null,
    signedIn: told ? coming.signedIn(id) : null,
    by: told ? coming.by(id) : null,
    levels,
    groups: groups.slice(0, MOST_GROUPS).map((group) => groupName(index, group)),
    inGroups: groups.length,
    named: named.get(id) ?? 0,
    usedAt: instant(usedAt),
    unused,
    mayEnd: told && state === "active",
  };
}

/** Whom somebody brought in. */
export async function broughtInBy(tx: Tx, by: string): Promise<Set<string>> {
  const rows = await tx.select({ id: invitations.personId }).from(invitations).where(eq(invitations.by, by));
  return new Set(rows.map(({ id }) => id));
}

/** The order asked for, as far as the asker is told what it goes by. */
function orderOf(sort: GuestSort, { keeper, mine }: Pick<Beside, "keeper" | "mine">): (a: Guest, b: Guest) => number {
  if (sort === "name") return () => 0;
  if (sort === "use") return (a, b) => (a.usedAt ?? 0) - (b.usedAt ?? 0);
  const endOf = ({ subject: { person } }: Guest) =>
    person?.until != null && (keeper || mine.has(person.id)) ? Date.parse(person.until) : Number.MAX_SAFE_INTEGER;
  return (a, b) => endOf(a) - endOf(b);
}

export const readGuestsHere = (asker: string, { show = "in", sort = "use", words = "", after }: GuestsQuery): Promise<GuestList> =>
  inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const uses = await usesKnown(tx, access.at);
    const all = await guestsFor(tx, access, me, uses.since);
    const counts = { in: 0, unused: 0, out: 0 };
    for (const guest of all) for (const it of showOf(guest)) counts[it]++;
    const wanted = plain(words.trim());
    const told = { keeper: isKeeper(access, me), mine: await broughtInBy(tx, asker) };
    const fitting = all.filter((guest) => showOf(guest).includes(show) && plain(guest.name).includes(wanted)).sort(orderOf(sort, told));
    const { page, next } = pageOf(fitting, after, PAGE, ({ subject }) => subject.person?.id ?? "");
    const ids = page.map(({ subject }) => subject.person?.id ?? "");
    const beside: Beside = { ...told, coming: await comingOf(tx, access, ids), named: namedAt(access, me) };
    return {
      rows: page.map((guest) => rowOf(access, guest, beside)),
      next,
      total: fitting.length,
      counts,
      uses: { days: uses.days, since: new Date(uses.since).toISOString() },
    };
  });

export const readGuests = ofWholeSite("readGuestsHere", somebodyKnown, readGuestsHere);
