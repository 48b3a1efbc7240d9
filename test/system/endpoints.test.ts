/**
 * Every endpoint, tried over HTTP as the public, a guest, a member and a keeper. A new endpoint that is not declared, or
 * not tried, fails.
 */
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { answerSchemas, SCHEMAS } from "../../cli/schemas.ts";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { CONTRACTS } from "../../src/contracts/all.ts";
import { EDIT_BODIES } from "../../src/contracts/rules.ts";
import { EDITS } from "./edits.ts";
import { signInDemo } from "./signIn.ts";
import { body, grant, TRIES, type Try } from "./tries.ts";

let site: TestSite;
const cookies: Record<string, string> = { public: "" };
/** Number of the demo's entry that was taken back. */
let takenBack = "";

beforeAll(async () => {
  site = await openSite();
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

/** The contract that a try is of: the one whose path has no parameter where it can be had. */
const contractOf = ({ method, path }: Pick<Try, "method" | "path">) => {
  const fits = CONTRACTS.filter(
    (it) => it.method === method && new RegExp(`^${it.path.replace(/\{\w+\}/g, "[^/?]+")}([?]|$)`).test(`/api/${path}`),
  );
  return fits.sort((x, y) => x.path.split("{").length - y.path.split("{").length)[0];
};

const call = (it: Pick<Try, "method" | "path" | "body">, who: string, headers: Record<string, string> = {}) =>
  fetch(`${site.base}/api/${it.path.replace("TAKEN", takenBack)}`, {
    method: it.method,
    headers: { cookie: cookies[who] ?? "", origin: site.base, "content-type": "application/json", ...headers },
    ...(it.body === undefined ? {} : { body: JSON.stringify(it.body) }),
  });

const folder = fileURLToPath(new URL("../../src/pages/", import.meta.url));
const files = readdirSync(folder, { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".ts"));
/** Descriptions that hold nothing of the site, for anybody; what search engines are told (`crawl.test.ts`); calendars behind a secret (`forecast.test.ts`). */
const OPEN = [
  "access/v1/openapi.json.ts",
  ".well-known/authzen-configuration.ts",
  "robots.txt.ts",
  "sitemap.xml.ts",
  "feed/[token].ics.ts",
];

describe("endpoints", () => {
  it("are all declared, each once, served where they say, and tried as everybody", async () => {
    const found: string[] = [];
    for (const file of files.filter((it) => !OPEN.includes(it))) {
      const source = readFileSync(folder + file, "utf8");
      const exported = [...source.matchAll(/export const (GET|POST|PUT|DELETE|PATCH|ALL)/g)].map(([, method]) => method);
      expect([file, source.match(/= serve\(/g)?.length]).toEqual([file, exported.length]);
      const path = `/${file
        .replace(/\.ts$/, "")
        .replace(/(^|\/)index$/, "")
        .replace(/\[(\w+)\]/g, "{$1}")}`;
      found.push(...exported.map((method) => `${method} ${path}`));
    }
    expect(CONTRACTS.map(({ method, path }) => `${method} ${path}`).sort()).toEqual(found.sort());
    for (const it of TRIES) expect([it.path, contractOf(it)?.path]).toEqual([it.path, expect.any(String)]);
    const tried = new Set(TRIES.map(contractOf));
    expect(CONTRACTS.filter((it) => it.path.startsWith("/api/") && !tried.has(it)).map(({ method, path }) => `${method} ${path}`)).toEqual(
      [],
    );
  });

  it("for programs all ask for a token with a scope, or a site keeper; those for members refuse guests, those for the signed in the public", async () => {
    for (const { method, path, who } of CONTRACTS) {
      if (path === "/sign-out") continue;
      const ask = (person: string) =>
        fetch(site.base + path.replace(/\{\w+\}/g, "1"), {
          method,
          headers: { cookie: cookies[person] ?? "", origin: site.base },
          ...(method === "GET" ? {} : { body: "{}" }),
        }).then(({ status }) => status);
      const [nobody, guest, member] = [await ask("public"), await ask("dora"), await ask("maren")];
      if (typeof who === "object") expect([path, nobody, guest, member]).toEqual([path, 401, 403, 403]);
      else if (who !== "anybody") expect([path, nobody]).toEqual([path, 401]);
      if (who === "member") expect([path, guest]).toEqual([path, 403]);
    }
  });

  it("answer as they declare: the description for programs has every type of every answer", () => {
    expect(answerSchemas()).toBe(readFileSync(SCHEMAS, "utf8"));
  });

  it.each(TRIES.map((it) => [`${it.method} ${it.path}`, it] as const))("%s", async (_, it) => {
    for (const who of ["public", "dora", "mei", "maren"] as const) {
      const answer = await call(it, who);
      // What goes on for as long as somebody listens is not read to its end.
      const streams = answer.headers.get("content-type")?.startsWith("text/event-stream");
      const text = streams ? String(await answer.body?.cancel()) : await answer.text();
      expect([who, answer.status, text.slice(0, 200)]).toEqual([who, it[who], text.slice(0, 200)]);
      if (answer.status >= 400)
        expect(JSON.parse(text)).toMatchObject({ error: { code: expect.any(String), message: expect.any(String) } });
    }
  });

  it("refuse what a page asks that was opened by somebody else than who is signed in by now, and then do nothing", async () => {
    for (const it of TRIES.filter(({ maren, method }) => maren === 200 && method !== "GET")) {
      const answer = await call(it, "maren", { "tesoro-for": "ines" });
      expect([it.path, answer.status, (await answer.json()).error.code]).toEqual([it.path, 409, "otherPerson"]);
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

  it("are tried with an edit of each kind there is", () => {
    expect(EDITS.map((edit) => (edit as { kind: string }).kind).sort()).toEqual(EDIT_BODIES.map(({ name }) => name).sort());
  });

  it("never break over a null: every field of every body, those that may be absent too, and of what stands in them", async () => {
    const whole: Record<string, unknown> = {
      "acts/look": {
        act: {
          act: "bin",
          places: ["cranes"],
          below: "along",
          landings: [{ space: "quays", page: "mooring" }],
          to: "quays",
          after: "mooring",
          back: true,
          passes: ["k"],
          pages: 1,
        },
      },
      "jobs/look": {
        order: {
          act: "archive",
          below: "along",
          to: "quays",
          back: true,
          pages: 1,
          add: ["a"],
          remove: ["b"],
          readiness: "x",
          places: ["cranes"],
          filter: {
            part: "live",
            space: "quays",
            branch: "cranes",
            owner: "maren",
            tag: "x",
            readiness: "x",
            before: "2026-01-01T00:00:00Z",
            since: "2026-01-01T00:00:00Z",
            outside: "any",
            words: "x",
            held: "yes",
          },
        },
      },
      preview: { edits: [], columns: [], acts: [{ act: "bin", places: ["cranes"] }] },
      proposals: { place: "cranes", alsoAt: ["mooring"], wishes: [{ principal: { group: "pilots" }, abilities: ["read"] }], edits: [] },
      "spaces/quays/contents": { contents: { entries: [{ heading: "x" }, { page: "cranes" }, { link: "/x", words: "x" }], rest: true } },
      changes: { edits: [], acts: [], note: "", reason: "x", seen: "x" },
      filters: { name: "x", address: "?a", space: "quays" },
      "jobs/none/take-back": { note: "", reason: "x" },
    };
    const paths = (value: unknown, at: string[] = []): string[][] =>
      typeof value !== "object" || value === null
        ? []
        : Object.entries(value).flatMap(([key, it]) => [[...at, key], ...paths(it, [...at, key])]);
    const bodies = [
      ...TRIES.flatMap(({ path, method, body: sent }) => (method === "POST" && sent ? [[path, sent] as const] : [])),
      ...Object.entries(whole),
      // One of each kind of edit, whole.
      ...EDITS.map((edit) => ["preview", { edits: [edit], columns: ["public"] }] as const),
    ];
    for (const [path, sent] of bodies)
      for (const at of paths(sent)) {
        const copy = structuredClone(sent) as Record<string, unknown>;
        const inner = at.slice(0, -1).reduce((it, key) => it[key] as Record<string, unknown>, copy);
        inner[at.at(-1) as string] = null;
        const { status } = await call({ method: "POST", path, body: copy }, "maren");
        expect([path, at.join("."), status < 500]).toEqual([path, at.join("."), true]);
      }
    const cursors: [string, string][] = [
      ["changed", '["0000-01-01T00:00:00Z","x"]'],
      ["changed", '["9999999-01-01T00:00:00Z","x"]'],
      ["published", '["2026-02-31T99:00:00Z","x"]'],
      // Each is right piece by piece, and no instant, or none of the database's.
      ["changed", '["2026-02-31T00:00:00Z","x"]'],
      ["changed", '["2025-02-29 00:00:00+00","x"]'],
      ["changed", '["2026-01-01T00:00:00+18","x"]'],
      ["changed", '["2026-01-01T00:00:00-16:30","x"]'],
      ["changed", '["0001-01-01T00:00:00+15","x"]'],
      ["changed", '["9999-12-31T23:59:59.999999-15:59","x"]'],
      ["changed", '["2026-01-01T23:59:60Z","x"]'],
      ["links", '["2147483648","x"]'],
      ["tags", '["[1]","x"]'],
      ["owner", '["\\u0000","x"]'],
      ["outside", '["abc","x"]'],
    ];
    for (const [sort, cursor] of cursors) {
      const answer = await call({ method: "GET", path: `pages?sort=${sort}&after=${Buffer.from(cursor).toString("base64url")}` }, "maren");
      expect([sort, cursor, answer.status < 500]).toEqual([sort, cursor, true]);
    }
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
    expect(away.headers.get("location")).toBe("/desk");
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
