/** Groups: all of them with what looks wrong, and one with what is in it, what it is in and what it is granted. */
import type { GroupList, GroupRow, GroupSlip, Named } from "../../../contracts/people.ts";
import { grantSentence } from "../../../core/access/explain/index.ts";
import { type GroupNote, type GroupSummary, summarizeGroups } from "../../../core/access/groups/index.ts";
import type { CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import { principalKey } from "../../../core/access/model/index.ts";
import { type Access, isKeeper, mayNot, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { forAMinute } from "../../access/minute.ts";
import { inSnapshot } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { managersOf } from "./managers.ts";
import { groupName } from "./names.ts";
import { stateOf } from "./told.ts";

const MOST_MEMBERS = 300;
const MOST_GRANTS = 200;

const remembered = forAMinute<GroupSummary[]>();

const summaries = (access: Access): GroupSummary[] =>
  remembered.read(access) ?? remembered.keep(access, summarizeGroups(access.index, access.at));

const inWords = (names: readonly string[]): string =>
  names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(" and ");

/** What looks wrong, each kind in one sentence. */
function sentencesOf(access: Access, me: CompiledSubject, notes: readonly GroupNote[]): string[] {
  const { person } = namesFor(access, me);
  const of = (kind: "over" | "endless") => notes.flatMap((it) => (it.note === kind ? [person(it.person)] : []));
  // How guests stand is for site keepers.
  const [over, endless] = isKeeper(access, me) ? [of("over"), of("endless")] : [[], []];
  const same = notes.flatMap((it) => (it.note === "same" ? it.groups : []));
  return [
    ...(notes.some(({ note }) => note === "nobody") ? ["Nobody is in it."] : []),
    ...(over.length > 0 ? [`Still named though they cannot come in any more: ${inWords(over)}.`] : []),
    ...(endless.length > 0 ? [`${endless.length === 1 ? "A guest" : "Guests"} without an end: ${inWords(endless)}.`] : []),
    ...(same.length > 0 ? [`The same people are in ${inWords(same.map((id) => groupName(access.index, id)))}.`] : []),
  ];
}

function rowOf(access: Access, me: CompiledSubject, { group, people, guests, notes }: GroupSummary): GroupRow {
  const named = (id: string): Named => ({ id, name: groupName(access.index, id) });
  return {
    id: group.id,
    name: group.name ?? group.id,
    people,
    guests,
    inside: group.members.flatMap((it) => ("group" in it ? [named(it.group)] : [])),
    within: (access.index.holders.get(`group:${group.id}`) ?? []).map(named),
    notes: sentencesOf(access, me, notes),
  };
}

const changes = (access: Access, me: CompiledSubject): boolean => mayNot(access, me, "changeGroups") === null;

export const readGroups = (asker: string): Promise<GroupList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const groups = summaries(access).map((it) => rowOf(access, me, it));
    return { groups: groups.sort((a, b) => a.name.localeCompare(b.name, "en")), mayChange: changes(access, me) };
  });

/** What a group is granted, and where a fence admits it, as far as the asker may see rules there. */
function grantedTo(access: Access, me: CompiledSubject, id: string) {
  const names = namesFor(access, me);
  const key = principalKey({ group: id });
  const told = (place: CompiledPlace) => mayKnowOthers(access, me, place);
  const named = ({ place }: CompiledPlace): Named => ({ id: place.id, name: place.kind === "site" ? "The site" : (place.title ?? "") });
  const granted: GroupSlip["granted"] = [];
  const admitted: Named[] = [];
  for (const place of access.index.places) {
    const { grants, fences } = place.place;
    const own = grants.filter(({ to }) => principalKey(to) === key);
    const admits = fences.some((fence) => fence.admits.some((it) => principalKey(it) === key));
    if ((own.length === 0 && !admits) || !told(place)) continue;
    for (const grant of own) granted.push({ place: named(place), sentence: grantSentence(grant, names) });
    if (admits) admitted.push(named(place));
  }
  return {
    granted: granted.slice(0, MOST_GRANTS),
    moreGranted: Math.max(0, granted.length - MOST_GRANTS),
    admitted: admitted.slice(0, MOST_GRANTS),
  };
}

export const readGroup = (asker: string, id: string): Promise<GroupSlip> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const { index, at } = access;
    const summary = summaries(access).find(({ group }) => group.id === id);
    if (!summary) throw notThere();
    const { members, ...bare } = summary.group;
    const people = members.flatMap((it) => {
      const subject = "person" in it ? index.subjects[index.subjectNumbers.get(principalKey(it)) ?? -1] : undefined;
      return subject?.person
        ? [
            {
              id: subject.person.id,
              name: subject.person.name ?? subject.person.id,
              kind: subject.person.kind,
              state: isKeeper(access, me) ? stateOf(subject, at) : null,
            },
          ]
        : [];
    });
    const mayChange = changes(access, me);
    const managers = (await managersOf(tx, [id])).get(id) ?? [];
    const names = namesFor(access, me);
    return {
      ...rowOf(access, me, summary),
      mayChange,
      managers: managers.map((it) => ({ ...it, name: names.person(it.person) })),
      mandate: mayChange ? null : (managers.find(({ person }) => person === asker) ?? null),
      whole: mayChange ? bare : null,
      members: people.sort((a, b) => a.name.localeCompare(b.name, "en")).slice(0, MOST_MEMBERS),
      moreMembers: Math.max(0, people.length - MOST_MEMBERS),
      ...grantedTo(access, me, id),
    };
  });
