/** Whoever brought a guest in moves their end, and changes nothing else of them; nobody but a site keeper takes an end off. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { compile } from "../index/index.ts";
import { type AccessDocument, type Edit, type Grant, instantOf, type Person, sameValue } from "../model/index.ts";
import { update } from "../update/index.ts";
import { judgeChange } from "./policy.ts";

const AT = instantOf("2026-11-23T12:00:00Z");
const END = "2026-12-31T00:00:00Z";
const keeps = (person: string): Grant => ({
  to: { person },
  abilities: ["read", "discuss", "revise", "add", "arrange", "publish", "retire", "admit"],
});
const member = (id: string): Person => ({ id, name: id, kind: "member", status: "active" });
const gus: Person = { id: "gus", name: "Gus", kind: "guest", status: "active", until: END };
const read: Grant = { to: { person: "gus" }, abilities: ["read"], until: END };
const place = { tags: [], fences: [], stance: "follow" as const, state: "live" as const };
const document: AccessDocument = {
  tesoroAccess: 1,
  ceilings: { outsiders: ["read"], guests: ["read", "discuss", "revise", "add"], passes: true },
  people: [member("zoe"), member("kim"), gus],
  groups: [],
  places: [
    { ...place, id: "site", kind: "site", grants: [{ to: { person: "zoe" }, abilities: [...keeps("zoe").abilities, "govern"] }] },
    { ...place, id: "space", kind: "space", parent: "site", grants: [keeps("kim")] },
    { ...place, id: "page", kind: "page", parent: "space", grants: [read] },
  ],
  passes: [],
  pledges: [],
};
const before = compile(document);

/** Whether a change is let through, made by whoever brought the guest in or by the site's keeper. */
function isAllowed(maker: "kim" | "zoe", edits: Edit[]): boolean {
  const after = update(before, edits);
  if (!after.ok) return false;
  const guests = { allowed: true, mine: new Set(maker === "kim" ? ["gus"] : []) };
  return judgeChange(before, after.index, { edits, maker, at: AT, guests }).refusals.length === 0;
}

const until = fc.constantFrom<string | null | undefined>("2026-12-01T00:00:00Z", "2028-01-01T00:00:00Z", END, null, undefined);
const without = <T extends object>(it: T): T => Object.fromEntries(Object.entries(it).filter(([, value]) => value !== undefined)) as T;

it("their host changes when they end, and nothing else of them; a site keeper whatever is sound", () => {
  const changed = fc.record({
    name: fc.constantFrom("Gus", "Gust"),
    kind: fc.constantFrom("guest", "member"),
    status: fc.constantFrom("active", "suspended"),
    until,
  });
  holds(
    fc.property(changed, (it) => {
      const put = without({ ...gus, ...it }) as Person;
      const edits: Edit[] = [{ kind: "person", person: "gus", remove: gus, put }];
      fc.pre(!sameValue(gus, put));
      const onlyEnd = put.name === gus.name && put.kind === gus.kind && put.status === gus.status;
      expect([put, isAllowed("kim", edits)]).toEqual([put, onlyEnd && put.until != null]);
      expect([put, isAllowed("zoe", edits)]).toEqual([put, true]);
    }),
    { runs: 200 },
  );
});

it("what they are granted keeps an end, whether it is changed in one edit or in two; and nobody comes in without one", () => {
  holds(
    fc.property(until, fc.boolean(), (end, inTwo) => {
      const put = without({ ...read, until: end }) as Grant;
      fc.pre(!sameValue(read, put));
      const edits: Edit[] = inTwo
        ? [
            { kind: "grant", place: "page", remove: read },
            { kind: "grant", place: "page", put },
          ]
        : [{ kind: "grant", place: "page", remove: read, put }];
      expect([end, isAllowed("kim", edits), isAllowed("zoe", edits)]).toEqual([end, end != null, true]);
      const comes = without({ ...gus, id: "new", until: end }) as Person;
      const letIn: Edit[] = [
        { kind: "person", person: "new", put: comes },
        { kind: "grant", place: "page", put: { ...read, to: { person: "new" } } },
      ];
      expect([end, isAllowed("kim", letIn)]).toEqual([end, end != null]);
    }),
    { runs: 100 },
  );
});
