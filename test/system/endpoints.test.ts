/**
 * Every endpoint, tried over HTTP as the public, a guest, a member and a keeper. A new endpoint that is not in the table
 * fails; so does one whose declared policy is not the one the table says.
 */
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type DemoSite, openDemoSite } from "../../cli/demoSite.ts";
import { signInDemo } from "./signIn.ts";

let site: DemoSite;
const cookies: Record<string, string> = { public: "" };
/** Number of the demo's entry that was taken back. */
let takenBack = "";

beforeAll(async () => {
  site = await openDemoSite();
  for (const person of ["dora", "mei", "maren", "ines"]) cookies[person] = await signInDemo(site.base, person);
  const ledger = await (await call({ method: "GET", path: "ledger?act=rules" }, "maren")).json();
  takenBack = String(ledger.lines.find((line: { takenBackBy: number | null }) => line.takenBackBy !== null).seq);
});
afterAll(() => site?.close());

const form = (fields: Record<string, string>, headers: Record<string, string> = {}) =>
  fetch(`${site.base}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { origin: site.base, ...headers },
    body: new URLSearchParams(fields),
  });

interface Try {
  method: "GET" | "POST" | "DELETE";
  path: string;
  body?: unknown;
  /** Status expected for the public, a guest, a member without rights there, the space's keeper. */
  public: number;
  dora: number;
  mei: number;
  maren: number;
}

const grant = { kind: "grant", place: "cranes", put: { to: { group: "pilots" }, abilities: ["read"] } };
const body = { schema: 1, content: [{ type: "paragraph" }] };
const members = { public: 401, dora: 403 };

/** By file under src/pages/api. */
const TABLE: Record<string, Try[]> = {
  "changes.ts": [{ method: "POST", path: "changes", body: { edits: [grant], note: "", seen: "stale" }, ...members, mei: 403, maren: 409 }],
  "document/apply.ts": [
    { method: "POST", path: "document/apply", body: { document: {}, note: "", seen: "" }, ...members, mei: 403, maren: 403 },
  ],
  "document/plan.ts": [{ method: "POST", path: "document/plan", body: { document: {} }, ...members, mei: 403, maren: 403 }],
  "people.ts": [{ method: "GET", path: "people", ...members, mei: 200, maren: 200 }],
  "search.ts": [{ method: "GET", path: "search?q=crane", public: 200, dora: 200, mei: 200, maren: 200 }],
  "tokens/[id].ts": [{ method: "DELETE", path: "tokens/none", ...members, mei: 403, maren: 403 }],
  "tokens/index.ts": [
    { method: "GET", path: "tokens", ...members, mei: 403, maren: 403 },
    { method: "POST", path: "tokens", body: { name: "x", scopes: ["exports"] }, ...members, mei: 403, maren: 403 },
  ],
  "find.ts": [{ method: "GET", path: "find?q=crane", public: 401, dora: 200, mei: 200, maren: 200 }],
  "grid.ts": [{ method: "GET", path: "grid?columns=public", ...members, mei: 200, maren: 200 }],
  "ledger/[seq].ts": [
    { method: "GET", path: "ledger/TAKEN", ...members, mei: 404, maren: 409 },
    { method: "POST", path: "ledger/TAKEN", body: { note: "", seen: "x" }, ...members, mei: 404, maren: 409 },
    { method: "GET", path: "ledger/999999", ...members, mei: 404, maren: 404 },
  ],
  "ledger/check.ts": [{ method: "GET", path: "ledger/check", ...members, mei: 403, maren: 403 }],
  "ledger/index.ts": [{ method: "GET", path: "ledger", ...members, mei: 200, maren: 200 }],
  "pages/[id]/buffer.ts": [
    {
      method: "POST",
      path: "pages/cranes/buffer",
      body: { title: "x", body, base: "0.1", tab: "t", rev: 1, spent: [] },
      public: 401,
      dora: 404,
      mei: 403,
      maren: 200,
    },
    {
      method: "DELETE",
      path: "pages/cranes/buffer",
      body: { spent: [{ tab: "t", rev: 1 }] },
      public: 401,
      dora: 404,
      mei: 403,
      maren: 200,
    },
  ],
  "pages/[id]/index.ts": [
    { method: "GET", path: "pages/cranes", public: 401, dora: 404, mei: 403, maren: 200 },
    {
      method: "POST",
      path: "pages/cranes",
      body: { title: "x", body, base: "0.1", note: "", spent: [] },
      public: 401,
      dora: 404,
      mei: 403,
      maren: 409,
    },
  ],
  "pages/[id]/publish.ts": [
    { method: "GET", path: "pages/craneaccident/publish", public: 401, dora: 404, mei: 404, maren: 200 },
    {
      method: "POST",
      path: "pages/craneaccident/publish",
      body: { note: "", version: "9.9", seen: "" },
      public: 401,
      dora: 404,
      mei: 404,
      maren: 409,
    },
  ],
  "pages/[id]/schedule.ts": [
    {
      method: "POST",
      path: "pages/craneaccident/schedule",
      body: { at: "2020-01-01T00:00:00Z", note: "" },
      public: 401,
      dora: 400,
      mei: 400,
      maren: 400,
    },
    {
      method: "POST",
      path: "pages/craneaccident/schedule",
      body: { at: "2028-01-01T00:00:00Z", note: "" },
      public: 401,
      dora: 404,
      mei: 404,
      maren: 200,
    },
    // Another time while it is scheduled, then no time any more.
    {
      method: "POST",
      path: "pages/craneaccident/schedule",
      body: { at: "2028-02-01T00:00:00Z", note: "" },
      public: 401,
      dora: 404,
      mei: 404,
      maren: 200,
    },
    { method: "DELETE", path: "pages/craneaccident/schedule", public: 401, dora: 404, mei: 404, maren: 200 },
    { method: "DELETE", path: "pages/craneaccident/schedule", public: 401, dora: 404, mei: 404, maren: 400 },
  ],
  "pages/index.ts": [
    // A title of blanks, zero-width ones too, is none.
    {
      method: "POST",
      path: "pages",
      body: { parent: "quays", as: "page", title: " \u200b\u00a0\u2800" },
      public: 401,
      dora: 400,
      mei: 400,
      maren: 400,
    },
    { method: "POST", path: "pages", body: { parent: "quays", as: "page", title: "x" }, public: 401, dora: 404, mei: 403, maren: 200 },
  ],
  "places/[id]/step-in.ts": [
    { method: "POST", path: "places/cranes/step-in", body: { reason: "x" }, ...members, mei: 403, maren: 403 },
    { method: "POST", path: "places/patrols/step-in", body: { reason: "x" }, ...members, mei: 404, maren: 404 },
  ],
  "places/[id]/index.ts": [
    { method: "GET", path: "places/cranes", ...members, mei: 200, maren: 200 },
    { method: "GET", path: "places/patrols", ...members, mei: 404, maren: 404 },
  ],
  "preview.ts": [{ method: "POST", path: "preview", body: { edits: [grant], columns: ["public"] }, ...members, mei: 403, maren: 200 }],
  "proposals.ts": [
    {
      method: "POST",
      path: "proposals",
      body: { place: "cranes", wishes: [{ principal: { group: "pilots" }, level: 1 }], edits: [] },
      ...members,
      mei: 403,
      maren: 200,
    },
  ],
  "why.ts": [
    { method: "GET", path: "why?place=cranes&column=public", public: 401, dora: 404, mei: 403, maren: 200 },
    { method: "GET", path: "why?place=berthrequests&column=person:dora", public: 401, dora: 200, mei: 403, maren: 200 },
  ],
};

const call = (it: Pick<Try, "method" | "path" | "body">, who: string, headers: Record<string, string> = {}) =>
  fetch(`${site.base}/api/${it.path.replace("TAKEN", takenBack)}`, {
    method: it.method,
    headers: { cookie: cookies[who] ?? "", origin: site.base, "content-type": "application/json", ...headers },
    ...(it.body === undefined ? {} : { body: JSON.stringify(it.body) }),
  });

const folder = fileURLToPath(new URL("../../src/pages/api/", import.meta.url));
const files = readdirSync(folder, { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".ts"));

describe("endpoints", () => {
  it("are all in the table, and all go through the wrapper with a declared policy", () => {
    expect(files.sort()).toEqual(Object.keys(TABLE).sort());
    for (const file of files) {
      const source = readFileSync(folder + file, "utf8");
      const exported = source.match(/export const (GET|POST|PUT|DELETE|PATCH|ALL)/g)?.length ?? 0;
      expect([file, source.match(/= endpoint\(\{\s*policy: "/g)?.length]).toEqual([file, exported]);
      const tried = new Set(TABLE[file]?.map((it) => it.method));
      expect([file, tried.size]).toEqual([file, exported]);
    }
  });

  it("under /access/v1/ all ask for a token with a scope, or a site keeper", async () => {
    const standards = fileURLToPath(new URL("../../src/pages/access/v1/", import.meta.url));
    const listed = readdirSync(standards, { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".ts"));
    for (const file of listed.filter((name) => name !== "openapi.json.ts")) {
      const source = readFileSync(standards + file, "utf8");
      const exported = source.match(/export const (GET|POST|PUT|DELETE|PATCH|ALL)/g) ?? [];
      expect([file, source.match(/= standard\(\{\s*scope: "/g)?.length]).toEqual([file, exported.length]);
      const method = exported[0]?.endsWith("POST") ? "POST" : "GET";
      const ask = (who: string) =>
        fetch(`${site.base}/access/v1/${file.replace(/\.ts$/, "")}`, {
          method,
          headers: { cookie: cookies[who] ?? "", origin: site.base },
          ...(method === "POST" ? { body: "{}" } : {}),
        }).then(({ status }) => status);
      expect([file, await ask("public"), await ask("dora"), await ask("maren")]).toEqual([file, 401, 403, 403]);
    }
  });

  it.each(Object.entries(TABLE).flatMap(([file, tries]) => tries.map((it) => [`${it.method} ${it.path}`, file, it] as const)))(
    "%s (%s)",
    async (_, __, it) => {
      for (const who of ["public", "dora", "mei", "maren"] as const) {
        const answer = await call(it, who);
        const text = await answer.text();
        expect([who, answer.status, text.slice(0, 200)]).toEqual([who, it[who], text.slice(0, 200)]);
        if (answer.status >= 400)
          expect(JSON.parse(text)).toMatchObject({ error: { code: expect.any(String), message: expect.any(String) } });
      }
    },
  );

  it("refuse what a page asks that was opened by somebody else than who is signed in by now, and then do nothing", async () => {
    for (const [file, tries] of Object.entries(TABLE)) {
      const [it] = tries.filter(({ maren }) => maren === 200);
      if (!it) continue;
      const answer = await call(it, "maren", { "tesoro-for": "ines" });
      expect([file, answer.status, (await answer.json()).error.code]).toEqual([file, 409, "otherPerson"]);
      expect(
        (await call({ ...it, method: "GET", path: "grid?columns=public", body: undefined }, "maren", { "tesoro-for": "maren" })).status,
      ).toBe(200);
    }
  });

  it("take no ill-formed text, no number beyond reason and no depth, wherever it stands, and never break over it", async () => {
    const kept = { title: "x", body, base: "0.1", tab: "t", rev: 1, spent: [] as unknown[] };
    const deep = JSON.parse(`${'{"type":"blockquote","content":['.repeat(400)}{"type":"paragraph"}${"]}".repeat(400)}`);
    const odd: [string, unknown][] = [
      ["pages/cranes/buffer", { ...kept, title: "a\u0000b" }],
      ["pages/cranes/buffer", { ...kept, title: "\ud800" }],
      ["pages/cranes/buffer", { ...kept, rev: 1e300 }],
      ["pages/cranes/buffer", { ...kept, rev: -1 }],
      ["pages/cranes/buffer", { ...kept, tab: "../x" }],
      ["pages/cranes/buffer", { ...kept, spent: Array.from({ length: 101 }, () => ({ tab: "t", rev: 1 })) }],
      ["pages/cranes/buffer", { ...kept, spent: [null] }],
      ["pages/cranes/buffer", { ...kept, body: { schema: 1, content: [deep] } }],
      [
        "pages/cranes/buffer",
        { ...kept, body: { schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text: "\u0000" }] }] } },
      ],
      ["pages/cranes/buffer", { ...kept, body: { schema: 1, content: [{ type: "heading", attrs: { level: {} } }] } }],
      ["pages/cranes/buffer", { ...kept, body: { schema: 1, content: [{ type: "paragraph", attrs: { constructor: 2 } }] } }],
      ["pages/cranes/buffer", { ...kept, body: JSON.parse('{"schema":1,"content":[{"type":"paragraph","attrs":{"__proto__":1}}]}') }],
      ["pages/cranes/buffer", { ...kept, body: { schema: 1, content: { length: 3 } } }],
      ["pages/cranes", { title: "x", body: { schema: 1, content: [null] }, base: "0.1", note: "", spent: [] }],
      ["pages/cranes", { title: "\u200b", body, base: "0.1", note: "", spent: [] }],
      ["changes", { edits: [grant], note: "\ud800", seen: "x" }],
      ["preview", { edits: [{ ...grant, place: "a\u0000" }], columns: [] }],
    ];
    for (const [path, sent] of odd) {
      const answer = await call({ method: "POST", path, body: sent }, "maren");
      expect([path, JSON.stringify(sent).slice(0, 120), answer.status]).toEqual([path, JSON.stringify(sent).slice(0, 120), 400]);
    }
    expect((await call({ method: "GET", path: "people?q=%00%f0" }, "maren")).status).toBeLessThan(500);
  });

  it("refuse unknown fields, wrong types, broken JSON, other origins and other people's ids, with what and where", async () => {
    const preview = { method: "POST" as const, path: "preview" };
    const ask = async (body: unknown, headers?: Record<string, string>) => {
      const answer = await call({ ...preview, body }, "maren", headers);
      return [answer.status, (await answer.json()).error.message] as const;
    };
    expect(await ask({ edits: [], columns: [], extra: 1 })).toEqual([400, expect.stringContaining("extra")]);
    expect(await ask({ edits: [{ ...grant, place: 7 }], columns: [] })).toEqual([400, expect.stringContaining("place")]);
    expect(await ask({ edits: [{ kind: "start", place: "x", parent: "quays", as: "page", owner: "ines" }], columns: [] })).toEqual([
      400,
      expect.anything(),
    ]);
    expect(await ask({ edits: Array.from({ length: 501 }, () => grant), columns: [] })).toEqual([400, expect.stringContaining("500")]);
    const odd = (put: unknown) => ask({ edits: [{ kind: "grant", place: "cranes", put }], columns: [] });
    expect(await odd({ to: {}, abilities: ["read"] })).toEqual([400, expect.stringContaining("exactly one of")]);
    expect(await odd({ to: { group: "pilots", person: "mei" }, abilities: ["read"] })).toEqual([
      400,
      expect.stringContaining("exactly one of"),
    ]);
    expect(await odd({ to: { group: "pilots" }, abilities: [] })).toEqual([400, expect.stringContaining("no abilities")]);
    expect(await odd({ to: { group: "pilots" }, abilities: ["read"], until: "2027-01-01" })).toEqual([
      400,
      expect.stringContaining("offset"),
    ]);
    expect(await ask({ edits: [{ kind: "fence", place: "cranes" }], columns: [] })).toEqual([400, expect.stringContaining("neither")]);
    expect(await ask({ edits: [], columns: [] }, { origin: "http://elsewhere.invalid" })).toEqual([403, expect.anything()]);
    const broken = await fetch(`${site.base}/api/preview`, {
      method: "POST",
      headers: { cookie: cookies.maren ?? "", origin: site.base },
      body: "{",
    });
    expect(broken.status).toBe(400);
  });
});

describe("sign-in", () => {
  it("sets a cookie scripts cannot read, leads only to this site, and is limited", async () => {
    const answer = await form({ person: "mei" });
    expect(answer.headers.getSetCookie().every((cookie) => /httponly/i.test(cookie) && /samesite/i.test(cookie))).toBe(true);
    const away = await fetch(`${site.base}/sign-in?back=//elsewhere.invalid`, {
      method: "POST",
      redirect: "manual",
      headers: { origin: site.base },
      body: new URLSearchParams({ person: "mei" }),
    });
    expect(away.headers.get("location")).toBe("/");
    expect((await form({ person: "tomasz" })).status).toBe(404);
    const statuses: number[] = [];
    for (let i = 0; i < 10; i++) statuses.push((await form({ email: "maren@brinehaven.invalid", password: `wrong ${i}` })).status);
    expect(statuses.slice(0, 5)).toEqual([401, 401, 401, 401, 401]);
    expect(statuses.at(-1)).toBe(429);
  });

  it("does not tell a hidden page from a missing one, byte for byte", async () => {
    const page = async (path: string) => {
      const answer = await fetch(site.base + path, { redirect: "manual" });
      return [answer.status, (await answer.text()).replaceAll(path, "").replaceAll(encodeURIComponent(path), "")];
    };
    const missing = await page("/read/port-security/no-such-page-nosuchpage");
    expect(missing[0]).toBe(404);
    expect(await page("/read/port-security/patrol-routes-winter-patrols")).toEqual(missing);
    expect(await page("/read/port-security/wrong-slug-patrols")).toEqual(missing);
    expect(await page("/read/port-security")).toEqual(missing);
  });
});
