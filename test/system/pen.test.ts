/** The pen over HTTP: told within two seconds whatever server it was taken on, to those alone who write the page, for as long as they do. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import type { Pen } from "../../src/contracts/pen.ts";
import { subjectOf } from "../../src/core/access/index/index.ts";
import type { Edit, Person } from "../../src/core/access/model/index.ts";
import { accessNow } from "../../src/server/access/current.ts";
import { closeDatabase, inChange } from "../../src/server/db/client.ts";
import { makeChange } from "../../src/server/services/change/apply.ts";
import { actOnPen } from "../../src/server/services/pen/pen.ts";
import { startPage } from "../../src/server/services/writing/writing.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
let cookie = "";
let page = "";
const stops = new AbortController();

beforeAll(async () => {
  site = await openSite();
  cookie = await signInDemo(site.base, "jonas");
  page = (await startPage("maren", { parent: "quays", as: "page", title: "Watched" })).id;
});
afterAll(async () => {
  stops.abort();
  await closeDatabase();
  await site?.close();
});

/** What a stream says, one after the other; "gone" when it is not theirs to know any more. */
async function* told(id: string, as = cookie, who = "jonas"): AsyncGenerator<Pen | "gone"> {
  const answer = await fetch(`${site.base}/api/pages/${id}/pen/events?for=${who}`, { headers: { cookie: as }, signal: stops.signal });
  if (!answer.ok || !answer.body) throw new Error(`${answer.status}`);
  const decoder = new TextDecoder();
  let text = "";
  const reader = answer.body.getReader();
  for (let piece = await reader.read(); !piece.done; piece = await reader.read()) {
    text += decoder.decode(piece.value, { stream: true });
    for (let end = text.indexOf("\n\n"); end >= 0; end = text.indexOf("\n\n")) {
      const event = text.slice(0, end);
      text = text.slice(end + 2);
      if (event.includes("event: gone")) yield "gone";
      else if (event.includes("data: ")) yield JSON.parse(event.slice(event.indexOf("data: ") + 6));
    }
  }
}

it("is told to who watches on one server when it is taken on another, within two seconds", async () => {
  const events = told(page);
  expect((await events.next()).value).toMatchObject({ holder: null });
  // Once the server listens, which it begins with the first stream, it says anew how things stand.
  expect((await events.next()).value).toMatchObject({ holder: null });
  // This process is another server on the same database.
  const before = Date.now();
  await actOnPen("maren", page, "take");
  const { value } = await events.next();
  expect(value).toMatchObject({ holder: { name: "Maren Lüders", mine: false } });
  expect(Date.now() - before).toBeLessThan(2_000);
  await actOnPen("maren", page, "lay");
  expect((await events.next()).value).toMatchObject({ holder: null });
});

it("ends with the session that opened it, whichever way that ends, and says nothing after it", async () => {
  const out = (as: string) =>
    fetch(`${site.base}/sign-out`, { method: "POST", redirect: "manual", headers: { cookie: as, origin: site.base } });
  const mei = subjectOf((await accessNow()).index, { person: "mei" })?.person as Person;
  const suspended: Edit = { kind: "person", person: "mei", remove: mei, put: { ...mei, status: "suspended" } };
  const ways: Record<string, (as: string) => Promise<unknown>> = {
    "signing out": out,
    "signing in as somebody else on the same browser": (as) => signInDemo(site.base, "dora", as),
    "being suspended": () => inChange((tx) => makeChange(tx, { maker: "ines", edits: [suspended], act: "rules", note: "" })),
  };
  const grant: Edit = { kind: "grant", place: page, put: { to: { person: "mei" }, abilities: ["read", "revise"], draft: true } };
  await inChange((tx) => makeChange(tx, { maker: "maren", edits: [grant], act: "rules", note: "" }));
  for (const [way, end] of Object.entries(ways)) {
    const own = await signInDemo(site.base, "mei");
    const events = told(page, own, "mei");
    await events.next();
    await end(own);
    await actOnPen("maren", page, "take");
    await actOnPen("maren", page, "lay");
    const after = [];
    for await (const it of events) after.push(it);
    expect([way, after]).toEqual([way, ["gone"]]);
  }
});

it("ends with the right to write the page, and is refused to others as though nothing were there", async () => {
  const events = told(page);
  await events.next();
  const maren = await signInDemo(site.base, "maren");
  const fence = { kind: "fence" as const, place: page, put: { kind: "read" as const, admits: [{ person: "maren" }] } };
  await inChange((tx) => makeChange(tx, { maker: "maren", edits: [fence], act: "rules", note: "" }));
  await actOnPen("maren", page, "take");
  let last: Pen | "gone" | undefined;
  for await (const it of events) last = it;
  expect(last).toBe("gone");
  await expect(told("cranes", maren).next()).rejects.toThrow("409");
  for (const id of [page, "nowhere"]) await expect(told(id).next()).rejects.toThrow("404");
  await expect(told(page, "").next()).rejects.toThrow("401");
  // So many at once, and no more.
  const streams = Array.from({ length: 16 }, () => told(page, maren, "maren"));
  const many = await Promise.all(
    streams.map((it) =>
      it.next().then(
        () => "open",
        (error: Error) => error.message,
      ),
    ),
  );
  expect(many.filter((it) => it === "429").length).toBeGreaterThanOrEqual(4);
  expect(many.filter((it) => it === "open").length).toBe(12);
  // Kept until here: a stream that nobody holds any more gives its room back.
  expect(streams).toHaveLength(16);
});
