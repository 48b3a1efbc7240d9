/** Finding groups and people for a picker, each with what tells them apart from others of the name. */

import { findPeople } from "../../contracts/people.ts";
import type { Principal } from "../../core/access/model/index.ts";
import type { Choice } from "../../ui/Picker.tsx";
import { ask } from "./api.ts";

export interface PrincipalChoice extends Choice {
  principal: Principal;
  isGuest: boolean;
}

const AUDIENCES: PrincipalChoice[] = [
  { key: "public", name: "the public", note: "everybody, signed in or not", principal: { audience: "public" }, isGuest: false },
  { key: "accounts", name: "everybody signed in", note: "members and guests", principal: { audience: "accounts" }, isGuest: false },
  { key: "members", name: "all members", note: "no guests", principal: { audience: "members" }, isGuest: false },
];

const people = (count: number): string => `${count} ${count === 1 ? "person" : "people"}`;

/** Groups before people: rules for groups outlive people. */
export async function findSubjects(words: string): Promise<PrincipalChoice[]> {
  const found = await ask(findPeople, { query: { q: words } });
  return [
    ...found.groups.map((it) => ({
      key: `group:${it.id}`,
      name: it.name,
      note: `group, ${people(it.people)}`,
      principal: { group: it.id },
      isGuest: false,
    })),
    ...found.people.map((it) => ({
      key: `person:${it.id}`,
      name: it.name,
      note: [it.kind, ...it.groups].join(", "),
      principal: { person: it.id },
      isGuest: it.kind === "guest",
    })),
  ];
}

/** Whom a rule can name: audiences, groups, people. */
export async function findPrincipals(words: string): Promise<PrincipalChoice[]> {
  const wanted = words.trim().toLowerCase();
  return [...AUDIENCES.filter(({ name }) => name.includes(wanted)), ...(await findSubjects(words))];
}

/** Groups alone. */
export const findGroups = async (words: string): Promise<PrincipalChoice[]> =>
  (await findSubjects(words)).filter(({ principal }) => "group" in principal);

/** People alone: groups own nothing, and come to no end. */
export const findPersons = async (words: string): Promise<PrincipalChoice[]> =>
  (await findSubjects(words)).filter(({ principal }) => "person" in principal);
