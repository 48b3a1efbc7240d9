/** Versions of a page: to whom which are shown, when readers got each, what stood beside one, an old one taken up again. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { inChange } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { publishPage } from "../writing/publishing.ts";
import { readWorking, saveVersion, startPage } from "../writing/writing.ts";
import { listVersions } from "./list.ts";
import { readVersion, takeUpVersion } from "./version.ts";

onDatabase("demo");

const body = (text: string, page?: string): PageBody => ({
  schema: 1,
  content: [
    { type: "paragraph", content: [{ type: "text", text, ...(page ? { marks: [{ type: "link" as const, attrs: { page } }] } : {}) }] },
  ],
});
const change = (maker: string, ...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "" }));

it("each version says who made it, when, and from when to when readers got it; taken down is taken away from them", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Ice watch", body: body("First") });
  await publishPage("maren", id, { version: "0.1", note: "Out" });
  await saveVersion("jonas", id, { title: "Ice watch", body: body("Second"), base: "1.0", note: "Shorter" });
  await publishPage("maren", id, { version: "1.1", note: "" });
  await change("maren", { kind: "state", place: id, from: { state: "live" }, to: { state: "draft" } });
  const list = await listVersions("maren", id, {});
  expect(list).toMatchObject({ writes: true, newest: "2.0", more: false, state: "draft" });
  expect(list.versions.map(({ name, who, note, live }) => [name, who, note, live])).toEqual([
    ["2.0", "Maren Lüders", "", true],
    ["1.1", "Jonas Brandt", "Shorter", false],
    ["1.0", "Maren Lüders", "Out", true],
    ["0.1", "Maren Lüders", "", false],
  ]);
  const seen = new Map(list.versions.map((row) => [row.name, row.seen]));
  expect([seen.get("0.1"), seen.get("1.1")]).toEqual([null, null]);
  expect(seen.get("1.0")?.until).toBe(list.versions[0]?.at);
  expect(seen.get("2.0")?.until).not.toBeNull();
  expect((await listVersions("maren", id, { before: "1.1" })).versions.map(({ name }) => name)).toEqual(["1.0", "0.1"]);
  for (const odd of ["9", "1.1.1", "99999999999.1"]) expect(await status(readVersion("maren", id, odd))).toBe(404);
});

it("readers have the live ones where the space shows its history, without notes and without what is hidden in them", async () => {
  const { id } = await startPage("greta", { parent: "handbook", as: "page", title: "Leave", body: body("See the patrols", "patrols") });
  await publishPage("greta", id, { version: "0.1", note: "For us" });
  await saveVersion("greta", id, { title: "Leave", body: body("New words"), base: "1.0", note: "" });
  expect(await listVersions("mei", id, {})).toMatchObject({ writes: false, newest: "1.0", versions: [{ name: "1.0", note: "" }] });
  const { body: told, addresses } = await readVersion("mei", id, "1.0");
  expect(JSON.stringify(told)).not.toContain('"patrols"');
  expect(addresses).toEqual({});
  expect(await status(readVersion("mei", id, "1.1"))).toBe(404);
  expect(await status(takeUpVersion("mei", id, "1.0", { base: "1.1", note: "" }))).toBe(403);
  // Where a space does not show it, older versions are for Writers; what one may not know of is not there.
  expect(await status(listVersions("mei", "cranes", {}))).toBe(403);
  expect(await status(listVersions("mei", "patrols", {}))).toBe(404);
  expect(await status(listVersions("maren", "quays", {}))).toBe(404);
});

it("what stood beside a version is told as it was then; its rules to those who may see rules", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Tugs", body: body("x") });
  await change(
    "maren",
    { kind: "grant", place: id, put: { to: { group: "pilots" }, abilities: ["read"] } },
    { kind: "tags", place: id, from: [], to: ["tugs"] },
  );
  await saveVersion("maren", id, { title: "Tugs and lines", body: body("x"), base: "0.1", note: "" });
  const [first, second] = [await readVersion("maren", id, "0.1"), await readVersion("maren", id, "0.2")];
  expect(first).toMatchObject({ title: "Tugs", beside: { tags: [], rules: [], owner: "Maren Lüders", above: "Quay Operations" } });
  expect(second).toMatchObject({ title: "Tugs and lines", beside: { tags: ["tugs"], rules: ["Pilots are Reader"] } });
  expect((await readVersion("jonas", id, "0.2")).beside.rules).toBeNull();
});

it("an old version taken up again is the newest working one, on top of what was seen, and nothing goes", async () => {
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Slip", body: body("Old words") });
  await saveVersion("maren", id, { title: "Slipway", body: body("New words"), base: "0.1", note: "" });
  expect(await status(takeUpVersion("maren", id, "0.1", { base: "0.1", note: "" }))).toBe(409);
  expect(await takeUpVersion("maren", id, "0.1", { base: "0.2", note: "" })).toEqual({ version: "0.3" });
  expect(await readWorking("maren", id)).toMatchObject({ title: "Slip", version: "0.3", body: body("Old words") });
  expect((await listVersions("maren", id, {})).versions.map(({ note }) => note)).toEqual(["Taken up again from version 0.1.", "", ""]);
  expect(await status(takeUpVersion("maren", id, "7.7", { base: "0.3", note: "" }))).toBe(404);
});
