/** Registers: every rule with whoever made it, when and why, whom it lets in and keeps out as a plain reading has it; as of a date. */
import { setTimeout } from "node:timers/promises";
import Papa from "papaparse";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import type { RegisterPage, RegisterQuery, RegisterRow } from "../../../contracts/registers.ts";
import { effectiveSet } from "../../../core/access/decide/index.ts";
import { type CompiledPlace, isActive, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, READ } from "../../../core/access/model/index.ts";
import { readAccess } from "../../access/current.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { stepIn } from "../slip/steppingIn.ts";
import { exportRegister, readRegister } from "./registers.ts";

onDatabase("demo");

const change = (maker: string, note: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note, reason: "As asked." }));
const all = async (who: string, query: RegisterQuery): Promise<RegisterRow[]> => (await readRegister(who, query)).rows;
const rowOf = (rows: readonly RegisterRow[], id: string) => rows.find(({ place }) => place.id === id);

it("hold every place with rules of its own, each rule with its entry, and whom the place lets in and keeps out beside the one above", async () => {
  await change("maren", "For the insurer.", { kind: "grant", place: "mooring", put: { to: { person: "greer" }, abilities: ["read"] } });
  const rows = await all("ines", { of: "rules" });
  const { index, at } = await inSnapshot((tx) => readAccess(tx));
  const ruled = index.places.filter(
    ({ place, fresh }) => fresh || place.grants.length + place.fences.length > 0 || (place.kind === "space" && place.ceilings),
  );
  expect(rows.map(({ place }) => place.id).sort()).toEqual(ruled.map(({ place }) => place.id).sort());
  expect(rowOf(rows, "mooring")?.rules.at(-1)).toMatchObject({
    text: "Greer Dalziel is Reader",
    entry: { who: "Maren Lüders", note: "For the insurer. — As asked." },
  });
  expect(rowOf(rows, "nightkeys")?.rules.map(({ text, entry }) => [text, entry?.who])).toContainEqual([
    "starts fresh: what is granted above stops here",
    "Viktor Stoyanov",
  ]);
  const readers = (place: CompiledPlace | undefined) =>
    new Set(
      index.subjects
        .filter((it) => it.pass === null && (!it.person || isActive(it, at)) && place && effectiveSet(index, it, place, at) & READ)
        .map(({ key }) => key),
    );
  const count = (keys: Iterable<string>) => {
    const found = { outsiders: 0, guests: 0, members: 0 };
    for (const key of keys) found[index.subjects.find((it) => it.key === key)?.class ?? "members"]++;
    return found;
  };
  for (const row of rows.filter(({ place }) => place.kind === "page")) {
    const place = placeOf(index, row.place.id);
    const parent = index.places[place?.parent ?? -1];
    const [here, above] = [readers(place), parent?.place.kind === "site" ? new Set<string>() : readers(parent)];
    // Whoever owns a draft has it alone, and is told in its slip.
    if (place?.unpublished) continue;
    expect([row.place.id, row.letsIn, row.keepsOut]).toEqual([
      row.place.id,
      count([...here].filter((key) => !above.has(key))),
      count([...above].filter((key) => !here.has(key))),
    ]);
  }
});

it("are filtered and sorted, hold fences, groups and steppings in, and tell a keeper of a space of what they keep alone", async () => {
  const fences = await all("ines", { of: "fences", sort: "out" });
  const kept = fences.map(({ keepsOut }) => keepsOut?.members ?? 0);
  expect(kept).toEqual([...kept].sort((a, b) => b - a));
  expect(rowOf(fences, "welcome")?.rules.map(({ text }) => text)).toEqual([expect.stringMatching(/^write fence: .*Press Office/)]);
  const groups = await all("ines", { of: "groups", words: "shipping agents" });
  expect(groups.map(({ who, place, rules }) => [who, place.id, rules.map(({ text }) => text)])).toEqual([
    ["Shipping Agents", "berthrequests", ["Shipping Agents are Commenter"]],
  ]);
  const people = await all("ines", { of: "rules", names: "person", space: "inquiries" });
  expect(people.map(({ place }) => place.id)).toContain("inquiry13");
  const when = await all("ines", { of: "rules", sort: "when" });
  expect(when[0]?.place.id).toBe("mooring");
  await stepIn("ines", "patrols", "A patrol was missed.").catch(() => stepIn("ines", "nightkeys", "A patrol was missed."));
  expect((await all("ines", { of: "steps" }))[0]).toMatchObject({ who: "Ines Carvalho", rules: [{ text: "A patrol was missed." }] });
  for (const of of ["rules", "fences", "groups", "steps"] as const) {
    const mine: RegisterPage = await readRegister("maren", { of });
    expect(mine.spaces.every(({ id }) => id === "quays")).toBe(true);
    expect(JSON.stringify(mine)).not.toMatch(/Patrol|Keys for the night watch|Inquiry/);
    expect((await readRegister("mei", { of })).total).toBe(0);
  }
  expect((await readRegister("maren", { of: "rules", space: "portsecurity" })).total).toBe(0);
});

it("are as they were on a date, and go out as files whose cells begin no formula", async () => {
  const before = await all("ines", { of: "rules" });
  await setTimeout(5);
  const at = new Date().toISOString();
  await setTimeout(5);
  await change("ines", "=cmd|x", { kind: "grant", place: "boarding", put: { to: { audience: "public" }, abilities: ["read"] } });
  expect(await all("ines", { of: "rules", at })).toEqual(before);
  expect(rowOf(await all("ines", { of: "rules" }), "boarding")?.letsIn).toMatchObject({ outsiders: 1 });
  const text = await (await exportRegister("ines", { of: "rules", format: "csv" })).text();
  const lines = Papa.parse<string[]>(text.trim()).data;
  const line = lines.find((it) => it[1] === "boarding");
  expect([line?.[4], line?.[5], line?.[8]?.startsWith("=")]).toEqual(["the public are Reader", "Ines Carvalho", false]);
  expect(new Set(lines.slice(1).map((it) => it[1]))).toEqual(new Set((await all("ines", { of: "rules" })).map(({ place }) => place.id)));
});
