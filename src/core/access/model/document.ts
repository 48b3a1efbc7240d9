/** The access document (access-model.md, section 11): one JSON object that holds a whole site's access. */
import type { Ability } from "./abilities.ts";
import { ENDLESS, type Instant, instantAt, NO_INSTANT } from "./numbers.ts";

export type Audience = "public" | "accounts" | "members";
export type Principal = { audience: Audience } | { group: string } | { person: string };
export type PersonKind = "member" | "guest";
export type PersonStatus = "active" | "suspended";
export type PlaceKind = "site" | "space" | "page" | "bulletin";
export type PageState = "live" | "draft" | "scheduled" | "archived" | "binned";
export type StateBefore = "live" | "draft" | "scheduled";
export type Stance = "follow" | "fresh";

export interface Grant {
  to: Principal;
  abilities: Ability[];
  /** ISO 8601 instant at which it ends; absent or null: it does not. */
  until?: string | null;
  draft?: boolean;
}

export interface Fence {
  kind: "read" | "write";
  admits: Principal[];
}

export interface Ceilings {
  outsiders?: Ability[];
  guests?: Ability[];
  passes?: boolean;
}

export interface Person {
  id: string;
  name?: string;
  kind: PersonKind;
  status: PersonStatus;
  /** ISO 8601 instant from which they count as suspended; absent or null: there is none. */
  until?: string | null;
}

export type GroupMember = { person: string } | { group: string };

export interface Group {
  id: string;
  name?: string;
  members: GroupMember[];
}

export interface Place {
  id: string;
  kind: PlaceKind;
  parent?: string;
  title?: string;
  state: PageState;
  /** State before archiving or binning. */
  was?: StateBefore;
  /** Of what is binned: that it was binned out of the archive. */
  binnedFrom?: "archived";
  stance: Stance;
  owner?: string;
  tags: string[];
  grants: Grant[];
  fences: Fence[];
  ceilings?: Ceilings;
}

export interface Pass {
  id: string;
  place: string;
  below: boolean;
  until?: string | null;
  revoked: boolean;
}

export type PledgeWho = { class: "outsiders" | "guests" | "members" } | { group: string } | { person: string };

export interface Pledge {
  id: string;
  who: PledgeWho;
  rule: "never" | "always";
  ability: Ability;
  where: { space?: string; subtree?: string; tag?: string; state?: PageState };
  why?: string;
}

export interface AccessDocument {
  tesoroAccess: 1;
  ceilings: Required<Ceilings>;
  people: Person[];
  groups: Group[];
  places: Place[];
  passes: Pass[];
  pledges: Pledge[];
}

/** Who asks (section 1). */
export type Subject = { public: true } | { pass: string } | { person: string };

/** Something wrong with a document, and where. */
export interface DocumentError {
  /** JSON path, as in `$.places[3].grants[0].until`. */
  path: string;
  message: string;
}

export const DEFAULT_CEILINGS: Required<Ceilings> = {
  outsiders: ["read"],
  guests: ["read", "discuss", "revise", "add"],
  passes: true,
};

/** A text that two principals share exactly when they are the same principal. */
export function principalKey(principal: Principal | PledgeWho): string {
  if ("audience" in principal) return `audience:${principal.audience}`;
  if ("group" in principal) return `group:${principal.group}`;
  if ("person" in principal) return `person:${principal.person}`;
  return `class:${principal.class}`;
}

export function subjectKey(subject: Subject): string {
  if ("public" in subject) return "public";
  return "pass" in subject ? `pass:${subject.pass}` : `person:${subject.person}`;
}

/** The subject a key of `subjectKey` names. */
export function subjectOfKey(key: string): Subject {
  if (key === "public") return { public: true };
  const id = key.slice(key.indexOf(":") + 1);
  return key.startsWith("pass:") ? { pass: id } : { person: id };
}

/** Milliseconds since the epoch at which a rule ends; Infinity for an endless one. */
export const endOf = (until: string | null | undefined): Instant => (until === null || until === undefined ? ENDLESS : instantOf(until));

const INSTANT = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)(?::(\d\d)(?:\.(\d+))?)?(Z|[+-]\d\d:\d\d)$/;

/** What every part of the program, the database included, can write as a year of four digits. */
const EARLIEST = Date.parse("0001-01-01T00:00:00.000Z");
const LATEST = Date.parse("9999-12-31T23:59:59.999Z");

/**
 * Milliseconds since the epoch of an ISO 8601 instant with an offset, cut to the millisecond (section 11);
 * NaN if the text is not one, names a day that does not exist, or lies outside the years 1 to 9999.
 */
export function instantOf(text: string): Instant {
  const match = INSTANT.exec(text);
  if (!match) return NO_INSTANT;
  const [, year, month, day, hour, minute, second = "00", fraction = "", zone = "Z"] = match;
  const daysInMonth = new Date(Date.UTC(Number(year), Number(month), 0)).getUTCDate();
  if (Number(day) > daysInMonth) return NO_INSTANT;
  const milliseconds = fraction.slice(0, 3).padEnd(3, "0");
  const instant = instantAt(Date.parse(`${year}-${month}-${day}T${hour}:${minute}:${second}.${milliseconds}${zone}`));
  return instant >= EARLIEST && instant <= LATEST ? instant : NO_INSTANT;
}
