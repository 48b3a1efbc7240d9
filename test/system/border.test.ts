/** What comes in by pages, forms and sockets: what no text can hold is refused, what is too large or half sent is cut off. */
import { readdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
const cookies: Record<string, string> = {};

beforeAll(async () => {
  site = await openSite();
  for (const person of ["maren", "ines"]) cookies[person] = await signInDemo(site.base, person);
});
afterAll(() => site?.close());

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
