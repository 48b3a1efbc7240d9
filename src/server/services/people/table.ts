/** Members and guests in a table: filtered, sorted, a hundred at a time. Who is here stands in the index, all of it in memory. */
import type { Levels, PeopleSort, PeopleTable, PeopleTableQuery, PersonRow } from "../../../contracts/people.ts";
import { type CompiledSubject, peopleOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { pageOf } from "../../lists/whole.ts";
import { type Coming, comingOf } from "./coming.ts";
import { groupName, inOrder, plain } from "./names.ts";
import { levelsOf, pagesOwnedBy, stateOf } from "./told.ts";

const PAGE = 100;
const MOST_GROUPS = 3;

const nameOf = ({ person }: CompiledSubject): string => person?.name ?? person?.id ?? "";

/** What a column sorts by; names are in order already. Who has no value comes last going up. */
function valueFor(access: Access, sort: PeopleSort): (subject: CompiledSubject) => number {
  const { index } = access;
  if (sort === "groups") return ({ key }) => index.holders.get(key)?.length ?? 0;
  if (sort === "owns") return ({ person }) => pagesOwnedBy(index, person?.id ?? "").length;
  if (sort === "until") return ({ person }) => (person?.until == null ? Number.MAX_SAFE_INTEGER : Date.parse(person.until));
  return () => 0;
}

interface Placed {
  subject: CompiledSubject;
  value: number;
  /** Where they stand by name, which settles ties. */
  nth: number;
}

function fitting(
  access: Access,
  me: CompiledSubject,
  { kind, words = "", state, group, sort = "name", order }: PeopleTableQuery,
): Placed[] {
  const { index, at } = access;
  const wanted = plain(words.trim());
  const inGroup = group === undefined ? null : new Set(peopleOf(index, { group }, at));
  // What is told to site keepers alone, nobody else filters and sorts by.
  if (state !== undefined || sort === "owns" || sort === "until") need(access, me, "changePeople");
  const value = valueFor(access, sort);
  const placed = inOrder(index.document.people).flatMap(({ it, plain: name }, nth): Placed[] => {
    if (it.kind !== kind || !name.includes(wanted)) return [];
    const subject = subjectOf(index, { person: it.id }) as CompiledSubject;
    if (state !== undefined && (stateOf(subject, at) === "active") !== (state === "in")) return [];
    if (inGroup && !inGroup.has(subject)) return [];
    return [{ subject, value: value(subject), nth }];
  });
  const sign = (order ?? (sort === "name" || sort === "until" ? "up" : "down")) === "down" ? -1 : 1;
  return placed.sort((a, b) => (a.value - b.value || a.nth - b.nth) * sign);
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
    owns: tells ? pagesOwnedBy(index, person?.id ?? "").length : null,
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
