/** Documents out and in: what is wrong is told by its path, and any two sound ones differ by edits that lead from one to the other. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { canonical } from "../../../../test/reference/canonical.ts";
import { draw, editAt } from "../../../../test/reference/changes.ts";
import { world } from "../../../../test/reference/worlds.ts";
import { type AccessDocument, applyEdits, type Edit } from "../model/index.ts";
import { differenceOf, parseAccessDocument, parseEdits } from "./index.ts";

/** A sound document with a rule of every sort in it, written in full. */
const sound = () => ({
  tesoroAccess: 1 as unknown,
  ceilings: { outsiders: ["read"], guests: ["read", "discuss"], passes: true } as Record<string, unknown>,
  people: [
    { id: "ana", name: "Ana", kind: "member", status: "active" },
    { id: "gus", kind: "guest", status: "active", until: "2027-01-01T00:00:00+02:00" },
  ] as Record<string, unknown>[],
  groups: [
    { id: "crew", name: "Crew", members: [{ person: "ana" }] },
    { id: "all", members: [{ group: "crew" }] },
  ] as Record<string, unknown>[],
  places: [
    { id: "site", kind: "site", grants: [{ to: { person: "ana" }, abilities: ["govern"] }] },
    { id: "quay", kind: "space", parent: "site", ceilings: { guests: [] } },
    {
      id: "page",
      kind: "page",
      parent: "quay",
      title: "Page",
      state: "archived",
      was: "draft",
      owner: "ana",
      tags: ["a"],
      fences: [{ kind: "read", admits: [{ group: "crew" }] }],
    },
    { id: "news", kind: "bulletin", parent: "quay", state: "binned", was: "live", binnedFrom: "archived" },
  ] as Record<string, unknown>[],
  passes: [{ id: "pass", place: "page", below: true, until: null, revoked: false }] as Record<string, unknown>[],
  pledges: [{ id: "vow", who: { class: "guests" }, rule: "never", ability: "read", where: { space: "quay" }, why: "So." }] as Record<
    string,
    unknown
  >[],
});
type Whole = ReturnType<typeof sound>;

const first = (list: Record<string, unknown>[], i = 0): Record<string, unknown> => list[i] as Record<string, unknown>;
const set = (target: object, fields: object): void => {
  Object.assign(target, fields);
};
const push = (list: object[], item: object): void => {
  list.push(item);
};
const toldOf = (spoil: (it: Whole) => unknown): string[] => {
  const it = sound();
  const spoilt = spoil(it);
  const parsed = parseAccessDocument(spoilt === undefined ? it : spoilt);
  return parsed.ok ? [] : parsed.errors.map(({ path, message }) => `${path} ${message}`);
};

describe("a document that is not sound", () => {
  it.each<[what: string, spoil: (it: Whole) => unknown, path: string, says: string]>([
    ["is no object", () => [], "$", "must be an object"],
    ["is of another version", (it) => set(it, { tesoroAccess: 2 }), "$.tesoroAccess", "must be 1"],
    ["has a field of its own", (it) => ({ ...it, extra: 1 }), "$.extra", "unknown field"],
    ["holds something else than a list", (it) => ({ ...it, people: {} }), "$.people", "must be a list"],
    ["has an id that is no text", (it) => set(first(it.people), { id: 7 }), "$.people[0].id", "must be a text"],
    ["has a name that is none", (it) => set(first(it.people), { name: 7 }), "$.people[0].name", "must be a text"],
    ["has a kind of person there is not", (it) => set(first(it.people), { kind: "robot" }), "$.people[0].kind", "must be one of"],
    ["ends at no instant", (it) => set(first(it.people, 1), { until: "soon" }), "$.people[1].until", "ISO 8601"],
    ["ends on a day there is not", (it) => set(first(it.people, 1), { until: "2026-02-30T00:00:00Z" }), "$.people[1].until", "ISO 8601"],
    ["lets passes be a word", (it) => set(it.ceilings, { passes: "yes" }), "$.ceilings.passes", "true or false"],
    ["lets outsiders write", (it) => set(it.ceilings, { outsiders: ["revise"] }), "$.ceilings.outsiders", ""],
    ["lets guests govern", (it) => set(it.ceilings, { guests: ["govern"] }), "$.ceilings.guests", ""],
    ["has a person twice", (it) => push(it.people, { ...first(it.people) }), "$.people[2].id", ""],
    ["has an id in two lists", (it) => set(first(it.groups), { id: "ana" }), "$.groups[0].id", ""],
    ["has a group in itself", (it) => set(first(it.groups), { members: [{ group: "all" }] }), "$.groups", ""],
    ["has a member nobody knows", (it) => set(first(it.groups), { members: [{ person: "who" }] }), "$.groups[0].members[0]", ""],
    ["has a place in itself", (it) => set(first(it.places, 2), { parent: "page" }), "$.places[2]", ""],
    ["has a space in a page", (it) => push(it.places, { id: "s2", kind: "space", parent: "page" }), "$.places[4]", ""],
    ["has a page in a bulletin", (it) => set(first(it.places, 2), { parent: "news" }), "$.places[2]", ""],
    ["has two sites", (it) => push(it.places, { id: "s2", kind: "site" }), "$.places", ""],
    ["has a site with a state", (it) => set(first(it.places), { state: "archived" }), "$.places[0].state", "site has no state"],
    ["has a space that is a draft", (it) => set(first(it.places, 1), { state: "draft" }), "$.places[1].state", "a space is live"],
    ["remembers a state where none was left", (it) => set(first(it.places, 2), { state: "live" }), "$.places[2].was", ""],
    [
      "was binned from the archive and is not in the bin",
      (it) => set(first(it.places, 3), { state: "archived" }),
      "$.places[3].binnedFrom",
      "",
    ],
    ["is owned by nobody known", (it) => set(first(it.places, 2), { owner: "who" }), "$.places[2].owner", ""],
    ["has ceilings on a page", (it) => set(first(it.places, 2), { ceilings: {} }), "$.places[2].ceilings", ""],
    [
      "grants nothing",
      (it) => set(first(it.places), { grants: [{ to: { person: "ana" }, abilities: [] }] }),
      "$.places[0].grants[0]",
      "no abilities",
    ],
    [
      "grants to two at once",
      (it) => set(first(it.places), { grants: [{ to: { person: "ana", group: "crew" }, abilities: ["read"] }] }),
      "$.places[0].grants[0].to",
      "exactly one",
    ],
    [
      "grants what cannot be",
      (it) => set(first(it.places), { grants: [{ to: { audience: "public" }, abilities: ["admit"] }] }),
      "$.places[0].grants[0].abilities",
      "",
    ],
    [
      "grants what a guest cannot hold",
      (it) => set(first(it.places), { grants: [{ to: { person: "gus" }, abilities: ["govern"] }] }),
      "$.places[0].grants[0].abilities",
      "govern cannot",
    ],
    [
      "fences in a way there is not",
      (it) => set(first(it.places, 2), { fences: [{ kind: "see", admits: [] }] }),
      "$.places[2].fences[0].kind",
      "must be one of",
    ],
    [
      "admits an unknown group",
      (it) => set(first(it.places, 2), { fences: [{ kind: "read", admits: [{ group: "who" }] }] }),
      "$.places[2].fences[0].admits[0]",
      "",
    ],
    ["has a pass for a space", (it) => set(first(it.passes), { place: "quay" }), "$.passes[0].place", "page or a bulletin"],
    ["has a pass for nothing", (it) => set(first(it.passes), { place: "who" }), "$.passes[0].place", ""],
    ["pledges about two", (it) => set(first(it.pledges), { who: { class: "guests", group: "crew" } }), "$.pledges[0].who", "exactly one"],
    ["pledges about an unknown person", (it) => set(first(it.pledges), { who: { person: "who" } }), "$.pledges[0].who", ""],
    ["pledges an ability there is not", (it) => set(first(it.pledges), { ability: "fly" }), "$.pledges[0].ability", "must be one of"],
    ["pledges for a page as a space", (it) => set(first(it.pledges), { where: { space: "page" } }), "$.pledges[0].where.space", ""],
    ["pledges below nothing", (it) => set(first(it.pledges), { where: { subtree: "who" } }), "$.pledges[0].where.subtree", ""],
    [
      "pledges for a state there is not",
      (it) => set(first(it.pledges), { where: { state: "asleep" } }),
      "$.pledges[0].where.state",
      "must be one of",
    ],
  ])("%s: told with where", (_, spoil, path, says) => {
    expect(toldOf(spoil)).toContainEqual(expect.stringMatching(new RegExp(`^${path.replace(/[$.[\]]/g, "\\$&")}.* .*${says}`)));
  });

  it("never is taken for a sound one or breaks the reading, whatever stands wherever", () => {
    expect(toldOf(() => undefined)).toEqual([]);
    const paths: (string | number)[][] = [];
    const walk = (value: unknown, path: (string | number)[]) => {
      if (path.length > 0) paths.push(path);
      if (typeof value === "object" && value !== null)
        for (const [key, inner] of Object.entries(value)) walk(inner, [...path, Array.isArray(value) ? Number(key) : key]);
    };
    walk(sound(), []);
    const odd = fc.constantFrom<unknown>(null, true, 7, -1.5, "", "who", "__proto__", [], [null], {}, { id: "ana" }, [[]]);
    holds(
      fc.property(fc.constantFrom(...paths), odd, (path, value) => {
        const it = sound();
        let holder = it as unknown as Record<string | number, unknown>;
        for (const key of path.slice(0, -1)) holder = holder[key] as Record<string | number, unknown>;
        holder[path.at(-1) as string] = value;
        const parsed = parseAccessDocument(it);
        if (!parsed.ok) for (const error of parsed.errors) expect(error.path).toMatch(/^\$/);
        // What is taken is sound, and read again it is the same.
        else expect(parseAccessDocument(JSON.parse(JSON.stringify(parsed.document)))).toEqual(parsed);
      }),
      { runs: 2_000 },
    );
  });
});

describe("the difference of two documents", () => {
  it("is edits that lead from one to the other; what only Tesoro does is an error with its path", () => {
    let made = 0;
    holds(
      fc.property(world, fc.array(draw, { minLength: 1, maxLength: 8 }), (start, draws) => {
        const before = parseAccessDocument(JSON.parse(JSON.stringify(start)));
        if (!before.ok) throw new Error(JSON.stringify(before.errors));
        let after = before.document;
        for (const it of draws) {
          const applied = applyEdits(after, [editAt(after, it)]);
          const parsed = applied.ok ? parseAccessDocument(JSON.parse(JSON.stringify(applied.document))) : applied;
          if (parsed.ok) after = parsed.document;
        }
        const { edits, errors } = differenceOf(before.document, after);
        for (const error of errors) expect(error.path).toMatch(/^\$\.(places|passes)/);
        if (errors.length > 0) return;
        made += edits.length;
        const applied = applyEdits(before.document, edits);
        // An absent `was` of what is archived or binned means live (section 11).
        const plain = (document: AccessDocument) => ({
          ...document,
          places: document.places.map((it) => ({ ...it, was: it.was ?? "live" })),
        });
        expect(applied.ok && canonical(plain(applied.document) as AccessDocument)).toEqual(canonical(plain(after) as AccessDocument));
        expect(differenceOf(after, after)).toEqual({ edits: [], errors: [] });
      }),
      { runs: 400 },
    );
    expect(made).toBeGreaterThan(300);
  });

  it("refuses what would lose words, accounts or links", () => {
    const parsed = parseAccessDocument(sound());
    if (!parsed.ok) throw new Error("not sound");
    const { document } = parsed;
    const told = (change: Partial<AccessDocument>) =>
      differenceOf(document, { ...document, ...change }).errors.map(({ path, message }) => `${path} ${message}`);
    const [site, quay, page, news] = document.places as [never, never, AccessDocument["places"][number], never];
    expect(told({ people: document.people.slice(1) })).toEqual([expect.stringContaining("suspended, never taken out")]);
    expect(told({ places: [site, quay, page] })).toEqual([expect.stringContaining("binned and erased in Tesoro")]);
    expect(told({ places: [site, quay, { ...page, title: "Other" }, news] })).toEqual([expect.stringContaining("changed by writing")]);
    expect(told({ places: [site, quay, { ...page, kind: "bulletin" }, news] })).toEqual([expect.stringContaining("is a page")]);
    expect(told({ places: [site, quay, { ...page, state: "scheduled" }, news] })[0]).toMatch(/^\$\.places\[2\]\.state/);
    expect(told({ passes: [] })).toEqual([expect.stringContaining("revoked, never taken out")]);
    expect(told({ passes: document.passes.map((it) => ({ ...it, place: "news" })) })).toEqual([
      expect.stringContaining("stays at its place"),
    ]);
    expect(told({ passes: [...document.passes, { id: "new", place: "page", below: false, revoked: false }] })).toEqual([
      expect.stringContaining("made in Tesoro"),
    ]);
    expect(
      differenceOf(document, { ...document, groups: [], places: [site, quay, { ...page, fences: [] }, news] }).edits.at(-1),
    ).toMatchObject({ kind: "group" });
  });
});

it("edits from outside are closed and in UTC, or refused with their path", () => {
  const grant = { to: { person: "ana" }, abilities: ["revise"], until: "2027-01-01T00:00:00+01:00" };
  expect(parseEdits([{ kind: "grant", place: "page", put: grant } as Edit])).toEqual({
    ok: true,
    edits: [
      { kind: "grant", place: "page", put: { to: { person: "ana" }, abilities: ["read", "revise"], until: "2026-12-31T23:00:00.000Z" } },
    ],
  });
  const nothing = parseEdits([
    { kind: "fence", place: "page" },
    { kind: "grant", place: "page", put: { ...grant, until: "x" } },
  ] as Edit[]);
  expect(nothing.ok ? [] : nothing.errors.map(({ path }) => path)).toEqual(["$.edits[0]", "$.edits[1].put.until"]);
  const fence = { kind: "fence", place: "page", remove: { kind: "read", admits: [] } } as Edit;
  expect(parseEdits([fence])).toEqual({ ok: true, edits: [fence] });
  // People and groups are nobody else under their ids, and a member is one thing.
  const ana = { id: "ana", kind: "member" as const, status: "active" as const };
  const wrong: Edit[] = [
    { kind: "person", person: "ana", remove: ana, put: { ...ana, id: "ben" } },
    { kind: "person", person: "ana", remove: { ...ana, id: "ben" }, put: ana },
    { kind: "group", group: "crew", put: { id: "other", name: "Crew" } },
    { kind: "pass", pass: "one", put: { id: "two", place: "page", below: false, revoked: false } as never },
    { kind: "member", group: "crew", put: { person: "ana", group: "other" } as never },
    { kind: "member", group: "crew", put: {} as never },
    { kind: "member", group: "crew" },
    { kind: "group", group: "crew" },
  ];
  for (const edit of wrong) expect([edit, parseEdits([edit]).ok]).toEqual([edit, false]);
  const right: Edit[] = [
    { kind: "person", person: "ana", remove: ana, put: { ...ana, status: "suspended" } },
    { kind: "group", group: "crew", put: { id: "crew", name: "Crew" } },
    { kind: "member", group: "crew", put: { person: "ana" } },
  ];
  expect(parseEdits(right)).toEqual({ ok: true, edits: right });
});
