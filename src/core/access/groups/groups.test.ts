/** Memberships and what is said of groups, beside the same asked plainly of the document. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { compile, isActive, subjectOf } from "../index/index.ts";
import type { AccessDocument } from "../model/index.ts";
import { membershipsOf, summarizeGroups } from "./index.ts";

/** Who is in a group, suspended or not, following its members down. */
function inside({ groups }: AccessDocument, id: string, seen = new Set<string>()): Set<string> {
  if (seen.has(id)) return new Set();
  seen.add(id);
  const members = groups.find((group) => group.id === id)?.members ?? [];
  const nested = members.flatMap((member) => ("group" in member ? [...inside({ groups } as AccessDocument, member.group, seen)] : []));
  return new Set([...members.flatMap((member) => ("person" in member ? [member.person] : [])), ...nested]);
}

it("says every group somebody is in, each by a way that is there", () => {
  holds(
    fc.property(world, (document) => {
      const index = compile(document);
      const holds = (group: string, member: object) =>
        document.groups.some(({ id, members }) => id === group && members.some((it) => JSON.stringify(it) === JSON.stringify(member)));
      for (const { id } of document.people) {
        const found = membershipsOf(index, { person: id });
        const wanted = document.groups.filter((group) => inside(document, group.id).has(id)).map((group) => group.id);
        expect(found.map(({ group }) => group).sort()).toEqual([...new Set(wanted)].sort());
        for (const { group, path } of found) {
          expect(path.at(-1)).toBe(group);
          path.forEach((step, i) => {
            expect(holds(step, i === 0 ? { person: id } : { group: path[i - 1] })).toBe(true);
          });
        }
        // The nearest come first.
        const lengths = found.map(({ path }) => path.length);
        expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
      }
    }),
    { runs: 200 },
  );
});

it("counts who is active, and points out nobody, the same people, guests whose time is over and guests without an end", () => {
  const seen = new Set<string>();
  holds(
    fc.property(world, (document) => {
      const index = compile(document);
      const active = (id: string) => {
        const subject = subjectOf(index, { person: id });
        return subject !== undefined && isActive(subject, NOW);
      };
      const peopleIn = (id: string) => [...inside(document, id)].filter(active).sort();
      const person = (id: string) => document.people.find((it) => it.id === id);
      for (const { group, people, guests, notes } of summarizeGroups(index, NOW)) {
        const ids = peopleIn(group.id);
        expect([people, guests]).toEqual([ids.length, ids.filter((id) => person(id)?.kind === "guest").length]);
        const same = document.groups.filter((it) => it.id !== group.id && ids.length > 0 && peopleIn(it.id).join() === ids.join());
        const direct = [...new Set(group.members.flatMap((it) => ("person" in it ? [it.person] : [])))];
        const guestsIn = direct.filter((id) => person(id)?.kind === "guest");
        const told = notes.map((it) =>
          it.note === "same" ? `same ${[...it.groups].sort()}` : it.note === "nobody" ? it.note : `${it.note} ${it.person}`,
        );
        expect([...new Set(told)].sort()).toEqual(
          [
            ...(ids.length === 0 ? ["nobody"] : []),
            ...guestsIn.filter((id) => !active(id)).map((id) => `over ${id}`),
            ...guestsIn.filter((id) => active(id) && person(id)?.until == null).map((id) => `endless ${id}`),
            ...(same.length > 0 ? [`same ${same.map(({ id }) => id).sort()}`] : []),
          ].sort(),
        );
        for (const { note } of notes) seen.add(note);
      }
    }),
    { runs: 300 },
  );
  expect([...seen].sort()).toEqual(["endless", "nobody", "over", "same"]);
});
