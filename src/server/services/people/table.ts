/** Members and guests in a table: filtered, sorted, a hundred at a time. Who is here stands in the index, all of it in memory. */
import { setImmediate } from "node:timers/promises";
import type { PeopleSort, PeopleTable, PeopleTableQuery, PersonRow } from "../../../contracts/people.ts";
import { type AccessIndex, type CompiledSubject, peopleOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { type Cursor, readCursor, written } from "../../lists/keyset.ts";
import { groupName } from "./groups.ts";
import { plain } from "./names.ts";
import { levelsOf, pagesByOwner, stateOf } from "./told.ts";

const PAGE = 100;
const MOST_GROUPS = 3;

const nameOf = ({ person }: CompiledSubject): string => person?.name ?? person?.id ?? "";

const collator = new Intl.Collator("en", { sensitivity: "base", numeric: true });
/** People in the order of their names, for as long as nobody comes, goes or is called otherwise. */
const byName = new WeakMap<AccessIndex["subjects"], { subject: CompiledSubject; plain: string }[]>();

function inOrderOfNames({ subjects }: AccessIndex): { subject: CompiledSubject; plain: string }[] {
  const known = byName.get(subjects);
  if (known) return known;
  const people = subjects.filter(({ person }) => person !== null);
  const made = people
    .sort((a, b) => collator.compare(nameOf(a), nameOf(b)) || (a.key < b.key ? -1 : 1))
    .map((subject) => ({ subject, plain: plain(nameOf(subject)) }));
  byName.set(subjects, made);
  return made;
}

/** What a column sorts by; names are in order already. Who has no value comes last going up. */
function valueFor(access: Access, sort: PeopleSort): (subject: CompiledSubject) => number {
  const { index } = access;
  if (sort === "groups") return ({ key }) => index.holders.get(key)?.length ?? 0;
  if (sort === "owns") {
    const owned = pagesByOwner(index);
    return ({ person }) => owned.get(person?.id ?? "")?.length ?? 0;
  }
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
  const placed = inOrderOfNames(index).flatMap(({ subject, plain: name }, nth): Placed[] => {
    if (subject.person?.kind !== kind || !name.includes(wanted)) return [];
    if (state !== undefined && (stateOf(subject, at) === "active") !== (state === "in")) return [];
    if (inGroup && !inGroup.has(subject)) return [];
    return [{ subject, value: value(subject), nth }];
  });
  const sign = (order ?? (sort === "name" || sort === "until" ? "up" : "down")) === "down" ? -1 : 1;
  return placed.sort((a, b) => (a.value - b.value || a.nth - b.nth) * sign);
}

/** Where the page after the cursor begins: after the person it names, or where they would stand if they are gone. */
function begin(list: readonly Placed[], after: Cursor | null): number {
  if (after === null) return 0;
  const there = list.findIndex(({ subject }) => subject.person?.id === after.id);
  if (there >= 0) return there + 1;
  const nth = Number(after.value);
  return Number.isFinite(nth) ? Math.min(list.length, Math.max(0, nth)) : 0;
}

function rowOf(access: Access, me: CompiledSubject, subject: CompiledSubject): PersonRow {
  const { index, at } = access;
  const { person } = subject;
  const groups = index.holders.get(subject.key) ?? [];
  const tells = isKeeper(access, me);
  return {
    id: person?.id ?? "",
    name: nameOf(subject),
    kind: person?.kind ?? "guest",
    state: tells ? stateOf(subject, at) : null,
    until: tells ? (person?.until ?? null) : null,
    groups: groups.slice(0, MOST_GROUPS).map((id) => groupName(index, id)),
    inGroups: groups.length,
    owns: tells ? (pagesByOwner(index).get(person?.id ?? "")?.length ?? 0) : null,
    levels: tells ? levelsOf(access, subject) : null,
  };
}

export const readPeople = (asker: string, query: PeopleTableQuery): Promise<PeopleTable> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const list = fitting(access, me, query);
    const from = begin(list, query.after === undefined ? null : readCursor(query.after, "text"));
    const page = list.slice(from, from + PAGE);
    const last = from + PAGE < list.length ? page.at(-1) : undefined;
    const rows: PersonRow[] = [];
    for (const { subject } of page) {
      rows.push(rowOf(access, me, subject));
      // After a restart what everybody can do everywhere is worked out here: others have their turn in between.
      if (rows.length % 10 === 0) await setImmediate();
    }
    return {
      rows,
      next: last ? written({ value: String(from + PAGE), id: last.subject.person?.id ?? "" }) : null,
      total: list.length,
    };
  });
