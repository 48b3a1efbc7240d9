/** What people are told: proposals for everyday wishes, and explanations in words, on one small harbour. */
import { describe, expect, it } from "vitest";
import { effectiveSet } from "./decide/index.ts";
import { checkEdits, parseAccessDocument } from "./exchange/index.ts";
import { editSentence, explain, explanationText, type Names } from "./explain/index.ts";
import { type AccessIndex, compile, placeOf, subjectOf } from "./index/index.ts";
import {
  type Ability,
  type AccessDocument,
  abilitiesIn,
  applyEdits,
  close,
  describeSet,
  type Edit,
  type Fence,
  type Grant,
  highestLevelFor,
  instantOf,
  type Level,
  levelOf,
  levelWithin,
  maskOf,
  type Principal,
  type Subject,
  setOfLevel,
} from "./model/index.ts";
import { propose, type Wish } from "./propose/index.ts";
import { countRipple, ripple } from "./ripple/index.ts";
import { update } from "./update/index.ts";

const NOW = instantOf("2026-11-23T12:00:00Z");
const level = (to: Principal, n: Level, rest: Partial<Grant> = {}): Grant => ({ to, abilities: abilitiesIn(setOfLevel(n)), ...rest });
const bare = { state: "live" as const, stance: "follow" as const, tags: [], grants: [] as Grant[], fences: [] as Fence[] };
const person = (id: string, kind: "member" | "guest" = "member", status: "active" | "suspended" = "active") => ({
  id,
  name: id,
  kind,
  status,
});
const members: Principal = { audience: "members" };
const everyone: Principal = { audience: "public" };
const crew: Principal = { group: "crew" };

/** A space that members write in, with a page for each situation. */
const harbour: AccessDocument = {
  tesoroAccess: 1,
  ceilings: { outsiders: ["read"], guests: ["read", "discuss"], passes: true },
  people: [person("zoe"), person("ana"), person("ben"), person("cai"), person("gus", "guest"), person("sue", "member", "suspended")],
  groups: [
    { id: "crew", name: "Crew", members: [{ person: "ana" }, { person: "ben" }] },
    { id: "night", name: "Night", members: [{ person: "ben" }] },
  ],
  places: [
    { ...bare, id: "site", kind: "site", grants: [level({ person: "zoe" }, 5)] },
    { ...bare, id: "quay", kind: "space", parent: "site", title: "Quay", grants: [level(members, 3)] },
    { ...bare, id: "plain", kind: "page", parent: "quay", title: "Plain" },
    {
      ...bare,
      id: "walled",
      kind: "page",
      parent: "quay",
      title: "Walled",
      fences: [{ kind: "write", admits: [{ group: "night" }, { person: "zoe" }] }],
    },
    { ...bare, id: "inner", kind: "page", parent: "walled", title: "Inner", stance: "fresh", grants: [level(crew, 4)] },
    {
      ...bare,
      id: "shown",
      kind: "page",
      parent: "quay",
      title: "Shown",
      grants: [level(everyone, 1), level({ person: "gus" }, 1, { until: "2026-11-01T00:00:00Z" })],
    },
    { ...bare, id: "draft", kind: "page", parent: "quay", title: "Draft", state: "draft", owner: "cai", grants: [level(everyone, 1)] },
    {
      ...bare,
      id: "closed",
      kind: "space",
      parent: "site",
      title: "Closed",
      grants: [level(crew, 3)],
      ceilings: { outsiders: [], passes: false },
    },
    { ...bare, id: "secret", kind: "page", parent: "closed", title: "Secret", state: "archived", grants: [level(everyone, 1)] },
  ],
  passes: [{ id: "pass", place: "secret", below: false, revoked: false }],
  pledges: [],
};

const names: Names = {
  place: (id) => harbour.places.find((place) => place.id === id)?.title ?? id,
  person: (id) => id,
  group: (id) => harbour.groups.find((it) => it.id === id)?.name ?? id,
};

function known(index: AccessIndex, subject: Subject, place: string) {
  const found = { subject: subjectOf(index, subject), place: placeOf(index, place) };
  if (!found.subject || !found.place) throw new Error("not in this harbour");
  return { subject: found.subject, place: found.place };
}

function setAt(index: AccessIndex, asked: Subject, where: string): number {
  const { subject, place } = known(index, asked, where);
  return effectiveSet(index, subject, place, NOW);
}

const best = (place: string, ...wishes: [Principal, Level][]) => {
  const proposal = propose(
    compile(harbour),
    wishes.map(([principal, n]) => ({ place, principal, level: n })),
    NOW,
  );
  return { ...proposal, sentences: proposal.candidates[0]?.edits.map((edit) => editSentence(edit, names)) ?? null };
};

describe("the best change for a wish", () => {
  it.each<[string, string, [Principal, Level][], string[]]>([
    ["raising a group is one grant", "plain", [[crew, 4]], ["grant added: Crew are Publisher"]],
    ["opening to the public is one grant", "plain", [[everyone, 1]], ["grant added: the public are Reader"]],
    ["closing to the public takes that grant away", "shown", [[everyone, 0]], ["grant taken away: the public are Reader"]],
    [
      "lowering members to comment is one write fence that keeps the keepers",
      "plain",
      [[members, 2]],
      ["write fence added: only these may do more than read and comment: zoe"],
    ],
    ["shutting members out is one read fence", "plain", [[members, 0]], ["read fence added: only these may enter: zoe"]],
    [
      "these write, others comment: one fence",
      "plain",
      [
        [crew, 3],
        [members, 2],
      ],
      ["write fence added: only these may do more than read and comment: Crew and zoe"],
    ],
    [
      "letting a group write inside a fence admits it there",
      "walled",
      [[crew, 3]],
      [
        "write fence changed: only these may do more than read and comment: Night, zoe and Crew (before: only these may do more than read and comment: Night and zoe)",
      ],
    ],
  ])("%s", (_, place, wishes, expected) => {
    expect(best(place, ...wishes).sentences).toEqual(expected);
  });

  it("covers a person by the most specific wish, leaves overseers alone, and says when there is nothing to do", () => {
    const wished = best("plain", [members, 1], [{ group: "crew" }, 3], [{ person: "ben" }, 4]);
    const edits = wished.candidates[0]?.edits as Edit[];
    const applied = applyEdits(harbour, edits);
    const after = compile(applied.ok ? applied.document : harbour);
    const has = (id: string) => describeSet(setAt(after, { person: id }, "plain"));
    expect(["ana", "ben", "cai", "zoe"].map(has)).toEqual(["Writer", "Publisher", "Reader", "Keeper"]);
    expect(wished.exceptions).toEqual(["person:zoe"]);
    expect(best("plain", [members, 3])).toMatchObject({ alreadySo: true, sentences: null });
    expect(best("plain", [{ person: "zoe" }, 1])).toMatchObject({ alreadySo: true, exceptions: ["person:zoe"] });
  });

  it.each<[string, string, Principal, Level, string]>([
    ["a ceiling for guests", "plain", { person: "gus" }, 3, "The ceiling for guests on site does not go that far."],
    ["the hard limit of outsiders", "plain", everyone, 3, "The ceiling for outsiders on site does not go that far."],
    ["a space's own ceiling", "closed", everyone, 1, "The ceiling for outsiders on Closed does not go that far."],
    ["the state of the page", "secret", crew, 3, "Secret is archived."],
  ])("is none where %s is in the way, and that is the answer", (_, place, principal, n, because) => {
    const { candidates, obstacle } = best(place, [principal, n]);
    expect(candidates).toEqual([]);
    const text = obstacle ? explanationText(obstacle.explanation, "They", names) : null;
    expect(text?.steps).toContain(because);
  });
});

describe("an explanation in words", () => {
  const why = (subject: Subject, ability: Ability, place: string) => {
    const index = compile(harbour);
    const asked = known(index, subject, place);
    return explanationText(explain(index, asked.subject, ability, asked.place, NOW), "X", names);
  };
  it.each<[Subject, Ability, string, string, string[]]>([
    [{ person: "ana" }, "revise", "plain", "X can write Plain.", ["A grant on Quay says that all members are Writer."]],
    [
      { person: "ana" },
      "revise",
      "walled",
      "X cannot write Walled.",
      ["A write fence on Walled does not admit them (only these may do more than read and comment: Night and zoe)."],
    ],
    [{ person: "ben" }, "publish", "inner", "X can publish Inner.", ["A grant on Inner says that Crew are Publisher."]],
    [
      { person: "cai" },
      "read",
      "inner",
      "X cannot read Inner.",
      ["No grant gives it. On Quay all members are Writer, but Inner starts fresh."],
    ],
    [{ person: "gus" }, "read", "shown", "X can read Shown.", ["A grant on Shown says that the public are Reader."]],
    [{ person: "gus" }, "discuss", "shown", "X cannot comment on Shown.", ["No grant gives it."]],
    [{ person: "sue" }, "read", "plain", "X cannot read Plain.", ["The account is suspended or has ended, so it has no access anywhere."]],
    [
      { person: "cai" },
      "revise",
      "draft",
      "X can write Draft.",
      ["They own this draft of Draft.", "A grant on Quay says that all members are Writer."],
    ],
    [
      { public: true },
      "read",
      "draft",
      "X cannot read Draft.",
      ["Draft is not published; only its owner, its writers and those let into the draft get in."],
    ],
    [
      { pass: "pass" },
      "read",
      "secret",
      "X cannot read Secret.",
      ["Closed does not allow passes.", "The ceiling for outsiders on Closed does not go that far.", "Secret is archived."],
    ],
  ])("%j, %s, %s", (subject, ability, place, answer, steps) => {
    const text = why(subject, ability, place);
    expect(text.answer.startsWith(answer)).toBe(true);
    expect(text.steps).toEqual(steps);
  });
});

describe("what is offered", () => {
  it("is a level that the check of rules lets through, whomever it is for; and the public is offered no more than it can hold", () => {
    const principals: [Principal, boolean][] = [
      [everyone, false],
      [{ audience: "accounts" }, false],
      [members, false],
      [crew, false],
      [{ person: "ana" }, false],
      [{ person: "gus" }, true],
    ];
    for (const [principal, isGuest] of principals) {
      const most = highestLevelFor(principal, isGuest);
      for (const n of [1, 2, 3, 4, 5] as Level[]) {
        const edit: Edit = { kind: "grant", place: "plain", put: level(principal, n) };
        const after = update(compile(harbour), [edit]);
        if (!after.ok) throw new Error("does not apply");
        const errors = checkEdits(after.index, [edit]);
        if (n <= most) expect([principal, n, errors]).toEqual([principal, n, []]);
        else if (n === 5) expect([principal, errors.length > 0]).toEqual([principal, true]);
      }
      expect(describeSet(maskOf(level(everyone, highestLevelFor(everyone)).abilities))).toBe("Commenter");
    }
  });

  it("of a wish that cannot be had, the reason is that of the wish made last", () => {
    const wishes: Wish[] = [
      { principal: crew, level: 4 },
      { principal: everyone, level: 2 },
    ];
    const { obstacle } = propose(
      compile(harbour),
      wishes.map((it) => ({ ...it, place: "plain" })),
      NOW,
    );
    expect(obstacle?.wish.principal).toEqual(everyone);
  });

  it("tells what is wrong with ids beside what is wrong in shape, and nothing twice", () => {
    const parsed = parseAccessDocument({
      tesoroAccess: 1,
      people: [{ id: "ana", kind: "member", colour: "red" }],
      places: [
        { id: "site", kind: "site", grants: [{ to: { person: "nobody" }, abilities: ["read"] }] },
        { id: "quay", kind: "space", parent: "nowhere", stance: "bent" },
      ],
    });
    const told = parsed.ok ? [] : parsed.errors.map((error) => error.path).sort();
    expect(told).toEqual(["$.people[0].colour", "$.places[0].grants[0].to.person", "$.places[1].parent", "$.places[1].stance"]);
  });
});

describe("sets and levels", () => {
  it("hold one another in order, are closed, and a mix is called one", () => {
    const levels = [0, 1, 2, 3, 4, 5] as Level[];
    for (const n of levels) {
      expect([levelOf(setOfLevel(n)), close(setOfLevel(n))]).toEqual([n, setOfLevel(n)]);
      for (const lower of levels.filter((it) => it <= n)) expect(setOfLevel(lower) & ~setOfLevel(n)).toBe(0);
    }
    const mix = close(maskOf(["publish", "admit"]));
    expect([levelOf(mix), levelWithin(mix), describeSet(mix)]).toEqual([null, 1, "custom mix (read, revise, publish, admit)"]);
  });

  it("and a ripple counts people and places by class, the outside first", () => {
    const opened = applyEdits(harbour, [{ kind: "grant", place: "plain", put: level(everyone, 1) }]);
    if (!opened.ok) throw new Error("does not apply");
    const counts = countRipple(ripple(compile(harbour), compile(opened.document), NOW));
    expect(counts).toEqual([
      { class: "outsiders", gaining: 2, losing: 0, gainedPlaces: 1, lostPlaces: 0 },
      { class: "guests", gaining: 1, losing: 0, gainedPlaces: 1, lostPlaces: 0 },
    ]);
  });
});
