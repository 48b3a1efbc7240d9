/** Edits, viewpoints and the register of acts: what fits, what undoes what, and what nothing is known of. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { canonical } from "../../../../test/reference/canonical.ts";
import { draw, editAt } from "../../../../test/reference/changes.ts";
import { world } from "../../../../test/reference/worlds.ts";
import { bringsWhole, canBeTakenBack, LEDGER_ACTS, labelOf, namesAct, retitles, touchesOf } from "../../ledger/index.ts";
import {
  type AccessDocument,
  applyEdits,
  type Edit,
  invertEdits,
  isOutside,
  placeOfEdit,
  principalBehind,
  readViewpoint,
  subjectBehind,
  subjectKey,
  subjectOfKey,
} from "./index.ts";

const ordered = (document: AccessDocument): string => JSON.stringify(canonical(document));

/** What has no way back to the very same document: it goes to the bin, is suspended or withdrawn instead. */
const leavesATrace = (edit: Edit): boolean =>
  edit.kind === "start" || edit.kind === "state" || edit.kind === "pass" || (edit.kind === "person" && !edit.remove);

it("an edit is made once; undone, the document is what it was; and what came in stays, out of use", () => {
  const kinds = new Set<string>();
  holds(
    fc.property(world, draw, (document, it) => {
      const edit = editAt(document, it);
      const once = applyEdits(document, [edit]);
      if (!once.ok) return;
      kinds.add(edit.kind);
      const nothing = ordered(once.document) === ordered(document);
      const twice = applyEdits(once.document, [edit]);
      if (!nothing) expect(twice.ok ? edit : twice.conflicts.map((conflict) => conflict.message)).toEqual([expect.any(String)]);
      const back = applyEdits(once.document, invertEdits([edit]));
      if (!back.ok) throw new Error(JSON.stringify({ edit, back }));
      if (!leavesATrace(edit)) expect(ordered(back.document)).toBe(ordered(document));
      if (edit.kind === "start")
        expect(back.document.places.find(({ id }) => id === edit.place)).toMatchObject({ state: "binned", was: "draft" });
      if (edit.kind === "person" && !edit.remove)
        expect(back.document.people.find(({ id }) => id === edit.person)?.status).toBe("suspended");
      if (edit.kind === "pass" && !edit.remove) expect(back.document.passes.find(({ id }) => id === edit.pass)?.revoked).toBe(true);
      // All or nothing: one that does not fit keeps the others from being made.
      if (!nothing) expect(applyEdits(document, [edit, edit]).ok).toBe(false);
      const named = placeOfEdit(edit);
      if ("place" in edit) expect(named).toBe(edit.place);
    }),
    { runs: 1_500 },
  );
  expect([...kinds].sort()).toEqual([
    "ceilings",
    "fence",
    "grant",
    "group",
    "member",
    "move",
    "owner",
    "pass",
    "person",
    "pledge",
    "stance",
    "start",
    "state",
    "tags",
  ]);
});

it("edits of what is gone, or was never there, say what is the matter", () => {
  const document: AccessDocument = {
    tesoroAccess: 1,
    ceilings: { outsiders: [], guests: [], passes: false },
    people: [{ id: "ana", kind: "member", status: "active" }],
    groups: [{ id: "crew", members: [{ person: "ana" }] }],
    places: [
      { id: "site", kind: "site", state: "live", stance: "follow", tags: [], grants: [], fences: [] },
      { id: "quay", kind: "space", parent: "site", state: "live", stance: "follow", tags: [], grants: [], fences: [] },
      { id: "a", kind: "page", parent: "quay", state: "live", stance: "follow", tags: [], grants: [], fences: [] },
      { id: "b", kind: "page", parent: "a", state: "live", stance: "follow", tags: [], grants: [], fences: [] },
    ],
    passes: [],
    pledges: [],
  };
  const ana = { person: "ana" };
  const cases: [Edit, string][] = [
    [{ kind: "stance", place: "gone", from: "follow", to: "fresh" }, "the place is gone"],
    [{ kind: "start", place: "a", parent: "quay", as: "page", owner: "ana" }, "a place with this id is there already"],
    [{ kind: "start", place: "c", parent: "gone", as: "page", owner: "ana" }, "the place above is gone"],
    [{ kind: "move", place: "a", from: "quay", to: "gone" }, "the place to move it to is gone"],
    [{ kind: "move", place: "a", from: "quay", to: "b" }, "it cannot be moved into itself"],
    [{ kind: "move", place: "b", from: "quay", to: "quay" }, "it was moved meanwhile"],
    [{ kind: "owner", place: "a", from: "ana", to: null }, "the owner was changed meanwhile"],
    [{ kind: "owner", place: "quay", from: null, to: "ana" }, "only pages and bulletins have an owner"],
    [{ kind: "tags", place: "a", from: ["x"], to: [] }, "the tags were changed meanwhile"],
    [{ kind: "ceilings", place: "site", from: null, to: null }, "the ceilings were changed meanwhile"],
    [{ kind: "ceilings", place: "quay", from: {}, to: null }, "the ceilings were changed meanwhile"],
    [{ kind: "state", place: "a", from: { state: "draft" }, to: { state: "live" } }, "the state was changed meanwhile: it is live now"],
    [{ kind: "state", place: "a", from: { state: "live" }, to: { state: "scheduled" } }, "nothing leads from live to that"],
    [{ kind: "grant", place: "a", remove: { to: ana, abilities: ["read"] } }, "the grant it replaces was changed or taken away meanwhile"],
    [{ kind: "fence", place: "a", remove: { kind: "read", admits: [] } }, "the fence it replaces was changed or taken away meanwhile"],
    [{ kind: "member", group: "gone", put: ana }, "the group is gone"],
    [{ kind: "member", group: "crew", put: ana }, "this member is in the group already"],
    [{ kind: "member", group: "crew", remove: { group: "crew" } }, "this member was taken out of the group meanwhile"],
    [{ kind: "group", group: "crew", remove: { id: "crew" } }, "the group still has members"],
    [{ kind: "group", group: "crew", put: { id: "crew" } }, "a group with this id is there already"],
    [
      { kind: "person", person: "ana", remove: { id: "ana", kind: "member", status: "active" } },
      "a person stays known: suspend them instead",
    ],
    [
      {
        kind: "person",
        person: "ana",
        remove: { id: "ana", kind: "guest", status: "active" },
        put: { id: "ana", kind: "member", status: "active" },
      },
      "the person was changed or taken away meanwhile",
    ],
    [{ kind: "pass", pass: "k" }, "a pass stays known: revoke it instead"],
    [
      { kind: "pledge", pledge: "vow", remove: { id: "vow", who: { class: "guests" }, rule: "never", ability: "read", where: {} } },
      "the pledge was changed or taken away meanwhile",
    ],
  ];
  for (const [edit, message] of cases) expect(applyEdits(document, [edit])).toMatchObject({ ok: false, conflicts: [{ message }] });
});

it("a viewpoint is one text wherever it is asked for, and names whom a rule can name", () => {
  const texts = ["public", "guests", "members", "group:crew", "person:ana", "pass:k"];
  expect(texts.map((text) => readViewpoint(text))).toEqual([
    { kind: "public" },
    { kind: "guests" },
    { kind: "members" },
    { kind: "group", id: "crew" },
    { kind: "person", id: "ana" },
    { kind: "pass", id: "k" },
  ]);
  for (const text of ["", "group", "group:", "public:x", "person:a b", "robot:x", "person:__proto__ "])
    expect(readViewpoint(text)).toBeNull();
  const viewpoints = texts.flatMap((text) => readViewpoint(text) ?? []);
  expect(viewpoints.map(principalBehind)).toEqual([
    { audience: "public" },
    null,
    { audience: "members" },
    { group: "crew" },
    { person: "ana" },
    null,
  ]);
  expect(viewpoints.map(subjectBehind)).toEqual([{ public: true }, null, null, null, { person: "ana" }, { pass: "k" }]);
  expect(viewpoints.map(isOutside)).toEqual([true, true, false, false, false, true]);
  for (const subject of [{ public: true } as const, { person: "a:b" }, { pass: "k" }])
    expect(subjectOfKey(subjectKey(subject))).toEqual(subject);
});

it("the register knows its acts, and of an unknown one expects that it may have touched everything", () => {
  for (const act of Object.keys(LEDGER_ACTS)) expect([namesAct(act), labelOf(act) === act]).toEqual([true, false]);
  for (const odd of ["toString", "__proto__", "newer"]) {
    expect([namesAct(odd), labelOf(odd), touchesOf(odd, "words"), bringsWhole(odd), canBeTakenBack(odd)]).toEqual([
      false,
      odd,
      true,
      true,
      false,
    ]);
  }
  expect([retitles("rules", []), retitles("save", []), retitles("rules", [{ kind: "state", to: { state: "live" } }])]).toEqual([
    false,
    true,
    true,
  ]);
  expect([bringsWhole("found"), bringsWhole("rules"), touchesOf("order", "rules"), canBeTakenBack("order")]).toEqual([
    true,
    false,
    false,
    true,
  ]);
});
