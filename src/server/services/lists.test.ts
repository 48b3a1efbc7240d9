/** A site too large to be sent whole: grid, ledger, search and people, held to the rules place by place and entry by entry. */

import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../test/database.ts";
import type { GridFilter } from "../../contracts/grid.ts";
import { decide, OVERSEES, SET_OF_CELL, tellsOfOthers } from "../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, isActive } from "../../core/access/index/index.ts";
import { type Instant, READ } from "../../core/access/model/index.ts";
import { Dice } from "../../demo/large/dice.ts";
import { sized } from "../../demo/large/document.ts";
import { loadLarge } from "../../demo/large/load.ts";
import { type Access, readAccess, subjectFor } from "../access/current.ts";
import { database, inSnapshot } from "../db/client.ts";
import { ledger } from "../db/schema/index.ts";
import { readGrid } from "./grid/grid.ts";
import { readLedger } from "./ledger/ledgerView.ts";
import { findPeople } from "./people/findPeople.ts";
import { readFrontDoor } from "./reading/frontDoor.ts";
import { readReaderPage } from "./reading/reading.ts";
import { findPlaces, searchPages } from "./search/search.ts";

let access: Access;
let index: AccessIndex;
let at: Instant;
let keeper: CompiledSubject;
/** Somebody who administers a part of the site, and somebody who only reads. */
let some: CompiledSubject;
let few: CompiledSubject;

const cell = (who: CompiledSubject, place: CompiledPlace) => decide(index, who.number, place.number, at);
const sees = (who: CompiledSubject, place: CompiledPlace) => (cell(who, place) & (READ | OVERSEES)) !== 0;
const knows = (who: CompiledSubject, place: CompiledPlace) => tellsOfOthers(cell(who, place));
const idOf = (who: CompiledSubject) => who.person?.id ?? "";

onDatabase("schema");
beforeAll(async () => {
  await loadLarge(sized(3_000));
  access = await inSnapshot((tx) => readAccess(tx));
  ({ index, at } = access);
  keeper = subjectFor(access, "p0");
  const members = index.subjects.filter((it) => it.class === "members" && isActive(it, at));
  const known = (who: CompiledSubject) => index.places.filter((place) => knows(who, place)).length;
  some = members.find((it) => known(it) > 20 && known(it) < index.places.length / 2) as CompiledSubject;
  few = members.find((it) => known(it) === 0 && index.places.some((place) => sees(it, place))) as CompiledSubject;
});

describe("the grid", () => {
  const isOutside = (place: CompiledPlace) =>
    index.subjects.some((it) => it.class !== "members" && isActive(it, at) && (cell(it, place) & READ) !== 0);
  const expected: Record<string, (who: CompiledSubject, place: CompiledPlace) => boolean> = {
    outside: (who, place) => knows(who, place) && isOutside(place),
    rules: (who, place) => knows(who, place) && place.grants.length + place.fences.length + (place.fresh ? 1 : 0) > 0,
    fenced: (who, place) => knows(who, place) && place.fences.length > 0,
    kept: knows,
    draft: (_, { place }) => place.kind !== "site" && place.state === "draft",
    words: (_, { place }) => (place.title ?? "").toLowerCase().includes("plan"),
  };
  it("filters on the server over everything somebody may see, with what is above, and counts it", async () => {
    for (const who of [keeper, some, few]) {
      for (const [name, fits] of Object.entries(expected)) {
        const filter = (name === "draft" ? { state: name } : name === "words" ? { words: "Plan" } : { show: name }) as GridFilter;
        const grid = await readGrid(idOf(who), { columns: ["public"], filter });
        if (grid.whole) continue;
        const wanted = index.places.filter((place) => sees(who, place) && fits(who, place)).map(({ place }) => place.id);
        expect([name, grid.fit, grid.unshown]).toEqual([name, wanted.length, 0]);
        expect(grid.rows.flatMap((row) => (row.fits ? [row.id] : [])).sort()).toEqual(wanted.sort());
        for (const row of grid.rows) if (row.kind !== "site") expect(grid.rows[row.parent]?.depth).toBe(row.depth - 1);
      }
    }
  });

  it("sends what is opened and says how much is not sent; every place is in one of the two", async () => {
    const dice = new Dice(7);
    const opened: string[] = [];
    for (let i = 0; i < 12; i++) {
      const grid = await readGrid("p0", { columns: [], opened });
      expect(grid.rows.length + grid.rows.reduce((sum, row) => sum + row.unsent, 0)).toBe(grid.places);
      expect(grid.places).toBe(index.places.length);
      const closed = grid.rows.filter((row) => row.unsent > 0);
      if (closed.length === 0) break;
      opened.push(dice.pick(closed).id);
    }
  });

  it("shows in a cell what all in its column have, how many have more, and whether any oversees", async () => {
    const group = index.document.groups[3]?.id ?? "";
    const pass = index.document.passes.find((it) => !it.revoked)?.id ?? "";
    const columns = ["public", "guests", "members", `group:${group}`, `person:${idOf(some)}`, `pass:${pass}`];
    const inGroup = index.principalNumbers.get(`group:${group}`) as number;
    const active = index.subjects.filter((it) => it.person && isActive(it, at));
    const behind = [
      index.subjects.slice(0, 1),
      active.filter((it) => it.class === "guests"),
      active.filter((it) => it.class === "members"),
      active.filter((it) => it.matches.has(inGroup)),
      [some],
      index.subjects.filter((it) => it.pass?.id === pass),
    ];
    const dice = new Dice(11);
    const opened = Array.from({ length: 30 }, () => dice.pick(index.places).place.id);
    const { rows } = await readGrid("p0", { columns, opened });
    for (const row of rows) {
      const place = index.places[index.placeNumbers.get(row.id) as number] as CompiledPlace;
      const told = behind.map((subjects) => {
        const sets = subjects.map((it) => cell(it, place));
        const set = sets.reduce((common, it) => common & it, SET_OF_CELL);
        const more = sets.filter((it) => (it & SET_OF_CELL) !== set).length;
        return { set, more, oversight: sets.some((it) => (it & OVERSEES) !== 0) };
      });
      expect([row.id, row.cells]).toMatchObject([row.id, told]);
    }
    // Whoever may not know others is shown no cell, and no pass.
    const grid = await readGrid(idOf(few), { columns, opened });
    expect(grid.rows.every((row) => row.cells === null)).toBe(true);
    expect(grid.columns.map(({ key }) => key)).not.toContain(`pass:${pass}`);
    expect(
      (await readGrid("p0", { columns: ["person:nobody", "robot", "group:none", "member+none"] })).columns.map(({ key }) => key),
    ).toEqual(["group:none"]);
  });
});

describe("the ledger", () => {
  it("is filtered and paged over every entry somebody may see, and no other", async () => {
    const rows = await database().select().from(ledger);
    const page = rows.find(({ places, act }) => act === "rules" && places.length > 0)?.places[0] ?? "";
    const maker = rows.find(({ act }) => act === "rules")?.maker ?? "";
    const mayKnow = (who: CompiledSubject, places: readonly string[]) =>
      places.some((id) => knows(who, index.places[index.placeNumbers.get(id) as number] as CompiledPlace));
    for (const who of [keeper, some, few]) {
      for (const filter of [
        {},
        { act: "rules" },
        { act: "found" },
        { act: "nothing" },
        { who: maker },
        { place: page },
        { place: "nowhere" },
      ]) {
        const wanted = rows.filter(
          ({ act, maker: by, places }) =>
            (who === keeper || by === idOf(who) || mayKnow(who, places)) &&
            (!("act" in filter) || act === filter.act) &&
            (!("who" in filter) || by === filter.who) &&
            (!("place" in filter) || places.includes(filter.place as string)),
        );
        const seen: number[] = [];
        let before = "";
        for (let pages = 0; pages < 4; pages++) {
          const told = await readLedger(idOf(who), { ...filter, ...(before ? { before } : {}) });
          expect([filter, told.total]).toEqual([filter, "place" in filter && wanted.length === 0 ? 0 : wanted.length]);
          seen.push(...told.lines.map(({ seq }) => seq));
          if (told.next === null) break;
          before = String(told.next);
        }
        const newest = wanted.map(({ seq }) => seq as number).sort((a, b) => b - a);
        expect(seen).toEqual(newest.slice(0, seen.length));
        expect(seen.length).toBe(Math.min(newest.length, 160));
      }
    }
  });
});

describe("reading", () => {
  it("leads through the part one is in and counts the rest: everything open in a space is listed or counted", async () => {
    for (const who of [null, idOf(few), "p0"]) {
      const me = subjectFor(access, who);
      const door = await readFrontDoor({ me: who, viewpoint: null });
      for (const { address } of door.spaces.slice(0, 3)) {
        const slug = address.split("/").at(-1) ?? "";
        const space = index.places[index.placeNumbers.get(slug) as number] as CompiledPlace;
        const open = index.places.filter(
          (it) => it.space === space.number && it.place.kind === "page" && it.place.state === "live" && cell(me, it) & READ,
        );
        const deep = open.at(-1) as CompiledPlace;
        const page = await readReaderPage({ me: who, viewpoint: null }, slug, deep?.place.id ?? null);
        const ids = page.navigation.map((it) => it.address.split("-").at(-1));
        expect(page.navigation.length + page.more).toBe(open.length);
        expect(new Set(ids).size).toBe(ids.length);
        if (deep) expect(page.navigation.filter(({ here }) => here)).toHaveLength(1);
        for (const id of ids) expect(open.some(({ place }) => place.id === id)).toBe(true);
      }
    }
  });
});

describe("finding", () => {
  it("finds what may be read, page by page, and places by the beginnings of their titles; never all, never anything else", async () => {
    const word = "plan";
    for (const who of [null, idOf(few), "p0"]) {
      const me = subjectFor(access, who);
      const first = await searchPages(who, word);
      const found = new Set<string>();
      for (let page = 1; page <= first.pages; page++) for (const { id } of (await searchPages(who, word, page)).hits) found.add(id);
      expect(found.size).toBe(first.total);
      for (const id of found) expect(cell(me, index.places[index.placeNumbers.get(id) as number] as CompiledPlace) & READ).not.toBe(0);
    }
    expect(await searchPages("p0", "  ")).toMatchObject({ total: 0, hits: [] });
    expect((await searchPages("p0", word, 9_999)).hits).toEqual([]);
    const places = await findPlaces("p0", word);
    expect(places.length).toBeGreaterThan(0);
    for (const { title } of places) expect(title.toLowerCase()).toContain(word);
    expect((await findPlaces(idOf(few), "")).length).toBeLessThanOrEqual(12);
  });

  it("finds people and groups by name, those that begin with it first, and no more than a dozen or so", async () => {
    const name = some.person?.name ?? "";
    const [given = "", family = ""] = name.split(" ");
    expect((await findPeople(name)).people.map(({ id }) => id)).toContain(idOf(some));
    for (const words of [given, family, given.slice(0, 2)]) {
      const { people } = await findPeople(words);
      expect(people.length).toBeLessThan(30);
      const rank = (it: string) => (it.toLowerCase().startsWith(words.toLowerCase()) ? 0 : 1);
      const ranks = people.map((it) => rank(it.name));
      expect(ranks).toEqual([...ranks].sort());
    }
    const all = await findPeople("");
    expect(all.people.length + all.groups.length).toBeLessThan(60);
  });
});
