/** Groups as people ask about them: who is in one and through what, and what looks wrong with it (access-model.md, section 1). */

import { type AccessIndex, isActive, peopleOf } from "../index/index.ts";
import { type Group, type GroupMember, type Instant, type Person, principalKey } from "../model/index.ts";

/** A group somebody is in: through which groups, from the one that names them to this one. */
export interface Membership {
  group: string;
  path: string[];
}

/** Every group that somebody, or a group, is in, the nearest first, each by a shortest way. A circle is gone round once. */
export function membershipsOf(index: AccessIndex, member: GroupMember): Membership[] {
  const found = new Map<string, Membership>();
  let nearest: Membership[] = [{ group: "", path: [] }];
  while (nearest.length > 0) {
    nearest = nearest.flatMap(({ group, path }) =>
      (index.holders.get(path.length === 0 ? principalKey(member) : `group:${group}`) ?? []).flatMap((holder) => {
        if (found.has(holder)) return [];
        const it = { group: holder, path: [...path, holder] };
        found.set(holder, it);
        return [it];
      }),
    );
  }
  return [...found.values()];
}

/** What looks wrong with a group. */
export type GroupNote =
  /** Nobody who is active is in it. */
  | { note: "nobody" }
  /** A guest whose time is over is still named in it. */
  | { note: "over"; person: string }
  /** A guest is in it who has no end. */
  | { note: "endless"; person: string }
  /** Other groups have the very same active people in them. */
  | { note: "same"; groups: string[] };

export interface GroupSummary {
  group: Group;
  /** Active people in it, directly or through other groups; and how many of them are guests. */
  people: number;
  guests: number;
  notes: GroupNote[];
}

const guestNote = (person: Person, active: boolean): GroupNote[] =>
  person.kind !== "guest"
    ? []
    : !active
      ? [{ note: "over", person: person.id }]
      : person.until == null
        ? [{ note: "endless", person: person.id }]
        : [];

/** All groups with how many are in them and what looks wrong, at an instant (milliseconds since the epoch). */
export function summarizeGroups(index: AccessIndex, at: Instant): GroupSummary[] {
  const { groups } = index.document;
  const peopleBy = groups.map(({ id }) => peopleOf(index, { group: id }, at));
  const alike = new Map<string, string[]>();
  const signs = peopleBy.map((people) =>
    people
      .map(({ number }) => number)
      .sort((a, b) => a - b)
      .join(","),
  );
  groups.forEach(({ id }, i) => {
    const sign = signs[i] as string;
    if (sign !== "") alike.set(sign, [...(alike.get(sign) ?? []), id]);
  });
  return groups.map((group, i) => {
    const people = peopleBy[i] as (typeof peopleBy)[number];
    const same = (alike.get(signs[i] as string) ?? []).filter((id) => id !== group.id);
    const guests = group.members.flatMap((member) => {
      const subject = "person" in member ? index.subjects[index.subjectNumbers.get(principalKey(member)) ?? -1] : undefined;
      return subject?.person ? guestNote(subject.person, isActive(subject, at)) : [];
    });
    return {
      group,
      people: people.length,
      guests: people.filter((it) => it.class === "guests").length,
      notes: [
        ...(people.length === 0 ? [{ note: "nobody" } as const] : []),
        ...guests,
        ...(same.length > 0 ? [{ note: "same", groups: same } as const] : []),
      ],
    };
  });
}
