/** Private drafts, held to what access-model.md says of them, for everybody in random worlds. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { parseAccessDocument } from "../exchange/index.ts";
import { compile, subjectOf } from "../index/index.ts";
import { ABILITIES, abilitiesIn, close, instantAt, maskOf } from "../model/index.ts";
import { benchSet } from "./index.ts";

const AT = instantAt(Date.parse("2027-01-01T00:00:00Z"));
const IDS = ["a", "b", "c", "d"] as const;
const person = fc.record({
  kind: fc.constantFrom("member" as const, "guest" as const),
  status: fc.constantFrom("active" as const, "active" as const, "suspended" as const),
  until: fc.constantFrom(undefined, "2026-12-31T00:00:00Z", "2027-06-01T00:00:00Z"),
});
const abilities = fc.subarray([...ABILITIES], { minLength: 1 });
const ceiling = fc.constantFrom([], ["read"], ["read", "discuss"], ["read", "discuss", "revise", "add"]);

it("its owner has it, helpers what they were given within what may be given and their ceiling; nobody else anything", () => {
  holds(
    fc.property(
      fc.tuple(person, person, person, person),
      fc.constantFrom(...IDS),
      fc.array(fc.record({ person: fc.constantFrom(...IDS), abilities }), { maxLength: 3 }),
      ceiling,
      (people, owner, let_, guests) => {
        const document = {
          tesoroAccess: 1,
          ceilings: { outsiders: ["read"], guests, passes: true },
          people: people.map((it, i) => ({ id: IDS[i] as string, name: "x", ...it })),
          groups: [],
          // Whoever keeps the whole site has no part in it.
          places: [
            {
              id: "site",
              kind: "site",
              grants: [
                { to: { audience: "members" }, abilities: ["read"] },
                ...(people[3].kind === "member" ? [{ to: { person: "d" }, abilities: ["govern"] }] : []),
              ],
            },
          ],
          passes: [],
          pledges: [],
        };
        const parsed = parseAccessDocument(document);
        if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
        const index = compile(parsed.document);
        const helpers = let_.map((it) => ({ person: it.person, abilities: maskOf(it.abilities) }));
        for (const [i, it] of people.entries()) {
          const id = IDS[i] as string;
          const subject = subjectOf(index, { person: id });
          if (!subject) throw new Error(id);
          const active = it.status === "active" && (it.until === undefined || Date.parse(it.until) > AT);
          const first = let_.find((helper) => helper.person === id);
          const given = abilitiesIn(close(maskOf(first?.abilities ?? []))).filter(
            (name) => ["read", "discuss", "revise"].includes(name) && (it.kind === "member" || ([...guests] as string[]).includes(name)),
          );
          const expected = !active ? [] : id === owner ? (it.kind === "member" ? ["read", "discuss", "revise", "retire"] : []) : given;
          expect(abilitiesIn(benchSet(index, { owner, helpers }, subject, AT))).toEqual(expected);
        }
        const everybody = subjectOf(index, { public: true });
        if (everybody) expect(benchSet(index, { owner, helpers }, everybody, AT)).toBe(0);
      },
    ),
    { runs: 300 },
  );
});
