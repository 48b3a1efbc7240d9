/** Passes: what is shown is what they open; whoever holds one reads that and nothing else, and nothing once it is withdrawn. */
import { eq } from "drizzle-orm";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import type { PassBody } from "../../../contracts/passes.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { passLinks } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack } from "../change/takeBack.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { publishPage } from "../writing/publishing.ts";
import { startPage } from "../writing/writing.ts";
import { countUse, lookAtPass, makePass, readPasses, withdrawPass } from "./passes.ts";
import { readByPass } from "./passReading.ts";

let keeper = "";
let space = "";
const ids: Record<string, string> = {};
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));

/** A page that is live, with links to these. */
async function page(name: string, parent: string, links: readonly string[] = []): Promise<void> {
  const content = links.map((to) => ({
    type: "paragraph" as const,
    content: [{ type: "text" as const, text: `to ${to}`, marks: [{ type: "link" as const, attrs: { page: ids[to] ?? "" } }] }],
  }));
  const body = { schema: 1 as const, content: content.length > 0 ? content : [{ type: "paragraph" as const }] };
  ids[name] = (await startPage("kim", { parent, as: "page", title: name, body })).id;
  await publishPage("kim", ids[name], { version: "0.1", note: "" });
}

/** Looks, then makes what was seen; its token. */
async function make(maker: string, part: Partial<PassBody> & { place: string }): Promise<{ id: string; token: string }> {
  const body = { below: false, until: null, ...part };
  const { seen } = await lookAtPass(maker, body);
  const { id, link } = await makePass(maker, { ...body, name: "Visitors", note: "", seen });
  return { id, token: link.split("/").at(-1) ?? "" };
}

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
  const person = (id: string): Edit => ({ kind: "person", person: id, put: { id, name: id, kind: "member", status: "active" } });
  await change(person("kim"), person("lou"));
  const order = { purpose: "", preset: "closedRoom" as const, publishers: [], writers: [] };
  space = (await startSpace(keeper, { ...order, title: "Locks", keepers: [{ person: "kim" }] })).id;
  await page("other", space);
  await page("outer", space, ["other"]);
  await page("inner", ids.outer ?? "", ["outer", "other"]);
  await page("shut", ids.outer ?? "");
  await change({ kind: "stance", place: ids.shut ?? "", from: "follow", to: "fresh" });
});

const reads = (token: string, id: string | null, me: string | null = null) => status(readByPass(token, id, me));

it("opens its page, or what is below as well, to whoever holds it; links lead only where it leads", async () => {
  const one = await make("kim", { place: ids.outer ?? "" });
  const found = await readByPass(one.token, null, null);
  expect([found.title, found.below, found.html.includes("closed-link")]).toEqual(["outer", [], true]);
  expect([await reads(one.token, ids.inner ?? ""), await reads(one.token, ids.other ?? "")]).toEqual([404, 404]);
  const branch = await make("kim", { place: ids.outer ?? "", below: true });
  const top = await readByPass(branch.token, null, null);
  // A fresh page below stops it, and is not named.
  expect(top.below.map(({ title }) => title)).toEqual(["inner"]);
  const inner = await readByPass(branch.token, ids.inner ?? "", null);
  expect(inner.html).toContain(`href="/pass/${branch.token}"`);
  expect(inner.html).not.toContain(ids.other);
  expect([
    await reads(branch.token, ids.shut ?? ""),
    await reads(branch.token, ids.other ?? ""),
    await reads(branch.token, "nowhere"),
  ]).toEqual([404, 404, 404]);
  // Somebody signed in has what they have besides.
  await change({ kind: "grant", place: ids.shut ?? "", put: { to: { person: "lou" }, abilities: ["read"] } });
  expect([await reads(branch.token, ids.shut ?? "", "lou"), await reads(branch.token, ids.shut ?? "", "kim")]).toEqual([200, 404]);
});

it("is for those who may change rules there, for pages alone, with an end ahead; and shown once", async () => {
  const body = { place: ids.outer ?? "", below: false, until: null };
  expect([await status(lookAtPass("lou", body)), await status(lookAtPass("lou", { ...body, place: "nowhere" }))]).toEqual([404, 404]);
  expect(await told(lookAtPass("kim", { ...body, place: space }))).toContain("a page or a bulletin");
  expect(await told(lookAtPass("kim", { ...body, until: "2020-01-01T00:00:00Z" }))).toContain("must lie ahead");
  const { token, id } = await make("kim", { place: ids.outer ?? "" });
  expect(JSON.stringify([await database().select().from(passLinks), await readPasses("kim")])).not.toContain(token);
  await countUse(id);
  const [mine] = (await readPasses("kim", ids.outer ?? "")).passes;
  expect(mine).toMatchObject({ id, name: "Visitors", uses: 1, state: "works" });
  expect((await readPasses("lou")).passes).toEqual([]);
  expect([
    await status(readPasses("lou", ids.outer ?? "")),
    await status(withdrawPass("lou", id)),
    await status(withdrawPass("lou", "none")),
  ]).toEqual([404, 404, 404]);
});

it("withdrawn opens nothing any more, for good; fenced, capped or out of time nothing meanwhile", async () => {
  const { token, id } = await make("kim", { place: ids.outer ?? "", below: true });
  const closed = async (...edits: Edit[]) => {
    const { seq } = await change(...edits);
    const was = [await reads(token, null), (await readPasses("kim")).passes.find((it) => it.id === id)?.state];
    return { was, seq };
  };
  const fence: Edit = { kind: "fence", place: ids.outer ?? "", put: { kind: "read", admits: [{ person: "kim" }] } };
  expect((await closed(fence)).was).toEqual([404, "closed"]);
  await change({ kind: "fence", place: ids.outer ?? "", remove: { kind: "read", admits: [{ person: "kim" }] } });
  expect((await closed({ kind: "ceilings", place: space, from: null, to: { passes: false } })).was).toEqual([404, "closed"]);
  await change({ kind: "ceilings", place: space, from: { passes: false }, to: null });
  expect(await reads(token, null)).toBe(200);
  const { seq } = await withdrawPass("kim", id);
  expect([await reads(token, null), await reads(token, ids.inner ?? "", "kim"), await status(withdrawPass("kim", id))]).toEqual([
    404, 404, 400,
  ]);
  // Taking the withdrawal back would let somebody in again who was shut out.
  expect(await status(previewTakeBack("kim", seq))).toBe(400);
  const soon = await make("kim", { place: ids.outer ?? "", until: new Date(Date.now() + 700).toISOString() });
  expect(await reads(soon.token, null)).toBe(200);
  await new Promise((later) => setTimeout(later, 800));
  expect(await reads(soon.token, null)).toBe(404);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  expect((await database().select().from(passLinks).where(eq(passLinks.by, "kim"))).length).toBe(5);
});
