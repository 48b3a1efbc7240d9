/** Nonsense for every endpoint, made from what each declares. */
import { sql } from "drizzle-orm";
import fc from "fast-check";
import { CONTRACTS } from "../../src/contracts/all.ts";
import type { AnyContract } from "../../src/contracts/declare.ts";
import { database } from "../../src/server/db/client.ts";
import { fieldsOf } from "../costly.ts";
import { EDITS } from "../system/edits.ts";
import { quickly } from "../system/quickly.ts";
import { type Actor, CAST, type Stage } from "./stage.ts";

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

/** An object with the declared fields, some of them left out, sometimes one that nobody declared; or something else altogether. */
const shaped = (fields: string[]): fc.Arbitrary<unknown> => {
  const some = (names: string[]) => fc.record(Object.fromEntries(names.map((name) => [name, valueFor(name)])), { requiredKeys: fields });
  const record = fc.oneof({ weight: 6, arbitrary: some(fields) }, { weight: 1, arbitrary: some([...fields, "extra"]) });
  return fc.oneof({ weight: 9, arbitrary: record }, { weight: 1, arbitrary: odd });
};

export interface Sent {
  contract: AnyContract;
  who: Actor;
  params: string[];
  query: unknown;
  body: unknown;
}

/** A request of somebody to one of the endpoints; signing out is left aside. */
export const nonsense: fc.Arbitrary<Sent> = fc.constantFrom(...CONTRACTS.filter(({ path }) => path !== "/sign-out")).chain((contract) =>
  fc.record({
    contract: fc.constant(contract),
    who: fc.constantFrom(...CAST),
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
    query: shaped(contract.query ? fieldsOf(contract.query) : []),
    body: shaped(contract.body ? fieldsOf(contract.body) : []),
  }),
);

const text = (it: unknown): string => (typeof it === "string" ? it : JSON.stringify(it)) ?? "";
const wellFormed = (it: string): string => it.replace(/\p{Surrogate}/gu, "\ufffd");

/** Sends it; returns the status. */
export async function sendNonsense({ site, waits, cookieOf }: Stage, { contract, who, params, query, body }: Sent): Promise<number> {
  let i = 0;
  const path = contract.path.replace(/\{\w+\}/g, () => params[i++] ?? "x");
  const asked = Object.entries(typeof query === "object" && query !== null ? query : { q: query }).map(
    ([name, it]) => `${encodeURIComponent(wellFormed(name))}=${encodeURIComponent(wellFormed(text(it).slice(0, 2_000)))}`,
  );
  const address = `${site.base}${path}${asked.length > 0 ? `?${asked.join("&")}` : ""}`;
  const { status } = await waits.during(contract.method, contract.path, () =>
    quickly(address, {
      method: contract.method,
      headers: { cookie: cookieOf(who), origin: site.base, "content-type": "application/json" },
      headOnly: (headers) => headers["content-type"]?.startsWith("text/event-stream") === true,
      ...(contract.method === "GET" ? {} : { body: JSON.stringify(body) ?? "" }),
    }),
  );
  return status;
}

/** What must not change by a refused request: every row of every table but attempts and sessions, as one number each. */
export async function written(): Promise<Record<string, string>> {
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
