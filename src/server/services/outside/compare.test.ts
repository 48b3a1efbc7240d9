/** Two viewpoints compared: exactly the places where they differ, for whoever may see the rules there, and for nobody else. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { effectiveSet } from "../../../core/access/decide/index.ts";
import { type CompiledSubject, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { compareViewpoints, compareWhy, exportCompared } from "./compare.ts";

let access: Access;
onDatabase("demo");
beforeAll(async () => {
  access = await inSnapshot((tx) => readAccess(tx));
}, 120_000);

const differ = async (asker: string, a: string, b: string, at?: string) => {
  const found = await compareViewpoints(asker, { a, b, ...(at ? { at } : {}) });
  return { ...found, at: found.rows.flatMap(({ id, sets }) => (sets ? [id] : [])).sort() };
};

/** A plain reading: where two people of the document have another effective set. */
function plain(asker: string, a: object, b: object): string[] {
  const of = (it: object) => subjectOf(access.index, it as { public: true }) as CompiledSubject;
  const [one, other] = [of(a), of(b)];
  const me = subjectFor(access, asker);
  return access.index.places
    .filter((place) => effectiveSet(access.index, one, place, access.at) !== effectiveSet(access.index, other, place, access.at))
    .filter((place) => mayKnowOthers(access, me, place))
    .map(({ place }) => place.id)
    .sort();
}

it("are just the places where what they have differs, for a site keeper and for a keeper of one space", async () => {
  const pairs: [string, object, string, object][] = [
    ["public", { public: true }, "person:dora", { person: "dora" }],
    ["person:jonas", { person: "jonas" }, "person:maren", { person: "maren" }],
    ["pass:passlandings", { pass: "passlandings" }, "public", { public: true }],
    ["person:mei", { person: "mei" }, "person:greer", { person: "greer" }],
  ];
  for (const [a, one, b, other] of pairs) {
    const found = await differ("ines", a, b);
    expect([a, b, found.at]).toEqual([a, b, plain("ines", one, other)]);
    expect(found.differ).toBe(found.at.length);
  }
  expect((await differ("maren", "public", "person:jonas")).at).toEqual(plain("maren", { public: true }, { person: "jonas" }));
  expect((await differ("mei", "public", "members")).rows).toEqual([]);
});

it("go for imagined people: in no group, in one, in several; nobody keeps them", async () => {
  const before = JSON.stringify(access.index.document.people.length);
  const found = await compareViewpoints("ines", { a: "members", b: "member+pilots+press" });
  expect(found.names).toEqual(["Any member", "Any member in Pilots and Press Office"]);
  const inBoth = new Set(found.rows.flatMap(({ id, sets }) => (sets ? [id] : [])));
  for (const group of ["pilots", "press"])
    for (const id of (await differ("ines", "members", `group:${group}`)).at) expect(inBoth).toContain(id);
  expect((await differ("ines", "members", "members")).at).toEqual([]);
  expect((await compareViewpoints("ines", { a: "guests", b: "guest+agents" })).names).toEqual([
    "Any guest",
    "Any guest in Shipping Agents",
  ]);
  expect(JSON.stringify((await inSnapshot((tx) => readAccess(tx))).index.document.people.length)).toBe(before);
});

it("say why, and as of a date; what one may not see is as though it were not there", async () => {
  const why = await compareWhy("ines", { a: "public", b: "members", place: "cranes" });
  expect(why.sides.map(({ answer }) => answer.split(" ").slice(0, 4).join(" "))).toEqual(["The public cannot read", "Any member can read"]);
  for (const place of ["patrols", "nowhere"]) expect(await status(compareWhy("maren", { a: "public", b: "members", place }))).toBe(404);
  for (const eyes of ["person:nobody", "pass:nothing", "group:nogroup", "member+nogroup"])
    expect([eyes, await status(compareViewpoints("ines", { a: eyes, b: "public" }))]).toEqual([eyes, 404]);
  // A pass of a place that one does not administer is none.
  expect(await status(compareViewpoints("maren", { a: "pass:passlandings", b: "public" }))).toBe(404);
  const at = new Date(Date.now() - 300 * 86_400_000).toISOString();
  expect(await status(compareViewpoints("maren", { a: "public", b: "members", at }))).toBe(403);
  const then = await differ("ines", "public", "members", at);
  expect(then.at).not.toContain("crowdwatch");
  expect((await differ("ines", "public", "person:maren")).at.length).toBeGreaterThan(3);
  expect(await status(compareViewpoints("ines", { a: "public", b: "members", at: "1990-01-01T00:00:00Z" }))).toBe(400);
  const file = await (await exportCompared("ines", { a: "public", b: "members", format: "csv" })).text();
  expect(file.split("\n")[0]).toContain("Any member");
});
