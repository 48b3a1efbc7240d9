/** People and groups in tables and by themselves: all of them once, what they can do counted as one by one, and no more told than one may know. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { canonical } from "../../../../test/reference/canonical.ts";
import { status } from "../../../../test/status.ts";
import { PEOPLE_SORTS, type PeopleTableQuery, type PersonRow } from "../../../contracts/people.ts";
import { decide, OVERSEES, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { checkDocument } from "../../../core/access/exchange/index.ts";
import { type CompiledPlace, type CompiledSubject, isActive, peopleOf, subjectOf } from "../../../core/access/index/index.ts";
import { type AccessDocument, applyEdits, type Edit, levelWithin } from "../../../core/access/model/index.ts";
import { sized } from "../../../demo/large/document.ts";
import { loadLarge } from "../../../demo/large/load.ts";
import { type Access, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { compareGroups } from "./comparing.ts";
import { readGroup, readGroups } from "./groups.ts";
import { leaveGroup } from "./leaving.ts";
import { readPerson } from "./person.ts";
import { readPeople } from "./table.ts";

let access: Access;
/** A member who keeps no site and may know of rules somewhere. */
let keeper: CompiledSubject;

onDatabase("schema");
beforeAll(async () => {
  await loadLarge(sized(1_500));
  access = await inSnapshot((tx) => readAccess(tx));
  const { index, at } = access;
  const spaces = index.places.filter(({ place }) => place.kind === "space");
  const found = index.subjects.find(
    (it) =>
      it.person?.kind === "member" &&
      isActive(it, at) &&
      it.person.id !== "p0" &&
      spaces.some((space) => decide(index, it.number, space.number, at) & OVERSEES),
  );
  expect(found).toBeDefined();
  keeper = found as CompiledSubject;
});

async function all(asker: string, query: Omit<PeopleTableQuery, "after">): Promise<{ rows: PersonRow[]; total: number }> {
  const rows: PersonRow[] = [];
  let after: string | undefined;
  let total = 0;
  do {
    const page = await readPeople(asker, { ...query, ...(after === undefined ? {} : { after }) });
    rows.push(...page.rows);
    total = page.total;
    after = page.next ?? undefined;
  } while (after !== undefined);
  return { rows, total };
}

/** On how many pages somebody has which level, one by one; the bin aside. */
function countedLevels(who: CompiledSubject, places: readonly CompiledPlace[]): number[] {
  const { index, at } = access;
  const levels = [0, 0, 0, 0, 0, 0];
  for (const place of places) {
    const { kind, state } = place.place;
    if ((kind !== "page" && kind !== "bulletin") || state === "binned" || index.places[place.space]?.place.state === "binned") continue;
    const level = levelWithin(decide(index, who.number, place.number, at) & SET_OF_CELL);
    levels[level] = (levels[level] ?? 0) + 1;
  }
  return levels;
}

it("holds everybody once, in the order of each column, with what fits the filter", async () => {
  const { index, at } = access;
  for (const kind of ["member", "guest"] as const) {
    const ids = index.document.people.filter((it) => it.kind === kind).map(({ id }) => id);
    expect(ids.length).toBeGreaterThan(kind === "member" ? 100 : 0);
    for (const sort of PEOPLE_SORTS) {
      const [up, down] = [await all("p0", { kind, sort, order: "up" }), await all("p0", { kind, sort, order: "down" })];
      expect(up.rows.map(({ id }) => id).sort()).toEqual([...ids].sort());
      expect([up.total, up.rows.map(({ id }) => id)]).toEqual([ids.length, down.rows.map(({ id }) => id).reverse()]);
      const values = up.rows.map(
        (row) =>
          ({ name: 0, groups: row.inGroups, owns: row.owns ?? 0, until: row.until === null ? Infinity : Date.parse(row.until) })[sort],
      );
      expect(values).toEqual([...values].sort((a, b) => a - b || 0));
    }
  }
  const group = index.document.groups.find(({ id }) => peopleOf(index, { group: id }, at).length > 5)?.id ?? "";
  const inGroup = [...(await all("p0", { kind: "member", group })).rows, ...(await all("p0", { kind: "guest", group })).rows];
  expect(inGroup.map(({ id }) => id).sort()).toEqual(
    peopleOf(index, { group }, at)
      .map(({ person }) => person?.id)
      .sort(),
  );
  const out = (await all("p0", { kind: "member", state: "out" })).rows;
  expect(out.every(({ state }) => state !== "active")).toBe(true);
  const name = index.document.people.find(({ id }) => id === "p7")?.name ?? "";
  expect((await all("p0", { kind: "member", words: name.toUpperCase() })).rows.some(({ id }) => id === "p7")).toBe(true);
});

it("counts levels as they are one by one, over the site and by space; to others only where they may know", async () => {
  const { index } = access;
  const rows = (await readPeople("p0", { kind: "member", sort: "owns" })).rows.slice(0, 12);
  for (const row of rows) {
    const who = subjectOf(index, { person: row.id }) as CompiledSubject;
    expect([row.id, Object.values(row.levels ?? {})]).toEqual([row.id, countedLevels(who, index.places)]);
  }
  for (const asker of ["p0", keeper.person?.id ?? ""]) {
    const me = subjectFor(access, asker);
    for (const { id } of rows.slice(0, 4)) {
      const who = subjectOf(index, { person: id }) as CompiledSubject;
      const slip = await readPerson(asker, id);
      for (const { space, levels } of slip.reach) {
        const inside = index.places.filter((place) => index.places[place.space]?.place.id === space.id && mayKnowOthers(access, me, place));
        expect([id, space.id, Object.values(levels)]).toEqual([id, space.id, countedLevels(who, inside)]);
      }
      if (asker !== "p0") expect([slip.state, slip.until, slip.whole, slip.owns.hidden]).toEqual([null, null, null, 0]);
    }
  }
});

it("tells members who is here and in which groups, and nothing that is for site keepers", async () => {
  const asker = keeper.person?.id ?? "";
  const { rows } = await readPeople(asker, { kind: "member" });
  expect(rows.every((row) => row.levels === null && row.owns === null && row.state === null && row.until === null)).toBe(true);
  expect(await status(readPeople(asker, { kind: "member", state: "out" }))).toBe(403);
  expect(await status(readPeople(asker, { kind: "member", sort: "until" }))).toBe(403);
  expect(await status(readPerson(asker, "nobody"))).toBe(404);
  // Rules of groups are told where one may see rules, and nowhere else.
  const me = subjectFor(access, asker);
  const { groups, mayChange } = await readGroups(asker);
  expect(mayChange).toBe(false);
  let withheld = 0;
  for (const { id } of groups.slice(0, 40)) {
    const slip = await readGroup(asker, id);
    const granted = access.index.places.filter(({ place }) => place.grants.some(({ to }) => "group" in to && to.group === id));
    const told = granted.filter((place) => mayKnowOthers(access, me, place)).map(({ place }) => place.id);
    expect([...new Set(slip.granted.map(({ place }) => place.id))].sort()).toEqual(told.sort());
    withheld += granted.length - told.length;
  }
  expect(withheld).toBeGreaterThan(0);
});

it("a group goes with everything that names it, and nothing else does; whoever may not is told the same of any", async () => {
  const asker = keeper.person?.id ?? "";
  const { document } = access.index;
  expect([await status(leaveGroup(asker, "nonesuch")), await status(leaveGroup(asker, document.groups[0]?.id ?? ""))]).toEqual([403, 403]);
  let [grants, fences, nested] = [0, 0, 0];
  for (const { id } of document.groups.slice(0, 60)) {
    const pledged = document.pledges.some(({ who }) => "group" in who && who.group === id);
    const leaving = await leaveGroup("p0", id).catch(() => null);
    if (!leaving) {
      expect([id, pledged]).toEqual([id, true]);
      continue;
    }
    expect(leaving.sentences.length).toBe(leaving.edits.length);
    const applied = applyEdits(document, leaving.edits);
    if (!applied.ok) throw new Error(JSON.stringify(applied.conflicts));
    expect(checkDocument(applied.document)).toEqual([]);
    // Of all else nothing is other than it was.
    const bare = (of: AccessDocument) => canonical(JSON.parse(JSON.stringify(of).replaceAll(`{"group":"${id}"}`, "null")));
    const kept = structuredClone(document);
    kept.groups = kept.groups
      .filter((it) => it.id !== id)
      .map((it) => ({ ...it, members: it.members.filter((member) => !("group" in member && member.group === id)) }));
    for (const place of kept.places) {
      const named = (it: object) => "group" in it && it.group === id;
      grants += place.grants.filter(({ to }) => named(to)).length;
      fences += place.fences.filter(({ admits }) => admits.some(named)).length;
      place.grants = place.grants.filter(({ to }) => !named(to));
      place.fences = place.fences.map((fence) => ({ ...fence, admits: fence.admits.filter((it) => !named(it)) }));
    }
    nested += document.groups.filter(({ members }) => members.some((it) => "group" in it && it.group === id)).length;
    expect(bare(applied.document)).toEqual(bare(kept));
  }
  expect([grants > 0, fences > 0, nested > 0]).toEqual([true, true, true]);
});

it("shows a group that was made, filled, renamed and taken away, and somebody who was suspended", async () => {
  const does = (edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: "p0", edits, act: "rules", note: "", reason: "" }));
  const bare = { id: "g-new", name: "Night watch" };
  await does([
    { kind: "group", group: "g-new", put: bare },
    { kind: "member", group: "g-new", put: { person: "p7" } },
  ]);
  expect(await readGroup("p0", "g-new")).toMatchObject({ name: "Night watch", people: 1, members: [{ id: "p7" }], whole: bare });
  expect((await readPerson("p0", "p7")).groups.map(({ id }) => id)).toContain("g-new");
  const p7 = access.index.document.people.find(({ id }) => id === "p7");
  if (!p7) throw new Error("p7 is not there");
  await does([{ kind: "person", person: "p7", remove: p7, put: { ...p7, status: "suspended" } }]);
  expect((await readGroup("p0", "g-new")).notes).toEqual(["Nobody is in it."]);
  expect((await all("p0", { kind: "member", state: "out" })).rows.some(({ id, state }) => id === "p7" && state === "suspended")).toBe(true);
  await does([
    { kind: "member", group: "g-new", remove: { person: "p7" } },
    { kind: "group", group: "g-new", remove: bare },
  ]);
  expect(await status(readGroup("p0", "g-new"))).toBe(404);
});

it("two groups compared: who is in one alone, and rules of places one may not know of told to nobody", async () => {
  const now = await inSnapshot((tx) => readAccess(tx));
  const { groups } = now.index.document;
  for (const [a, b] of [
    [groups[0], groups[1]],
    [groups[2], groups[3]],
  ]) {
    if (!a || !b) return expect.unreachable();
    const compared = await compareGroups("p0", a.id, b.id);
    const [inA, inB] = [a, b].map(({ id }) => new Set(peopleOf(now.index, { group: id }, now.at).map(({ person }) => person?.id ?? "")));
    const alone = (one?: Set<string>, other?: Set<string>) => [...(one ?? [])].filter((id) => !other?.has(id)).sort();
    expect([compared.here.count, compared.there.count]).toEqual([alone(inA, inB).length, alone(inB, inA).length]);
    expect(compared.both).toBe([...(inA ?? [])].filter((id) => inB?.has(id)).length);
    if (compared.here.count < 100) expect(compared.here.people.map(({ id }) => id).sort()).toEqual(alone(inA, inB));
    const back = await compareGroups("p0", b.id, a.id);
    expect([back.here, back.there]).toEqual([compared.there, compared.here]);
  }
  expect(await status(compareGroups("p0", groups[0]?.id ?? "", "nowhere"))).toBe(404);
});
