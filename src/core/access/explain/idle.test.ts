/** Idle rules: each kind where it is planted, and nobody loses anything when all that are reported go. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { givenSet } from "../decide/index.ts";
import { parseAccessDocument } from "../exchange/index.ts";
import { compile } from "../index/index.ts";
import type { AccessDocument, Edit, Fence, Grant, Place } from "../model/index.ts";
import { update } from "../update/index.ts";
import { type IdleRule, idleRules } from "./idle.ts";
import { idleSentence } from "./idleSentences.ts";

const names = { place: (id: string) => id, person: (id: string) => id, group: (id: string) => id };

describe("idle rules", () => {
  it("may all go, and nobody has less by any rule anywhere; fences that stop nobody change nothing", () => {
    let grants = 0;
    let fences = 0;
    holds(
      fc.property(world, (document) => {
        const parsed = parseAccessDocument(JSON.parse(JSON.stringify(document)));
        if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
        const index = compile(parsed.document);
        const found = idleRules(index, NOW);
        for (const it of found) expect(idleSentence(it, names)).not.toContain("undefined");
        const taken = found.flatMap((it): Edit[] =>
          it.kind === "covered" || it.kind === "cancelled" ? [{ kind: "grant", place: it.place, remove: it.grant }] : [],
        );
        const open = found.flatMap((it): Edit[] =>
          it.kind === "stopsNobody" ? [{ kind: "fence", place: it.place, remove: it.fence }] : [],
        );
        for (const edits of [taken, ...open.map((edit) => [edit])]) {
          const after = update(index, edits);
          if (!after.ok) throw new Error(JSON.stringify(after.conflicts));
          for (const subject of index.subjects) {
            for (const place of index.places) {
              const was = givenSet(index, subject, place, NOW);
              const is = givenSet(after.index, subject, after.index.places[place.number] as typeof place, NOW);
              expect(is & was).toBe(was);
              if (edits !== taken) expect(is).toBe(was);
            }
          }
        }
        grants += taken.length;
        fences += open.length;
      }),
      { runs: 400 },
    );
    expect(Math.min(grants, fences)).toBeGreaterThan(20);
  });

  const person = (id: string, kind: "member" | "guest" = "member", status: "active" | "suspended" = "active") => ({ id, kind, status });
  const place = (id: string, kind: Place["kind"], parent: string, grants: Grant[], rest: Partial<Place> = {}): Place => ({
    id,
    kind,
    state: "live",
    stance: "follow",
    tags: [],
    grants,
    fences: [],
    ...(parent ? { parent } : {}),
    ...rest,
  });
  const reads = (to: Grant["to"], rest: Partial<Grant> = {}): Grant => ({ to, abilities: ["read"], ...rest });
  const only = (...admits: Fence["admits"]): Partial<Place> => ({ fences: [{ kind: "read", admits }] });
  const site: AccessDocument = {
    tesoroAccess: 1,
    ceilings: { outsiders: ["read"], guests: ["read"], passes: true },
    people: [person("ana"), person("ben"), person("gus", "guest"), person("sue", "member", "suspended")],
    groups: [
      { id: "crew", members: [{ person: "ana" }] },
      { id: "idle", members: [{ person: "sue" }] },
    ],
    places: [
      place("site", "site", "", [{ to: { person: "ana" }, abilities: ["read", "arrange", "retire", "admit", "govern"] }]),
      place("house", "space", "site", [reads({ audience: "members" })]),
      place("covered", "page", "house", [reads({ group: "crew" })]),
      place("cancelled", "page", "house", [reads({ person: "gus" })], only({ audience: "members" })),
      place("needless", "page", "house", [], only({ audience: "accounts" })),
      place("closed", "page", "house", [], only({ person: "gus" }, { audience: "members" })),
      place("fresh", "page", "house", [], { stance: "fresh" }),
      place("empty", "page", "house", [reads({ group: "idle" }), reads({ person: "sue" })]),
      place("over", "page", "house", [reads({ person: "gus" }, { until: "2026-01-01T00:00:00Z" })]),
      place("open", "page", "house", [reads({ audience: "public" })]),
    ],
    passes: [],
    pledges: [],
  };
  const around = { landings: new Map([["house", "closed"]]), links: new Map([["open", ["covered", "open", "gone"]]]) };

  it.each<[IdleRule["kind"], string, string]>([
    ["covered", "covered", "all members are Reader (on house)"],
    ["cancelled", "cancelled", "the read fence on cancelled takes all of it away"],
    ["stopsNobody", "needless", "stops nobody"],
    ["admitsWithoutGrant", "closed", "admits gus, but no grant lets that person in"],
    ["freshWithoutGrants", "fresh", "only overseers still know of it"],
    ["nobodyInGroup", "empty", "no active people"],
    ["suspended", "empty", "somebody who is suspended"],
    ["ended", "over", "ended on 2026-01-01"],
    ["landingOnly", "closed", "other top-level places of house lie beside it"],
    ["deadEnds", "open", "but not covered, to which it links"],
  ])("%s: on %s", (kind, where, words) => {
    const found = idleRules(compile(site), NOW, around).filter((it) => it.kind === kind);
    expect(found.map(({ place: id }) => id)).toContain(where);
    expect(idleSentence(found.find(({ place: id }) => id === where) as IdleRule, names)).toContain(words);
  });
});
