/** Choices made one after another in the tray: what is left of them leads where making each in turn would have led. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import { canonical } from "../../../test/reference/canonical.ts";
import { draw, ruleEditAt } from "../../../test/reference/changes.ts";
import { world } from "../../../test/reference/worlds.ts";
import { type AccessDocument, applyEdits, type Edit, type Place } from "../../core/access/model/index.ts";
import { inTheWay, refusalWords } from "./staged.ts";
import { isNothing, supersede } from "./supersede.ts";

/** An edit of a kind that the slip stages: rules, the owner, tags; made for what the document is by now. */
function stagedAt(document: AccessDocument, it: [number, number, number, number]): Edit {
  const [which, where, pick, how] = it;
  const pages = document.places.filter(({ kind }) => kind === "page" || kind === "bulletin");
  const page = pages[where % pages.length] as Place;
  const person = document.people[pick % document.people.length]?.id ?? "";
  const group = document.groups[where % Math.max(1, document.groups.length)];
  if (which % 5 === 4 && group) {
    const there = group.members.some((member) => "person" in member && member.person === person);
    return { kind: "member", group: group.id, [there ? "remove" : "put"]: { person } };
  }
  if (which % 7 === 6) {
    const it = document.people[pick % document.people.length];
    if (it) return { kind: "person", person: it.id, remove: it, put: { ...it, status: how % 2 ? "active" : "suspended" } };
  }
  if (which % 7 === 5 && group) {
    const { members: _, ...bare } = group;
    return { kind: "group", group: group.id, remove: bare, put: { ...bare, name: `Named ${how % 3}` } };
  }
  if (which % 4 === 0) return { kind: "owner", place: page.id, from: page.owner ?? null, to: how % 4 === 0 ? null : person };
  if (which % 4 === 1) return { kind: "tags", place: page.id, from: page.tags, to: ["a", "b", "c"].filter((_, i) => how & (1 << i)) };
  return ruleEditAt(document, it);
}

it("a later choice at the same rule, owner or tags takes the earlier's place, and all that waits fits what stands", () => {
  let met = 0;
  holds(
    fc.property(world, fc.array(draw, { minLength: 2, maxLength: 10 }), (standing, draws) => {
      let waiting: Edit[] = [];
      let document = standing;
      for (const it of draws) {
        const edit = stagedAt(document, it);
        const made = applyEdits(document, [edit]);
        if (!made.ok || isNothing(edit)) continue;
        document = made.document;
        const { kept, edits } = supersede(waiting, [edit]);
        met += kept.filter((stays) => !stays).length;
        waiting = [...waiting.filter((_, i) => kept[i]), ...edits.filter((left) => !isNothing(left))];
        // Whoever looks at the tray now is shown what stands after all of it.
        const whole = applyEdits(standing, waiting);
        if (!whole.ok) throw new Error(JSON.stringify({ waiting, conflicts: whole.conflicts }));
        const owners = (of: AccessDocument) => canonical(of.places.map(({ id, owner, tags, stance }) => ({ id, owner, tags, stance })));
        expect(owners(whole.document)).toEqual(owners(document));
        const cast = ({ people, groups }: AccessDocument) =>
          canonical({
            people,
            groups: groups.map((it) => ({ ...it, members: [...it.members.map((member) => JSON.stringify(member))].sort() })),
          });
        expect(cast(whole.document)).toEqual(cast(document));
      }
      const places = waiting.filter(({ kind }) => kind === "owner" || kind === "tags" || kind === "stance");
      const about = waiting.flatMap((edit) => (edit.kind === "person" ? [edit.person] : edit.kind === "group" ? [edit.group] : []));
      expect(new Set(about).size).toBe(about.length);
      const named = places.map((edit) => `${edit.kind} ${"place" in edit ? edit.place : ""}`);
      expect(new Set(named).size).toBe(named.length);
    }),
    { runs: 300 },
  );
  expect(met).toBeGreaterThan(50);
});

it("what leaves everything as it is, is nothing", () => {
  const grant = { to: { person: "ana" }, abilities: ["read" as const] };
  const nothing: Edit[] = [
    { kind: "owner", place: "a", from: "ana", to: "ana" },
    { kind: "owner", place: "a", from: null, to: null },
    { kind: "tags", place: "a", from: ["x", "y"], to: ["x", "y"] },
    { kind: "stance", place: "a", from: "fresh", to: "fresh" },
    { kind: "grant", place: "a", remove: grant, put: grant },
  ];
  const something: Edit[] = [
    { kind: "owner", place: "a", from: null, to: "ana" },
    { kind: "tags", place: "a", from: ["x"], to: [] },
    { kind: "stance", place: "a", from: "fresh", to: "follow" },
    { kind: "grant", place: "a", put: grant },
    { kind: "state", place: "a", from: { state: "draft" }, to: { state: "live" } },
  ];
  expect([nothing.map(isNothing), something.map(isNothing)]).toEqual([nothing.map(() => true), something.map(() => false)]);
});

it("a change waits for being looked at, for what stops it, for its reason, and for texts that are kept; each is said", () => {
  const preview = (...codes: ("notAllowed" | "reasonNeeded" | "pledge")[]) => ({
    seen: "x",
    ripple: { empty: true, summary: [], lines: [], pledges: { breaks: [], mends: [] }, closedToAll: [] },
    refusals: codes.map((code) => ({ code, message: `Says ${code}.`, title: code === "pledge" ? "Here" : "" })),
    steppingIn: false,
    cells: [],
  });
  const texts = { note: "", reason: "" };
  expect(inTheWay(null, texts).off).toContain("not worked out");
  expect(inTheWay(preview(), texts)).toEqual({ stops: [], lifted: [], off: "" });
  expect(inTheWay(preview("notAllowed", "pledge"), { note: "", reason: "We must." }).off).toContain("in the way");
  for (const reason of ["", " ", "\u200b"])
    expect(inTheWay(preview("reasonNeeded"), { note: "", reason }).off).toContain("A reason is needed");
  expect(inTheWay(preview("reasonNeeded", "pledge"), { note: "", reason: "We must." })).toMatchObject({ off: "", lifted: [{}, {}] });
  expect(inTheWay(preview(), { note: "x".repeat(10_000), reason: "" }).off).toContain("too long");
  const { stops } = inTheWay(preview("notAllowed", "notAllowed"), texts);
  expect(refusalWords(stops)).toEqual(["Says notAllowed."]);
  expect(refusalWords(preview("pledge").refusals)).toEqual(["Here: Says pledge."]);
});
