/** What programs ask and take out, held to the core over the same rules: single decisions, searches, files of every kind. */

import exceljs from "exceljs";
import papaparse from "papaparse";
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { type Cell, decide, OVERSEES, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { type AccessIndex, compile, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { ABILITIES, type Instant, instantAt, NO_PLACE, type Subject, type SubjectNumber } from "../../../core/access/model/index.ts";
import { presentInstant } from "../../clock.ts";
import { evaluate, evaluateAll, searchActions, searchResources, searchSubjects } from "./authzen.ts";
import { exportClasses, exportDocument, exportEffective } from "./exports/access.ts";
import type { ClassFile } from "./exports/classes.ts";

let index: AccessIndex;
let at: Instant;
onDatabase("demo");
beforeAll(async () => {
  index = compile(await exportDocument());
  at = presentInstant();
});

const person = (id: string) => ({ type: "person", id });
const page = (id: string) => ({ type: "page", id });
const numberOf = (subject: Subject) => subjectOf(index, subject)?.number as SubjectNumber;
const cellOf = (subject: Subject, place: string) => decide(index, numberOf(subject), placeOf(index, place)?.number ?? NO_PLACE, at);
const words = (cell: Cell) => ABILITIES.filter((_, i) => cell & (1 << i)).join(" ");

describe("decisions", () => {
  it("are the core's, one by one and many at once, at other instants too; who or what is not there gets a plain no", async () => {
    const pages = index.places.filter(({ place }) => place.kind === "page").slice(0, 40);
    const people = index.subjects.flatMap(({ person: it }) => it ?? []).slice(0, 12);
    const asked = people.flatMap(({ id }, i) =>
      pages.map(({ place }, j) => ({ subject: person(id), action: { name: ABILITIES[(i + j) % 9] as string }, resource: page(place.id) })),
    );
    const expected = asked.map(({ subject, action, resource }) => ({
      decision: (cellOf({ person: subject.id }, resource.id) & (1 << ABILITIES.indexOf(action.name as "read"))) !== 0,
    }));
    expect(await evaluateAll({ evaluations: asked })).toEqual({ evaluations: expected });
    expect(await Promise.all(asked.slice(0, 5).map(evaluate))).toEqual(expected.slice(0, 5));
    const read = { action: { name: "read" }, resource: page("landings") };
    const pass = { ...read, subject: { type: "pass", id: "passlandings" } };
    expect(await evaluate(pass)).toEqual({ decision: true });
    expect(await evaluate({ ...pass, context: { time: "2040-01-01T00:00:00Z" } })).toEqual({ decision: false });
    expect(await evaluate({ ...read, subject: { type: "public", id: "" } })).toEqual({
      decision: (cellOf({ public: true }, "landings") & 1) !== 0,
    });
    for (const odd of [
      { ...pass, action: { name: "fly" } },
      { ...pass, subject: { type: "robot", id: "mei" } },
      { ...pass, subject: person("nobody") },
      { ...pass, resource: { type: "space", id: "landings" } },
    ])
      expect(await evaluate(odd)).toEqual({ decision: false, context: { reason: expect.any(String) } });
    expect(await status(evaluate({ ...pass, context: { time: "soon" } }))).toBe(400);
  });

  it("share what evaluations leave out, and stop where they are told to", async () => {
    const shared = { subject: person("mei"), action: { name: "read" } };
    const evaluations = ["nowhere", "cranes", "nowhere"].map((id) => ({ resource: page(id) }));
    const run = async (evaluations_semantic?: "execute_all" | "deny_on_first_deny" | "permit_on_first_permit") => {
      const answer = await evaluateAll({ ...shared, evaluations, ...(evaluations_semantic ? { options: { evaluations_semantic } } : {}) });
      return "evaluations" in answer ? answer.evaluations.map(({ decision }) => decision) : [];
    };
    expect(await run()).toEqual([false, true, false]);
    expect(await run("deny_on_first_deny")).toEqual([false]);
    expect(await run("permit_on_first_permit")).toEqual([false, true]);
    expect(await evaluateAll({ ...shared, resource: page("cranes") })).toEqual({ decision: true });
    expect(await status(evaluateAll(shared))).toBe(400);
    expect(await status(evaluateAll({ evaluations: [{ resource: page("cranes") }] }))).toBe(400);
  });

  it("are found by who, where and what, page by page", async () => {
    const readers = await searchSubjects({ subject: { type: "user" }, action: { name: "read" }, resource: page("shiftbook") });
    const expected = index.document.people.map(({ id }) => id).filter((id) => cellOf({ person: id }, "shiftbook") & 1);
    expect(readers.results).toEqual(expected.sort().map((id) => ({ type: "user", id })));
    const passes = await searchSubjects({ subject: { type: "pass" }, action: { name: "read" }, resource: page("landings") });
    expect(passes.results.map(({ id }) => id)).toContain("passlandings");
    expect((await searchSubjects({ subject: { type: "person" }, action: { name: "fly" }, resource: page("landings") })).results).toEqual(
      [],
    );

    const query = { subject: { type: "public", id: "" }, action: { name: "read" }, resource: { type: "place" } };
    const open = index.places.filter(({ place }) => cellOf({ public: true }, place.id) & 1).map(({ place }) => place.id);
    const found: string[] = [];
    for (let token = ""; ; ) {
      const { results, page: told } = await searchResources({ ...query, page: { limit: 4, ...(token ? { token } : {}) } });
      expect([told.total, told.count]).toEqual([open.length, results.length]);
      found.push(...results.map(({ id }) => id));
      token = told.next_token;
      if (!token) break;
    }
    expect(found).toEqual(open.sort());
    const far = Buffer.from("~").toString("base64url");
    expect((await searchResources({ ...query, page: { token: far } })).results).toEqual([]);

    const { results } = await searchActions({ subject: person("maren"), resource: page("cranes") });
    expect(results.map(({ name }) => name).sort()).toEqual(
      words(cellOf({ person: "maren" }, "cranes"))
        .split(" ")
        .sort(),
    );
    expect((await searchActions({ subject: person("nobody"), resource: page("cranes") })).results).toEqual([]);
  });
});

type Row = Record<string, string>;
const rowsOf = async (answer: Promise<Response>) => (await (await answer).json()) as Row[];

function grouped(rows: Row[], by: string): Map<string | undefined, Row[]> {
  const found = new Map<string | undefined, Row[]>();
  for (const row of rows) found.set(row[by], [...(found.get(row[by]) ?? []), row]);
  return found;
}

describe("files", () => {
  it("of a space, a subtree and a person hold every pair with something, alike in each format, with what gives it and since when", async () => {
    const inSpace = index.places.filter((place) => index.places[place.space]?.place.id === "quays");
    const rows = await rowsOf(exportEffective({ space: "quays" }, "json"));
    expect(rows).toHaveLength(inSpace.flatMap((place) => index.subjects.filter((it) => decide(index, it.number, place.number, at))).length);
    for (const row of rows) {
      const cell = decide(
        index,
        index.subjectNumbers.get(row.who ?? "") as SubjectNumber,
        placeOf(index, row.place ?? "")?.number ?? NO_PLACE,
        at,
      );
      expect([row.abilities, row.oversight]).toEqual([words(cell), cell & OVERSEES ? "yes" : ""]);
      if (cell & SET_OF_CELL) expect(row.through).not.toBe("");
      if (row.through?.includes("(on")) expect(row.since).toMatch(/^\d{4}-\d\d-\d\dT/);
    }
    const branch = { subtree: "berthplan" };
    const json = await rowsOf(exportEffective(branch, "json"));
    const csv = papaparse.parse<Row>(await (await exportEffective(branch, "csv")).text(), { header: true, skipEmptyLines: true }).data;
    expect(csv).toEqual(json);
    const book = new exceljs.Workbook();
    await book.xlsx.load(await (await exportEffective(branch, "xlsx")).arrayBuffer());
    const sheet = book.worksheets[0]?.getSheetValues() as string[][];
    expect(sheet.slice(2).map((line) => Array.from({ length: 12 }, (_, i) => line[i + 1] ?? ""))).toEqual(
      json.map((row) => Object.values(row)),
    );
    // Everywhere one person has something; drafts of their own among it.
    const own = await rowsOf(exportEffective({ person: "greta" }, "json"));
    expect(own.map(({ place }) => place).sort()).toEqual(
      index.places
        .filter(({ place }) => cellOf({ person: "greta" }, place.id))
        .map(({ place }) => place.id)
        .sort(),
    );
    expect(own.some(({ through }) => through?.includes("owns the draft"))).toBe(true);
    const asks = [
      exportEffective({ space: "cranes" }, "csv"),
      exportEffective({ space: "no" }, "csv"),
      exportEffective({ person: "no" }, "csv"),
    ];
    expect(await Promise.all(asks.map((it) => status(it)))).toEqual([400, 404, 404]);
  });

  it("in class form add up to the whole matrix, now and at an earlier instant", async () => {
    for (const asOf of [undefined, new Date(at - 30 * 86_400_000).toISOString()]) {
      const then = asOf ? instantAt(Date.parse(asOf)) : at;
      const whole = compile(await exportDocument(asOf));
      const file = (name: ClassFile) => rowsOf(exportClasses(name, "json", asOf));
      const [cells, places, people, exceptions] = [
        await file("cells"),
        await file("places"),
        await file("people"),
        await file("exceptions"),
      ];
      const inPlaceClass = grouped(places, "place class");
      const inPersonClass = grouped(people, "person class");
      const told = new Map<string, string>();
      for (const cell of cells) {
        const [spots, who] = [inPlaceClass.get(cell["place class"]) ?? [], inPersonClass.get(cell["person class"]) ?? []];
        expect([String(spots.length), String(who.length)]).toEqual([cell.places, cell.people]);
        for (const row of who) for (const { place } of spots) told.set(`${row.who} ${place}`, `${cell.abilities}|${cell.oversight}`);
      }
      for (const { who, place, abilities, oversight } of exceptions) told.set(`${who} ${place}`, `${abilities}|${oversight}`);
      const differing = whole.subjects.flatMap(({ key, number, pass }) =>
        whole.places.filter(({ place, number: where }) => {
          const cell = decide(whole, number, where, then);
          // A pass holder is like the public wherever the pass does not reach.
          const said = told.get(`${key} ${place.id}`) ?? (pass ? told.get(`public ${place.id}`) : undefined) ?? "|";
          return said !== `${words(cell)}|${cell & OVERSEES ? "yes" : ""}`;
        }),
      );
      expect(differing).toEqual([]);
    }
    expect(await status(exportDocument("2200-01-01T00:00:00Z"))).toBe(400);
    expect(await status(exportDocument("1999-01-01T00:00:00Z"))).toBe(400);
    expect(await status(exportDocument("yesterday"))).toBe(400);
  });
});
