/** What programs use: tokens, AuthZEN, exports, the description; and that two servers never answer by older rules. */
import { spawnSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import exceljs from "exceljs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type DemoSite, openDemoSite } from "../../cli/demoSite.ts";
import { freePort } from "../../cli/postgres.ts";
import { type Served, serve } from "../../cli/serving.ts";
import { decide, OVERSEES, SET_OF_CELL } from "../../src/core/access/decide/index.ts";
import { parseAccessDocument } from "../../src/core/access/exchange/index.ts";
import { type AccessIndex, compile, placeOf, subjectOf } from "../../src/core/access/index/index.ts";
import { ABILITIES, instantAt, NO_PLACE, type Subject, type SubjectNumber } from "../../src/core/access/model/index.ts";
import { signInDemo } from "./signIn.ts";

let site: DemoSite;
let second: Served;
let keeper = "";
let token = "";

beforeAll(async () => {
  site = await openDemoSite();
  second = await serve(site.databaseUrl, "127.0.0.1", await freePort(), process.env.TESORO_SECRET ?? "");
  keeper = await signInDemo(site.base, "ines");
  token = (await (await asKeeper("/api/tokens", { name: "Audit", scopes: ["decisions", "exports"] })).json()).token;
});
afterAll(async () => {
  await second?.stop();
  await site?.close();
});

const asKeeper = (path: string, body?: unknown, method = body === undefined ? "GET" : "POST", base = site.base) =>
  fetch(base + path, {
    method,
    headers: { cookie: keeper, origin: base, "content-type": "application/json" },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

const asProgram = (path: string, body?: unknown, headers: Record<string, string> = {}, base = site.base) =>
  fetch(base + path, {
    method: body === undefined ? "GET" : "POST",
    headers: { authorization: `Bearer ${token}`, "content-type": "application/json", ...headers },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

const person = (id: string) => ({ type: "person", id });
const page = (id: string) => ({ type: "page", id });

const numberOf = (index: AccessIndex, subject: Subject) => subjectOf(index, subject)?.number as SubjectNumber;

async function exportedIndex() {
  const parsed = parseAccessDocument(await (await asProgram("/access/v1/document")).json());
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
  return compile(parsed.document);
}

describe("tokens", () => {
  it("are shown once, reach only as far as their scopes, and open nothing once withdrawn or for others than keepers", async () => {
    const made = await (await asKeeper("/api/tokens", { name: "Decisions only", scopes: ["decisions"] })).json();
    const listed = await (await asKeeper("/api/tokens")).text();
    expect(listed).toContain("Decisions only");
    expect(listed).not.toContain(made.token);
    const own = { authorization: `Bearer ${made.token}` };
    const ask = { subject: person("mei"), action: { name: "read" }, resource: page("cranes") };
    expect((await asProgram("/access/v1/evaluation", ask, own)).status).toBe(200);
    expect((await asProgram("/access/v1/document", undefined, own)).status).toBe(403);
    expect((await asKeeper(`/api/tokens/${made.id}`, undefined, "DELETE")).status).toBe(200);
    const after = await asProgram("/access/v1/evaluation", ask, own);
    expect([after.status, after.headers.get("www-authenticate")]).toEqual([401, 'Bearer realm="tesoro"']);
    expect((await fetch(`${site.base}/access/v1/document`)).status).toBe(401);
    const member = await signInDemo(site.base, "mei");
    expect((await fetch(`${site.base}/access/v1/document`, { headers: { cookie: member } })).status).toBe(403);
    expect((await fetch(`${site.base}/api/tokens`, { headers: { cookie: member } })).status).toBe(403);
    expect((await asKeeper("/access/v1/document")).status).toBe(200);
  });
});

describe("AuthZEN", () => {
  it("decides as the core does over the exported document, one by one, many at once, and by search", async () => {
    const index = await exportedIndex();
    const at = instantAt(Date.now());
    const pages = index.places.filter(({ place }) => place.kind === "page").slice(0, 40);
    const people = index.subjects.filter((subject) => subject.person).slice(0, 12);
    const asked = people.flatMap((subject, i) =>
      pages.map(({ place }, j) => ({
        subject: person(subject.person?.id ?? ""),
        action: { name: ABILITIES[(i + j) % 9] },
        resource: page(place.id),
      })),
    );
    const { evaluations } = await (await asProgram("/access/v1/evaluations", { evaluations: asked })).json();
    const expected = asked.map(({ subject, action, resource }) => {
      const cell = decide(index, numberOf(index, { person: subject.id }), placeOf(index, resource.id)?.number ?? NO_PLACE, at);
      return { decision: (cell & (1 << ABILITIES.indexOf(action.name as "read"))) !== 0 };
    });
    expect(evaluations).toEqual(expected);
    const [one] = asked;
    const single = await asProgram("/access/v1/evaluation", one, { "x-request-id": "q-1" });
    expect([single.headers.get("x-request-id"), await single.json()]).toEqual(["q-1", expected[0]]);

    const place = pages[3]?.place.id ?? "";
    const search = async (kind: string, body: object) => (await (await asProgram(`/access/v1/search/${kind}`, body)).json()).results;
    const cellOf = (id: string) => decide(index, numberOf(index, { person: id }), placeOf(index, place)?.number ?? NO_PLACE, at);
    const readers = await search("subject", { subject: { type: "person" }, action: { name: "read" }, resource: page(place) });
    expect(readers.map(({ id }: { id: string }) => id)).toEqual(
      index.document.people
        .map(({ id }) => id)
        .filter((id) => cellOf(id) & 1)
        .sort(),
    );
    const actions = await search("action", { subject: person("maren"), resource: page("cranes") });
    expect(actions).toContainEqual({ name: "admit" });
    const first = await (
      await asProgram("/access/v1/search/resource", {
        subject: { type: "public", id: "public" },
        action: { name: "read" },
        resource: { type: "place" },
        page: { limit: 3 },
      })
    ).json();
    const anyone = numberOf(index, { public: true });
    const open = index.places
      .filter((it) => decide(index, anyone, it.number, at) & 1)
      .map(({ place: it }) => it.id)
      .sort();
    expect([first.results.map(({ id }: { id: string }) => id), first.page.total]).toEqual([open.slice(0, 3), open.length]);
    const next = await search("resource", {
      subject: { type: "public", id: "public" },
      action: { name: "read" },
      resource: { type: "place" },
      page: { token: first.page.next_token, limit: 1000 },
    });
    expect(next.map(({ id }: { id: string }) => id)).toEqual(open.slice(3));
  });

  it("shares what evaluations leave out, stops where it is told to, and says plainly what is wrong", async () => {
    const shared = { subject: person("mei"), action: { name: "read" } };
    const list = ["nowhere", "cranes", "nowhere"].map((id) => ({ resource: page(id) }));
    const run = async (semantic: string) =>
      (
        await (
          await asProgram("/access/v1/evaluations", { ...shared, evaluations: list, options: { evaluations_semantic: semantic } })
        ).json()
      ).evaluations.map(({ decision }: { decision: boolean }) => decision);
    expect([await run("execute_all"), await run("deny_on_first_deny"), await run("permit_on_first_permit")]).toEqual([
      [false, true, false],
      [false],
      [false, true],
    ]);
    const wrong = async (body: unknown) => {
      const answer = await asProgram("/access/v1/evaluation", body);
      return [answer.status, (await answer.json()).error?.message];
    };
    expect(await wrong({ ...shared })).toEqual([400, expect.stringContaining("resource")]);
    expect(await wrong({ ...shared, resource: page("cranes"), context: { time: "soon" } })).toEqual([
      400,
      expect.stringContaining("context.time"),
    ]);
    const odd = await asProgram("/access/v1/evaluation", { ...shared, action: { name: "fly" }, resource: page("cranes"), elsewhere: 1 });
    expect([odd.status, (await odd.json()).decision]).toEqual([200, false]);
    const where = await (await fetch(`${site.base}/.well-known/authzen-configuration`)).json();
    expect(where.access_evaluation_endpoint).toMatch(/\/access\/v1\/evaluation$/);
  });
});

describe("exports", () => {
  it("of a space, a subtree and a person are every pair with something, in each format, as the command's matrix has it", async () => {
    const index = await exportedIndex();
    const rows = async (query: string) =>
      (await (await asProgram(`/access/v1/export/effective?${query}&format=json`)).json()) as Record<string, string>[];
    const ofSpace = await rows("of=space&id=quays");
    const at = instantAt(Date.now());
    const inSpace = index.places.filter((place) => index.places[place.space]?.place.id === "quays");
    const expected = inSpace.flatMap(({ number: place }) =>
      index.subjects.filter((subject) => decide(index, subject.number, place, at) !== 0),
    );
    expect(ofSpace).toHaveLength(expected.length);
    for (const row of ofSpace) {
      const cell = decide(
        index,
        index.subjectNumbers.get(row.who ?? "") as SubjectNumber,
        placeOf(index, row.place ?? "")?.number ?? NO_PLACE,
        at,
      );
      expect(row.abilities).toBe(ABILITIES.filter((_, i) => cell & (1 << i)).join(" "));
      expect(row.oversight).toBe(cell & OVERSEES ? "yes" : "");
      if (cell & SET_OF_CELL) expect(row.through).not.toBe("");
      if (row.through?.includes("(on")) expect(row.since).toMatch(/^\d{4}-\d\d-\d\dT/);
    }
    const csv = await (await asProgram("/access/v1/export/effective?of=person&id=dora&format=csv")).text();
    expect(csv.split("\r\n")[0]).toBe("who,name,kind,place,title,path,state,level,abilities,oversight,through,since");
    const book = new exceljs.Workbook();
    await book.xlsx.load(await (await asProgram("/access/v1/export/effective?of=subtree&id=cranes&format=xlsx")).arrayBuffer());
    expect(book.worksheets[0]?.rowCount).toBe((await rows("of=subtree&id=cranes")).length + 1);
    expect((await asProgram("/access/v1/export/effective?of=space&id=cranes&format=csv")).status).toBe(400);
    expect((await asProgram("/access/v1/export/effective?of=space&id=nowhere&format=csv")).status).toBe(404);
    // The document stands on its own: the command answers from it without a server.
    const file = join(tmpdir(), `tesoro-export-${process.pid}.json`);
    writeFileSync(file, await (await asProgram("/access/v1/document")).text());
    const command = spawnSync(process.execPath, ["cli/bootstrap.mjs", "access", "idle", "--document", file], { encoding: "utf8" });
    expect([command.status, JSON.parse(command.stdout).length]).toEqual([0, expect.any(Number)]);
  });

  it("in class form adds up to the whole matrix", async () => {
    const index = await exportedIndex();
    const at = instantAt(Date.now());
    const file = async (name: string) =>
      (await (await asProgram(`/access/v1/export/classes?file=${name}&format=json`)).json()) as Record<string, string>[];
    const [cells, places, people, exceptions] = [await file("cells"), await file("places"), await file("people"), await file("exceptions")];
    const members = (list: Record<string, string>[], by: string, field: string) => {
      const found = new Map<string, string[]>();
      for (const row of list) found.set(row[by] ?? "", [...(found.get(row[by] ?? "") ?? []), row[field] ?? ""]);
      return found;
    };
    const inPlaceClass = members(places, "place class", "place");
    const inPersonClass = members(people, "person class", "who");
    const told = new Map<string, string>();
    for (const cell of cells) {
      expect([inPlaceClass.get(cell["place class"] ?? "")?.length, inPersonClass.get(cell["person class"] ?? "")?.length]).toEqual([
        Number(cell.places),
        Number(cell.people),
      ]);
      for (const who of inPersonClass.get(cell["person class"] ?? "") ?? [])
        for (const place of inPlaceClass.get(cell["place class"] ?? "") ?? [])
          told.set(`${who} ${place}`, `${cell.abilities}|${cell.oversight}`);
    }
    for (const { who, place, abilities, oversight } of exceptions) told.set(`${who} ${place}`, `${abilities}|${oversight}`);
    const differing = index.subjects.flatMap((subject) =>
      index.places.filter((place) => {
        const cell = decide(index, subject.number, place.number, at);
        const known = told.get(`${subject.key} ${place.place.id}`) ?? "|";
        const isPassElsewhere = subject.pass !== null && !told.has(`${subject.key} ${place.place.id}`);
        // A pass holder is like the public wherever the pass does not reach.
        const like = isPassElsewhere ? (told.get(`public ${place.place.id}`) ?? "|") : known;
        return like !== `${ABILITIES.filter((_, i) => cell & (1 << i)).join(" ")}|${cell & OVERSEES ? "yes" : ""}`;
      }),
    );
    expect(differing).toEqual([]);
  });

  it("describes every endpoint from the code, bodies and parameters included", async () => {
    const described = await (await fetch(`${site.base}/access/v1/openapi.json`)).json();
    expect(described.openapi).toMatch(/^3\.1/);
    expect(Object.keys(described.paths)).toEqual(
      expect.arrayContaining(["/api/grid", "/api/places/{id}", "/access/v1/evaluation", "/access/v1/export/effective"]),
    );
    const evaluation = described.paths["/access/v1/evaluation"].post;
    const schema = described.components.schemas[evaluation.requestBody.content["application/json"].schema.$ref.split("/").at(-1)];
    expect(schema.required).toEqual(expect.arrayContaining(["subject", "action", "resource"]));
    for (const operations of Object.values(described.paths) as Record<
      string,
      { requestBody?: { content: Record<string, { schema: { $ref: string } }> } }
    >[])
      for (const { requestBody } of Object.values(operations)) {
        const ref = requestBody?.content["application/json"]?.schema.$ref.split("/").at(-1);
        if (ref) expect(described.components.schemas).toHaveProperty(ref);
      }
  });
});

describe("two servers on one database", () => {
  it("give no stale answer in 10,000 while rules change", async () => {
    const question = { subject: person("mei"), action: { name: "revise" }, resource: page("cranes") };
    const rule = { to: { person: "mei" }, abilities: ["read", "revise"] };
    /** Changes committed, and begun: an answer must fit one of the states in between. Even: without the grant. */
    let committed = 0;
    let begun = 0;
    let asked = 0;
    let stale = 0;
    const change = async () => {
      const edits = [{ kind: "grant", place: "cranes", [begun % 2 === 0 ? "put" : "remove"]: rule }];
      const preview = await (await asKeeper("/api/preview", { edits, columns: [] })).json();
      begun++;
      const applied = await asKeeper("/api/changes", { edits, note: "", seen: preview.seen, reason: "Load." });
      expect(applied.status).toBe(200);
      committed++;
    };
    const reader = async (base: string) => {
      while (asked < 10_000) {
        asked++;
        const from = committed;
        const { decision } = await (await asProgram("/access/v1/evaluation", question, {}, base)).json();
        const fits = Array.from({ length: begun - from + 1 }, (_, i) => (from + i) % 2 === 1);
        if (!fits.includes(decision)) stale++;
      }
    };
    const writing = (async () => {
      while (asked < 10_000) {
        await change();
        await new Promise((later) => setTimeout(later, 60));
      }
    })();
    const readers = [second.address, second.address, second.address, second.address, site.base, site.base].map(reader);
    await Promise.all([...readers, writing]);
    expect(committed).toBeGreaterThan(50);
    expect([asked >= 10_000, stale]).toEqual([true, 0]);
  });
});
