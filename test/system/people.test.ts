/**
 * Changes of people and groups attacked over HTTP as a class: as everybody who may not, by every door, with what is there
 * and what is not; after the right was lost, twice, at once, in pieces and out of order; bodies that are wrong inside.
 */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import type { Edit, Person } from "../../src/core/access/model/index.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { doorsOf, seqOf, statuses } from "./doors.ts";

let site: TestSite;
let { signIn, ask, read, preview, apply, make, takeBack } = {} as Awaited<ReturnType<typeof doorsOf>>;
beforeAll(async () => {
  site = await openSite();
  const doors = await doorsOf(site.base, ["dora", "mei", "jonas", "viktor", "maren", "ines"]);
  ({ signIn, ask, read, preview, apply, make, takeBack } = doors);
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

const document = () => inSnapshot((tx) => loadDocument(tx));
const cast = async () => JSON.stringify([(await document()).people, (await document()).groups]);
const personOf = async (id: string): Promise<Person> => (await document()).people.find((it) => it.id === id) as Person;
const changed = async (id: string, change: Partial<Person>): Promise<Edit> => {
  const remove = await personOf(id);
  return { kind: "person", person: id, remove, put: { ...remove, ...change } };
};
const group = (id: string, name = "Night watch"): Edit => ({ kind: "group", group: id, put: { id, name } });
const joins = (id: string, person: string): Edit => ({ kind: "member", group: id, put: { person } });
const leaves = (id: string, person: string): Edit => ({ kind: "member", group: id, remove: { person } });

it("nobody but site keepers changes them, by no door; and what is there is refused in the words of what is not", async () => {
  const before = await cast();
  const ways = (id: string, person: Person): Edit[] => [
    group(id),
    { kind: "group", group: id, remove: { id, name: "Quay Crew" } },
    { kind: "group", group: id, remove: { id, name: "Quay Crew" }, put: { id, name: "Mine" } },
    joins(id, "mei"),
    leaves(id, "jonas"),
    { kind: "person", person: person.id, remove: person, put: { ...person, status: "suspended" } },
    { kind: "person", person: person.id, remove: person, put: { ...person, until: "2026-01-01T00:00:00Z" } },
  ];
  const there = ways("quay", await personOf("jonas"));
  const missing = ways("nonesuch", { ...(await personOf("jonas")), id: "nobody" });
  for (const who of ["public", "dora", "mei", "jonas", "viktor", "maren"]) {
    const doors = (edit: Edit) => [
      preview(who, edit),
      apply(who, [edit], "x"),
      ask(who, "POST", "proposals", { place: "cranes", wishes: [{ principal: { group: "pilots" }, level: 1 }], edits: [edit] }),
    ];
    for (const [i, edit] of there.entries()) {
      const [known, unknown] = [await Promise.all(doors(edit)), await Promise.all(doors(missing[i] as Edit))];
      expect([who, edit.kind, known]).toEqual([who, edit.kind, unknown]);
      expect([who, edit.kind, known.every(({ status }) => status === 401 || status === 403 || status === 404)]).toEqual([
        who,
        edit.kind,
        true,
      ]);
    }
    for (const path of ["leaving", ""]) {
      const [known, unknown] = [await ask(who, "GET", `groups/quay/${path}`), await ask(who, "GET", `groups/nonesuch/${path}`)];
      if (path === "leaving" || who === "public" || who === "dora") expect([who, path, known]).toEqual([who, path, unknown]);
    }
    const groups = (await document()).groups.map((it) => (it.id === "quay" ? { ...it, members: [] } : it));
    const brought = await ask(who, "POST", "document/apply", { document: { ...(await document()), groups }, note: "", seen: "x" });
    expect([who, brought.status]).toEqual([who, who === "public" ? 401 : 403]);
  }
  expect(await cast()).toBe(before);
  // What a site keeper did is nobody else's to take back, nor to know of.
  const done = await make("ines", [group("g-one"), joins("g-one", "mei")]);
  for (const who of ["mei", "maren", "jonas"]) expect(await takeBack(who, seqOf(done))).toEqual(await takeBack(who, 999_999));
  expect((await takeBack("ines", seqOf(done))).status).toBe(200);
  expect((await takeBack("ines", seqOf(done))).status).toBe(409);
});

it("a right that was lost between looking and applying is lost; so is the way back of what was done with it", async () => {
  const root = (await document()).places.find(({ kind }) => kind === "site")?.id ?? "";
  const key: Edit = { kind: "grant", place: root, put: { to: { person: "viktor" }, abilities: ["read", "govern"] } };
  const given = await make("ines", [key]);
  expect(given.status).toBe(200);
  const did = await make("viktor", [group("g-lost"), joins("g-lost", "mei")], "keeps for a day");
  expect(did.status).toBe(200);
  const looked = JSON.parse((await preview("viktor", joins("g-lost", "jonas"))).text).seen;
  expect((await takeBack("ines", seqOf(given))).status).toBe(200);
  const before = await cast();
  expect((await apply("viktor", [joins("g-lost", "jonas")], looked)).status).toBe(403);
  expect((await takeBack("viktor", seqOf(did))).status).toBe(403);
  expect(await cast()).toBe(before);
  expect((await takeBack("ines", seqOf(did))).status).toBe(200);
});

it("whoever is suspended, or whose time is over, is out at once and stays out on the old session when let back in", async () => {
  for (const change of [{ status: "suspended" as const }, { until: "2026-01-01T00:00:00Z" }]) {
    await signIn("jonas");
    expect((await ask("jonas", "GET", "people/mei")).status).toBe(200);
    const out = await make("ines", [await changed("jonas", change)]);
    expect((await ask("jonas", "GET", "people/mei")).status).toBe(401);
    expect((await takeBack("ines", seqOf(out))).status).toBe(200);
    expect((await ask("jonas", "GET", "people/mei")).status).toBe(401);
  }
  // The last one who keeps the site without an end stays.
  const keepers = ["ines", "tomasz"];
  const alone = await make("ines", await Promise.all(keepers.map((id) => changed(id, { status: "suspended" }))));
  expect([alone.status, alone.text]).toEqual([403, expect.stringContaining("no active member who keeps the whole site")]);
});

it("of two at once one wins and the other is told; in pieces, out of order and twice nothing is half done, and the chain holds", async () => {
  expect(statuses(await Promise.all([1, 2, 3].map(() => make("ines", [group("g-two"), joins("g-two", "mei")]))))).toEqual([200, 409, 409]);
  expect(statuses(await Promise.all([1, 2, 3].map(() => make("ines", [joins("g-two", "jonas")]))))).toEqual([200, 409, 409]);
  const suspend = await changed("mei", { status: "suspended" });
  expect(statuses(await Promise.all([1, 2].map(() => make("ines", [suspend]))))).toEqual([200, 409]);
  const before = await cast();
  const unfit: Edit[][] = [
    [joins("g-three", "mei"), group("g-three")],
    [group("g-three"), group("g-three")],
    [joins("g-two", "maren"), { kind: "group", group: "g-two", remove: { id: "g-two", name: "Night watch" } }],
    [joins("g-two", "maren"), joins("g-two", "maren")],
    [group("g-three"), { kind: "member", group: "g-three", put: { group: "g-three" } }],
    [{ kind: "member", group: "quay", put: { group: "operations" } }],
    [suspend],
  ];
  for (const edits of unfit) {
    const answer = await make("ines", edits);
    expect([edits, answer.status === 400 || answer.status === 409]).toEqual([edits, true]);
    expect(answer.text).not.toContain(": :");
  }
  expect(await cast()).toBe(before);
  const { edits } = await read("ines", "groups/g-two/leaving");
  expect((await make("ines", edits)).status).toBe(200);
  expect((await ask("ines", "GET", "groups/g-two")).status).toBe(404);
  expect(await inSnapshot((tx) => verifyLedger(tx))).toMatchObject({ breaks: [] });
});

it("what is wrong inside an accepted body is refused with what and where, and nothing of it is kept", async () => {
  const before = await cast();
  const jonas = await personOf("jonas");
  const person = (put: unknown, remove: unknown = jonas) => ({ kind: "person", person: "jonas", remove, put });
  const made = (put: unknown, id: unknown = "g-four") => ({ kind: "group", group: id, put });
  const member = (put: unknown) => ({ kind: "member", group: "quay", put });
  const wrong: unknown[] = [
    // Another's id, another's name, a kind there is not.
    person({ ...jonas, id: "ines" }),
    person({ ...jonas, status: "suspended" }, { ...jonas, id: "ines" }),
    ...["", " ", "\u200b", "a\nb", "Somebody Else"].map((name) => person({ ...jonas, name })),
    person({ ...jonas, kind: "robot" }),
    person({ ...jonas, until: 7 }),
    ...["tomorrow", "2027-01-01", "-2020-01-01T00:00:00Z", "10000-01-01T00:00:00Z"].map((until) => person({ ...jonas, until })),
    { kind: "person", person: "newbie", put: { ...jonas, id: "newbie" } },
    { kind: "person", person: "jonas", remove: jonas },
    made({ id: "quay", name: "Other" }),
    ...["", " ", "\u2060", "x".repeat(101), ["x"], null].map((name) => made({ id: "g-four", name })),
    ...["__proto__", "a b", "a/b", "x".repeat(65), "-a", "é"].map((id) => made({ id, name: "x" }, id)),
    ...["quays", "cranes", "jonas"].map((id) => made({ id, name: "x" }, id)),
    made({ id: "g-four", name: "x", members: [{ person: "mei" }] }),
    ...[{}, [], null, "mei", { person: "mei", group: "pilots" }, { person: ["mei"] }, { audience: "members" }, { person: "nobody" }].map(
      member,
    ),
    { kind: "member", group: "quay" },
    { kind: "group", group: "quay" },
    { kind: "member", group: "quay", place: "quays", put: { person: "mei" } },
  ];
  for (const edit of wrong) {
    const answers = [await preview("ines", edit as Edit), await apply("ines", [edit as Edit], "x")];
    expect([edit, answers.map(({ status }) => status)]).toEqual([edit, [400, 400]]);
  }
  for (const query of [
    "",
    "kind=x",
    "kind=member&sort=level",
    "kind=member&after=%00",
    "kind=member&after=x",
    `kind=member&words=${"x".repeat(101)}`,
  ])
    expect([query, (await ask("ines", "GET", `people/table?${query}`)).status]).toEqual([query, 400]);
  for (const value of ["1e999", "-5", "2.5", "NaN", "x"]) {
    const after = Buffer.from(JSON.stringify([value, "nobody"])).toString("base64url");
    expect([value, (await ask("ines", "GET", `people/table?kind=member&after=${after}`)).status]).toEqual([value, 200]);
  }
  expect(await cast()).toBe(before);
});
