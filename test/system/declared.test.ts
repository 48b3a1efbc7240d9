/** What the server answers is one list, made at build time: whatever else was built into it is not there, before a byte of a body is read. */
import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { connect } from "node:net";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type DeclaredList, declares, readDeclared } from "../../cli/declared/list.ts";
import { openSite, type TestSite } from "../../cli/testing/site.ts";

let site: TestSite;
let list: DeclaredList;
const DIST = new URL("../../dist/", import.meta.url);
beforeAll(async () => {
  site = await openSite("empty");
  list = readDeclared(new URL("declared.json", DIST));
});
afterAll(() => site?.close());

/** Every route there is in what was built, the framework's own included. */
async function builtRoutes(): Promise<string[]> {
  const folder = new URL("server/", DIST);
  const [name = ""] = readdirSync(folder).filter((file) => file.startsWith("manifest_"));
  const { manifest } = (await import(new URL(name, folder).href)) as { manifest: { routes: { routeData: { route: string } }[] } };
  return manifest.routes.map(({ routeData }) => routeData.route);
}

/** What is said to the head of a request whose body never comes: its status, and whether the connection was closed. */
const answerToHead = (method: string, path: string) =>
  new Promise<{ status: number; closed: boolean }>((done, failed) => {
    const { hostname, port } = new URL(site.base);
    let said = "";
    const socket = connect(Number(port), hostname, () => {
      socket.write(
        `${method} ${path} HTTP/1.1\r\nHost: ${hostname}:${port}\r\nContent-Type: application/json\r\nContent-Length: 300000000\r\n\r\n`,
      );
    });
    socket.on("data", (it) => {
      said += it.toString();
    });
    socket.on("close", () => done({ status: Number(/^HTTP\/1.1 (\d+)/.exec(said)?.[1]), closed: true }));
    socket.setTimeout(5_000, () => {
      socket.destroy();
      done({ status: Number(/^HTTP\/1.1 (\d+)/.exec(said)?.[1]), closed: false });
    });
    socket.on("error", failed);
  });

it("holds the pages and endpoints of this checkout and nothing else", () => {
  const folder = fileURLToPath(new URL("../../src/pages/", import.meta.url));
  const files = readdirSync(folder, { recursive: true, encoding: "utf8" }).filter((file) => /\.(ts|astro)$/.test(file));
  const paths = files.map((file) => `/${file.replace(/\.(ts|astro)$/, "").replace(/(^|\/)index$/, "")}`);
  expect(list.routes.map(({ path }) => path).sort()).toEqual(paths.sort());
  for (const [path, digest] of Object.entries(list.files)) {
    const bytes = readFileSync(new URL(`client${path}`, DIST));
    expect([path, createHash("sha256").update(bytes).digest("hex")]).toEqual([path, digest]);
  }
});

it("is all that answers: routes a framework brought along are not there, and nobody waits for what is sent to them", async () => {
  const declared = new Set(list.routes.map(({ path }) => path));
  const brought = (await builtRoutes()).filter((route) => !declared.has(route));
  // There are such routes: that is why this is asked.
  expect(brought.length).toBeGreaterThan(0);
  const isDeclared = declares(list);
  const tried = [
    ...brought.map((route) => route.replace(/\[[^\]]+\]/g, "x")),
    "/_image",
    "/_server-islands/x",
    "/_actions/x",
    "/nothing",
    "/api/nothing",
  ];
  for (const path of tried) {
    expect([path, isDeclared(path)]).toEqual([path, false]);
    const got = await fetch(`${site.base}${path}?href=/icon.svg&w=8000&h=8000&f=png`, { redirect: "manual" });
    await got.text();
    expect([path, got.status]).toEqual([path, 404]);
    expect([path, await answerToHead("POST", path)]).toEqual([path, { status: 404, closed: true }]);
  }
});

it("is left neither by another spelling of an address nor by what only looks like one", async () => {
  for (const path of [
    "//_image",
    "/%5fimage",
    "/x/../_image",
    "/_astro/../server/entry.mjs",
    "/_astro/%2e%2e/declared.json",
    "/declared.json",
    "/icon.svg/x",
  ]) {
    const answer = await fetch(`${site.base}${path}`, { redirect: "manual" });
    await answer.text();
    expect([path, [400, 404].includes(answer.status)]).toEqual([path, true]);
  }
  for (const path of ["/icon.svg", "/robots.txt", "/sign-in"]) expect([path, (await fetch(site.base + path)).status]).toEqual([path, 200]);
});
