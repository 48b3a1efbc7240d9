/**
 * What one asker may know of (access-model.md, 6a: "A refusal tells nothing either", "Numbers for those who may not see
 * names"). Every id and every name goes out through here, in answers and in refusals alike.
 */
import { may, type Refusal, standingAt } from "../../core/access/authority/index.ts";
import { tellsOfOthers } from "../../core/access/decide/index.ts";
import type { Names } from "../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, pathOf, placeOf } from "../../core/access/index/index.ts";
import { subjectOfKey } from "../../core/access/model/index.ts";
import { keyed } from "../secrets.ts";
import { type Access, cellOf, maySee } from "./current.ts";

/** Whether somebody may know that a place of this id is there. */
export function knowsPlace(access: Access, me: CompiledSubject, id: string): boolean {
  const place = placeOf(access.index, id);
  return place !== undefined && maySee(access, me, place);
}

/** Titles of what a place stands in, the space first; "…" for what somebody cannot see. */
export const titlesAbove = (access: Access, me: CompiledSubject, place: CompiledPlace): string[] =>
  pathOf(access.index, place)
    .slice(1, -1)
    .map((step) => (maySee(access, me, step) ? (step.place.title ?? "") : "…"));

/** Whether somebody may know who else can do what at a place: `admit`, or oversight. */
export const mayKnowOthers = (access: Access, me: CompiledSubject, place: CompiledPlace): boolean =>
  tellsOfOthers(cellOf(access, me, place));

/** The same for an id; of a place that is not there, no. */
export function knowsOthersAt(access: Access, me: CompiledSubject, id: string): boolean {
  const place = placeOf(access.index, id);
  return place !== undefined && mayKnowOthers(access, me, place);
}

/** Whether somebody may know that people and groups exist. */
export const knowsPeople = (access: Access, me: CompiledSubject): boolean =>
  may("knowPeople", standingAt(access.index, me, undefined, access.at)) === null;

/** Names of things for one asker: what they may not know of is described, never named. */
export function namesFor(access: Access, me: CompiledSubject): Names {
  const { index } = access;
  const person = (id: string) => index.subjects[index.subjectNumbers.get(`person:${id}`) ?? -1]?.person;
  const group = (id: string) => index.document.groups.find((it) => it.id === id);
  const members = knowsPeople(access, me);
  return {
    place: (id) => {
      const place = placeOf(index, id);
      if (!place || !maySee(access, me, place)) return "a place above that you cannot see";
      return place.place.kind === "site" ? "the site" : `“${place.place.title}”`;
    },
    person: (id) => (members || me.person?.id === id ? (person(id)?.name ?? person(id)?.id ?? "somebody who has left") : "somebody"),
    group: (id) => (members ? (group(id)?.name ?? group(id)?.id ?? "a group that is gone") : "a group"),
  };
}

/** How a subject is called in a list or a sentence. */
export function subjectName(access: Access, names: Names, key: string): string {
  const subject = subjectOfKey(key);
  if ("public" in subject) return "The public";
  if ("person" in subject) return names.person(subject.person);
  const pass = access.index.document.passes.find((it) => it.id === subject.pass);
  return pass ? `Whoever holds a pass for ${names.place(pass.place)}` : "Whoever holds a pass";
}

/** The id of a place as an asker may have it: of a place they may not know of, none. */
export const knownId = (access: Access, me: CompiledSubject, id: string): string | null => (knowsPlace(access, me, id) ? id : null);

/**
 * What stands for a place in a tree whose asker may not know of it, though of something below: the same each time for the
 * same asker, and of no use for anything else.
 */
export const gapId = (me: CompiledSubject, id: string): string => `gap-${keyed(`${me.key}|${id}`).slice(0, 16)}`;
export const isGapId = (id: string): boolean => id.startsWith("gap-");

/** Refusals as an asker may hear them: what is refused and why, and where only as far as they may know of it. Each once. */
export function toldRefusals(access: Access, me: CompiledSubject, refusals: readonly Refusal[]): Refusal[] {
  const told = new Map<string, Refusal>();
  for (const { place, ...rest } of refusals) {
    const it: Refusal = { ...rest, ...(place !== undefined && knowsPlace(access, me, place) ? { place } : {}) };
    told.set(JSON.stringify(it), it);
  }
  return [...told.values()];
}
