/** Members and guests in a table: filtered, sorted, a hundred at a time. Who is here stands in the index, all of it in memory. */
import type { Levels, PeopleSort, PeopleTable, PeopleTableQuery, PersonRow } from "../../../contracts/people.ts";
import { type AccessIndex, type CompiledSubject, peopleOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { pageOf } from "../../lists/whole.ts";
import { type Coming, comingOf } from "./coming.ts";
import { groupName, inOrder, plain } from "./names.ts";
import { countOwnedBy, levelsOf, stateOf } from "./told.ts";

const PAGE = 100;
const MOST_GROUPS = 3;

const nameOf = ({ person }: CompiledSubject): string => person?.name ?? person?.id ?? "";

/** What a column sorts by; names are in order already. Who has no value comes last going up. */
function valueFor(index: AccessIndex, sort: PeopleSort): (subject: CompiledSubject) => number {
  if (sort === "groups") return ({ key }) => index.holders.get(key)?.length ?? 0;
  if (sort === "owns") return ({ person }) => countOwnedBy(index, person?.id ?? "");
  if (sort === "until") return ({ person }) => (person?.until == null ? Number.MAX_SAFE_INTEGER : Date.parse(person.until));
  return () => 0;
}

interface Placed {
  subject: CompiledSubject;
  plain: string;
  value: number;
  /** Where they stand by name, which settles ties. */
  nth: number;
}

/** Everybody of a kind in each order that was asked for: the same for as long as the rules stand. */
const kept = new WeakMap<AccessIndex, Map<string, readonly Placed[]>>();

function sorted(index: AccessIndex, kind: PeopleTableQuery["kind"], sort: PeopleSort, order: "up" | "down"): readonly Placed[] {
  const orders = kept.get(index) ?? new Map<string, readonly Placed[]>();
  kept.set(index, orders);
  const key = `${kind} ${sort} ${order}`;
  const known = orders.get(key);
  if (known) return known;
  const value = valueFor(index, sort);
  const placed = inOrder(index.document.people).flatMap(({ it, plain: name }, nth): Placed[] => {
    if (it.kind !== kind) return [];
    const subject = subjectOf(index, { person: it.id }) as CompiledSubject;
    return [{ subject, plain: name, value: value(subject), nth }];
  });
  const sign = order === "down" ? -1 : 1;
  const made = placed.sort((a, b) => (a.value - b.value || a.nth - b.nth) * sign);
  orders.set(key, made);
  return made;
}

function fitting(
  access: Access,
  me: CompiledSubject,
  { kind, words = "", state, group, sort = "name", order }: PeopleTableQuery,
): readonly Placed[] {
  const { index, at } = access;
  // What is told to site keepers alone, nobody else filters and sorts by.
  if (state !== undefined || sort === "owns" || sort === "until") need(access, me, "changePeople");
  const all = sorted(index, kind, sort, order ?? (sort === "name" || sort === "until" ? "up" : "down"));
  const wanted = plain(words.trim());
  if (wanted === "" && state === undefined && group === undefined) return all;
  const inGroup = group === undefined ? null : new Set(peopleOf(index, { group }, at));
  return all.filter(
    ({ subject, plain: name }) =>
      name.includes(wanted) &&
      (state === undefined || (stateOf(subject, at) === "active") === (state === "in")) &&
      (inGroup === null || inGroup.has(subject)),
  );
}

/** `levels`: what they can do, where the asker is told of it and of how they stand. */
function rowOf({ index, at }: Access, subject: CompiledSubject, levels: Levels | null, coming: Coming): PersonRow {
  const { person } = subject;
  const groups = index.holders.get(subject.key) ?? [];
  const tells = levels !== null;
  return {
    id: person?.id ?? "",
    name: nameOf(subject),
    kind: person?.kind ?? "guest",
    state: tells ? stateOf(subject, at) : null,
    until: tells ? (person?.until ?? null) : null,
    groups: groups.slice(0, MOST_GROUPS).map((id) => groupName(index, id)),
    inGroups: groups.length,
    owns: tells ? countOwnedBy(index, person?.id ?? "") : null,
    levels,
    signedIn: tells ? coming.signedIn(person?.id ?? "") : null,
    by: tells ? coming.by(person?.id ?? "") : null,
  };
}

export const readPeople = (asker: string, query: PeopleTableQuery): Promise<PeopleTable> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const list = fitting(access, me, query);
    const { page, next } = pageOf(list, query.after, PAGE, ({ subject }) => subject.person?.id ?? "");
    const people = page.map(({ subject }) => subject);
    const levels = isKeeper(access, me) ? await levelsOf(access, people) : null;
    const coming = await comingOf(tx, access, levels === null ? [] : people.map(({ person }) => person?.id ?? ""));
    return {
      rows: people.map((subject, i) => rowOf(access, subject, levels?.[i] ?? null, coming)),
      next,
      total: list.length,
    };
  });
