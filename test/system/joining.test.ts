/**
 * Doors that people come in by, attacked over HTTP as a class: invitations, links for passwords, passes, mail, tables of
 * people. As everybody who may not; twice, at once, after the right was lost; with what is there and what is not; with
 * bodies that are wrong inside.
 */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { doorsOf, statuses } from "./doors.ts";

let site: TestSite;
let { ask, read, make } = {} as Awaited<ReturnType<typeof doorsOf>>;
const until = new Date(Date.now() + 30 * 86_400_000).toISOString();

beforeAll(async () => {
  site = await openSite();
  ({ ask, read, make } = await doorsOf(site.base, ["dora", "mei", "jonas", "viktor", "maren", "ines"]));
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

const document = () => inSnapshot((tx) => loadDocument(tx));
const order = (email: string, part: object = {}) => ({
  kind: "guest",
  people: [{ name: "Ana Silva", email }],
  places: ["cranes"],
  groups: [],
  level: 1,
  until,
  ...part,
});

async function send(who: string, email: string, part: object = {}) {
  const body = order(email, part);
  const looked = await ask(who, "POST", "invitations/look", body);
  if (looked.status !== 200) return { status: looked.status, text: looked.text, link: "", id: "" };
  const { seen } = JSON.parse(looked.text).preview;
  const sent = await ask(who, "POST", "invitations", { ...body, message: "", note: "", seen, reason: "A test." });
  const [person] = sent.status === 200 ? JSON.parse(sent.text).people : [];
  return { ...sent, link: (person?.link ?? "") as string, id: (person?.id ?? "") as string };
}

/** A page or form of the site, as a browser without a session asks for it. */
async function open(path: string, form?: Record<string, string>, headers: Record<string, string> = {}) {
  const answer = await fetch(site.base + path, {
    method: form ? "POST" : "GET",
    redirect: "manual",
    headers: { origin: site.base, ...headers },
    ...(form ? { body: new URLSearchParams(form) } : {}),
  });
  return { status: answer.status, headers: answer.headers, text: await answer.text() };
}
const pathOf = (link: string): string => new URL(link).pathname;

it("nobody asks in further than they may: members, guests, the public, keepers elsewhere, in words that tell nothing", async () => {
  for (const who of ["mei", "jonas", "dora", "public"])
    expect([who, (await send(who, "x@there.invalid")).status]).toEqual([who, who === "public" ? 401 : 403]);
  const hidden = await Promise.all(["patrols", "no-such-page"].map((place) => send("maren", "x@there.invalid", { places: [place] })));
  expect(new Set(hidden.map(({ status, text }) => `${status} ${text}`)).size).toBe(1);
  const refused = [
    { kind: "member" },
    { groups: ["pilots"] },
    { places: [] },
    { places: ["site"] },
    { until: null },
    { level: 5 },
    { level: "1" },
    { people: [] },
  ];
  for (const part of refused) {
    const status = (await send("maren", "x@there.invalid", part)).status;
    expect([JSON.stringify(part), status >= 400 && status < 500]).toEqual([JSON.stringify(part), true]);
  }
  const before = JSON.stringify((await document()).people);
  // What was looked at is what is sent: not somebody else, not elsewhere, not longer.
  const { preview } = JSON.parse((await ask("maren", "POST", "invitations/look", order("y@there.invalid"))).text);
  for (const other of [order("z@there.invalid"), order("y@there.invalid", { places: ["mooring"] }), order("y@there.invalid", { level: 3 })])
    expect((await ask("maren", "POST", "invitations", { ...other, message: "", note: "", seen: preview.seen })).status).toBe(409);
  expect(JSON.stringify((await document()).people)).toBe(before);
});

it("whether an address is somebody's is told to site keepers alone; to anybody else both are asked in alike", async () => {
  const known = (await ask("maren", "POST", "invitations/look", order("jonas@brinehaven.invalid"))).text;
  expect(JSON.parse(known).taken).toEqual([]);
  expect(JSON.parse((await ask("ines", "POST", "invitations/look", order("jonas@brinehaven.invalid"))).text).taken).toHaveLength(1);
  const sent = await Promise.all([send("maren", "jonas@brinehaven.invalid"), send("maren", "nobody@brinehaven.invalid")]);
  expect(statuses(sent)).toEqual([200, 200]);
  const keys = sent.map(({ text }) => JSON.stringify(Object.keys(JSON.parse(text).people[0])));
  expect(new Set(keys).size).toBe(1);
  const forgotten = await Promise.all(["jonas@brinehaven.invalid", "nobody@nowhere.invalid"].map((email) => open("/forgotten", { email })));
  expect(new Set(forgotten.map(({ status, text }) => `${status} ${text}`)).size).toBe(1);
});

it("a link is used once, by whoever has it, and looking uses nothing up; forged, ended and unknown ones are all the same", async () => {
  const { link, id } = await send("maren", "once@there.invalid");
  const path = pathOf(link);
  for (let i = 0; i < 3; i++) expect((await open(path)).status).toBe(200);
  const page = await open(path, undefined, { host: "evil.invalid" });
  expect(page.text).not.toContain("evil.invalid");
  expect([page.headers.get("cache-control"), page.headers.get("referrer-policy")]).toEqual(["no-store", "strict-origin"]);
  // Another site's page cannot take it up.
  expect((await open(path, { password: "a password of length" }, { origin: "https://evil.invalid" })).status).toBe(403);
  const wrong: Record<string, string>[] = [
    { password: "short" },
    { password: "x".repeat(5_000) },
    { pass: "a password of length" },
    { password: "" },
  ];
  for (const form of wrong)
    expect([JSON.stringify(form).slice(0, 30), (await open(path, form)).status]).toEqual([JSON.stringify(form).slice(0, 30), 400]);
  const taken = await Promise.all([1, 2, 3].map(() => open(path, { password: "a password of length" })));
  expect(taken.filter(({ status }) => status === 303)).toHaveLength(1);
  const gone = await Promise.all([path, `${path}x`, "/join/none", "/reset/none"].map((it) => open(it)));
  expect(gone.map(({ status }) => status)).toEqual([404, 404, 404, 404]);
  expect(gone[0]?.text).toBe(gone[1]?.text);
  // A link of one kind opens nothing of another.
  const reset = JSON.parse((await ask("ines", "POST", `people/${id}/new-password`)).text).link as string;
  const token = pathOf(reset).split("/").at(-1) ?? "";
  expect([(await open(`/join/${token}`)).status, (await open(`/pass/${token}`)).status, (await open(`/reset/${token}`)).status]).toEqual([
    404, 404, 200,
  ]);
  // Suspended meanwhile: a link sent before opens nothing.
  const late = await send("maren", "late@there.invalid");
  const person = (await document()).people.find((it) => it.id === late.id);
  if (!person) return expect.unreachable();
  await make("ines", [{ kind: "person", person: late.id, remove: person, put: { ...person, status: "suspended" } }], "Not now.");
  expect((await open(pathOf(late.link), { password: "a password of length" })).status).toBe(404);
});

it("an invitation is dealt with by who sent it and by site keepers, whoever else asks hears that there is none", async () => {
  const { id } = await send("maren", "mine@there.invalid");
  for (const who of ["viktor", "mei", "jonas"])
    for (const act of ["send", "end"]) {
      const [there, nowhere] = [await ask(who, "POST", `invitations/${id}/${act}`), await ask(who, "POST", `invitations/none/${act}`)];
      expect([there.status, there.text]).toEqual([404, nowhere.text]);
    }
  expect((await read("viktor", "invitations")).invitations.some((it: { id: string }) => it.id === id)).toBe(false);
  const twice = await Promise.all([1, 2].map(() => ask("maren", "POST", `invitations/${id}/end`)));
  expect(statuses(twice)).toEqual([200, 404]);
  expect((await ask("maren", "POST", `invitations/${id}/send`)).status).toBe(404);
});

it("a pass opens its page and nothing else, to whoever has it, with no trace; after it was withdrawn nothing by any address", async () => {
  const body = { place: "oldnumbers", below: true, until: null };
  const { seen } = JSON.parse((await ask("ines", "POST", "passes/look", body)).text);
  const made = JSON.parse((await ask("ines", "POST", "passes", { ...body, name: "x", note: "", seen, reason: "Looked into." })).text);
  const path = pathOf(made.link);
  const page = await open(path);
  expect([page.status, page.headers.get("referrer-policy"), page.headers.get("x-robots-tag"), page.headers.get("set-cookie")]).toEqual([
    200,
    "no-referrer",
    "noindex, nofollow, noarchive",
    null,
  ]);
  expect(page.text).not.toMatch(/<script|\/read\/quay-operations"/);
  for (const other of ["cranes-cranes", "x-patrols", "x-none", "x-quayhome"])
    expect([other, (await open(`${path}/${other}`)).status]).toEqual([other, 404]);
  const forged = await open(`${path}x`);
  for (const who of ["viktor", "mei", "jonas"]) expect((await ask(who, "POST", `passes/${made.id}/withdraw`)).status).toBe(404);
  const both = await Promise.all([1, 2].map(() => ask("maren", "POST", `passes/${made.id}/withdraw`)));
  expect(statuses(both)).toEqual([200, 400]);
  const after = await open(path);
  expect([after.status, after.text]).toEqual([404, forged.text]);
});

it("who else is here under an address, and joining them, is for site keepers; of whoever is not under it nothing is told", async () => {
  const other = (await send("ines", "shared@there.invalid")).id;
  const first = (await send("maren", "shared@there.invalid")).id;
  const path = (id: string, to: string) => `people/${id}/joining?with=${encodeURIComponent(to)}`;
  for (const who of ["public", "dora", "mei", "viktor", "maren"]) {
    const answers = await Promise.all([path(first, other), path("nobody", other), path(first, "nobody")].map((it) => ask(who, "GET", it)));
    expect([who, new Set(answers.map(({ status, text }) => `${status} ${text}`)).size]).toEqual([who, 1]);
    expect([who, answers[0]?.status]).toEqual([who, who === "public" ? 401 : 403]);
    const told = await ask(who, "GET", `people/${first}`);
    expect([who, told.text.includes(other)]).toEqual([who, false]);
  }
  for (const it of ["jonas", "nobody", first, "\u0000", "x".repeat(65), ""]) {
    const { status } = await ask("ines", "GET", path(first, it));
    expect([it, status === 400 || status === 404]).toEqual([it, true]);
  }
  expect((await ask("ines", "GET", `people/${first}/joining`)).status).toBe(400);
  expect((await ask("ines", "GET", path(first, other))).status).toBe(200);
});

it("tables, seeing off, erasing and house rules are for site keepers, whatever is in them, and nothing wrong inside breaks the server", async () => {
  const acting = { note: "", seen: "x" };
  const tries: [string, string, unknown][] = [
    ["POST", "people/table/look", { table: "mail\nx@there.invalid", columns: {} }],
    ["POST", "people/table", { table: "mail\nx@there.invalid", columns: {}, ...acting }],
    ["POST", "people/dora/leaving/look", { to: null, lines: [], until: null }],
    ["POST", "people/dora/leaving", { to: "mei", lines: [{ key: "owns:quays", to: "mei" }], until: null, ...acting }],
    ["POST", "people/dora/erase", { name: "Dóra Szabó", note: "" }],
    ["POST", "changes", { edits: [{ kind: "house", from: { binDays: 90 }, to: { binDays: 0 } }], ...acting }],
    ["POST", "changes", { edits: [{ kind: "ceilings", place: "site", from: null, to: null }], ...acting }],
  ];
  for (const who of ["maren", "mei", "viktor"])
    for (const [method, path, body] of tries) {
      const { status } = await ask(who, method, path, body);
      expect([who, path, status === 403 || status === 404]).toEqual([who, path, true]);
    }
  const odd: unknown[] = [
    { table: `mail\n${'"'.repeat(999)}`, columns: {} },
    { table: "mail\n\u202e@\u2066.invalid", columns: { address: 0, name: 0 } },
    { table: "mail", columns: { address: 1e9 } },
    { table: 7, columns: {} },
    { table: `mail,groups\n${"a@b.invalid,x|".repeat(3_000)}`, columns: {} },
  ];
  for (const body of odd) expect((await ask("ines", "POST", "people/table/look", body)).status).toBeLessThan(500);
  const house = [
    { binDays: -1 },
    { binDays: 1e15 },
    { passwordLength: 4 },
    { sensitiveWords: ["\u200b"] },
    { nothing: 1 },
    {},
    { binDays: null },
  ];
  for (const to of house) {
    const { status } = await ask("ines", "POST", "preview", { edits: [{ kind: "house", from: { binDays: 90 }, to }], columns: [] });
    expect([JSON.stringify(to), status]).toEqual([JSON.stringify(to), 400]);
  }
  expect((await read("ines", "ledger/check")).sound).toBe(true);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});
