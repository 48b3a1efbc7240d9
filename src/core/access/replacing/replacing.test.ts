/** One person in another's place: named nowhere any more, and the other has what they had by name. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { referenceSet } from "../../../../test/reference/reference.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { applyEdits, principalKey } from "../model/index.ts";
import { EVERYWHERE, replacing } from "./index.ts";

it("names the one nowhere and loses nobody else anything; where it may not reach, rules stay", () => {
  holds(
    fc.property(world, fc.boolean(), (document, everywhere) => {
      const [who, by] = [{ person: "p0" }, { person: "p1" }];
      const [root] = document.places;
      const reach = everywhere ? EVERYWHERE : { place: (id: string) => id === root?.id, groups: false, pledges: false };
      const made = applyEdits(document, replacing(document, who, by, reach));
      if (!made.ok) throw new Error(JSON.stringify(made.conflicts));
      const key = principalKey(who);
      const named = made.document.places.filter(({ grants, fences }) =>
        [...grants.map(({ to }) => to), ...fences.flatMap(({ admits }) => admits)].some((it) => principalKey(it) === key),
      );
      if (!everywhere) {
        expect(named.some(({ id }) => id === root?.id)).toBe(false);
        return;
      }
      expect([named, made.document.groups.filter(({ members }) => members.some((it) => principalKey(it) === key))]).toEqual([[], []]);
      for (const { id } of document.places)
        for (const person of document.people) {
          if (person.id === "p0" || person.id === "p1") continue;
          const who = { person: person.id };
          expect(referenceSet(made.document, who, id, NOW)).toEqual(referenceSet(document, who, id, NOW));
        }
    }),
    { runs: 300 },
  );
});
