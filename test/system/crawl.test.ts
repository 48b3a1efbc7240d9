/** What a crawler finds: from the front door, following every link, each viewpoint reaches what it may read and nothing else. */
import { sum } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import type { CrawlView } from "../../src/contracts/crawl.ts";
import { type AccessDocument, instantAt, type Subject } from "../../src/core/access/model/index.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { viewCounts } from "../../src/server/db/schema/index.ts";
import { referenceSet } from "../reference/reference.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
let document: AccessDocument;
beforeAll(async () => {
  site = await openSite();
  document = await inSnapshot((tx) => loadDocument(tx));
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

const signedIn = async (person: string | null): Promise<string> => (person === null ? "" : signInDemo(site.base, person));

const MOST_PAGES = 400;

/** Every address under `start` that links lead to, with the page it gave. */
async function crawl(start: string, cookie: string): Promise<Map<string, { status: number; html: string }>> {
  const found = new Map<string, { status: number; html: string }>();
  const waiting = [start];
  while (waiting.length > 0 && found.size < MOST_PAGES) {
    const path = waiting.pop() as string;
    if (found.has(path)) continue;
    const answer = await fetch(site.base + path, { headers: { cookie }, redirect: "manual" });
    const html = await answer.text();
    found.set(path, { status: answer.status, html });
    for (const [, href] of html.matchAll(/href="(\/[^"#?]*)"/g)) {
      const inside = start === "/" ? href === "/" || href?.startsWith("/read/") : href?.startsWith(start);
      if (href && inside) waiting.push(href);
    }
  }
  expect(found.size).toBeLessThan(MOST_PAGES);
  return found;
}

const idOf = (path: string): string | null => /\/read\/[^/]+\/.*-([^-/]+)$/.exec(path)?.[1] ?? null;

const livePages = (subject: Subject) =>
  document.places.filter(
    (place) =>
      (place.kind === "page" || place.kind === "bulletin") &&
      place.state === "live" &&
      referenceSet(document, subject, place.id, instantAt(Date.now())).includes("read"),
  );

describe.each<[string, string | null, string, Subject]>([
  ["the public", null, "/", { public: true }],
  ["a guest", "dora", "/", { person: "dora" }],
  ["a member in no group", "mei", "/", { person: "mei" }],
  ["a keeper of a closed room", "viktor", "/", { person: "viktor" }],
  ["a site keeper looking through the public's eyes", "ines", "/eyes/public", { public: true }],
  ["a site keeper looking through a guest's eyes", "ines", "/eyes/person:bert", { person: "bert" }],
])("%s", (_, person, start, subject) => {
  it("reaches every live page they may read that anything leads to, gets 200 for each, and learns of no other", async () => {
    const found = await crawl(start, await signedIn(person));
    expect([...found].filter(([, { status }]) => status !== 200).map(([path]) => path)).toEqual([]);
    const reached = new Set([...found.keys()].flatMap((path) => idOf(path) ?? []));
    const readable = livePages(subject);
    for (const id of reached) expect(referenceSet(document, subject, id, instantAt(Date.now()))).toContain("read");
    // Navigation leads to every page; a bulletin of a space that is closed to them is reached by a link or the newest list only.
    const open = (id: string | undefined) =>
      id !== undefined && referenceSet(document, subject, id, instantAt(Date.now())).includes("read");
    const missed = readable.filter((place) => !reached.has(place.id) && (place.kind === "page" || open(place.parent)));
    expect(missed.map((place) => place.id)).toEqual([]);
    const closed = document.places.filter((place) => place.kind === "page" && !open(place.id)).map((place) => place.title ?? "");
    const everything = [...found.values()].map(({ html }) => html).join("\n");
    // Titles that are also ordinary words of other pages cannot be told apart; the demo's are long enough.
    for (const title of closed.filter((it) => it.length > 14)) expect(everything).not.toContain(`>${title}<`);
  });
});

describe("a crawl of Tesoro's own", () => {
  const robotsOf = async (path: string) => (await fetch(site.base + path)).headers.get("x-robots-tag");
  const called = async (method: "GET" | "POST", path: string) =>
    (await fetch(site.base + path, { method, headers: { cookie: await signedIn("ines"), origin: site.base } })).json();

  it("finds what the public reads, counts no views, and stands beside the rules as a second reading of them has it", async () => {
    const views = () => inSnapshot((tx) => tx.select({ all: sum(viewCounts.views) }).from(viewCounts));
    const before = await views();
    await called("POST", "/api/outside/crawl");
    let view: CrawlView;
    do view = await called("GET", "/api/outside/crawl");
    while (view.crawl?.state !== "done");
    expect(await views()).toEqual(before);
    const readable = new Set(livePages({ public: true }).map(({ id }) => id));
    const pages = view.rows.filter(({ kind, as }) => kind !== "space" && as !== null);
    expect(new Set(pages.filter(({ open }) => open).map(({ id }) => id))).toEqual(readable);
    expect(new Set(pages.filter(({ found }) => found).map(({ id }) => id))).toEqual(readable);
    expect(pages.find(({ id }) => id === "crowdwatch")).toMatchObject({ as: "unmeant", from: { title: expect.any(String) } });
    expect(new Set(pages.filter(({ as }) => as === "closed").map(({ open, found }) => open || found))).toEqual(new Set([false]));
    expect([view.counts.closed > 0, view.counts.differs, view.crawl.cut]).toEqual([true, 0, false]);
  });

  it("is told by the sitemap and by headers alone what may be listed: what the public reads, in spaces that welcome it", async () => {
    const listed = new Set(
      [...(await (await fetch(`${site.base}/sitemap.xml`)).text()).matchAll(/<loc>[^<]*-([^-/<]+)<\/loc>/g)].map(([, id]) => id),
    );
    const spaceOf = (id: string): string => {
      const place = document.places.find((it) => it.id === id);
      return place?.kind === "space" ? id : spaceOf(place?.parent ?? "");
    };
    const open = livePages({ public: true }).map(({ id }) => id);
    const welcome = open.filter((id) => spaceOf(id) !== "environs");
    expect([welcome.length < open.length, [...listed].filter((id) => id && id !== "notices").sort()]).toEqual([true, [...welcome].sort()]);
    expect(await (await fetch(`${site.base}/robots.txt`)).text()).not.toMatch(/read|environ|notices/);
    const tag = async (id: string) => robotsOf(new URL((await fetch(`${site.base}/read/x/y-${id}`)).url).pathname);
    expect([await tag("eelgrass"), await tag("welcome"), await robotsOf("/"), await robotsOf("/read/x/y-none")]).toEqual([
      "noindex",
      null,
      null,
      "noindex",
    ]);
    expect([await robotsOf("/read/x/y-patrols"), await robotsOf("/sign-in"), await robotsOf("/api/grid")]).toEqual(
      Array(3).fill("noindex"),
    );
  });
});

it("asked for by address, a page that is not open is not there, for every page and viewpoint", async () => {
  const cookies = new Map([
    [null, ""],
    ["dora", await signedIn("dora")],
    ["mei", await signedIn("mei")],
  ] as [string | null, string][]);
  for (const [person, cookie] of cookies) {
    const subject: Subject = person === null ? { public: true } : { person };
    for (const place of document.places.filter((it) => it.kind === "page" || it.kind === "bulletin")) {
      const answer = await fetch(`${site.base}/read/x/y-${place.id}`, { headers: { cookie }, redirect: "manual" });
      const may = referenceSet(document, subject, place.id, instantAt(Date.now())).includes("read");
      expect([person, place.id, answer.status]).toEqual([person, place.id, may ? 301 : 404]);
    }
  }
});
