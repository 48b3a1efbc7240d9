/** Names of things for one asker: what they may not know of is described, never named. */
import { type CompiledSubject, placeOf } from "../../core/access/accessIndex.ts";
import { subjectOfKey } from "../../core/access/document.ts";
import type { Names } from "../../core/access/sentences.ts";
import { type Access, maySee } from "../access/current.ts";

export function namesFor(access: Access, me: CompiledSubject): Names {
  const { index } = access;
  const person = (id: string) => index.subjects[index.subjectNumbers.get(`person:${id}`) ?? -1]?.person;
  const group = (id: string) => index.document.groups.find((it) => it.id === id);
  const knowsPeople = me.class === "members";
  return {
    place: (id) => {
      const place = placeOf(access.index, id);
      if (!place || !maySee(access, me, place)) return "a place above that you cannot see";
      return place.place.kind === "site" ? "the site" : `“${place.place.title}”`;
    },
    person: (id) => (knowsPeople || me.person?.id === id ? (person(id)?.name ?? person(id)?.id ?? "somebody who has left") : "somebody"),
    group: (id) => (knowsPeople ? (group(id)?.name ?? group(id)?.id ?? "a group that is gone") : "a group"),
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
