/** What a crawler finds: from the front door, following every link, each viewpoint reaches what it may read and nothing else. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type DemoSite, openDemoSite } from "../../cli/demoSite.ts";
import { type AccessDocument, instantAt, type Subject } from "../../src/core/access/model/index.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { referenceSet } from "../reference/reference.ts";
import { signInDemo } from "./signIn.ts";

let site: DemoSite;
let document: AccessDocument;
beforeAll(async () => {
  site = await openDemoSite();
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
