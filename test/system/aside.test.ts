/** What reaches far keeps nobody waiting: it is worked out in a thread of its own, and whoever may not ask for it is refused at once. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { sized } from "../../src/demo/large/document.ts";
import { loadLarge } from "../../src/demo/large/load.ts";
import { demoPeople } from "../../src/server/accounts/session.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
let keeper = "";
let member = "";
beforeAll(async () => {
  site = await openSite("schema", () => loadLarge(sized(8_000)));
  const [first, second] = await demoPeople();
  keeper = await signInDemo(site.base, first?.person ?? "");
  member = await signInDemo(site.base, second?.person ?? "");
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

const post = (path: string, body: unknown, cookie: string) =>
  fetch(`${site.base}/api/${path}`, {
    method: "POST",
    headers: { cookie, origin: site.base, "content-type": "application/json" },
    body: JSON.stringify(body),
  });

const groupOf = async () => (await inSnapshot((tx) => loadDocument(tx))).groups[0]?.id ?? "";

it("others are served while a wish and a change at the site are worked out; both come to what they should", async () => {
  const group = await groupOf();
  const edits = [{ kind: "grant", place: "site", put: { to: { group }, abilities: ["read", "discuss"] } }];
  let pending = true;
  const far = Promise.all([
    post("proposals", { place: "site", wishes: [{ principal: { group }, level: 2 }], edits: [] }, keeper),
    post("preview", { edits, columns: ["public"] }, keeper),
  ]).finally(() => {
    pending = false;
  });
  let served = 0;
  while (pending) {
    const answer = await fetch(`${site.base}/`);
    await answer.text();
    expect(answer.status).toBe(200);
    if (pending) served++;
  }
  const [proposed, previewed] = await far;
  expect([proposed.status, previewed.status]).toEqual([200, 200]);
  expect(served).toBeGreaterThan(2);
  const preview = await previewed.json();
  expect(preview.ripple.lines.length).toBeLessThan(60);
  // One line may stand for thousands of places: it says how many, and names the first few hundred.
  expect(Math.max(...preview.ripple.lines.map((line: { where: unknown[] }) => line.where.length))).toBeLessThanOrEqual(500);
  const applied = await post("changes", { edits, note: "Far.", reason: "Tried out.", seen: preview.seen }, keeper);
  expect(applied.status).toBe(200);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  const { grants } = (await inSnapshot((tx) => loadDocument(tx))).places.find(({ id }) => id === "site") ?? { grants: [] };
  expect(grants).toContainEqual({ to: { group }, abilities: ["read", "discuss"] });
});

it("nobody keeps it for themselves: of one person, two are taken at a time, and the others are told so at once", async () => {
  const edits = [{ kind: "grant", place: "site", put: { to: { group: await groupOf() }, abilities: ["read"] } }];
  const many = await Promise.all(Array.from({ length: 8 }, () => post("preview", { edits, columns: [] }, keeper)));
  const refused = many.filter(({ status }) => status === 503);
  expect(many.filter(({ status }) => status === 200).length).toBeGreaterThanOrEqual(2);
  expect(refused.length).toBeGreaterThanOrEqual(3);
  const [first] = refused as [Response];
  expect((await first.json()).error.message).toContain("Two of your changes");
});

it("desks become whole, however often they are asked for at once, and leave room for what is done by hand meanwhile", async () => {
  const desk = async (cookie: string) => (await fetch(`${site.base}/api/desk`, { headers: { cookie } })).json();
  const edits = [{ kind: "grant", place: "site", put: { to: { group: await groupOf() }, abilities: ["read"] } }];
  for (const end = Date.now() + 60_000; ; ) {
    const asked = await Promise.all([keeper, member, keeper, member, keeper].map(desk));
    expect((await post("preview", { edits, columns: [] }, keeper)).status).toBe(200);
    if (asked.every(({ pending }) => !pending)) break;
    expect(Date.now()).toBeLessThan(end);
  }
  const counted = await (await fetch(`${site.base}/api/desk/count`, { headers: { cookie: keeper } })).json();
  expect(counted.count).toBe((await desk(keeper)).count);
});

it("whoever may not is refused at once, and the grid says what it does not show", async () => {
  const group = await groupOf();
  const refused = await post("proposals", { place: "site", wishes: [{ principal: { group }, level: 2 }], edits: [] }, member);
  expect([403, 404]).toContain(refused.status);
  const grid = async (query: string) => (await fetch(`${site.base}/api/grid?${query}`, { headers: { cookie: keeper } })).json();
  const first = await grid("columns=public");
  expect([first.whole, first.unshown]).toEqual([false, 0]);
  const live = await grid("columns=public&state=live");
  expect(live.rows.length).toBeLessThanOrEqual(4_000);
  expect(live.fit).toBeGreaterThan(4_000);
  expect(live.rows.filter((row: { fits: boolean }) => row.fits).length + live.unshown).toBe(live.fit);
  const fenced = await grid("columns=public&show=fenced");
  expect(fenced.rows.filter((row: { fits: boolean; fences: string[] }) => row.fits && row.fences.length === 0)).toEqual([]);
  expect(fenced.rows.filter((row: { fits: boolean }) => row.fits).length).toBe(fenced.fit);
});
