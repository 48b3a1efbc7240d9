/** What programs use: tokens, AuthZEN, exports, the description; and that two servers never answer by older rules. */
import { spawnSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { freePort } from "../../cli/postgres.ts";
import { type Served, serve } from "../../cli/serving.ts";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { quickly } from "./quickly.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
let second: Served;
let keeper = "";
let token = "";

beforeAll(async () => {
  site = await openSite();
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

describe("over HTTP", () => {
  it("a question carries its number back, a wrong one says what is wrong, files come in each format, and where all that is, is told", async () => {
    const question = { subject: person("mei"), action: { name: "read" }, resource: page("cranes") };
    const single = await asProgram("/access/v1/evaluation", question, { "x-request-id": "q-1" });
    expect([single.headers.get("x-request-id"), await single.json()]).toEqual(["q-1", { decision: true }]);
    const wrong = await asProgram("/access/v1/evaluation", { ...question, resource: undefined });
    expect([wrong.status, (await wrong.json()).error.message]).toEqual([400, expect.stringContaining("resource")]);
    for (const [format, type] of [
      ["csv", "text/csv"],
      ["json", "application/json"],
      ["xlsx", "application/vnd.openxmlformats"],
    ] as const) {
      const file = await asProgram(`/access/v1/export/effective?of=person&id=dora&format=${format}`);
      expect([file.status, file.headers.get("content-type")]).toEqual([200, expect.stringContaining(type)]);
      expect((await file.arrayBuffer()).byteLength).toBeGreaterThan(100);
    }
    expect((await asProgram("/access/v1/export/effective?of=space&id=nowhere&format=csv")).status).toBe(404);
    const where = await (await fetch(`${site.base}/.well-known/authzen-configuration`)).json();
    expect(where.access_evaluation_endpoint).toMatch(/\/access\/v1\/evaluation$/);
    // The document stands on its own: the command answers from it without a server.
    const file = join(tmpdir(), `tesoro-export-${process.pid}.json`);
    writeFileSync(file, await (await asProgram("/access/v1/document")).text());
    const command = spawnSync(process.execPath, ["cli/bootstrap.mjs", "access", "idle", "--document", file], { encoding: "utf8" });
    expect([command.status, JSON.parse(command.stdout).length]).toEqual([0, expect.any(Number)]);
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
    const asProgramDoes = { authorization: `Bearer ${token}`, "content-type": "application/json" };
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
        const { text } = await quickly(`${base}/access/v1/evaluation`, {
          method: "POST",
          headers: asProgramDoes,
          body: JSON.stringify(question),
        });
        const { decision } = JSON.parse(text);
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
