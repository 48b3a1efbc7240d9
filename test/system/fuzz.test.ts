/**
 * Nonsense for every endpoint, made from what each declares: never an answer of 500, never anything written by a refused
 * request, and the ledger's chain sound afterwards. As the public, a guest, a member and two keepers.
 */
import { readdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { getMetadataStorage } from "class-validator";
import { sql } from "drizzle-orm";
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { CONTRACTS } from "../../src/contracts/all.ts";
import type { AnyContract } from "../../src/contracts/declare.ts";
import { closeDatabase, database, inSnapshot } from "../../src/server/db/client.ts";
import { unfinished } from "../../src/server/jobs/running.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { drawn, holds } from "../holds.ts";
import { EDITS } from "./edits.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
const cookies: Record<string, string> = { public: "" };
const PEOPLE = ["public", "dora", "mei", "maren", "ines"];

beforeAll(async () => {
  site = await openSite();
  for (const person of PEOPLE.slice(1)) cookies[person] = await signInDemo(site.base, person);
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

/** Values that are wrong nearly everywhere: of other types, too long, too deep, ill-formed, far away. */
const odd = fc.oneof(
  fc.constantFrom<unknown>(
    null,
    true,
    0,
    -1,
    1e300,
    2 ** 53,
    // Beyond what a database counts with, as a number and as digits.
    2 ** 64,
    "9".repeat(19),
    "9".repeat(23),
    "-1",
    0.5,
    "",
    " ",
    "\u200b",
    "\u0000",
    "a\u0000b",
    "\ud800",
    "\u202e",
    "0000-01-01T00:00:00Z",
    "9999-12-31T23:59:59-14:00",
    "2026-02-30T00:00:00Z",
    "+275760-09-13T00:00:00Z",
    "%00",
    "../..",
    "x".repeat(70_000),
    [],
    {},
    [null],
    [[[]]],
    [[]],
    [{}],
    { kind: "grant" },
    { kind: "state", place: "cranes", from: null, to: { state: "live" } },
    { length: 3 },
    { toString: 1 },
  ),
  fc.string({ maxLength: 40, unit: "binary" }),
  fc.jsonValue({ maxDepth: 4 }),
  fc.integer({ min: 1, max: 400 }).map((depth) => JSON.parse(`${"[".repeat(depth)}1${"]".repeat(depth)}`)),
);

/** Values that are right here and there: ids of things that are, that are hidden, and that are not; edits of all kinds. */
const plausible = fc.constantFrom<unknown>(
  "cranes",
  "patrols",
  "quays",
  "site",
  "nowhere",
  "maren",
  "public",
  "person:mei",
  "pass:passlandings",
  "0.1",
  "1.0",
  "page",
  "live",
  "csv",
  "space",
  "2028-01-01T00:00:00Z",
  "Europe/Berlin",
  1,
  false,
  ["read"],
  ["decisions"],
  { schema: 1, content: [{ type: "paragraph" }] },
  { schema: 1, content: [{ type: "heading", attrs: { level: "x" } }] },
  ...EDITS.map((edit) => [edit]),
  [{ kind: "grant", place: "patrols", put: { to: { group: "pilots" }, abilities: ["read"] } }],
  [{ kind: "fence", place: "cranes", put: { kind: "read", admits: [null] } }],
  [{ kind: "state", place: "cranes", from: { state: "live" }, to: { state: "archived", was: "draft" } }],
  [{ principal: { group: "pilots" }, level: 1 }],
);
/** What fits a field of this name, so that not everything stops at the first check. */
const FITTING: Record<string, unknown> = {
  note: "",
  seen: "stale",
  edits: [{ kind: "grant", place: "cranes", put: { to: { group: "pilots" }, abilities: ["read"] } }],
  columns: "public,members",
  open: "quays",
  column: "public",
  place: "cranes",
  parent: "quays",
  as: "page",
  title: "Fuzz",
  body: { schema: 1, content: [{ type: "paragraph" }] },
  base: "0.1",
  version: "0.1",
  tab: "t",
  rev: 1,
  spent: [],
  what: "live",
  at: "2028-01-01T00:00:00Z",
  zone: "UTC",
  keepHelpers: false,
  q: "crane",
  wishes: [{ principal: { group: "pilots" }, level: 1 }],
  document: {},
  name: "x",
  scopes: ["exports"],
};
const valueFor = (name: string) =>
  fc.oneof(
    { weight: 2, arbitrary: odd },
    { weight: 2, arbitrary: plausible },
    { weight: name in FITTING ? 6 : 0, arbitrary: fc.constant(FITTING[name]) },
  );

/** The fields a class of a contract declares. */
const fieldsOf = (type: (new () => object) | undefined): string[] =>
  type
    ? [
        ...new Set(
          getMetadataStorage()
            .getTargetValidationMetadatas(type, "", false, false)
            .map((it) => it.propertyName),
        ),
      ]
    : [];

/** An object with the declared fields, some of them left out, sometimes one that nobody declared; or something else altogether. */
const shaped = (fields: string[]): fc.Arbitrary<unknown> => {
  const some = (names: string[]) => fc.record(Object.fromEntries(names.map((name) => [name, valueFor(name)])), { requiredKeys: fields });
  const record = fc.oneof({ weight: 6, arbitrary: some(fields) }, { weight: 1, arbitrary: some([...fields, "extra"]) });
  return fc.oneof({ weight: 9, arbitrary: record }, { weight: 1, arbitrary: odd });
};

interface Sent {
  contract: AnyContract;
  who: string;
  params: string[];
  query: unknown;
  body: unknown;
}

const request: fc.Arbitrary<Sent> = fc.constantFrom(...CONTRACTS.filter(({ path }) => path !== "/sign-out")).chain((contract) =>
  fc.record({
    contract: fc.constant(contract),
    who: fc.constantFrom(...PEOPLE),
    params: fc.array(
      fc.constantFrom(
        "cranes",
        "patrols",
        "nowhere",
        "1",
        "0",
        "999999999999999",
        "9".repeat(19),
        "9".repeat(23),
        "%00",
        "%ff",
        "..",
        "a%2fb",
        "\u202e",
        "x".repeat(3000),
      ),
      {
        minLength: 2,
        maxLength: 2,
      },
    ),
    query: shaped(fieldsOf(contract.query)),
    body: shaped(fieldsOf(contract.body)),
  }),
);

const text = (it: unknown): string => (typeof it === "string" ? it : JSON.stringify(it)) ?? "";
const wellFormed = (it: string): string => it.replace(/\p{Surrogate}/gu, "\ufffd");

async function send({ contract, who, params, query, body }: Sent): Promise<number> {
  let i = 0;
  const path = contract.path.replace(/\{\w+\}/g, () => params[i++] ?? "x");
  const asked = Object.entries(typeof query === "object" && query !== null ? query : { q: query }).map(
    ([name, it]) => `${encodeURIComponent(wellFormed(name))}=${encodeURIComponent(wellFormed(text(it).slice(0, 2_000)))}`,
  );
  const answer = await fetch(`${site.base}${path}${asked.length > 0 ? `?${asked.join("&")}` : ""}`, {
    method: contract.method,
    redirect: "manual",
    headers: { cookie: cookies[who] ?? "", origin: site.base, "content-type": "application/json" },
    ...(contract.method === "GET" ? {} : { body: JSON.stringify(body) ?? "" }),
  });
  // What goes on for as long as somebody listens is listened to no longer.
  if (answer.headers.get("content-type")?.startsWith("text/event-stream")) await answer.body?.cancel();
  else await answer.arrayBuffer();
  return answer.status;
}

/** What must not change by a refused request: every row of every table but attempts and sessions, as one number each. */
async function written(): Promise<Record<string, string>> {
  const tables = await database().execute<{ name: string }>(
    sql`select table_name as name from information_schema.tables where table_schema = 'public' and table_name not in ('attempts', 'session') order by 1`,
  );
  const found: Record<string, string> = {};
  for (const { name } of tables) {
    const [row] = await database().execute<{ sum: string }>(
      sql`select md5(coalesce(string_agg(md5(t::text), '' order by md5(t::text)), '')) as sum from ${sql.identifier(name)} t`,
    );
    found[name] = row?.sum ?? "";
  }
  return found;
}

it("is never answered with a fault, and what is refused writes nothing (1,200 requests)", async () => {
  const codes = new Map<number, number>();
  await holds(
    fc.asyncProperty(request, async (it) => {
      const status = await send(it);
      codes.set(status, (codes.get(status) ?? 0) + 1);
      expect([status, it.contract.method, it.contract.path]).toEqual([expect.any(Number), it.contract.method, it.contract.path]);
      expect(status).toBeLessThan(500);
    }),
    { runs: 1_200 },
  );
  // Far from every one is refused at the door, or this would try nothing behind it.
  expect(codes.get(200) ?? 0).toBeGreaterThan(20);
  expect((codes.get(400) ?? 0) + (codes.get(404) ?? 0) + (codes.get(403) ?? 0)).toBeGreaterThan(300);

  // Long work that was begun by what was accepted writes on by itself.
  while ((await unfinished()).length > 0) await new Promise((later) => setTimeout(later, 200));
  const before = await written();
  const requests = drawn(request, { runs: 250, seed: 8 }).map((it) => ({ ...it, body: { ...(it.body as object), surprise: 1 } }));
  for (const it of requests.filter(({ contract }) => contract.method !== "GET" && contract.body && typeof contract.who !== "object"))
    expect([400, 401, 403, 404, 409]).toContain(await send(it));
  expect(await written()).toEqual(before);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("that no text can hold, asked of a page or sent as its form, is refused or not there", async () => {
  const folder = fileURLToPath(new URL("../../src/pages/", import.meta.url));
  const pages = readdirSync(folder, { recursive: true, encoding: "utf8" })
    .filter((file) => file.endsWith(".astro"))
    .map((file) => `/${file.replace(/(^|\/)index\.astro$|\.astro$/, "").replace(/\[(\w+)\]/g, "x")}`);
  const names = ["for", "q", "back", "place", "person", "space", "in", "at", "version", "page", "part"];
  for (const path of pages)
    for (const bad of ["%00", "a%00b"]) {
      const address = `${site.base}${path}?${names.map((name) => `${name}=${bad}`).join("&")}`;
      const headers = { cookie: cookies.ines ?? "", origin: site.base };
      const read = await fetch(address, { headers, redirect: "manual" });
      const fields = new URLSearchParams({ reason: "x", email: "a\0b", person: "\0" });
      const sent = await fetch(address, { method: "POST", headers, redirect: "manual", body: fields });
      expect([path, [302, 404].includes(read.status), sent.status < 500]).toEqual([path, true, true]);
    }
});

it("is cut off where it is too large, by its bytes as they come, before anybody has signed in; a half-sent one is cut after seconds", async () => {
  const endless = new ReadableStream({
    pull: (controller) => controller.enqueue(new TextEncoder().encode("x".repeat(65_536))),
  });
  for (const path of ["/sign-in", "/api/preview"]) {
    const status = await fetch(site.base + path, {
      method: "POST",
      headers: {
        cookie: cookies.maren ?? "",
        origin: site.base,
        "content-type": path === "/sign-in" ? "application/x-www-form-urlencoded" : "application/json",
      },
      body: endless,
      duplex: "half",
    } as RequestInit).then(
      ({ status: it }) => it,
      () => 413,
    );
    expect([path, status]).toEqual([path, 413]);
    if (endless.locked) break;
  }
  const { connect } = await import("node:net");
  const { hostname, port } = new URL(site.base);
  const cut = (said: string) =>
    new Promise<{ after: number; answer: string }>((done) => {
      const began = Date.now();
      let answer = "";
      const socket = connect(Number(port), hostname, () => socket.write(said));
      socket.on("data", (it) => (answer += it)).on("close", () => done({ after: Date.now() - began, answer }));
    });
  const [half, silent] = await Promise.all([cut("POST /api/preview HTTP/1.1\r\nHost: x\r\nContent-Le"), cut("")]);
  expect(half.answer).toContain("400 Bad Request");
  // A browser would take an answer on a connection it has not used yet for that to its next request.
  expect(silent.answer).toBe("");
  for (const { after } of [half, silent]) expect(after).toBeLessThan(15_000);
});
