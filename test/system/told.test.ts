/**
 * What is told over HTTP: every endpoint and page, asked by every kind of person about every place, in success and refusal
 * alike, holds no id, title, name or word of anything they may not know of; and what is hidden looks like what is not there.
 */
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { CONTRACTS } from "../../src/contracts/all.ts";
import { type AccessDocument, instantAt, type Subject } from "../../src/core/access/model/index.ts";
import { bodyText } from "../../src/core/content/index.ts";
import { closeDatabase, database, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { asked, benchDrafts, benchHelpers, versions } from "../../src/server/db/schema/index.ts";
import { referenceOversight, referenceSet } from "../reference/reference.ts";
import { quickly } from "./quickly.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
let document: AccessDocument;
/** Words of each page that no other page has, live and working. */
const secrets = new Map<string, { live: string[]; working: string[] }>();
const cookies = new Map<string | null, string>([[null, ""]]);
const PEOPLE = [null, "mei", "viktor"];
/** Of so many places that somebody knows, and so many that they do not, everything is asked. */
const KNOWN = 8;
const HIDDEN = 12;

beforeAll(async () => {
  site = await openSite();
  document = await inSnapshot((tx) => loadDocument(tx));
  for (const person of PEOPLE) if (person) cookies.set(person, await signInDemo(site.base, person));
  // A working version with words, a title and a note of its own on a page that is live for everybody.
  const send = (path: string, body: unknown) =>
    fetch(`${site.base}/api/${path}`, {
      method: "POST",
      headers: { cookie: cookies.get("ines") ?? "", origin: site.base, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
  const working = await (await fetch(`${site.base}/api/pages/crowdwatch`, { headers: { cookie: cookies.get("viktor") ?? "" } })).json();
  const text = { schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text: "Quokkawords under work" }] }] };
  await send("pages/crowdwatch", { title: "Quokkatitle", body: text, base: working.version, note: "Quokkanote", spent: [] });
  await gatherSecrets();
  await gatherBenches();
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

/** Every word of the program itself, and what spaces are for: those may be said to anybody. */
function wordsOfProgram(): Set<string> {
  const root = fileURLToPath(new URL("../../src/", import.meta.url));
  const files = readdirSync(root, { recursive: true, encoding: "utf8" }).filter(
    (file) => /\.(tsx?|astro)$/.test(file) && (!file.startsWith("demo/") || file === "demo/site.ts"),
  );
  return new Set(files.flatMap((file) => readFileSync(root + file, "utf8").match(/[\p{L}\p{N}]{7,}/gu) ?? []));
}

/** Private drafts: whose they are, who was let in, and their words; what is asked about them is asked about pages as well. */
const benches: { id: string; owner: string; helpers: string[]; words: string[] }[] = [];

async function gatherBenches(): Promise<void> {
  const helpers = await database().select().from(benchHelpers);
  for (const { id, handle, becomes, ownerId, title } of await database().select().from(benchDrafts)) {
    const let_ = helpers.filter((it) => it.draftId === id).map((it) => it.personId);
    for (const it of [id, handle, becomes])
      benches.push({ id: it, owner: ownerId, helpers: it === id ? let_ : [], words: it === id ? [title] : [] });
  }
}

async function gatherSecrets(): Promise<void> {
  const rows = await database().select().from(versions);
  const owners = new Map<string, Set<string>>();
  const byPage = new Map<string, { live: Set<string>; all: Set<string> }>();
  for (const row of rows) {
    const words = `${bodyText(row.body)} ${row.title} ${row.note}`.match(/[\p{L}\p{N}]{7,}/gu) ?? [];
    const page = byPage.get(row.placeId) ?? { live: new Set(), all: new Set() };
    byPage.set(row.placeId, page);
    for (const word of words) {
      owners.set(word, (owners.get(word) ?? new Set()).add(row.placeId));
      page.all.add(word);
      if (row.minor === 0) page.live.add(word);
    }
  }
  const titles = document.places.flatMap(({ id, title }) => [id, ...((title ?? "").match(/[\p{L}\p{N}]{7,}/gu) ?? [])]);
  const names = document.people.flatMap(({ name }) => (name ?? "").match(/[\p{L}\p{N}]{7,}/gu) ?? []);
  const common = new Set([...titles, ...names, ...wordsOfProgram()]);
  const own = (words: Iterable<string>) => [...words].filter((word) => owners.get(word)?.size === 1 && !common.has(word));
  for (const [id, { live, all }] of byPage) secrets.set(id, { live: own(live), working: own([...all].filter((word) => !live.has(word))) });
}

const subjectOf = (person: string | null): Subject => (person === null ? { public: true } : { person });
const now = instantAt(Date.now());
const set = (person: string | null, id: string) => referenceSet(document, subjectOf(person), id, now);
const oversees = (person: string | null, id: string) => person !== null && referenceOversight(document, { person }, id, now);
const knows = (person: string | null, id: string) => set(person, id).length > 0 || oversees(person, id);

/** An id where it stands as one: alone in quotes, or at the end of an address. */
const asId = (id: string): RegExp => new RegExp(`["=/-]${id}["&?\\s]`);
const asWord = (word: string): RegExp =>
  new RegExp(`(?<![\\p{L}\\p{N}])${word.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}(?![\\p{L}\\p{N}])`, "u");

interface Forbidden {
  what: string;
  as: RegExp;
  of: string;
}

/** What somebody must not find anywhere: ids and titles of places they may not know, words of pages they may not read or write. */
function forbiddenTo(person: string | null): Forbidden[] {
  const drafts = benches
    .filter(({ owner, helpers }) => person !== owner && !helpers.includes(person ?? ""))
    .flatMap(({ id, words }) => [{ what: id, as: asId(id), of: id }, ...words.map((what) => ({ what, as: asWord(what), of: id }))]);
  // The name of the site itself stands on every page.
  return drafts.concat(places(person));
}

function places(person: string | null): Forbidden[] {
  return document.places
    .filter(({ kind }) => kind !== "site")
    .flatMap((place): Forbidden[] => {
      const unknown = !knows(person, place.id);
      const { live = [], working = [] } = secrets.get(place.id) ?? {};
      return [
        ...(unknown ? [{ what: place.id, as: asId(place.id), of: place.id }] : []),
        ...(unknown && (place.title ?? "").length > 14 ? [{ what: place.title ?? "", as: asWord(place.title ?? ""), of: place.id }] : []),
        ...(set(person, place.id).includes("read") ? [] : live.map((what) => ({ what, as: asWord(what), of: place.id }))),
        ...(set(person, place.id).includes("revise") ? [] : working.map((what) => ({ what, as: asWord(what), of: place.id }))),
      ];
    });
}

const GRANT = { to: { group: "pilots" }, abilities: ["read"] };
const TEXT = { schema: 1, content: [{ type: "paragraph" }] };
const ROUTINE = {
  space: "quays",
  which: { state: "live" },
  action: { what: "addTag", tag: "x" },
  cron: "0 6 * * 1",
  zone: "UTC",
  most: 5,
  as: "maren",
};

const askingIn = (place: string) => ({
  kind: "guest",
  people: [{ name: "Somebody", email: "somebody@there.invalid" }],
  places: [place],
  groups: [],
  level: 1,
  until: "2028-01-01T00:00:00Z",
});

/** What is asked of each endpoint about a place; undefined where an endpoint is not about places. */
function askedAbout(id: string): [method: string, path: string, body?: unknown][] {
  const grant = { kind: "grant", place: id, put: GRANT };
  const guess = { kind: "grant", place: id, remove: GRANT };
  const bare = { entries: [], rest: true };
  const pinned = { kind: "contents", place: "portsecurity", remove: bare, put: { ...bare, entries: [{ page: id }] } };
  const state = { kind: "state", place: id, from: { state: "live" }, to: { state: "archived", was: "live" } };
  return [
    ["GET", `places/${id}`],
    ["POST", `places/${id}/step-in`, { reason: " " }],
    ["GET", `why?place=${id}&viewpoint=public`],
    ["GET", `why?place=${id}&viewpoint=pass:passlandings`],
    ["GET", `pages/${id}`],
    ["POST", `pages/${id}`, { title: "x", body: TEXT, base: "99.1", note: "", spent: [] }],
    ["POST", `pages/${id}/buffer`, { title: "x", body: TEXT, base: "1.0", tab: "t", rev: 1, spent: [] }],
    ["DELETE", `pages/${id}/buffer`, { spent: [] }],
    ["GET", `pages/${id}/versions`],
    ["GET", `pages/${id}/versions?before=99.0`],
    ["GET", `pages/${id}/versions/1.0`],
    ["GET", `pages/${id}/versions/0.1`],
    ["POST", `pages/${id}/versions/1.0`, { base: "99.1", note: "" }],
    ["POST", `pages/${id}/publish/look`, { what: "live", version: "99.9", keep: [], wishes: [] }],
    ["POST", "pages/cranes/publish/look", { what: "live", version: "99.9", to: id, keep: [], wishes: [] }],
    ["POST", "pages/crowdwatch/publish/look", { what: "live", version: "99.9", to: id, keep: [], wishes: [] }],
    ["GET", `destinations?in=${id}`],
    ["GET", `destinations?page=${id}`],
    ["GET", `destinations?in=portsecurity&after=${id}`],
    ["POST", "workbench", { copy: id }],
    ["GET", `workbench/${id}`],
    ["GET", `workbench/${id}/versions`],
    ["GET", `workbench/${id}/versions/0.1`],
    ["GET", `pages/${id}/pen`],
    ["POST", `pages/${id}/pen`, { act: "ask" }],
    ["POST", `workbench/${id}`, { title: "x", body: TEXT, base: "0.1", note: "", spent: [] }],
    ["POST", `workbench/${id}/buffer`, { title: "x", body: TEXT, base: "0.1", tab: "t", rev: 1, spent: [] }],
    ["DELETE", `workbench/${id}/buffer`, { spent: [] }],
    ["POST", `workbench/${id}/throw`, { act: "throw" }],
    ["POST", `workbench/${id}/versions/0.1`, { base: "0.1", note: "" }],
    ["POST", `workbench/${id}/publish`, { what: "place", version: "0.1", to: id, keep: [], wishes: [], note: "", seen: "" }],
    ["POST", `workbench/${id}/helpers`, { person: id, level: "read" }],
    ["POST", `workbench/${id}/publish/look`, { what: "place", version: "0.1", to: id, keep: [], wishes: [] }],
    ["GET", `review?space=${id}`],
    ["POST", "desk/aside", { row: `review:${id}`, until: null }],
    ["POST", "routines/look", { ...ROUTINE, space: id }],
    ["POST", "routines/look", { ...ROUTINE, kept: id }],
    ["POST", "routines/look", { ...ROUTINE, which: { state: "live", spaces: [id] } }],
    ["POST", "routines/look", { ...ROUTINE, which: { state: "live", branch: id } }],
    ["POST", "routines/look", { ...ROUTINE, which: { state: "live", owner: id } }],
    ["POST", "routines/look", { ...ROUTINE, action: { what: "tellGroup", group: id, note: "x" } }],
    ["POST", "routines", { ...ROUTINE, space: id, name: "x", on: false }],
    ["POST", "routines", { ...ROUTINE, as: id, name: "x", on: false }],
    ["GET", `routine-runs/${id}`],
    ["POST", `routines/${id}`, { ...ROUTINE, name: "x", on: false, rev: 1 }],
    ["POST", `routines/${id}/switch`, { on: false, rev: 1 }],
    ["POST", `routines/${id}/run`, { rev: 1, once: "once-only" }],
    ["POST", `notices/${id}/read`],
    ["DELETE", `routines/${id}`],
    ["GET", `reads?about=${id}`],
    ["GET", `reads?about=${id}&alone=yes`],
    ["GET", `reads/export?format=csv&about=${id}`],
    ["GET", `pages/${id}/review`],
    ["POST", "flags", { places: [id], kind: "doubtful", note: "x" }],
    ["POST", "flags", { places: ["cranes"], kind: "doubtful", note: "x", to: id }],
    ["POST", "review/settle", { rows: [{ place: id, flags: [], due: true }], outcome: "confirmed", reason: "" }],
    ["POST", "review/settle", { rows: [{ place: "cranes", flags: [id], due: true }], outcome: "confirmed", reason: "" }],
    ["POST", "review/hand", { rows: [{ place: id, flags: [], due: true }], to: "mei", note: "" }],
    ["POST", `pages/${id}/approval`, { act: "submit", version: "99.9", note: "" }],
    ["POST", `pages/${id}/approval`, { act: "approve", version: "99.9", note: "" }],
    ["POST", `pages/${id}/publish`, { what: "live", version: "99.9", keep: [], wishes: [], note: "", seen: "" }],
    [
      "POST",
      `pages/${id}/schedule`,
      { what: "live", at: "2028-01-01T00:00:00Z", zone: "UTC", note: "", version: "99.9", keepHelpers: false },
    ],
    [
      "POST",
      `pages/${id}/schedule`,
      { what: "archive", at: "2020-01-01T00:00:00Z", zone: "UTC", note: "", version: "0.1", keepHelpers: false },
    ],
    ["DELETE", `pages/${id}/schedule?what=live`],
    ["POST", "pages", { parent: id, as: "page", title: " " }],
    ["POST", "preview", { edits: [grant], columns: ["public", "members"] }],
    ["POST", "preview", { edits: [guess], columns: [] }],
    ["POST", "preview", { edits: [state], columns: [] }],
    ["POST", "changes", { edits: [guess], note: "", seen: "x" }],
    ["POST", "proposals", { place: id, wishes: [{ principal: { group: "pilots" }, level: 1 }], edits: [] }],
    ["POST", "proposals", { place: "cranes", wishes: [{ principal: { group: "pilots" }, level: 1 }], edits: [state] }],
    ["GET", `outside/public?show=all&space=${id}`],
    ["POST", "outside/meant", { places: [id], meant: true }],
    ["GET", `outside/compare/why?a=public&b=members&place=${id}`],
    ["GET", `pledges/${id}`],
    ["POST", "pledges/try", { who: { person: id }, rule: "never", ability: "read", where: { subtree: id } }],
    ["GET", `registers?of=rules&space=${id}`],
    ["GET", `places/${id}/who`],
    ["GET", `places/${id}/who?at=2026-06-01T00:00:00Z`],
    ["GET", `places/${id}/who-history`],
    ["GET", `places/${id}?at=2026-06-01T00:00:00Z`],
    ["GET", `why?place=${id}&viewpoint=public&at=2026-06-01T00:00:00Z`],
    ["POST", `asked/${id}/look`, { until: null }],
    ["POST", `asked/${id}/let-in`, { until: null, note: "", seen: "x" }],
    ["POST", `asked/${id}/decline`, { word: "" }],
    ["POST", "asked", { address: `/read/x/y-${id}`, reason: "To see." }],
    ["GET", `asked?place=${id}`],
    ["GET", `outside/findings/${id}`],
    ["GET", `outside/findings?space=${id}`],
    ["POST", "outside/findings/aside", { place: id, signs: ["x"], aside: true, reason: "So it is." }],
    ["GET", `outside/guests/${id}`],
    ["POST", "outside/guests/plan", { guests: [id], act: "withdraw", until: null }],
    ["POST", "outside/guests/plan", { guests: [id], act: "end", until: null }],
    ["POST", `spaces/${id}/contents`, {}],
    ["GET", `templates?in=${id}`],
    ["POST", "templates", { in: id, name: "x", about: "", below: false }],
    ["POST", "templates", { in: "portsecurity", from: id, name: " ", about: "", below: true }],
    ["POST", `templates/${id}`, { name: "x", about: "", gone: true }],
    ["POST", `templates/${id}/pages`, { under: id, title: "x" }],
    ["GET", `template-pages/${id}`],
    ["POST", `template-pages/${id}`, { title: "x", body: TEXT, base: "1.1", note: "", spent: [] }],
    ["POST", `template-pages/${id}/shift`, { to: "later" }],
    ["POST", `template-pages/${id}/buffer`, { title: "x", body: TEXT, base: "1.1", tab: "t", rev: 1, spent: [] }],
    ["DELETE", `template-pages/${id}/buffer`, { spent: [] }],
    ["DELETE", `template-pages/${id}`],
    ["POST", "pages", { parent: "portsecurity", as: "page", template: id }],
    ["POST", "spaces/portsecurity/contents", { contents: pinned.put }],
    ["POST", "preview", { edits: [pinned], columns: [] }],
    ["GET", `find?q=&in=${id}`],
    ["POST", "order", { place: id, after: id }],
    ["POST", "order", { place: "cranes", after: id }],
    ["GET", `ledger?place=${id}`],
    ...(["bin", "archive", "restore", "erase", "takeDown"] as const).map((act): [string, string, unknown] => [
      "POST",
      "acts/look",
      { act: { act, places: [id] } },
    ]),
    ["POST", "acts/look", { act: { act: "move", places: ["cranes"], to: id } }],
    ["POST", "acts/look", { act: { act: "move", places: ["cranes"], to: "quays", after: id } }],
    ["POST", "acts/look", { act: { act: "bin", places: ["quayhome"], landings: [{ space: "quays", page: id }] } }],
    ["POST", "preview", { edits: [], columns: [], acts: [{ act: "bin", places: [id], below: "along" }] }],
    ["POST", "changes", { edits: [], note: "", seen: "x", acts: [{ act: "archive", places: [id], below: "handUp" }] }],
    ["POST", "jobs/look", { order: { act: "archive", places: [id], below: "along" } }],
    ["POST", "jobs", { order: { act: "tag", places: [id], add: ["x"] }, count: 1, note: "", seen: "x" }],
    ["POST", `pages/${id}/copy`, { to: "quays", below: true }],
    ["POST", "pages/cranes/copy", { to: id, below: true }],
    ["GET", `pages?branch=${id}`],
    ["GET", `pages?space=${id}`],
    ["GET", `pages/counts?space=${id}`],
    ["POST", "filters", { name: "x", address: "?a", space: id }],
    ["GET", `people/${id}`],
    ["GET", `groups/${id}`],
    ["GET", `groups/${id}/leaving`],
    ["GET", `groups/${id}/compare?with=security`],
    ["POST", "invitations/look", askingIn(id)],
    ["POST", "invitations", { ...askingIn(id), message: "", note: "", seen: "x" }],
    ["POST", `invitations/${id}/send`],
    ["POST", `invitations/${id}/end`],
    ["POST", `guests/${id}/end/look`, { until: "2028-01-01T00:00:00Z" }],
    ["POST", `guests/${id}/end`, { until: "2028-01-01T00:00:00Z", note: "", seen: "x" }],
    ["POST", `people/${id}/new-password`],
    ["GET", `people/${id}/leaving`],
    ["POST", `people/${id}/leaving/look`, { to: null, lines: [], until: null }],
    ["POST", `people/${id}/leaving`, { to: null, lines: [], until: null, note: "", seen: "x" }],
    ["GET", `people/${id}/replacing?by=ines`],
    ["GET", `people/${id}/joining?with=ines`],
    ["GET", `people/ines/joining?with=${id}`],
    ["GET", `people/${id}/turning`],
    ["POST", `people/${id}/ask-in`],
    ["POST", `people/${id}/erase`, { name: "x", note: "" }],
    ["GET", `passes?place=${id}`],
    ["POST", "passes/look", { place: id, below: true, until: null }],
    ["POST", "passes", { place: id, below: true, until: null, name: "x", note: "", seen: "x" }],
    ["POST", `passes/${id}/withdraw`],
  ];
}

const GENERAL: [string, string][] = [
  ["GET", "pages"],
  ["GET", "pages?sort=outside"],
  ["GET", "pages?part=bin"],
  ["GET", "destinations"],
  ["GET", "workbench"],
  ["GET", "review"],
  ["GET", "desk"],
  ["GET", "desk/count"],
  ["GET", "routines"],
  ["GET", "reads"],
  ["GET", "reads/export?format=csv"],
  ["GET", "pages?approval=waiting"],
  ["GET", "pages/export?format=json"],
  ["GET", "pages/counts"],
  ["GET", "pages/counts?part=archive"],
  ["GET", "pages/counts?part=bin"],
  ["GET", "tags"],
  ["GET", "filters"],
  ["GET", "jobs"],
  ["GET", "grid?columns=public,guests,members,pass:passlandings,group:pilots"],
  ["GET", "ledger"],
  ["GET", "ledger?act=import"],
  ["GET", "find?q=a"],
  ["GET", "find?q="],
  ["GET", "search?q=quokka"],
  ["GET", "search?q=patrol"],
  ["GET", "search?q=inquiry"],
  ["GET", "people"],
  ["GET", "people/table?kind=member"],
  ["GET", "people/table?kind=guest&sort=groups"],
  ["GET", "people/viktor"],
  ["GET", "people/ines"],
  ["GET", "groups"],
  ["GET", "groups/security"],
  ["GET", "tokens"],
  ["GET", "invitations"],
  ["GET", "house-rules"],
  ["GET", "people/export?format=csv"],
  ["POST", "people/table/look"],
  ["POST", "people/table"],
  ["GET", "passes"],
  ["GET", "outside/public"],
  ["GET", "pledges"],
  ["GET", "forecast"],
  ["GET", "registers?of=rules"],
  ["GET", "registers?of=fences&sort=out"],
  ["GET", "registers?of=groups"],
  ["GET", "registers?of=steps"],
  ["GET", "registers/export?of=rules&format=json"],
  ["GET", "grid?columns=public,member%2Bpilots&at=2026-10-01T00:00:00Z"],
  ["GET", "forecast/feed"],
  ["POST", "forecast/feed"],
  ["DELETE", "forecast/feed"],
  ["GET", "outside/crawl"],
  ["POST", "outside/crawl"],
  ["POST", "outside/findings/look"],
  ["GET", "asked"],
  ["GET", "outside/findings"],
  ["GET", "outside/findings?show=aside"],
  ["GET", "outside/guests"],
  ["GET", "outside/guests?sort=until"],
  ["GET", "outside/guests/dora"],
  ["GET", "idle"],
  ["GET", "idle/export?format=json"],
  ["GET", "outside/compare?a=public&b=members"],
  ["GET", "outside/compare?a=guests&b=person:viktor"],
  ["GET", "outside/compare/export?a=public&b=member%2Bpilots&format=json"],
  ["GET", "outside/public/export?format=json"],
  ["GET", "outbox"],
  ["GET", "ledger/check"],
];

const ask = async (person: string | null, [method, path, body]: [string, string, unknown?]) => {
  const { status, headers, text } = await quickly(path.startsWith("/") ? site.base + path : `${site.base}/api/${path}`, {
    method,
    headers: { cookie: cookies.get(person) ?? "", origin: site.base, "content-type": "application/json" },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  return { status, text: `${text} ${headers.location ?? ""}` };
};

const INSTANT = /\d{4}-\d\d-\d\dT[\d:.]+Z/g;

/** So many of a list, spread over all of it. */
const everyNth = <T>(list: readonly T[], count: number): T[] => {
  const step = Math.max(1, Math.floor(list.length / count));
  return list.filter((_, i) => i % step === 0).slice(0, count);
};

it("covers every endpoint of the application that is about places or speaks of them", () => {
  const tried = [...askedAbout("X"), ...GENERAL].map(
    ([method, path]) =>
      `${method} /api/${path
        .split("?")[0]
        ?.replace(/\bX\b/, "{id}")
        .replace(/(?<=versions\/)\d.*/, "{version}")}`,
  );
  // What is streamed is what is read. Taking back goes by the number of an entry; documents, tokens and what programs ask are for site keepers, who may know all.
  const apart =
    /ledger\/\{seq\}|document|tokens\/|api\/tokens|access\/v1|spaces$|spaces\/look|sign-out|jobs\/\{id\}|filters\/\{id\}|outbox\/\{id\}|pen\/events/;
  const missing = CONTRACTS.filter(({ path }) => !apart.test(path))
    .map(({ method, path }) => `${method} ${path}`)
    .filter((it) => !tried.includes(it));
  expect(missing).toEqual([]);
});

it.each(PEOPLE)(
  "tells %s of nothing they may not know, wherever they look, and of hidden places as of none",
  async (person) => {
    const forbidden = forbiddenTo(person);
    expect(forbidden.length).toBeGreaterThan(50);
    /** Answers in which nothing of it stands at all: most refusals are the same ones again. */
    const clean = new Set<string>();
    const look = (text: string, where: string, sent: unknown) => {
      if (clean.has(text)) return;
      const given = JSON.stringify(sent) ?? "";
      if (!forbidden.some(({ what }) => text.includes(what))) clean.add(text);
      for (const { what, as, of } of forbidden)
        if (text.includes(what) && as.test(text) && !where.includes(what) && !given.includes(what))
          throw new Error(`${person}: ${where} tells "${what}" of ${of}: ${text.slice(0, 300)}`);
    };
    for (const it of GENERAL) look((await ask(person, it)).text, it[1], null);
    for (const path of [
      "/",
      "/search?q=quokka",
      "/search?q=patrol",
      "/grid",
      "/ledger",
      "/house",
      "/eyes/public",
      "/eyes/person:bert",
      "/write/new?in=patrols",
    ])
      look((await ask(person, ["GET", path])).text, path, null);
    const hiddenOnes = everyNth(
      document.places.filter(({ id }) => !knows(person, id)),
      HIDDEN,
    );
    const known = everyNth(
      document.places.filter(({ id }) => knows(person, id)),
      KNOWN,
    );
    for (const { id } of [...hiddenOnes, ...known]) {
      const reader = `/read/x/y-${id}`;
      look((await ask(person, ["GET", reader])).text, reader, null);
    }
    // What is on workbenches of others is no place, and answers nothing that a place would.
    const draftsOfOthers = benches.filter(({ owner, helpers }) => person !== owner && !helpers.includes(person ?? ""));
    const drafts = new Set(draftsOfOthers.map(({ id }) => id));
    /** What was sent with a question: of a draft its path, too. */
    const given = (id: string, [, path, body]: [string, string, unknown?]) => (drafts.has(id) ? `${JSON.stringify(body)} ${path}` : body);
    const compared = [...hiddenOnes.slice(0, 6), ...everyNth(draftsOfOthers, 4)].map(({ id }) => id);
    for (const { id } of [...hiddenOnes, ...known, ...draftsOfOthers])
      if (!compared.includes(id)) for (const it of askedAbout(id)) look((await ask(person, it)).text, it[1], given(id, it));
    // Hidden and missing: the same status and the same words, for every way to ask.
    const askAnew = async (it: [string, string, unknown?]) => {
      // One may ask to be let in only so often.
      if (it[1] === "asked") await database().delete(asked);
      return ask(person, it);
    };
    const nowhere: Awaited<ReturnType<typeof ask>>[] = [];
    for (const it of askedAbout("no-such-id")) nowhere.push(await askAnew(it));
    for (const id of compared)
      for (const [i, it] of askedAbout(id).entries()) {
        const [hidden, missing] = [await askAnew(it), nowhere[i]];
        look(hidden.text, it[1], given(id, it));
        const told = (text = "") => text.replaceAll("no-such-id", id).replace(INSTANT, "an instant");
        expect([it[1], hidden.status, told(hidden.text)]).toEqual([it[1], missing?.status, told(missing?.text)]);
      }
    // Everything is asked, by everybody: it takes as long as it takes.
  },
  400_000,
);
