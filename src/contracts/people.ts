/** People and groups: finding them, all of them in tables, and each by itself. */
import "reflect-metadata";
import { IsIn, IsOptional, IsString, Matches, MaxLength } from "class-validator";
import type { Edit, Group, Level, Manager, Person } from "../core/access/model/index.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";

export class PeopleQuery {
  @IsOptional() @IsString() @MaxLength(100) q?: string;
}

/** Groups and people of a name, whom rules and columns can name: the first few. */
export interface FoundPeople {
  groups: { id: string; name: string; people: number }[];
  people: { id: string; name: string; kind: "member" | "guest"; groups: string[] }[];
}

export const findPeople = declare({
  method: "GET",
  path: "/api/people",
  who: "member",
  says: "The first few groups and people whose name fits.",
  query: PeopleQuery,
  answer: json<FoundPeople>("FoundPeople"),
});

export const PEOPLE_SORTS = ["name", "groups", "owns", "until"] as const;
export type PeopleSort = (typeof PEOPLE_SORTS)[number];

export class PeopleTableQuery {
  @IsIn(["member", "guest"]) kind!: "member" | "guest";
  @MayBeAbsent() @IsString() @MaxLength(100) words?: string;
  /** Whether they can come in: all who can, or those who are suspended or whose time is over. For site keepers. */
  @MayBeAbsent() @IsIn(["in", "out"]) state?: "in" | "out";
  /** Only who is in this group, directly or through others. */
  @MayBeAbsent() @IsString() @MaxLength(64) group?: string;
  @MayBeAbsent() @IsIn([...PEOPLE_SORTS]) sort?: PeopleSort;
  @MayBeAbsent() @IsIn(["up", "down"]) order?: "up" | "down";
  /** Where the page before ended, as its answer said. */
  @MayBeAbsent() @Matches(/^[\w-]{1,800}$/) after?: string;
}

export type PersonState = "active" | "suspended" | "over";

/** On how many pages somebody has which level at most, from Nothing to Keeper. */
export type Levels = Record<Level, number>;

export interface PersonRow {
  id: string;
  name: string;
  kind: "member" | "guest";
  /** How they stand, and their end: for site keepers, null to others. */
  state: PersonState | null;
  until: string | null;
  /** The first few groups that name them, and in how many they are in all. */
  groups: string[];
  inGroups: number;
  /** Pages they own, and on how many pages they have which level; null for whoever does not keep the site. */
  owns: number | null;
  levels: Levels | null;
  /** When they last signed in, and who asked them in: for site keepers. */
  signedIn: string | null;
  by: string | null;
}

export interface PeopleTable {
  rows: PersonRow[];
  next: string | null;
  /** How many fit. */
  total: number;
}

export const readPeople = declare({
  method: "GET",
  path: "/api/people/table",
  who: "member",
  says: "Members or guests, filtered and sorted, a hundred at a time.",
  query: PeopleTableQuery,
  answer: json<PeopleTable>("PeopleTable"),
});

export interface Named {
  id: string;
  name: string;
}

/** One person, as far as the asker may know. */
export interface PersonSlip extends Named {
  kind: "member" | "guest";
  /** How they stand, and their end: for site keepers and themselves, null to others. */
  state: PersonState | null;
  until: string | null;
  /** When they last signed in, whether they have an account to do so, and who asked them in: as told as how they stand. */
  signedIn: string | null;
  hasAccount: boolean | null;
  by: string | null;
  /** Who else is here under their address, which nobody has proven for both: for site keepers, empty to others. */
  sameAddress: (Named & { by: string | null; hasAccount: boolean })[];
  /** The person as it stands in the document, for whoever may change it. */
  whole: Person | null;
  /** Every group they are in, the nearest first, each with the groups that lead to it. */
  groups: (Named & { through: string[] })[];
  /** Pages they own: how many, how many of them one cannot see, and the first of the others. */
  owns: { count: number; hidden: number; pages: Named[] };
  /** How many private drafts are on their workbench: for site keepers, and no more than that. */
  drafts: number | null;
  /** Spaces they keep, as far as one may know of rules there; alone: nobody else does. */
  keeps: (Named & { alone: boolean })[];
  /** By space, on how many pages they have which level, where one may know; the first spaces, and how many more. */
  reach: { space: Named; levels: Levels }[];
  moreReach: number;
}

export const readPerson = declare({
  method: "GET",
  path: "/api/people/{id}",
  who: "member",
  says: "One person: groups, what they own and keep, and what they can do where, as far as one may know.",
  answer: json<PersonSlip>("PersonSlip"),
});

/** What looks wrong with a group, as a sentence. */
export interface GroupRow extends Named {
  people: number;
  guests: number;
  /** Groups directly in it, and groups it is directly in. */
  inside: Named[];
  within: Named[];
  notes: string[];
}

export interface GroupList {
  groups: GroupRow[];
  /** Whether the asker may make groups and change them. */
  mayChange: boolean;
}

export const readGroups = declare({
  method: "GET",
  path: "/api/groups",
  who: "member",
  says: "All groups, with how many are in each and what looks wrong.",
  answer: json<GroupList>("GroupList"),
});

/** What takes a group away, with everything that names it. */
export interface GroupLeaving {
  edits: Edit[];
  /** What each edit does. */
  sentences: string[];
}

export const leaveGroup = declare({
  method: "GET",
  path: "/api/groups/{id}/leaving",
  who: "member",
  says: "The edits that take a group away with its grants, its members and whatever else names it; nothing is changed.",
  answer: json<GroupLeaving>("GroupLeaving"),
});

/** One group, as far as the asker may know. */
export interface GroupSlip extends GroupRow {
  mayChange: boolean;
  /** Who fills it without keeping the site; guests too, where that is said. */
  managers: (Manager & { name: string })[];
  /** The asker's own mandate to fill it, where they do not keep the site. */
  mandate: Manager | null;
  /** The group as it stands in the document, its members aside, for whoever may change it. */
  whole: Omit<Group, "members"> | null;
  /** People it names; the first few hundred, by name, and how many more. */
  members: (Named & { kind: "member" | "guest"; state: PersonState | null })[];
  moreMembers: number;
  /** What it is granted, where one may see the rules, and at how many places one may not. */
  granted: { place: Named; sentence: string }[];
  moreGranted: number;
  /** Places whose fences admit it. */
  admitted: Named[];
}

export const readGroup = declare({
  method: "GET",
  path: "/api/groups/{id}",
  who: "member",
  says: "One group: what is in it, what it is in, and what it is granted where one may see the rules.",
  answer: json<GroupSlip>("GroupSlip"),
});

export class CompareQuery {
  @IsString() @MaxLength(64) with!: string;
}

/** People in one of two groups and not in the other: how many, and the first of them by name. */
export interface Apart {
  count: number;
  people: Named[];
  /** What it is granted that the other is not, where one may see the rules. */
  granted: { place: Named; sentence: string }[];
}

/** Two groups beside each other. */
export interface Compared {
  here: Apart;
  there: Apart;
  both: number;
}

export const compareGroups = declare({
  method: "GET",
  path: "/api/groups/{id}/compare",
  who: "member",
  says: "Who is in one of two groups and not in the other, and what one is granted and the other is not.",
  query: CompareQuery,
  answer: json<Compared>("Compared"),
});
