/** A crawl of a site that means it ill: loops, answers that lead on and on, links out of it, pages that never end. */
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { eq } from "drizzle-orm";
import { afterAll, beforeAll, beforeEach, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { SpaceSettings } from "../../../core/access/model/index.ts";
import { database, inChange } from "../../db/client.ts";
import { crawled } from "../../db/schema/index.ts";
import { runJob } from "../../jobs/running.ts";
import { makeChange } from "../change/apply.ts";
import { goOnWithJob, readJob, stopJob } from "../jobs/jobs.ts";
import { KINDS } from "../jobs/kinds.ts";
import { meanOutside } from "../outside/publicPages.ts";
import { readSitemap, robotsText } from "../reading/sitemap.ts";
import { readSlip } from "../slip/slip.ts";
import { startCrawl } from "./crawl.ts";
import { readCrawl } from "./found.ts";
import { crawlMark, isOwnCrawl } from "./mark.ts";
import { BOUNDS, within } from "./walking.ts";

onDatabase("demo");

let server: Server;
/** What each address answers; what is asked for, with its cookies. */
let pages: Record<string, string | { to: string } | "never">;
let asked: string[];
let cookies: (string | undefined)[];
const bounds = { ...BOUNDS };

beforeAll(async () => {
  server = createServer((request, response) => {
    const path = request.url ?? "";
    asked.push(path);
    cookies.push(request.headers.cookie);
    const page = pages[path];
    if (page === undefined) return response.writeHead(404).end();
    if (page === "never") return response.writeHead(200, { "content-type": "text/html" }).write("<a href=/late>");
    if (typeof page === "object") return response.writeHead(302, { location: page.to }).end();
    const type = path.endsWith(".txt") ? "text/plain" : path.endsWith(".xml") ? "application/xml" : "text/html";
    response.writeHead(200, { "content-type": type, "set-cookie": "who=somebody" }).end(page);
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  process.env.TESORO_ORIGIN = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  delete process.env.TESORO_ORIGIN;
  server.closeAllConnections();
  server.close();
});
beforeEach(() => {
  [asked, cookies] = [[], []];
  Object.assign(BOUNDS, bounds);
});

const link = (...to: string[]) => to.map((it) => `<a href="${it}">there</a>`).join("");

async function walked(): Promise<Record<string, [number | null, string | null, string | null]>> {
  const { id } = await startCrawl("ines");
  await runJob(id, KINDS);
  const rows = await database().select().from(crawled).where(eq(crawled.jobId, id));
  return Object.fromEntries(rows.map(({ address, status: it, from, problem }) => [address, [it, from, problem]]));
}

it("asks for each address once, follows no more than a few answers that lead on, and keeps to this site", async () => {
  pages = {
    "/robots.txt": "User-agent: *\nDisallow: /kept\n",
    "/sitemap.xml": `<urlset><url><loc>${process.env.TESORO_ORIGIN}/alone</loc></url><url><loc>http://else.invalid/x</loc></url></urlset>`,
    "/": link(
      "/",
      "/loop",
      "/kept/back",
      "/long0",
      "/out",
      "javascript:alert(1)",
      "//else.invalid/a",
      "http://me:pw@127.0.0.1/x",
      "/a#part",
      "/a",
      "/gone",
    ),
    "/a": link("/", "/a"),
    "/alone": "nothing leads here",
    "/loop": { to: "/pool" },
    "/pool": { to: "/loop" },
    "/out": { to: "http://else.invalid/" },
    ...Object.fromEntries(Array.from({ length: 9 }, (_, i) => [`/long${i}`, { to: `/long${i + 1}` }])),
  };
  const found = await walked();
  expect(found).toMatchObject({
    "/": [200, null, null],
    "/a": [200, "/", null],
    "/alone": [200, null, null],
    "/loop": [302, "/", null],
    "/pool": [302, "/loop", null],
    "/kept/back": [null, "/", "robots.txt asks not to be asked for this"],
    "/out": [302, "/", "leads on to somewhere outside this site"],
    "/gone": [404, "/", null],
    "/long5": [302, "/long4", "leads on more than 5 times"],
  });
  expect(Object.keys(found)).not.toContain("/long6");
  expect(Object.keys(found).filter((address) => /else|javascript|pw/.test(address))).toEqual([]);
  expect([new Set(asked).size, cookies.filter(Boolean)]).toEqual([asked.length, []]);
  const view = await readCrawl("ines", {});
  expect(view.others.map(({ address }) => address)).toEqual(["/gone", "/kept/back", "/long5", "/out"]);
});

it("holds what it found beside the rules: meant, not to be listed, found though closed, not found though open; a crawl under way says nothing of the rest", async () => {
  const at = (id: string) => `/read/harbour-notices/x-${id}`;
  await meanOutside("ines", { places: ["welcome"], meant: true });
  pages = {
    "/": link(
      "/read/harbour-notices",
      at("welcome"),
      at("patrols"),
      at("closures"),
      at("none"),
      "/read/%E0%A4%A",
      "/read/harbour-notices/x-drone?version=2",
    ),
    "/read/harbour-notices": "<meta name=robots content='noindex'>",
    [at("welcome")]: "here",
    [at("patrols")]: "leaks",
    [at("closures")]: "<META NAME='Robots' CONTENT='NOINDEX, NOFOLLOW'><a href='/unfollowed'>x</a><a rel=nofollow href='/nor-this'>x</a>",
    "/read/harbour-notices/x-drone?version=2": "older",
  };
  const { id } = await startCrawl("ines");
  const under = await readCrawl("ines", {});
  expect([under.counts.unlinked, under.crawl?.state]).toEqual([0, "waiting"]);
  await runJob(id, KINDS);
  expect(asked).not.toContain("/unfollowed");
  const all = await readCrawl("ines", {});
  const as = Object.fromEntries(all.rows.map((row) => [row.id, row.as]));
  expect(as).toMatchObject({ notices: "unindexed", welcome: "meant", patrols: "differs", closures: "unindexed", drone: "unlinked" });
  expect(all.rows.find((row) => row.id === "welcome")?.from).toEqual({ id: "", title: "the front door", address: "/" });
  const some = await readCrawl("ines", { show: "differs", space: "portsecurity" });
  expect([some.rows.map((row) => [row.id, row.as]), some.spaces]).toEqual([
    [
      ["portsecurity", null],
      ["patrols", "differs"],
    ],
    [{ id: "portsecurity", name: "Port Security", count: 1 }],
  ]);
  await startCrawl("ines").then(({ id: next }) => runJob(next, KINDS));
  await startCrawl("ines").then(({ id: next }) => runJob(next, KINDS));
  expect(await database().select().from(crawled).where(eq(crawled.jobId, id))).toEqual([]);
});

it("is told by the sitemap what may be listed; spaces that ask not to be are in none", async () => {
  const listed = async () => [...(await readSitemap(null)).matchAll(/<loc>[^<]*-([^-<]+)<\/loc>/g)].map(([, it]) => it);
  expect(await listed()).toContain("welcome");
  expect([await status(readSitemap(0)), await status(readSitemap(2)), await readSitemap(1)]).toEqual([404, 404, await readSitemap(null)]);
  const now = (await readSlip("lena", "notices")).life.space?.settings as SpaceSettings;
  const edit = { kind: "settings" as const, place: "notices", remove: now, put: { ...now, indexed: false } };
  await inChange((tx) => makeChange(tx, { maker: "lena", edits: [edit], act: "rules", note: "" }));
  expect(await listed()).not.toContain("welcome");
  expect((await readSlip("lena", "notices")).life.space).toMatchObject({ settings: { indexed: false }, publicReads: expect.any(Number) });
  expect(robotsText()).toContain("Sitemap: http://127.0.0.1:");
  expect([isOwnCrawl(new Headers(crawlMark())), isOwnCrawl(new Headers({ "tesoro-crawl": "x" })), isOwnCrawl(new Headers())]).toEqual([
    true,
    false,
    false,
  ]);
});

it("waits for a page no longer than it may, reads no more of it than it may, and goes on", async () => {
  Object.assign(BOUNDS, { milliseconds: 200, bytes: 1_000 });
  pages = { "/": link("/slow", "/large", "/after"), "/slow": "never", "/large": "x".repeat(5_000) + link("/late"), "/after": "here" };
  expect(await walked()).toMatchObject({
    "/slow": [null, "/", "did not answer whole within 0.2 seconds"],
    "/large": [200, "/", "is too large to be read to its end"],
    "/after": [200, "/", null],
  });
});

it("ends where its starter may not crawl any more, or the site is not there; one at a time, begun and read by site keepers alone", async () => {
  pages = { "/": link("/a"), "/a": "here" };
  expect([await status(startCrawl("maren")), await status(readCrawl("maren", {}))]).toEqual([403, 403]);
  const both = await Promise.allSettled([startCrawl("tomasz"), startCrawl("ines")]);
  expect(both.map((it) => it.status).sort()).toEqual(["fulfilled", "rejected"]);
  const crawl = (await readCrawl("ines", {})).crawl;
  const id = crawl?.job ?? "";
  await stopJob("ines", id);
  await runJob(id, KINDS);
  expect(asked.filter((path) => path === "/a")).toEqual([]);
  const by = both[0]?.status === "fulfilled" ? "tomasz" : "ines";
  const origin = process.env.TESORO_ORIGIN;
  process.env.TESORO_ORIGIN = "http://127.0.0.1:1";
  await goOnWithJob(by, id);
  await runJob(id, KINDS);
  expect(await readJob(by, id)).toMatchObject({ state: "stopped", problem: expect.stringContaining("could not be reached") });
  process.env.TESORO_ORIGIN = origin ?? "";
  await goOnWithJob(by, id);
  await runJob(id, KINDS);
  expect(await readJob(by, id)).toMatchObject({ state: "done", done: 2 });
  const next = await startCrawl("tomasz");
  await inChange((tx) =>
    makeChange(tx, {
      maker: "ines",
      act: "rules",
      note: "",
      edits: [
        {
          kind: "person",
          person: "tomasz",
          remove: { id: "tomasz", name: "Tomasz Wierzba", kind: "member", status: "active" },
          put: { id: "tomasz", name: "Tomasz Wierzba", kind: "member", status: "suspended" },
        },
      ],
    }),
  );
  asked = [];
  await runJob(next.id, KINDS);
  expect([(await readJob("ines", next.id)).problem, asked]).toEqual(["Whoever started this may not do it any more.", ["/robots.txt"]]);
});

it.each([
  ["/a/../b?x=1#y", "/b?x=1"],
  ["b", "/c/b"],
  ["http://here.invalid/z", "/z"],
  ["HTTP://HERE.INVALID:80/z", "/z"],
  ["https://here.invalid/z", null],
  ["//there.invalid/z", null],
  ["data:text/html,x", null],
  ["http://a:b@here.invalid/", null],
  ["http://[", null],
])("takes %s for %s", (href, address) => {
  expect(within("http://here.invalid", "http://here.invalid/c/d", href)).toBe(address);
});

it("takes no address longer than any of its own", () => {
  expect(within("http://here.invalid", "http://here.invalid/", `/${"x".repeat(2_000)}`)).toBeNull();
});
